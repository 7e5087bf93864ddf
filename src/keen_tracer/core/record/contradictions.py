"""Two answers to one question that cannot both be right: the higher one holds until a third
settles it."""

from collections.abc import Sequence
from datetime import timedelta

from .fact import Fact
from .timeline import TimeLine

SOON = timedelta(days=3)  # in which an engine that nobody touched does not change; our choice
# What may change a measured answer between the two: something was done to the engine or its oil.
_TOUCHED = frozenset(
    {"repair", "rebuild", "oil_change", "top_up", "coolant_top_up", "coolant_change", "finding"}
)


def contradictions(facts: Sequence[Fact], line: TimeLine) -> list[tuple[Fact, Fact]]:
    """Pairs (earlier, later) of the newest two answers to one check, measured within three days of
    each other with nothing done between, of which one is raised and the other is right.

    A third answer settles it, and there is no pair any more.
    """
    by_check: dict[str, list[Fact]] = {}
    for fact in facts:
        if fact.moment.row.kind == "field_check" and _is_measured(fact):
            by_check.setdefault(fact.answers, []).append(fact)
    pairs = [(a, b) for same in by_check.values() for a, b in _last_two(same)]
    return [(a, b) for a, b in pairs if _differ(a, b) and not _touched(a, b, line)]


def _last_two(same: Sequence[Fact]) -> list[tuple[Fact, Fact]]:
    """The newest two, unless the one before them already differed from the second: that is the
    third."""
    if len(same) < 2:
        return []
    a, b = same[-2:]
    if len(same) > 2 and _differ(same[-3], a) and a.moment.row.on - same[-3].moment.row.on <= SOON:
        return []
    return [(a, b)] if b.moment.row.on - a.moment.row.on <= SOON else []


def _is_measured(fact: Fact) -> bool:
    return any(w.kind == "measured" for w in fact.words)


def _differ(a: Fact, b: Fact) -> bool:
    return (a.level == 0) != (b.level == 0)


def _touched(a: Fact, b: Fact, line: TimeLine) -> bool:
    return any(m.row.kind in _TOUCHED for m in line.moments[a.at + 1 : b.at])
