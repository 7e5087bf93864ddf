"""Engines that cannot be judged: set aside with the reason, so that nobody else waits for them, and
shown as what they are on every place."""

import logging
import secrets
from datetime import date, timedelta

from ...core.status import NEVER_LOOKED_AT, group_of, may_run_now, not_judged
from ...core.terms import GROUPS, rank
from ...storage.db import Connection
from ...storage.errors import TookTooLong
from ...storage.records import json, row, rows, run
from ..days import day_of_engine
from .states import decision_of
from .stored import NO_PICTURE, StoredTooth
from .stored_state import kept, state_of

log = logging.getLogger("keen_tracer")


def _why(error: Exception, incident: str) -> str:
    if isinstance(error, TookTooLong):
        return f"reading its record took too long (incident {incident})"
    return f"a figure in its record stops the program (incident {incident})"


def _too_old(comb: list[StoredTooth], today: date) -> list[StoredTooth]:
    """Teeth that clear nothing any more: each is drawn as one that is too old."""
    return [{**tooth, "stale_on": (today - timedelta(days=1)).isoformat()} for tooth in comb]


def set_aside(c: Connection, engine: int, error: Exception) -> None:
    """Put one engine on the list of those that cannot be judged; its state says so."""
    incident = secrets.token_hex(4)
    why, today = _why(error, incident), day_of_engine(c, engine)
    log.error("incident %s: engine %s cannot be judged", incident, engine, exc_info=error)
    held = row(c, "wall_row", engine=engine)
    picture = {**NO_PICTURE, **(held["picture"] if held else {})}
    before = state_of(picture["state"]) if held else NEVER_LOOKED_AT
    decided = rows(c, "run_decisions", engines=[engine])
    decision = decision_of(decided[-1]) if decided else None
    state = not_judged(before, why, today, decision)
    may_run = may_run_now(state.may_run, state.until, state.until_on, picture["dial"], today)
    run(
        c,
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
    run(c, "unjudged_put", engine=engine, why=why, incident=incident)


def cleared(c: Connection, engines: list[int]) -> None:
    """These were judged: they leave the list."""
    run(c, "unjudged_clear", ids=engines)


def try_again(c: Connection) -> None:
    """A new start of the program may know better: what could not be judged is tried again."""
    run(c, "mark_stale", ids=[r["engine_id"] for r in rows(c, "unjudged")])
