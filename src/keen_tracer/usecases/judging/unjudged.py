"""Engines that cannot be judged: set aside with the reason, so that nobody else waits for them, and
shown as what they are on every place."""

import logging
import secrets
from collections.abc import Iterable, Sequence
from datetime import date, timedelta

from ...core.status import (
    NEVER_LOOKED_AT,
    group_of,
    lifted,
    may_run_now,
    not_judged,
    stops_of_log,
)
from ...core.terms import GROUPS, rank
from ...core.verdict import Reason, RunDecision
from ...storage import fleet
from ...storage.db import Connection, tried
from ...storage.errors import TookTooLong
from ...storage.records import json, row, rows, run
from ..days import day_of_engine
from .states import decided_and_raised, keep_stops
from .stored import NO_PICTURE, StoredTooth
from .stored_state import kept, state_of

log = logging.getLogger("keen_tracer")
WAITS = "a new record may stop this engine, and is not judged yet"


def _why(error: Exception, incident: str) -> str:
    if isinstance(error, TookTooLong):
        return f"reading its record took too long (incident {incident})"
    return f"a figure in its record stops the program (incident {incident})"


def _too_old(comb: list[StoredTooth], today: date) -> list[StoredTooth]:
    """Teeth that clear nothing any more: each is drawn as one that is too old."""
    return [{**tooth, "stale_on": (today - timedelta(days=1)).isoformat()} for tooth in comb]


def _stops(connection: Connection, engine: int, decisions: Sequence[RunDecision]) -> list[Reason]:
    """The Stops that stand open by the log alone, kept from now on: no computing that can fail
    stands before them."""

    def found() -> list[Reason]:
        loaded = fleet.load(connection, [engine], {}, figures=False)
        every = stops_of_log(loaded.fleet.histories[0])
        stops = [r for r in every if not lifted(decisions, r)]
        keep_stops(
            connection, engine, stops, decided_and_raised(connection, [engine])[1].get(engine, ())
        )
        return stops

    stops = tried(connection, found)
    if isinstance(stops, Exception):
        log.error("the log of engine %s cannot be read alone either", engine, exc_info=stops)
        return []
    return stops


def _withdraw(connection: Connection, engine: int, why: str, looks: bool) -> None:
    """Withdraw what is said of an engine until it is judged: its state says why, a Stop and a hold
    stand. `looks`: for Stops in its log as well."""
    today = day_of_engine(connection, engine)
    held = row(connection, "wall_row", engine=engine)
    picture = {**NO_PICTURE, **(held["picture"] if held else {})}
    before = state_of(picture["state"]) if held and picture["state"] else NEVER_LOOKED_AT
    decisions = decided_and_raised(connection, [engine])[0].get(engine, [])
    stops = _stops(connection, engine, decisions) if looks else []
    decision = decisions[-1] if decisions else None
    state = not_judged(before, why, today, decision, stops)
    may_run = may_run_now(state.may_run, state.until, state.until_on, picture["dial"], today)
    run(
        connection,
        "wall_put",
        engine=engine,
        level=state.level,
        signed=None,
        until_on=state.until_on,
        due=held["due_on"] if held else None,
        open_stop=state.undecided,
        need=rank(GROUPS, group_of(may_run, state.level, 0)),
        waiting=held["waiting"] if held else 0,
        picture=json({**picture, "comb": _too_old(picture["comb"], today), "state": kept(state)}),
    )


def set_aside(connection: Connection, engine: int, error: Exception) -> None:
    """Put one engine on the list of those that cannot be judged; its state says so, and what stops
    it by its log alone is raised."""
    incident = secrets.token_hex(4)
    why = _why(error, incident)
    log.error("incident %s: engine %s cannot be judged", incident, engine, exc_info=error)
    _withdraw(connection, engine, why, looks=True)
    run(connection, "unjudged_put", engine=engine, why=why, incident=incident)


def wait_stopped(connection: Connection, engines: Iterable[int]) -> None:
    """What came in of these engines may stop them: until they are judged nobody reads that they
    run."""
    for engine in engines:
        _withdraw(connection, engine, WAITS, looks=True)


def cleared(connection: Connection, engines: list[int]) -> None:
    """These were judged: they leave the list."""
    run(connection, "unjudged_clear", ids=engines)


def try_again(connection: Connection) -> None:
    """A new start of the program may know better: what could not be judged is tried again."""
    run(connection, "mark_stale", ids=[r["engine_id"] for r in rows(connection, "unjudged")])
