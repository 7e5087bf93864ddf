"""What a meter will read, and when it will read it: usage of late with an honest spread (the-trade
3.21).

Method, and why: usage is meter over time in a fixed window of ten weeks, so that a gap counts as
standing still, which is what a parked machine does; readings from before the last storage are left
out, so that one season does not speak for another. The spread is that of the single weeks (median
absolute deviation, so one odd week does not widen it), and grows with the square root of the weeks
ahead. Ranges are 80 %. All of it our choice.
"""

from dataclasses import dataclass
from datetime import date, timedelta
from itertools import pairwise
from statistics import median

from ..record import TimeLine

WINDOW = timedelta(days=70)
HORIZON_WEEKS = 156.0
Z80 = 1.2816  # two-sided 80 % of the normal distribution
FEW_WEEKS_SPREAD = 0.35  # of the weekly usage, where fewer than three weeks are known
LEAST_SPREAD = 0.10  # of the weekly usage


@dataclass(frozen=True, slots=True)
class Usage:
    """Meter units a week, the spread of one week, and the newest reading it all counts from."""

    per_week: float
    spread: float
    latest_on: date
    latest_total: float

    def meter_on(self, day: date) -> tuple[float, float, float]:
        """(expected, low, high) true meter on `day`; never below the newest reading.

        >>> [round(x) for x in Usage(40, 10, date(2026, 1, 1), 1000).meter_on(date(2026, 1, 29))]
        [1160, 1134, 1186]
        """
        weeks = max((day - self.latest_on).days / 7, 0.0)
        middle, half = self.latest_total + self.per_week * weeks, Z80 * self.spread * weeks**0.5
        return middle, max(middle - half, self.latest_total), middle + half

    def day_of(self, total: float) -> tuple[date, date, date] | None:
        """(expected, earliest, latest) day on which the meter reaches `total`; None when nothing
        moves.

        A total already passed gives the day it was passed at this usage, which lies in the past.
        """
        if self.per_week <= 0:
            return None
        weeks = max(min((total - self.latest_total) / self.per_week, HORIZON_WEEKS), -HORIZON_WEEKS)
        half = Z80 * self.spread * max(weeks, 0.0) ** 0.5 / self.per_week
        days = [weeks, max(weeks - half, min(weeks, 0.0)), min(weeks + half, HORIZON_WEEKS)]
        on, first, last = (self.latest_on + timedelta(days=round(7 * w)) for w in days)
        return on, first, last


def in_storage(line: TimeLine) -> bool:
    """Whether the last word on storage is that the engine went in."""
    words = [m.row.kind for m in line.moments if m.row.kind in ("storage_start", "storage_end")]
    return bool(words) and words[-1] == "storage_start"


def out_of_storage(line: TimeLine) -> date | None:
    """The day the engine last came out of storage."""
    return next((m.row.on for m in reversed(line.moments) if m.row.kind == "storage_end"), None)


def _readings(line: TimeLine) -> list[tuple[date, float]]:
    """True meter by day, never falling, since the last storage where that leaves enough to count
    with."""
    known: list[tuple[date, float]] = []
    for m in line.moments:
        if m.total is not None and (not known or m.total >= known[-1][1]):
            known.append((m.row.on, m.total))
    out = out_of_storage(line)
    since = [k for k in known if out is None or k[0] >= out]
    return since if len(since) >= 2 and (since[-1][0] - since[0][0]).days >= 7 else known


def _at(known: list[tuple[date, float]], day: date) -> float:
    """The meter on `day` between two readings, in proportion."""
    for (a, x), (b, y) in pairwise(known):
        if a <= day <= b:
            return x if b == a else x + (y - x) * (day - a).days / (b - a).days
    return known[0][1] if day < known[0][0] else known[-1][1]


def usage(line: TimeLine) -> Usage | None:
    """Usage of late, or None with fewer than two readings on different days."""
    known = _readings(line)
    if len(known) < 2 or known[0][0] == known[-1][0]:
        return None
    latest_on, latest = known[-1]
    inside = [k for k in known if k[0] >= latest_on - WINDOW]
    first_on, first = (
        inside[0] if inside[0][0] < latest_on else max(k for k in known if k[0] < latest_on)
    )
    per_week = (latest - first) * 7 / (latest_on - first_on).days
    weeks = (latest_on - first_on).days // 7
    amounts = [
        _at(known, latest_on - timedelta(days=7 * n))
        - _at(known, latest_on - timedelta(days=7 * (n + 1)))
        for n in range(weeks)
    ]
    if len(amounts) < 3:
        spread = FEW_WEEKS_SPREAD * per_week
    else:
        middle = median(amounts)
        spread = 1.4826 * median(abs(a - middle) for a in amounts)
    return Usage(per_week, max(spread, LEAST_SPREAD * per_week), latest_on, latest)
