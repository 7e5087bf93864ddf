"""Evidence in the log of an engine, without any figure of a laboratory."""

from collections.abc import Iterator, Sequence
from datetime import timedelta

from ..errors import CoreError
from ..record import WORK, Engine, Moment, checked, evidence_of_row, parts, tellings
from ..verdict import Level
from .thresholds import WORKED_BEFORE_DAYS

_TOLD = ("symptom", "field_check", "overheating", "failure", "look", "finding")
# Where a look is, it answers this check.
_LOOK_ANSWERS = {
    "filter": "open_filter",
    "bypass_filter": "open_filter",
    "pan": "pan",
    "strainer": "pan",
}


def _serious(engine: Engine, m: Moment) -> bool:
    """Whether a row is at Act or more: it still counts after work was done."""
    words = tellings(m.row, (), engine.test_limits)
    return any(w.level >= Level.ACT for w in words)


def of_log(engine: Engine, moments: Sequence[Moment], last_work: int) -> Iterator[tuple[str, bool]]:
    """(evidence, seen or known to be absent) of one life's rows: those since the last work, and of
    those before it what is at Act or more.

    last_work : place of the last repair or rebuild, -1 where there was none
    """
    told = [(n, m) for n, m in enumerate(moments) if m.row.kind in _TOLD]
    counted = [m for n, m in told if n > last_work or _serious(engine, m)]
    for m in counted:
        yield from evidence_of_row(m.row, engine.test_limits)
    telling = [m for m in counted if any(w.level for w in tellings(m.row, (), engine.test_limits))]
    if telling:
        yield "just_worked_on", any(_just_after_work(moments, m) for m in telling)


def _just_after_work(moments: Sequence[Moment], m: Moment) -> bool:
    """Whether somebody worked on the engine in the days before a row."""
    since = m.row.on - timedelta(days=WORKED_BEFORE_DAYS)
    return any(w.row.kind in WORK and since <= w.row.on <= m.row.on for w in moments)


def checks_done(engine: Engine, moments: Sequence[Moment]) -> frozenset[str]:
    """Which checks these rows answer."""
    done: set[str] = set()
    for m in moments:
        if m.row.look is not None:
            done |= {_LOOK_ANSWERS.get(m.row.look.place, "")}
        elif m.row.kind == "finding" and m.row.part in parts():
            done.add(parts()[m.row.part].answers)
        elif m.row.kind == "field_check" and _speaks(engine, m):
            done.add(m.row.part)
    return frozenset(done - {""})


def _speaks(engine: Engine, m: Moment) -> bool:
    """Whether a check came to something: one that was too short has to be done again."""
    try:
        return bool(checked(m.row.part, m.row.details, engine.test_limits)[0].channel)
    except CoreError:
        return False
