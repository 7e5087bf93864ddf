"""Stops by the log alone: kept before and apart from any computing of figures that can fail, and
looked for in what waits to be judged."""

from collections.abc import Collection, Sequence

from ..record import Fact, History, LogRow, build_time_line, facts_of
from ..verdict import Level, Reason
from .reasons import reasons_of_facts


def _facts(history: History, log: Sequence[LogRow]) -> list[Fact]:
    """What some rows of a log say by themselves; nothing where they cannot be read."""
    try:
        return facts_of(history.engine, build_time_line(History(history.engine, tuple(log))))
    except Exception:  # whatever stops the program must not hide what stops the engine
        return []


def _alone(history: History) -> list[Fact]:
    """What every row says without the others."""
    return [fact for row in history.log for fact in _facts(history, (row,))]


def stops_of_log(history: History) -> list[Reason]:
    """Every Stop that the log of an engine says by itself, each row with the others and alone:
    what stops by its own words stops whatever else is wrong with the record."""
    facts = [*_alone(history), *_facts(history, history.log)]
    found = {r.key: r for r in reasons_of_facts(facts) if r.level >= Level.STOP}
    return list(found.values())


def is_grave(history: History, rows: Collection[str]) -> bool:
    """Whether one of these rows says something by itself that may stop the engine once it is held
    against everything else: Act or worse."""
    return any(f.level >= Level.ACT for f in _alone(history) if f.moment.row.id in rows)
