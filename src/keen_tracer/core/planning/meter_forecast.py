"""What a meter will read, and when it will read it: usage of late with an honest spread (the-trade
3.21).

Method, and why: usage is meter over time in a window of ten weeks, so that a gap counts as standing
still, which is what a parked machine does. A span says how an engine is used from two weeks and
readings on three days on; a window that holds less reaches further back, and never across a
storage, so that one season does not speak for another. Where the season has just begun the one
before speaks for it; a storage that is over is taken to come again a year later, and nothing is
forecast into it; an engine with less than that is reckoned as its class, whose nominal drain is
taken to last half a year, and that is said. The spread is that of the single weeks (median absolute
deviation, so one odd week does not widen it), and grows with the square root of the weeks ahead.
Ranges are 80 %. All of it our choice.
"""

from dataclasses import dataclass
from datetime import date, timedelta
from itertools import pairwise
from statistics import median

from ..record import Engine, TimeLine, nominal_drain
from ..terms import UsageBy

LEAST_DAYS, LEAST_READINGS = 14, 3  # from which a span says how an engine is used
CLASS_DRAIN_WEEKS = 26  # a nominal drain of the class is taken to last
WINDOW = timedelta(days=70)
HORIZON_WEEKS = 156.0
Z80 = 1.2816  # two-sided 80 % of the normal distribution
FEW_WEEKS_SPREAD = 0.35  # of the weekly usage, where fewer than three weeks are known
CLASS_SPREAD = 1.0  # of the weekly usage of the class
LEAST_SPREAD = 0.10  # of the weekly usage
YEAR = timedelta(days=365)
# A storage from this long to that long is taken to come again a year later; our choice.
SHORTEST_REST, LONGEST_REST = timedelta(days=21), timedelta(days=300)


@dataclass(frozen=True, slots=True)
class Usage:
    """Meter units a week, the spread of one week, the newest reading it all counts from, and whose
    usage it is; `rest`: from when until when the engine stands in storage next, going by the last
    one, and again in each year after it."""

    per_week: float
    spread: float
    latest_on: date
    latest_total: float
    by: UsageBy = "own"
    rest: tuple[date, date] | None = None

    def _rests(self) -> list[tuple[date, date]]:
        years = range(round(HORIZON_WEEKS / 52)) if self.rest else ()
        first, last = self.rest or (self.latest_on, self.latest_on)
        return [(first + n * YEAR, last + n * YEAR) for n in years]

    def _weeks_to(self, day: date) -> float:
        """Weeks of use from the newest reading to `day`."""
        stood = sum((max(min(day, b), a) - a for a, b in self._rests()), start=timedelta())
        return max((day - self.latest_on - stood).days / 7, 0.0)

    def _day_after(self, weeks: float) -> date:
        """The day on which so many weeks of use are over; what falls into a storage waits for its
        end."""
        day = self.latest_on + timedelta(days=round(7 * weeks))
        for a, b in self._rests():
            if day > a:
                day += b - a
        return day

    def said_of(self, day: date) -> UsageBy:
        """What a forecast to `day` rests on: a storage before it goes first."""
        return "storage" if self.rest and day > self.rest[0] else self.by

    def meter_on(self, day: date) -> tuple[float, float, float]:
        """(expected, low, high) true meter on `day`; never below the newest reading.

        >>> [round(x) for x in Usage(40, 10, date(2026, 1, 1), 1000).meter_on(date(2026, 1, 29))]
        [1160, 1134, 1186]
        """
        weeks = self._weeks_to(day)
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
        on, first, last = map(self._day_after, days)
        return on, first, last


def in_storage(line: TimeLine) -> bool:
    """Whether the last word on storage is that the engine went in."""
    words = [m.row.kind for m in line.moments if m.row.kind in ("storage_start", "storage_end")]
    return bool(words) and words[-1] == "storage_start"


def out_of_storage(line: TimeLine) -> date | None:
    """The day the engine last came out of storage."""
    return next((m.row.on for m in reversed(line.moments) if m.row.kind == "storage_end"), None)


Readings = list[tuple[date, float]]


def _readings(line: TimeLine) -> Readings:
    """True meter by day, never falling, the last of a day."""
    known: Readings = []
    for m in line.moments:
        if m.total is not None and (not known or m.total >= known[-1][1]):
            if known and known[-1][0] == m.row.on:
                known.pop()
            known.append((m.row.on, m.total))
    return known


def _enough(known: Readings) -> bool:
    return len(known) >= LEAST_READINGS and (known[-1][0] - known[0][0]).days >= LEAST_DAYS


def _of_late(known: Readings) -> Readings:
    """The newest readings that say how an engine is used: those of the window and the one before
    it, further back where they are too few; none where all are too few."""
    if not _enough(known):
        return []
    begin = known[-1][0] - WINDOW
    first = next(n for n, (on, _) in enumerate(known) if on >= begin)
    while not _enough(known[first:]):
        first -= 1
    return known[first:]


def _at(known: list[tuple[date, float]], day: date) -> float:
    """The meter on `day` between two readings, in proportion."""
    for (a, x), (b, y) in pairwise(known):
        if a <= day <= b:
            return x if b == a else x + (y - x) * (day - a).days / (b - a).days
    return known[0][1] if day < known[0][0] else known[-1][1]


def usage(engine: Engine, line: TimeLine) -> Usage | None:
    """How an engine is used of late, or was in the season before, or as its class is; None for one
    of which no meter was ever read."""
    known = _readings(line)
    if not known:
        return None
    latest_on, latest = known[-1]
    out = out_of_storage(line)
    now = _of_late([k for k in known if out is None or k[0] >= out])
    rest = next_rest(line, latest_on)
    if now:
        return Usage(*_of(now), latest_on, latest, rest=rest)
    away = _put_away(line)
    before = _of_late([k for k in known if away is not None and k[0] <= away])
    if before:
        return Usage(*_of(before), latest_on, latest, "season", rest)
    per_week = nominal_drain(engine.engine_class, engine.meter_unit) / CLASS_DRAIN_WEEKS
    return Usage(per_week, CLASS_SPREAD * per_week, latest_on, latest, "class", rest)


def next_rest(line: TimeLine, after: date) -> tuple[date, date] | None:
    """The days from and until which the engine is next in storage, if it is as in its last season:
    the last storage that is over, moved by whole years past `after`. None where there was none, or
    it was too short or too long to be one of every year."""
    out, away = out_of_storage(line), _put_away(line)
    if out is None or away is None or not SHORTEST_REST <= out - away <= LONGEST_REST:
        return None
    years = max(-((away - after) // YEAR), 0)
    begin = away + years * YEAR
    if begin <= after:
        begin += YEAR
    return begin, begin + (out - away)


def _put_away(line: TimeLine) -> date | None:
    """The day of the last storage that is over."""
    days = [m.row.on for m in line.moments if m.row.kind == "storage_start"]
    out = out_of_storage(line)
    return max((d for d in days if out is not None and d <= out), default=None)


def _of(known: Readings) -> tuple[float, float]:
    """(usage of a week, spread of one week) of readings that are enough."""
    (first_on, first), (latest_on, latest) = known[0], known[-1]
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
    return per_week, max(spread, LEAST_SPREAD * per_week)
