"""Depots, models, engines, limits. A known one that reads otherwise is a change
to accept."""

from typing import Any

from ...core.errors import CoreError
from ...core.limits import LimitRow, overlay, scope_names
from ...core.names import skeleton
from ...core.planning import Plan
from ...exchange.cells import written
from ...exchange.csvfile import Cells, Row
from ...storage.bulk import insert, known, update
from ...storage.records import limits_in_force, publish_limits, row, rows, run
from .task import Task

# Column of the file → column of the table, where they differ.
_NAMES = {
    "depot": {"depot": "code"},
    "model": {"model": "code"},
    "engine": {"engine": "code"},
    "coolant": {
        "coolant": "code",
        "Na_mg_kg": "na_mg_kg",
        "K_mg_kg": "k_mg_kg",
        "B_mg_kg": "b_mg_kg",
        "Si_mg_kg": "si_mg_kg",
    },
}
_LISTS = {"allowed_grades", "features"}
_DOCUMENTS = {"test_limits"}
_MAY_BE_NULL = {
    "walking_order",
    "daily_capacity",
    "oil_total_l",
    "sump_l",
    "between_marks_l",
    "depot",
    "model",
    "carry_over_frac",
    "in_service_on",
    "interval_meter",
    "interval_days",
    "nominal_drain_meter",
    "nominal_drain_days",
    "dipstick_to_low_mm",
    "failure_cost",
    "na_mg_kg",
    "k_mg_kg",
    "b_mg_kg",
    "si_mg_kg",
    "density_kg_l",
    "glycol_pct",
}


def column_of(table: str, name: str) -> str:
    """The table's column for a file's column."""
    return _NAMES[table].get(name, name)


def table_values(table: str, cells: Cells) -> Cells:
    """The columns a row gives, as the table holds them. Empty text is '', an empty list is {}."""
    out = {}
    for name, value in cells.items():
        column = column_of(table, name)
        if value is None and column not in _MAY_BE_NULL:
            value = (
                [] if column in _LISTS else {"time_zone": "UTC", "meter_unit": "h"}.get(column, "")
            )
        out[column] = (value or {}) if column in _DOCUMENTS else value
    return out


def _same(a: Any, b: Any) -> bool:
    return bool(a == b)


def _upsert(task: Task, table: str, part: list[Row]) -> list[str]:
    """Insert new rows; show changed ones and write them only when the person accepts. Codes of new
    rows."""
    file_key = table
    columns = [column_of(table, n) for n in part[0].cells]
    have = known(task.connection, table, "code", columns, [r.cells[file_key] for r in part])
    seen: dict[str, int] = {}
    added = []
    for r in part:
        code = r.cells[file_key]
        if code in seen:
            task.problem(
                r.number,
                file_key,
                f"{table} {code!r} stands twice",
                f"row {seen[code]} has it too; keep one",
            )
            continue
        seen[code] = r.number
        values = table_values(table, r.cells)
        if code not in have and not _told_apart(task, table, code, r.number):
            continue
        if code not in have:
            insert(task.connection, table, values)
            added.append(code)
            task.file.added += 1
            continue
        old = dict(zip(columns, have[code], strict=True))
        differing = {k: v for k, v in values.items() if not _same(old[k], v)}
        for k, v in differing.items():
            task.change(r.number, f"{table} {code}, {k}", written(old[k]), written(v))
        if differing and task.accept:
            update(task.connection, table, "code", code, differing)
            task.all_touched = True
        task.file.known += 1
    return added


def _told_apart(task: Task, table: str, code: str, at: int) -> bool:
    """Engines are distinguished by their names alone: on a label, in a list, on the telephone."""
    if table != "engine":
        return True
    if not task.taken_names:
        task.taken_names = {
            skeleton(r["code"]): r["code"] for r in rows(task.connection, "engine_codes")
        }
    return task.new_name("engine", code, at, task.taken_names)


def depots(task: Task, part: list[Row]) -> None:
    _upsert(task, "depot", part)


def coolants(task: Task, part: list[Row]) -> None:
    _upsert(task, "coolant", part)


def models(task: Task, part: list[Row]) -> None:
    _upsert(task, "model", part)


def engines(task: Task, part: list[Row]) -> None:
    """Engines, after checking that their depot and model are known."""
    good = []
    for column in ("depot", "model"):
        names = sorted({r.cells[column] for r in part if r.cells.get(column)})
        there = known(task.connection, column, "code", ["code"], names)
        for r in part:
            name = r.cells.get(column)
            if name and name not in there:
                task.problem(
                    r.number,
                    column,
                    f"{column} {name!r} is not known",
                    f"import {column}s.csv with it first (or in the same call), or correct "
                    "the name",
                )
                r.cells[column] = None
    good = part
    codes = _upsert(task, "engine", good)
    found = known(task.connection, "engine", "code", ["id"], codes)
    task.touched.update(r[0] for r in found.values())
    task.engines = {}


def plans(task: Task, part: list[Row]) -> None:
    """Rows of plans.csv: one plan of each kind per engine."""
    wanted: dict[tuple[int, str], Row] = {}
    for r in part:
        engine = task.engine(r.cells["engine"], r.number)
        if engine is None:
            continue
        try:
            Plan(
                r.cells["kind"],
                r.cells.get("every"),
                r.cells.get("method") or "",
                r.cells.get("said") or "",
            )
        except CoreError as error:
            task.problem(r.number, "every", str(error), "give the interval of this plan")
            continue
        if (engine, r.cells["kind"]) in wanted:
            task.problem(
                r.number,
                "kind",
                f"engine {r.cells['engine']!r} has this plan twice",
                "keep one of the rows",
            )
            continue
        wanted[engine, r.cells["kind"]] = r
    have = {
        (p["engine_id"], p["kind"]): p
        for p in rows(
            task.connection, "plans_of_engines", ids=sorted({engine for engine, _ in wanted})
        )
    }
    for (engine, kind), r in wanted.items():
        every, before = r.cells.get("every"), have.get((engine, kind))
        method, said = (r.cells.get(k) or "" for k in ("method", "said"))
        told = (every, method, said)
        same = before is not None and tuple(before[k] for k in ("every", "method", "said")) == told
        if before is not None:
            task.file.known += 1
            if not same:
                task.change(
                    r.number,
                    f"plan {kind} of {r.cells['engine']}",
                    f"{written(before['every'])} {before['method']} {before['said']}".strip(),
                    f"{written(every)} {method} {said}".strip(),
                )
        else:
            task.file.added += 1
        if before is None or (not same and task.accept):
            run(
                task.connection,
                "plan_put",
                engine=engine,
                kind=kind,
                every=every,
                method=method,
                said=said,
            )
            task.touched.add(engine)


def limits(task: Task, part: list[Row]) -> None:
    """Rows of limits.csv, collected by version until the file ends."""
    for r in part:
        c = r.cells
        limit = LimitRow(
            c["scope"],
            c["scope_name"],
            c["analyte"],
            c["basis"],
            c.get("watch"),
            c.get("act"),
            c.get("unit") or "",
            c["origin"],
        )
        if limit.scope == "class" and limit.scope_name not in scope_names():
            task.problem(
                r.number,
                "scope_name",
                f"class {limit.scope_name!r} is not known",
                f"write one of {', '.join(scope_names()[:8])}",
            )
            continue
        try:
            key = (limit.scope, limit.scope_name, limit.analyte, limit.side())
        except CoreError as error:
            task.problem(r.number, "act", str(error), "correct the figures")
            continue
        version = task.limits.setdefault(c["version"], {})
        if key in version:
            task.problem(
                r.number,
                None,
                "this limit stands twice in its version",
                f"row {version[key][0]} has it too; keep one of the rows",
            )
            continue
        version[key] = (r.number, limit)


def finish_limits(task: Task) -> None:
    """Publish each new version: the limits in force with the given rows in their place.

    So a file with the maker's figures for one engine leaves every other limit as it was; a row
    without figures switches one off. A version with a known name must say the same.
    """
    for name, given in task.limits.items():
        version = row(task.connection, "limits_named", name=name)
        if version is None:
            before = limits_in_force(task.connection)
            publish_limits(
                task.connection,
                name,
                task.actor.name,
                overlay(before[1].rows if before else (), [limit for _, limit in given.values()]),
            )
            task.file.added += len(given)
            task.all_touched = True
        elif {x for _, x in given.values()} <= {
            LimitRow(**x) for x in rows(task.connection, "limit_rows", version=version["id"])
        }:
            task.file.known += len(given)
        else:
            task.problem(
                next(iter(given.values()))[0],
                "version",
                f"version {name!r} is published with other rows",
                "give the changed limits a new version name; published ones never change",
            )
    task.limits = {}
