"""Limits as they hold, edited as a draft, tried on every verdict before they are published as a new
version."""

from collections.abc import Sequence
from dataclasses import asdict, replace

import numpy as np

from ...core.bounds import NAME
from ...core.errors import CoreError
from ...core.laboratory import BY_COLUMN
from ...core.limits import (
    DEFAULT,
    POLICIES,
    POLICY_WORDS,
    LimitRow,
    LimitSet,
    default_limits,
    overlay,
    scope_names,
)
from ...core.roles import Actor, check_may
from ...exchange.cells import written
from ...storage import fleet
from ...storage.db import Connection
from ...storage.peers import Choice, choose_policy, policies_in_force
from ...storage.records import limits_in_force, publish_limits, row, rows, run, set_setting, setting
from ..answers.from_rows import answer, answers
from ..answers.library import LimitOut, Limits, LimitsVersion, PeersOut, PeersVersion, TriedOut
from ..errors import CannotRecord, NoLimits
from . import publishing, second_person
from .publishing import PROGRAM, TRIED, WAITS, changed_levels
from .standards import standards


def _in_force(connection: Connection) -> LimitSet:
    found = limits_in_force(connection)
    if found is None:
        raise NoLimits("no version of limits is published")
    return found[1]


def limits(connection: Connection) -> Limits:
    """The version in force with its rows, and the versions before it."""
    held = _in_force(connection)
    chosen = policies_in_force(connection)
    return {
        "version": held.name,
        "versions": answers(LimitsVersion, rows(connection, "limits_versions")),
        "peers": answers(PeersVersion, rows(connection, "peers_versions")),
        "peers_wait": setting(connection, WAITS) or None,
        "policies": {"class": dict(chosen.classes), "engine": dict(chosen.engines)},
        "longest_drain": float(setting(connection, "longest_drain") or 1.0),
        "second_person": second_person.is_asked(connection),
        "policy_words": POLICY_WORDS,
        "default_policy": DEFAULT,
        "rows": [
            answer(
                LimitOut,
                asdict(r),
                symbol=BY_COLUMN[r.analyte].symbol,
                name=BY_COLUMN[r.analyte].name,
            )
            for r in held.rows
        ],
        "scopes": {
            "class": scope_names(),
            "model": [r["code"] for r in rows(connection, "model_codes")],
            "engine": [r["code"] for r in rows(connection, "engine_codes")],
        },
        "analytes": [
            {"column": a.column, "name": a.name, "unit": a.unit} for a in BY_COLUMN.values()
        ],
    }


def publish_shipped(connection: Connection) -> str:
    """Publish the limits that ship with the program where none are in force, and over a version
    of before those of classes it does not know. Returns the name of what was published, "" for
    nothing; no limit somebody set is touched."""
    shipped, held = default_limits(), limits_in_force(connection)
    if held is None:
        publish_limits(connection, shipped.name, PROGRAM, shipped.rows)
        return shipped.name
    known = {r.scope_name.split("+")[0] for r in held[1].rows if r.scope == "class"}
    new = [r for r in shipped.rows if r.scope_name.split("+")[0] not in known]
    if not new:
        return ""
    own = held[1].name.startswith("default ")
    name = shipped.name if own else f"{held[1].name}, new classes of {shipped.name}"[:NAME]
    publish_limits(connection, name, PROGRAM, overlay(held[1].rows, new))
    return name


def _draft(connection: Connection, given: Sequence[LimitRow]) -> LimitSet:
    """The limits in force with a draft over them; every row is checked."""
    if not given:
        raise CannotRecord("nothing_changed", "change a limit first")
    for r in given:
        if r.scope == "class" and r.scope_name not in scope_names():
            raise CannotRecord("unknown_scope", f"there is no class {r.scope_name}")
        if (
            r.scope != "class"
            and row(connection, f"{r.scope}_code_there", code=r.scope_name) is None
        ):
            raise CannotRecord("unknown_scope", f"there is no {r.scope} {r.scope_name} on record")
        if not r.origin.strip():
            raise CannotRecord("origin_required", f"{r.analyte}: say where the figure comes from")
    try:
        return LimitSet("draft", overlay(_in_force(connection).rows, given))
    except CoreError as error:
        raise CannotRecord("bad_limit", str(error)) from error


def _touched(connection: Connection, draft: LimitSet) -> list[int]:
    """Engines for which the draft holds other limits than those in force; no reading is looked
    at."""
    held = _in_force(connection)
    ids = [r["id"] for r in rows(connection, "engine_ids", codes=None)]
    return [
        key
        for key, engine in fleet.engines(connection, ids)
        if not np.array_equal(
            held.for_engine(engine).at, draft.for_engine(engine).at, equal_nan=True
        )
    ]


def try_out(connection: Connection, given: Sequence[LimitRow]) -> TriedOut:
    """Which verdicts a draft would change, from what to what. Nothing is written."""
    draft = _draft(connection, given)
    touched, held = _touched(connection, draft), standards(connection)
    assert held is not None
    found = changed_levels(connection, touched[:TRIED], replace(held, limits=draft))
    return {**found, "engines": len(touched)}


def publish(connection: Connection, name: str, given: Sequence[LimitRow], who: Actor) -> int:
    """Publish a draft as a new version; the engines it bears on are judged again. Returns how
    many."""
    check_may(who, "publish")
    if not name.strip():
        raise CannotRecord("name_required", "give the new version a name")
    if row(connection, "limits_named", name=name.strip()) is not None:
        raise CannotRecord(
            "name_taken", f"a version {name.strip()!r} is published already; versions never change"
        )
    draft = _draft(connection, given)
    touched = _touched(connection, draft)
    publish_limits(connection, name.strip(), who.name, draft.rows)
    run(connection, "mark_stale", ids=touched)
    return len(touched)


def _chosen_for(connection: Connection, chosen: Choice) -> list[int]:
    """The engines a choice bears on. Raises CannotRecord."""
    if chosen.policy not in POLICIES:
        raise CannotRecord("unknown_policy", f"there is no policy {chosen.policy}")
    if chosen.scope == "class":
        if chosen.name not in scope_names():
            raise CannotRecord("unknown_scope", f"there is no class {chosen.name}")
        return [r["id"] for r in rows(connection, "engines_of_class", name=chosen.name)]
    found = row(connection, "engine_by_code", code=chosen.name)
    if found is None:
        raise CannotRecord("unknown_scope", f"there is no engine {chosen.name} on record")
    return [found["id"]]


def try_choice(connection: Connection, chosen: Choice) -> TriedOut:
    """Which verdicts another choice would change, from what to what. Nothing is written."""
    touched, held = _chosen_for(connection, chosen), standards(connection)
    assert held is not None
    engines, classes = dict(held.policies.engines), dict(held.policies.classes)
    (engines if chosen.scope == "engine" else classes)[chosen.name] = chosen.policy
    policies = replace(held.policies, engines=engines, classes=classes)
    found = changed_levels(connection, touched[:TRIED], replace(held, policies=policies))
    return {**found, "engines": len(touched)}


def choose(connection: Connection, chosen: Choice, who: Actor) -> int:
    """Choose which schools decide for a class or an engine, with a reason; those engines are judged
    again. Returns how many."""
    check_may(who, "publish")
    touched = _chosen_for(connection, chosen)
    if not chosen.reason.strip():
        words = "say why these limits decide from now on"
        raise CannotRecord("reason", words, {"reason": words})
    choose_policy(connection, chosen, who.name)
    run(connection, "mark_stale", ids=touched)
    return len(touched)


def set_longest_drain(connection: Connection, times: float, who: Actor) -> None:
    """The site's policy: how many nominal drains an oil may stay in at most where its figures allow
    it."""
    check_may(who, "publish")
    if not 1 <= times <= 5:
        raise CannotRecord(
            "out_of_range", "give 1 to 5 nominal drains; 1 keeps to the maker's interval"
        )
    before = float(setting(connection, "longest_drain") or 1.0)
    set_setting(connection, "longest_drain", times)
    run(
        connection,
        "record_change_put",
        place="library",
        code="longest_drain",
        field="times",
        old=written(before),
        new=written(times),
        by=who.name,
    )


def publish_peers(connection: Connection, who: Actor, preview: bool) -> PeersOut:
    """Publish peers anew, or only list what that would change."""
    if not preview:
        check_may(who, "publish")
    found = publishing.publish(connection, who.name, preview)
    if found is None:
        raise CannotRecord("nothing_to_learn", "no engine has a steady history yet")
    name, changes = found
    return {"name": name, **changes}
