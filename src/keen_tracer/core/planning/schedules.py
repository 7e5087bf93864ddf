"""Schedules people keep that are no interval: fixed points of the meter, a day before the season,
so many trainings or races."""

import re
from calendar import monthrange
from collections import Counter
from collections.abc import Mapping, Sequence
from datetime import date, timedelta

from ..bounds import DAY_OF_YEAR, check
from ..errors import NotPossible, UnknownName
from ..record import Moment
from ..terms import SESSIONS
from .meter_forecast import WINDOW

SEASON_LEAD = timedelta(
    days=45
)  # a sample this long before the season is the one for it; our choice
_PAIR = re.compile(r"([a-z]+)\D*(\d+)")


def points_of(said: str) -> list[float]:
    """Fixed points of the meter, rising. Raises OutOfRange, NotPossible.

    >>> points_of("25000 50000; 100000")
    [25000.0, 50000.0, 100000.0]
    """
    words = re.split(r"[\s;]+", said.strip())
    if not all(re.fullmatch(r"\d+(\.\d+)?", w) for w in words):
        raise NotPossible(
            "write the points of the meter one after the other, as 25000 50000 100000"
        )
    return sorted({check("every", float(w)) for w in words})


def season_of(said: str) -> tuple[int, int]:
    """Month and day a season begins on. Raises NotPossible.

    >>> season_of("11-15")
    (11, 15)
    """
    if not re.fullmatch(DAY_OF_YEAR, said.strip()):
        raise NotPossible("write the month and the day the season begins on, as 11-15")
    month, day = said.strip().split("-")
    return int(month), int(day)


def sessions_of(said: str) -> dict[str, int]:
    """How many sessions of each kind there may be between samples. Raises NotPossible,
    UnknownName.

    >>> sessions_of("training 4, race 1")
    {'training': 4, 'race': 1}
    """
    found = {kind: int(n) for kind, n in _PAIR.findall(said.lower())}
    unknown = [kind for kind in found if kind not in SESSIONS]
    if unknown:
        raise UnknownName("kind of session", unknown[0], list(SESSIONS))
    if not found or min(found.values()) < 1:
        raise NotPossible("write how many of each, as training 4, race 1")
    return found


CHECKS = {"points": points_of, "season": season_of, "sessions": sessions_of}


def next_point(points: Sequence[float], last: float, taken: float) -> tuple[float, float] | None:
    """(the next point, the way to it from the one before); a sample from `taken` of that way on
    counts for it. None past the last.

    >>> next_point([25.0, 50.0, 100.0], 24.0, 0.9), next_point([25.0], 30.0, 0.9)
    ((50.0, 25.0), None)
    """
    before = 0.0
    for point in points:
        if last < before + taken * (point - before):
            return point, point - before
        before = point
    return None


def next_season(begins: tuple[int, int], last: date) -> date:
    """The first beginning of a season that the last sample was not drawn for.

    >>> next_season((11, 15), date(2026, 10, 20)), next_season((11, 15), date(2026, 5, 2))
    (datetime.date(2027, 11, 15), datetime.date(2026, 11, 15))
    """
    for year in range(last.year, last.year + 3):
        # A day the month does not have, as the 29th of February, is its last.
        day = date(year, begins[0], min(begins[1], monthrange(year, begins[0])[1]))
        if day - SEASON_LEAD > last:
            return day
    raise AssertionError("a season comes every year")


def sessions_due(
    limits: Mapping[str, int], moments: Sequence[Moment], last: date, newest: date
) -> date | None:
    """The day on which a kind of session reaches its number, counted from the last sample: when it
    was reached, or at the pace of the last ten weeks. None where nobody goes out.

    limits : kind → how many there may be · moments : of the time line · newest : of its readings
    """
    told = [(m.row.on, m.row.details.get("session", "")) for m in moments if m.row.details]
    days: list[date] = []
    for kind, most in limits.items():
        since = [on for on, k in told if k == kind and on > last]
        if len(since) >= most:
            days.append(since[most - 1])
            continue
        pace = Counter(k for on, k in told if on > newest - WINDOW)[kind] / WINDOW.days
        if pace > 0:
            days.append(newest + timedelta(days=round((most - len(since)) / pace)))
    return min(days, default=None)
