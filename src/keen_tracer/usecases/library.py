"""Limits as they hold, edited as a draft, tried on every verdict before they are published as a new version."""

from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

import numpy as np

from ..core.analytes import BY_COLUMN
from ..core.errors import CoreError
from ..core.evaluate import evaluate
from ..core.judge import verdicts
from ..core.limits import LimitRow, LimitSet, overlay, scope_names
from ..storage import fleet
from ..storage.db import Connection
from ..storage.records import limits_in_force, publish_limits, row, rows, run
from .judging import NoLimits
from .recording import CannotRecord

TRIED = 2000  # engines a draft is tried on while somebody waits; our choice
SHOWN = 300


def _in_force(c: Connection) -> LimitSet:
    found = limits_in_force(c)
    if found is None:
        raise NoLimits("no version of limits is published")
    return found[1]


def limits(c: Connection) -> dict[str, Any]:
    """The version in force with its rows, and the versions before it."""
    held = _in_force(c)
    return {"version": held.name, "versions": rows(c, "limits_versions"), "rows": [
        {**asdict(r), "symbol": BY_COLUMN[r.analyte].symbol, "name": BY_COLUMN[r.analyte].name} for r in held.rows],
        "scopes": {"class": scope_names(), "model": [r["code"] for r in rows(c, "model_codes")],
                   "engine": [r["code"] for r in rows(c, "engine_codes")]},
        "analytes": [{"column": a.column, "name": a.name, "unit": a.unit} for a in BY_COLUMN.values()]}


def _draft(c: Connection, given: Sequence[LimitRow]) -> LimitSet:
    """The limits in force with a draft over them; every row is checked."""
    if not given:
        raise CannotRecord("nothing_changed", "change a limit first")
    for r in given:
        if r.scope == "class" and r.scope_name not in scope_names():
            raise CannotRecord("unknown_scope", f"there is no class {r.scope_name}")
        if r.scope != "class" and row(c, f"{r.scope}_code_there", code=r.scope_name) is None:
            raise CannotRecord("unknown_scope", f"there is no {r.scope} {r.scope_name} on record")
        if not r.origin.strip():
            raise CannotRecord("origin_required", f"{r.analyte}: say where the figure comes from")
    try:
        return LimitSet("draft", overlay(_in_force(c).rows, given))
    except CoreError as error:
        raise CannotRecord("bad_limit", str(error)) from error


def _touched(c: Connection, draft: LimitSet) -> list[int]:
    """Engines for which the draft holds other limits than those in force; no reading is looked at."""
    held = _in_force(c)
    ids = [r["id"] for r in rows(c, "engine_ids", codes=None)]
    return [key for key, engine in fleet.engines(c, ids)
            if not np.array_equal(held.for_engine(engine).at, draft.for_engine(engine).at, equal_nan=True)]


def try_out(c: Connection, given: Sequence[LimitRow]) -> dict[str, Any]:
    """Which verdicts a draft would change, from what to what. Nothing is written."""
    draft = _draft(c, given)
    touched = _touched(c, draft)
    changes: list[dict[str, Any]] = []
    tried = 0
    for part in fleet.batches(c, touched[:TRIED]):
        loaded = fleet.load(c, part)
        if not loaded.sample_ids:
            continue
        e = evaluate(loaded.fleet, draft)
        now = {r["sample_id"]: r for r in rows(c, "levels_of_samples", samples=loaded.sample_ids)}
        tried += len(loaded.sample_ids)
        for key, place, verdict in zip(loaded.sample_ids, e.places, verdicts(e), strict=True):
            was = now.get(key)
            if was is not None and was["level"] != verdict.level:
                changes.append({"sample": verdict.sample, "engine": place.engine.code, "on": place.moment.row.on,
                                "was": was["level"], "now": verdict.level, "signed": was["signed"]})
    changes.sort(key=lambda x: (-(x["now"] or 0), -x["on"].toordinal(), x["sample"]))
    return {"engines": len(touched), "tried": min(len(touched), TRIED), "samples": tried,
            "raised": sum((x["now"] or 0) > (x["was"] or 0) for x in changes),
            "lowered": sum((x["now"] or 0) < (x["was"] or 0) for x in changes), "changes": changes[:SHOWN]}


def publish(c: Connection, name: str, given: Sequence[LimitRow], who: str) -> int:
    """Publish a draft as a new version; the engines it bears on are judged again. Returns how many."""
    if not name.strip():
        raise CannotRecord("name_required", "give the new version a name")
    if row(c, "limits_named", name=name.strip()) is not None:
        raise CannotRecord("name_taken", f"a version {name.strip()!r} is published already; versions never change")
    draft = _draft(c, given)
    touched = _touched(c, draft)
    publish_limits(c, name.strip(), who, draft.rows)
    run(c, "mark_stale", ids=touched)
    return len(touched)
