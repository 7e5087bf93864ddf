"""Reading engines with their whole history into the arrays the core judges."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

import numpy as np
import psycopg
from psycopg.rows import dict_row

from ..core.laboratory import ANALYTES, BY_CODE, N
from ..core.planning import TIGHTENED, Plan
from ..core.record import (
    DEFAULT_CARRY_OVER,
    Coolant,
    DebrisCount,
    DebrisLook,
    Engine,
    Fleet,
    Floats,
    History,
    LogRow,
    Sample,
    nominal_drain,
)
from .sql import query

_CODE_INDEX = np.full(max(BY_CODE) + 1, -1, dtype=np.intp)
for _code, _analyte in BY_CODE.items():
    _CODE_INDEX[_code] = _analyte.index
_WEAR = [a.code for a in ANALYTES if a.kind == "wear"]
_GLYCOL = next(a.code for a in BY_CODE.values() if a.column == "glycol_pct")

# array_send: 12 bytes of head, 8 per dimension, then length and value of each element (PostgreSQL,
# "array_send").
_ARRAY_HEAD = 20
_ELEMENT = {"sample": ">i4", "analyte": ">i2", "value": ">f8", "censor": ">i2"}


@dataclass(frozen=True)
class Loaded:
    """A Fleet with the database's names for its parts."""

    fleet: Fleet
    engines: list[dict[str, Any]]
    sample_ids: list[int]
    plans: dict[int, tuple[Plan, ...]]
    tightened: dict[int, float]


def _engine(row: dict[str, Any]) -> Engine:
    return Engine(
        row["code"],
        row["engine_class"],
        row["meter_unit"],
        row["oil_total_l"],
        row["sump_l"],
        DEFAULT_CARRY_OVER if row["carry_over_frac"] is None else row["carry_over_frac"],
        tuple(row["allowed_grades"]),
        row["fuel"],
        frozenset(row["features"]),
        row["nominal_drain_meter"] or nominal_drain(row["engine_class"], row["meter_unit"]),
        row["interval_meter"],
        row["interval_days"],
        row["in_service_on"],
        row["model"],
        row["bearing_type"],
        row["coolant"],
    )


def _oil_key(oil: str | None, grade: str | None, batch: str | None) -> str | None:
    return f"{oil}|{grade or ''}|{batch or ''}" if oil else None


def fresh_references(c: psycopg.Connection) -> dict[str, Floats]:
    """Every fresh-oil reference: oil key → figures of all analytes."""
    out: dict[str, Floats] = {}
    for oil, grade, batch, analyte, value, censor in c.execute(query("fresh_readings")):
        figures = out.setdefault(f"{oil}|{grade}|{batch}", np.full(N, np.nan))
        figures[_CODE_INDEX[analyte]] = value / 2 if censor == 1 else value
    return out


def _readings(
    c: psycopg.Connection, samples: list[int]
) -> tuple[Floats, np.ndarray[Any, np.dtype[np.int8]]]:
    value = np.full((len(samples), N), np.nan)
    censor = np.full((len(samples), N), -1, dtype=np.int8)
    if not samples:
        return value, censor
    with c.cursor(binary=True) as cursor:
        sent = cursor.execute(query("readings_as_arrays"), {"samples": samples}).fetchone()
    if sent is None or sent[0] is None:
        return value, censor
    found = {
        name: np.frombuffer(data, [("length", ">i4"), ("value", kind)], offset=_ARRAY_HEAD)["value"]
        for (name, kind), data in zip(_ELEMENT.items(), sent, strict=True)
    }
    ids = np.array(samples)
    order = np.argsort(ids)
    rows = order[np.searchsorted(ids, found["sample"], sorter=order)]
    columns = _CODE_INDEX[found["analyte"]]
    value[rows, columns], censor[rows, columns] = found["value"], found["censor"]
    return value, censor


def engines(c: psycopg.Connection, engine_ids: list[int]) -> Iterator[tuple[int, Engine]]:
    """(id, engine) of the given engines, without their log."""
    with c.cursor(row_factory=dict_row) as cursor:
        for row in cursor.execute(query("engines_of"), {"ids": engine_ids}):
            yield row["id"], _engine(row)


def _tightened(c: psycopg.Connection) -> dict[int, float]:
    """Share of a plan's interval by level, as the user set it."""
    kept = c.execute(query("setting_get"), {"key": "tightened"}).fetchone()
    return (
        {0: 1.0, 1: kept[0]["watch"], 2: kept[0]["act"], 3: kept[0]["act"]} if kept else TIGHTENED
    )


def _add_looks(c: psycopg.Connection, logs: dict[int, list[LogRow]], engine_ids: list[int]) -> None:
    """Put what was found into the log rows that are looks."""
    counts: dict[str, list[DebrisCount]] = {}
    for key, kind, size, count in c.execute(query("look_counts"), {"ids": engine_ids}):
        counts.setdefault(key, []).append(DebrisCount(kind, size, count))
    looks = {
        key: DebrisLook(
            place,
            tool,
            min(seen / whole, 1.0) if seen and whole else 1.0,
            tuple(counts.get(key, ())),
        )
        for key, place, tool, seen, whole in c.execute(
            query("looks_of_engines"), {"ids": engine_ids}
        )
    }
    if looks:
        for engine, rows in logs.items():
            logs[engine] = [replace(r, look=looks[r.id]) if r.id in looks else r for r in rows]


def load(
    c: psycopg.Connection, engine_ids: list[int], fresh: dict[str, Floats] | None = None
) -> Loaded:
    """The given engines with everything in their log."""
    with c.cursor(row_factory=dict_row) as cursor:
        engines = cursor.execute(query("engines_of"), {"ids": engine_ids}).fetchall()
    rows = c.execute(query("log_of_engines"), {"ids": engine_ids}).fetchall()
    sample_ids = [int(r[15]) for r in rows if r[15] is not None]
    reports = {
        r[0]: r
        for r in c.execute(
            query("sample_reports"), {"samples": sample_ids, "glycol": _GLYCOL, "wear": _WEAR}
        )
    }
    logs: dict[int, list[LogRow]] = {e["id"]: [] for e in engines}
    n = 0
    for (
        engine,
        key,
        on,
        at,
        seq,
        dial,
        kind,
        dial_new,
        litres_in,
        drained,
        oil,
        grade,
        batch,
        part,
        note,
        sample_id,
        code,
        purpose,
        resample_of,
        change_dial,
        drawn_oil,
        method,
        after,
        top_up,
        laboratory,
        appearance,
        smell,
        level,
        details,
    ) in rows:
        sample = None
        if sample_id is not None:
            _, lab, tested, glycol, analysed = reports.get(
                sample_id, (None, laboratory, "", "", None)
            )
            sample = Sample(
                code,
                n,
                purpose,
                resample_of or None,
                after,
                method,
                lab or laboratory,
                tested,
                glycol,
                _oil_key(drawn_oil, "", ""),
                change_dial,
                top_up,
                appearance,
                smell,
                level,
                analysed,
            )
            n += 1
        logs[engine].append(
            LogRow(
                key,
                on,
                kind,
                dial,
                at,
                seq,
                dial_new,
                litres_in,
                drained,
                _oil_key(oil, grade, batch),
                part or "",
                note or "",
                sample,
                details or {},
            )
        )
    if any(r[6] == "look" for r in rows):
        _add_looks(c, logs, engine_ids)
    value, censor = _readings(c, sample_ids)
    confirmed: dict[int, list[date]] = {}
    for engine, on in c.execute(query("confirmed_faults"), {"ids": engine_ids}):
        confirmed.setdefault(engine, []).append(on)
    histories = tuple(
        History(_engine(e), tuple(logs[e["id"]]), tuple(confirmed.get(e["id"], ())))
        for e in engines
    )
    known = fresh_references(c) if fresh is None else fresh
    plans: dict[int, tuple[Plan, ...]] = {}
    for engine, kind, every, method in c.execute(query("plans_of_engines"), {"ids": engine_ids}):
        plans[engine] = (*plans.get(engine, ()), Plan(kind, every, method))
    coolants = {name: Coolant(na, k) for name, na, k in c.execute(query("coolant_markers"))}
    return Loaded(
        Fleet(histories, value, censor, known, coolants), engines, sample_ids, plans, _tightened(c)
    )


def batches(
    c: psycopg.Connection, engine_ids: list[int], samples: int = 6000
) -> Iterator[list[int]]:
    """Engine ids in groups of about `samples` samples, so that memory does not grow with the
    fleet."""
    counts: dict[int, int] = dict(
        c.execute(query("samples_per_engine"), {"ids": engine_ids}).fetchall()
    )
    group: list[int] = []
    held = 0
    for engine in engine_ids:
        group.append(engine)
        held += counts.get(engine, 0)
        if held >= samples or len(group) >= 2000:
            yield group
            group, held = [], 0
    if group:
        yield group
