"""Stops by the log alone: kept before and apart from any computing of figures that can fail, and
looked for in what waits to be judged."""

from collections.abc import Collection, Iterable, Sequence

from ..record import Fact, History, LogRow, build_time_line, facts_of
from ..verdict import Level, Reason
from .reasons import reasons_of_facts


def _facts(history: History, log: Sequence[LogRow]) -> list[Fact] | None:
    """What some rows of a log say; None where they cannot be put in order."""
    try:
        return facts_of(history.engine, build_time_line(History(history.engine, tuple(log))))
    except Exception:  # whatever stops the program must not hide what stops the engine
        return None


def _alone(history: History, rows: Iterable[LogRow]) -> list[Fact]:
    """What rows say, each without the others."""
    return [fact for row in rows for fact in _facts(history, (row,)) or ()]


def stops_of_log(history: History) -> list[Reason]:
    """Every Stop that the log of an engine says by itself. Where the whole of it cannot be put in
    order every row is asked alone: what stops by its own words stops whatever else is wrong."""
    facts = _facts(history, history.log)
    found = reasons_of_facts(_alone(history, history.log) if facts is None else facts)
    return [r for r in found if r.level >= Level.STOP]


def is_grave(history: History, rows: Collection[str]) -> bool:
    """Whether one of these rows says something by itself that may stop the engine once it is held
    against everything else: Act or worse."""
    asked = (row for row in history.log if row.id in rows)
    return any(f.level >= Level.ACT for f in _alone(history, asked))
