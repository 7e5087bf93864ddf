"""Reading engines with their whole history into the arrays the core judges."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from datetime import date, time
from typing import Any, NamedTuple

import numpy as np
import psycopg
from psycopg.rows import dict_row

from ..core.inspection import DrawnLine, Line, measured_pieces, with_measured
from ..core.laboratory import ANALYTES, BY_CODE, EXACT, N
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
    share_seen,
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
        row["depot"] or "",
        {
            **row["test_limits"],
            **({"between_marks_l": row["between_marks_l"]} if row["between_marks_l"] else {}),
        },
        drain_days=row["nominal_drain_days"],
        earlier=frozenset(row["earlier"]),
        links=tuple((cause, effect, kept) for cause, effect, kept in row["links"] or ()),
    )


def _oil_key(oil: str | None, grade: str | None, batch: str | None) -> str | None:
    return f"{oil}|{grade or ''}|{batch or ''}" if oil else None


def fresh_references(connection: psycopg.Connection) -> dict[str, Floats]:
    """Every fresh-oil reference: oil key → figures of all analytes."""
    out: dict[str, Floats] = {}
    for oil, grade, batch, analyte, value, censor in connection.execute(query("fresh_readings")):
        figures = out.setdefault(f"{oil}|{grade}|{batch}", np.full(N, np.nan))
        figures[_CODE_INDEX[analyte]] = value / 2 if censor == 1 else value
    return out


Readings = tuple[Floats, np.ndarray[Any, np.dtype[np.int8]], dict[int, Floats]]
# Of two reports of one bottle the higher stands until a person settles it; of these kinds more is
# worse.
_WORSE_HIGH = np.array([a.kind in ("wear", "contaminant") for a in ANALYTES])


def _twice(
    rows: np.ndarray[Any, Any], columns: np.ndarray[Any, Any], found: dict[str, Any]
) -> dict[int, Floats]:
    """Row → figures of another report of the same bottle, where a sample has more than one."""
    place = rows * N + columns
    last = np.full(place.max() + 1 if len(place) else 0, -1, dtype=np.intp)
    last[place] = np.arange(len(place))
    out: dict[int, Floats] = {}
    for k in np.flatnonzero(last[place] != np.arange(len(place))):
        figures = out.setdefault(int(rows[k]), np.full(N, np.nan))
        if found["censor"][k] == EXACT:
            figures[columns[k]] = np.fmax(figures[columns[k]], found["value"][k])
    return out


def _readings(connection: psycopg.Connection, samples: list[int]) -> Readings:
    value = np.full((len(samples), N), np.nan)
    censor = np.full((len(samples), N), -1, dtype=np.int8)
    if not samples:
        return value, censor, {}
    with connection.cursor(binary=True) as cursor:
        sent = cursor.execute(query("readings_as_arrays"), {"samples": samples}).fetchone()
    if sent is None or sent[0] is None:
        return value, censor, {}
    found = {
        name: np.frombuffer(data, [("length", ">i4"), ("value", kind)], offset=_ARRAY_HEAD)["value"]
        for (name, kind), data in zip(_ELEMENT.items(), sent, strict=True)
    }
    ids = np.array(samples)
    order = np.argsort(ids)
    rows = order[np.searchsorted(ids, found["sample"], sorter=order)]
    columns = _CODE_INDEX[found["analyte"]]
    value[rows, columns], censor[rows, columns] = found["value"], found["censor"]
    other = _twice(rows, columns, found)
    for row, figures in other.items():
        higher = _WORSE_HIGH & (censor[row] == EXACT) & (figures > value[row])
        other[row] = np.where(higher, value[row], figures)
        value[row] = np.where(higher, figures, value[row])
    return value, censor, other


def engines(connection: psycopg.Connection, engine_ids: list[int]) -> Iterator[tuple[int, Engine]]:
    """(id, engine) of the given engines, without their log."""
    with connection.cursor(row_factory=dict_row) as cursor:
        for row in cursor.execute(query("engines_of"), {"ids": engine_ids}):
            yield row["id"], _engine(row)


def _tightened(connection: psycopg.Connection) -> dict[int, float]:
    """Share of a plan's interval by level, as the user set it."""
    kept = connection.execute(query("setting_get"), {"key": "tightened"}).fetchone()
    return (
        {0: 1.0, 1: kept[0]["watch"], 2: kept[0]["act"], 3: kept[0]["act"]} if kept else TIGHTENED
    )


def _share(seen: float | None, whole: float | None, both_sides: bool) -> float:
    """Of a look on record; one that says it saw more than there is saw all of it."""
    return share_seen(
        seen, whole if seen is None or whole is None else max(seen, whole), both_sides
    )


def _measured(
    connection: psycopg.Connection, engine_ids: list[int]
) -> dict[str, dict[str, list[DrawnLine]]]:
    """Look → photograph → the lines on it, oldest first."""
    out: dict[str, dict[str, list[DrawnLine]]] = {}
    for look, photo, kind, type_, x1, y1, x2, y2, mm, sd in connection.execute(
        query("lines_of_looks"), {"ids": engine_ids}
    ):
        line = DrawnLine(
            kind=kind, type=type_, line=Line(x1, y1, x2, y2), known_mm=mm, known_sd_mm=sd
        )
        out.setdefault(look, {}).setdefault(photo, []).append(line)
    return out


def _add_looks(
    connection: psycopg.Connection, logs: dict[int, list[LogRow]], engine_ids: list[int]
) -> None:
    """Put what was found into the log rows that are looks."""
    counts: dict[str, list[DebrisCount]] = {}
    for key, *count in connection.execute(query("look_counts"), {"ids": engine_ids}):
        counts.setdefault(key, []).append(DebrisCount(*count))
    measured = _measured(connection, engine_ids)
    looks = {
        key: DebrisLook(
            place,
            tool,
            _share(seen, whole, both),
            with_measured(counts.get(key, ()), measured_pieces(measured.get(key, {}).values())),
            hours,
        )
        for key, place, tool, seen, whole, both, hours in connection.execute(
            query("looks_of_engines"), {"ids": engine_ids}
        )
    }
    if looks:
        for engine, rows in logs.items():
            logs[engine] = [replace(r, look=looks[r.id]) if r.id in looks else r for r in rows]


class _Drawn(NamedTuple):
    """What a log row says of the sample drawn then; the columns of `log_of_engines` in order."""

    sample_id: int | None
    code: str
    purpose: str
    resample_of: str
    change_dial: float | None
    oil: str | None
    method: str
    drained_after: bool | None
    top_up_l: float | None
    laboratory: str
    appearance: str
    smell: str
    level_on_stick: float | None
    hours_on_oil: float | None


class _Logged(NamedTuple):
    """One row of `log_of_engines`, without what belongs to a sample."""

    engine: int
    id: str
    on: date
    at: time | None
    seq: int
    dial: float | None
    kind: str
    dial_new: float | None
    litres_in: float | None
    litres_drained: float | None
    oil: str | None
    grade: str | None
    batch: str | None
    part: str | None
    note: str | None


class _Reported(NamedTuple):
    """The newest report of a sample, as far as its context needs it."""

    sample_id: int
    laboratory: str | None
    test_method: str
    glycol_method: str
    analysed_on: date | None


_HEAD = len(_Logged._fields)
_TAIL = _HEAD + len(_Drawn._fields)


def _sample(d: _Drawn, row: int, report: _Reported | None) -> Sample:
    return Sample(
        code=d.code,
        row=row,
        purpose=d.purpose,
        resample_of=d.resample_of or None,
        drained_after=d.drained_after,
        method=d.method,
        laboratory=(report and report.laboratory) or d.laboratory,
        test_method=report.test_method if report else "",
        glycol_method=report.glycol_method if report else "",
        oil=_oil_key(d.oil, "", ""),
        oil_change_dial=d.change_dial,
        hours_on_oil=d.hours_on_oil,
        top_up_l=d.top_up_l,
        appearance=d.appearance,
        smell=d.smell,
        level_on_stick=d.level_on_stick,
        analysed_on=report.analysed_on if report else None,
    )


def _log_row(r: _Logged, sample: Sample | None, details: dict[str, str] | None) -> LogRow:
    return LogRow(
        id=r.id,
        on=r.on,
        kind=r.kind,
        dial=r.dial,
        at=r.at,
        seq=r.seq,
        dial_new=r.dial_new,
        litres_in=r.litres_in,
        litres_drained=r.litres_drained,
        oil=_oil_key(r.oil, r.grade, r.batch),
        part=r.part or "",
        note=r.note or "",
        sample=sample,
        details=details or {},
    )


def _logs(
    connection: psycopg.Connection, engine_ids: list[int], figures: bool
) -> tuple[dict[int, list[LogRow]], list[int]]:
    """The log of each engine, and the ids of the samples in it in the order of their rows."""
    found = connection.execute(query("log_of_engines"), {"ids": engine_ids}).fetchall()
    sample_ids = [int(r[_HEAD]) for r in found if r[_HEAD] is not None]
    asked = {"samples": sample_ids, "glycol": _GLYCOL, "wear": _WEAR}
    found_in: Iterable[Any] = connection.execute(query("sample_reports"), asked) if figures else []
    reports = {r[0]: _Reported._make(r) for r in found_in}
    logs: dict[int, list[LogRow]] = {engine: [] for engine in engine_ids}
    row = 0
    for r in found:
        logged, sample = _Logged._make(r[:_HEAD]), None
        if r[_HEAD] is not None:
            sample = _sample(_Drawn._make(r[_HEAD:_TAIL]), row, reports.get(r[_HEAD]))
            row += 1
        logs[logged.engine].append(_log_row(logged, sample, r[_TAIL]))
    if any(r[6] == "look" for r in found):
        _add_looks(connection, logs, engine_ids)
    for engine, key, on, step, answer in connection.execute(
        query("case_steps"), {"ids": engine_ids}
    ):
        said = LogRow(key, on, "case_step", part=step, details={"answer": answer})
        logs[engine].append(said)
    return logs, sample_ids


def _by_engine(
    connection: psycopg.Connection, name: str, engine_ids: list[int]
) -> dict[int, list[Any]]:
    """Rows of a query by engine; the engine is their first column."""
    out: dict[int, list[Any]] = {}
    for engine, *values in connection.execute(query(name), {"ids": engine_ids}):
        out.setdefault(engine, []).append(values)
    return out


def load(
    connection: psycopg.Connection,
    engine_ids: list[int],
    fresh: dict[str, Floats] | None = None,
    figures: bool = True,
) -> Loaded:
    """The given engines with everything in their log; without `figures` no reading is read, for
    what only asks when and where."""
    with connection.cursor(row_factory=dict_row) as cursor:
        engines = cursor.execute(query("engines_of"), {"ids": engine_ids}).fetchall()
    logs, sample_ids = _logs(connection, engine_ids, figures)
    value, censor, other = _readings(connection, sample_ids if figures else [])
    confirmed = _by_engine(connection, "confirmed_faults", engine_ids)
    histories = tuple(
        History(_engine(e), tuple(logs[e["id"]]), tuple(on for (on,) in confirmed.get(e["id"], [])))
        for e in engines
    )
    plans = {
        engine: tuple(Plan(*p) for p in found)
        for engine, found in _by_engine(connection, "plans_of_engines", engine_ids).items()
    }
    coolants = {
        name: Coolant(*markers) for name, *markers in connection.execute(query("coolant_markers"))
    }
    known = fresh_references(connection) if fresh is None else fresh
    return Loaded(
        Fleet(histories, value, censor, known, coolants, other),
        engines,
        sample_ids,
        plans,
        _tightened(connection),
    )


def batches(
    connection: psycopg.Connection, engine_ids: list[int], samples: int = 6000
) -> Iterator[list[int]]:
    """Engine ids in groups of about `samples` samples, so that memory does not grow with the
    fleet."""
    counts: dict[int, int] = dict(
        connection.execute(query("samples_per_engine"), {"ids": engine_ids}).fetchall()
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
