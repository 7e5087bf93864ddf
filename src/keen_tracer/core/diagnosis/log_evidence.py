"""Evidence in the log of an engine, without any figure of a laboratory."""

from collections.abc import Collection, Iterator, Sequence
from datetime import date, timedelta

from ..record import RENEWED, WORK, Fact, Moment, parts_named
from ..verdict import Level
from .thresholds import GOES_ON_DAYS, WORKED_BEFORE_DAYS

GOES_ON_WITHIN = timedelta(days=GOES_ON_DAYS)


def of_log(
    facts: Sequence[Fact], moments: Sequence[Moment], last_work: int
) -> Iterator[tuple[str, bool]]:
    """(evidence, seen or known to be absent) of one life's rows: those since the last work, and of
    those before it what is at Act or more.

    facts : everything the engine's log says · last_work : place of the last repair or rebuild, -1
        where there was none
    """
    places = {id(m): n for n, m in enumerate(moments)}
    here = [f for f in facts if id(f.moment) in places]
    counted = [f for f in here if places[id(f.moment)] > last_work or f.level >= Level.ACT]
    for f in counted:
        yield from f.evidence
    telling = {f.moment.row.on for f in counted if f.level}
    if telling:
        worked = {m.row.on for m in moments if m.row.kind in WORK}
        yield "just_worked_on", any(_just_after(worked, on) for on in telling)
    told = sorted({(places[id(f.moment)], f.moment.row.on) for f in here if f.level})
    for n, m in enumerate(moments):
        if m.row.kind in WORK and _went_on(told, n, m.row.on):
            for part in parts_named(m.row.part):
                yield RENEWED + part, True


def _went_on(told: Sequence[tuple[int, date]], place: int, on: date) -> bool:
    """Whether something was told not long before work and again not long after it: a part renewed
    years ago, or for another trouble, can fail like any other.

    told : (place, day) of what the log says is wrong · place, on : of the work
    """
    near = [n for n, day in told if abs(day - on) <= GOES_ON_WITHIN]
    return any(n < place for n in near) and any(n > place for n in near)


def _just_after(worked: Collection[date], on: date) -> bool:
    """Whether somebody worked on the engine on a day or in the days before."""
    return any(on - timedelta(days=n) in worked for n in range(WORKED_BEFORE_DAYS + 1))


def checks_done(facts: Sequence[Fact], moments: Collection[Moment]) -> frozenset[str]:
    """Which checks the facts of these rows answer: one that came to nothing answers none."""
    here = {id(m) for m in moments}
    return frozenset(f.answers for f in facts if f.answers and id(f.moment) in here)
