"""Evidence in the log of an engine, without any figure of a laboratory."""

from collections.abc import Collection, Iterator, Sequence
from datetime import date, timedelta

from ..record import RENEWED, Fact, TimeLine, parts_named
from ..verdict import Level
from .thresholds import GOES_ON_DAYS, WORKED_BEFORE_DAYS

GOES_ON_WITHIN = timedelta(days=GOES_ON_DAYS)


def of_log(
    facts: Sequence[Fact], line: TimeLine, places: range, last_work: int
) -> Iterator[tuple[str, bool]]:
    """(evidence, seen or known to be absent) of one life's rows: those since the last work, and of
    those before it what is at Act or more.

    facts : everything the engine's log says · places : of the rows that count · last_work : place
        of the last repair or rebuild, -1 where there was none
    """
    here = [f for f in facts if f.at in places]
    counted = [f for f in here if f.at > last_work or f.level >= Level.ACT]
    for f in counted:
        yield from f.evidence
    telling = {f.moment.row.on for f in counted if f.level}
    works = [n for n in line.worked if n in places]
    if telling:
        days = (line.moments[n].row.on for n in works)
        yield "just_worked_on", any(_just_before(on, telling) for on in days)
    if not works:
        return
    told = sorted({(f.at, f.moment.row.on) for f in here if f.level})
    for n in works:
        row = line.moments[n].row
        if _went_on(told, n, row.on):
            for part in parts_named(row.part):
                yield RENEWED + part, True


def _went_on(told: Sequence[tuple[int, date]], place: int, on: date) -> bool:
    """Whether something was reported shortly before work and again shortly after it: a part renewed
    years ago, or for another trouble, can fail like any other.

    told : (place, day) of each report that something is wrong · place, on : of the work
    """
    near = [n for n, day in told if abs(day - on) <= GOES_ON_WITHIN]
    return any(n < place for n in near) and any(n > place for n in near)


def _just_before(worked: date, telling: Collection[date]) -> bool:
    """Whether something was reported on the day of work, or in the days after."""
    return any(worked + timedelta(days=n) in telling for n in range(WORKED_BEFORE_DAYS + 1))


def checks_done(facts: Sequence[Fact], places: range) -> frozenset[str]:
    """Which checks the facts of these rows answer: one that came to nothing answers none."""
    return frozenset(f.answers for f in facts if f.answers and f.at in places)
