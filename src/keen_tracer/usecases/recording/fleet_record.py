"""The fleet record: depots, models, engines, coolants, oils, plans. Cells are read as in the open
files.

An edit says which version it was made on; somebody else's edit in between is shown, never
overwritten.
"""

import csv
import tempfile
from collections.abc import Iterable, Mapping
from dataclasses import asdict
from pathlib import Path
from typing import Any

from ...core.errors import CoreError
from ...core.names import LooksAlike, check_new_name
from ...core.planning import TIGHTENED, Plan, check_tightened, interval_advice, slate_of
from ...core.roles import Actor, anybody, check_may
from ...core.terms import CLASSES, FEATURES, FUELS, METER_UNITS, METHODS, PLAN_KINDS, rank
from ...exchange.cells import BadCell, written
from ...exchange.csvfile import Cells
from ...exchange.tables import TABLES
from ...storage import fleet
from ...storage.bulk import insert, known, update
from ...storage.db import Connection
from ...storage.errors import Conflict
from ...storage.records import rows, run, set_setting, setting
from ..answers.from_rows import answer, answers
from ..answers.record import (
    AskedTest,
    Entries,
    IntervalOut,
    OilOut,
    PlanRow,
    RecordChange,
    SamplingAdvice,
    Tightened,
)
from ..days import day_of_engine
from ..errors import CannotRecord
from ..importing.files import run_import
from ..importing.master_data import column_of, table_values
from ..judging.judging import judge_one
from .log_rows import engine_id

PLACES = {"depots": "depot", "models": "model", "engines": "engine", "coolants": "coolant"}
_CHOICES: dict[str, Iterable[str]] = {
    "class": CLASSES,
    "fuel": FUELS,
    "meter_unit": METER_UNITS,
    "sampling_method": METHODS,
    "features": FEATURES,
}


def _table(place: str) -> tuple[str, str]:
    if place not in PLACES:
        raise CannotRecord("unknown_place", f"there is no {place!r} in the fleet record")
    return PLACES[place], next(iter(TABLES[place].columns))


def entries(connection: Connection, place: str) -> Entries:
    """Every entry of one part of the record, as cells, and what its fields may hold."""
    table, key = _table(place)
    columns = list(TABLES[place].columns)
    found = known(
        connection,
        table,
        "code",
        [*[column_of(table, n) for n in columns], "row_version"],
        [r["code"] for r in rows(connection, f"{table}_codes")],
    )
    choices = {n: list(_CHOICES[n]) for n in columns if n in _CHOICES}
    choices |= {
        n: [r["code"] for r in rows(connection, f"{n}_codes")]
        for n in ("depot", "model", "coolant")
        if n in columns and n != key
    }
    return {
        "place": place,
        "key": key,
        "fields": [
            {"name": n, "required": n in TABLES[place].required, "choices": choices.get(n)}
            for n in columns
        ],
        "entries": [
            {
                "code": code,
                "version": values[-1],
                "cells": {n: written(v) for n, v in zip(columns, values, strict=False)},
            }
            for code, values in sorted(found.items())
        ],
    }


def _parsed(place: str, cells: Mapping[str, str]) -> Cells:
    """Cells as values; every one that cannot be read is named with what to write instead."""
    table, values, wrong = TABLES[place], Cells(), dict[str, str]()
    for name, cell in cells.items():
        if name not in table.columns:
            wrong[name] = "this field is not known"
        elif cell.strip():
            try:
                values[name] = table.columns[name](cell.strip())
            except BadCell as bad:
                wrong[name] = f"{bad.what}: {bad.fix}"
        elif name in table.required:
            wrong[name] = "must be given"
        else:
            values[name] = None
    if wrong:
        raise CannotRecord(
            "bad_cells", "; ".join(f"{k.replace('_', ' ')}: {v}" for k, v in wrong.items()), wrong
        )
    return values


def save(
    connection: Connection, place: str, cells: Mapping[str, str], version: int | None, who: str
) -> list[str]:
    """Add an entry (`version` None), or change one as it was at `version`. Returns the fields that
    changed.

    Raises Conflict when somebody changed it meanwhile. Engines it bears on are judged again.
    """
    table, key = _table(place)
    values = table_values(table, _parsed(place, cells))
    code = values.get("code")
    if not code:
        raise CannotRecord("bad_cells", f"{key} must be given", {key: "must be given"})
    _check_names(connection, table, values)
    columns = list(values)
    before = known(connection, table, "code", [*columns, "row_version"], [code]).get(code)
    if version is None:
        if before is not None:
            raise CannotRecord(
                "known_already",
                f"{table} {code} is on record; open it to change it",
                {key: "is on record already"},
            )
        if table == "engine":
            _check_looks(connection, code)
        insert(connection, table, values)
        changed = {k: ("", v) for k, v in values.items() if v not in (None, "", [], {})}
    else:
        if before is None:
            raise CannotRecord("unknown_entry", f"there is no {table} {code}")
        if before[-1] != version:
            raise Conflict("row_version")
        changed = {
            k: (old, values[k]) for k, old in zip(columns, before, strict=False) if old != values[k]
        }
        if changed:
            update(connection, table, "code", code, {k: new for k, (_, new) in changed.items()})
    for field, (old, new) in changed.items():
        run(
            connection,
            "record_change_put",
            place=place,
            code=code,
            field=field,
            old=written(old),
            new=written(new),
            by=who,
        )
    if table == "engine":
        judge_one(connection, engine_id(connection, code))
    elif changed and version is not None:
        run(connection, "mark_all_stale")
    return list(changed)


def keep_feature(connection: Connection, code: str, feature: str, who: str) -> list[str]:
    """Something about an engine that a check asked about: kept with what it has of its own or
    inherits from its model, and the engine is judged again. Returns the fields that changed."""
    if feature not in FEATURES:
        raise CannotRecord("unknown_feature", f"{feature!r} is not known", {"feature": feature})
    engine = (
        fleet.load(connection, [engine_id(connection, code)], {}, figures=False)
        .fleet.histories[0]
        .engine
    )
    version = known(connection, "engine", "code", ["row_version"], [code])[code][0]
    every = written(sorted({*engine.features, feature}))
    return save(connection, "engines", {"engine": code, "features": every}, version, who)


def _check_names(connection: Connection, table: str, values: Mapping[str, Any]) -> None:
    if table != "engine":
        return
    for name in ("depot", "model"):
        if values.get(name) and not known(connection, name, "code", ["code"], [values[name]]):
            raise CannotRecord(
                "bad_cells", f"{name} {values[name]} is not on record", {name: "is not on record"}
            )


def _check_looks(connection: Connection, code: str) -> None:
    """A new engine's name must not read like another one's."""
    try:
        check_new_name(code, (r["code"] for r in rows(connection, "engine_codes")))
    except LooksAlike as error:
        raise CannotRecord(error.code, str(error), {"engine": str(error)}) from error


def changes(connection: Connection, place: str, code: str) -> list[RecordChange]:
    """Who changed what in one entry, newest first."""
    _table(place)
    return answers(RecordChange, rows(connection, "record_changes", place=place, code=code))


def oils(connection: Connection) -> list[OilOut]:
    """Batches of oil, and whether the fresh figures of each are known."""
    return answers(OilOut, rows(connection, "oils_known"))


def save_oil(
    connection: Connection,
    oil: str,
    grade: str,
    batch: str,
    reference_on: str,
    cells: Mapping[str, str],
    who: str,
) -> bool:
    """A batch of oil with its fresh figures, through the same import as oils.csv; True when they
    wait as an amendment."""
    filled = {k: v.strip() for k, v in cells.items() if v.strip()}
    head = {"oil": oil, "grade": grade, "batch": batch, "reference_on": reference_on}
    with tempfile.TemporaryDirectory(prefix="keen-typed-") as folder:
        file = Path(folder) / "oils.csv"
        with file.open("w", newline="", encoding="utf-8") as out:
            csv.writer(out).writerows([[*head, *filled], [*head.values(), *filled.values()]])
        found = run_import(connection, [("oils typed by hand", file)], anybody(who))
    if not found.written:
        fields = {p.column or "oil": f"{p.what}: {p.fix}" for p in found.problems}
        raise CannotRecord("bad_cells", "; ".join(f"{k}: {v}" for k, v in fields.items()), fields)
    return bool(found.amendments)


def plans(connection: Connection, code: str) -> list[PlanRow]:
    """An engine's own sampling plans."""
    return answers(PlanRow, rows(connection, "plans_of_engines", ids=[engine_id(connection, code)]))


def sampling_advice(connection: Connection, code: str) -> SamplingAdvice:
    """How often an engine should be sampled at least, and what to ask the laboratory for now."""
    engine = (
        fleet.load(connection, [engine_id(connection, code)], {}, figures=False)
        .fleet.histories[0]
        .engine
    )
    return {
        "interval": answer(IntervalOut, asdict(interval_advice(engine))),
        "slate": [
            answer(AskedTest, asdict(x))
            for x in slate_of(engine, day_of_engine(connection, code).month)
        ],
    }


def _plan_words(p: PlanRow) -> str:
    said = (p["kind"], written(p["every"]), p["said"], p["method"] or "")
    return " ".join(x for x in said if x)


def save_plans(
    connection: Connection, code: str, wanted: list[Plan], who: str, seen: list[Plan] | None = None
) -> None:
    """All plans of an engine in place of those before; none means its two intervals are its
    plans.

    seen : those that whoever changed them saw standing; None: whatever stands
    Raises Conflict where somebody changed them meanwhile.
    """
    engine = engine_id(connection, code)
    standing = {_plan_words(p) for p in plans(connection, code)}
    if seen is not None and {_plan_words(answer(PlanRow, asdict(p))) for p in seen} != standing:
        raise Conflict("plans_seen")
    kinds = [p.kind for p in wanted]
    twice = next((k for k in kinds if kinds.count(k) > 1), None)
    if twice:
        raise CannotRecord("plan_twice", f"the plan {twice!r} stands twice; keep one")
    before = "; ".join(_plan_words(p) for p in plans(connection, code))
    run(connection, "plan_drop", engine=engine)
    for p in sorted(wanted, key=lambda p: rank(PLAN_KINDS, p.kind)):
        given = {k: getattr(p, k) for k in ("kind", "every", "method", "said")}
        run(connection, "plan_put", engine=engine, **given)
    after = "; ".join(_plan_words(p) for p in plans(connection, code))
    if before != after:
        run(
            connection,
            "record_change_put",
            place="engines",
            code=code,
            field="plans",
            old=before,
            new=after,
            by=who,
        )
    judge_one(connection, engine)


def tightened(connection: Connection) -> Tightened:
    """The rule that tightens plans while an engine is raised: share of the interval at Watch and at
    Act, and its origin."""
    kept = setting(connection, "tightened")
    return (
        {"watch": kept["watch"], "act": kept["act"], "origin": kept["origin"]}
        if kept
        else {"watch": TIGHTENED[1], "act": TIGHTENED[2], "origin": "our choice"}
    )


def save_tightened(
    connection: Connection, watch: float, act: float, origin: str, who: Actor
) -> None:
    """Change the rule; it may never lengthen an interval."""
    check_may(who, "publish")
    try:
        check_tightened({0: 1.0, 1: watch, 2: act, 3: act})
    except CoreError as error:
        raise CannotRecord("cannot_lengthen", str(error)) from error
    before = tightened(connection)
    said = origin.strip() or f"set by {who.name}"
    set_setting(connection, "tightened", {"watch": watch, "act": act, "origin": said})
    for k, v, was in (("watch", watch, before["watch"]), ("act", act, before["act"])):
        if was != v:
            run(
                connection,
                "record_change_put",
                place="plans",
                code="tightened",
                field=k,
                old=written(was),
                new=written(v),
                by=who.name,
            )
    run(connection, "mark_all_stale")
