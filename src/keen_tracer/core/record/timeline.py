"""The one time line of an engine. This is the only place that orders anything.

Within an engine: date, time if both have one, true total meter, seq, then meter_replaced, sample,
look, oil_change, top_up, other. A sample at the drain so belongs to the old charge. Charges, lives
and the true meter follow from the order; they are computed, never stored.
"""

from bisect import bisect_left, bisect_right
from dataclasses import dataclass, field
from datetime import date, time
from functools import cached_property
from itertools import groupby

from .model import History, LogRow, Sample

_RANK = {"meter_replaced": 0, "sample": 1, "look": 2, "oil_change": 3, "top_up": 4}
WORK = ("repair", "rebuild")  # kinds of rows that say somebody worked on the engine
_NEW_LIFE = {"rebuild"}
_NEW_CHARGE = {"oil_change", "rebuild"}
LONG_ENOUGH = 0.25  # of the nominal drain, before oil use of a charge means anything; our choice
BACKWARDS_SLACK = 0.05  # a dial may be read a little low; our choice, in meter units


@dataclass(frozen=True, slots=True)
class Moment:
    """A log row in its place. `total` is the true meter: the sum over all meters the engine has
    had."""

    row: LogRow
    total: float | None
    life: int
    life_start: float | None
    charge: int


@dataclass(slots=True, kw_only=True)
class Charge:
    """One fill of oil, from change to change. `start` is None for the oil found in the engine."""

    number: int
    life: int
    start: float | None
    start_on: date | None
    oil: str | None
    litres_in: float | None
    end: float | None = None
    end_on: date | None = None
    top_ups: list[tuple[float, float]] = field(default_factory=list)
    untimed_top_up_l: float = 0.0


@dataclass(frozen=True, slots=True)
class Backwards:
    """A dial that falls without a replaced meter."""

    row: LogRow
    before: LogRow


@dataclass(frozen=True)
class TimeLine:
    """The ordered log of one engine."""

    moments: tuple[Moment, ...]
    charges: tuple[Charge, ...]
    backwards: tuple[Backwards, ...]

    @cached_property
    def days(self) -> list[date]:
        """The day of each moment, in order, to look a day up in."""
        return [m.row.on for m in self.moments]

    @cached_property
    def worked(self) -> list[int]:
        """The places of repairs and rebuilds, in order."""
        return [n for n, m in enumerate(self.moments) if m.row.kind in WORK]

    @cached_property
    def _lives(self) -> list[int]:
        """The life of each moment, in order: it never falls."""
        return [m.life for m in self.moments]

    def places_of(self, life: int) -> range:
        """The places of one life's moments."""
        return range(bisect_left(self._lives, life), bisect_right(self._lives, life))

    @property
    def newest_life(self) -> int:
        """The life the engine is in; 1 where nothing is on record."""
        return self.moments[-1].life if self.moments else 1

    def last_work(self, before: int) -> int:
        """The place of the last repair or rebuild before a place; -1 where there was none."""
        here = bisect_left(self.worked, before)
        return self.worked[here - 1] if here else -1

    def between(self, first: date, last: date) -> tuple[Moment, ...]:
        """The moments from one day to another, both of them in it."""
        return self.moments[bisect_left(self.days, first) : bisect_right(self.days, last)]

    def samples(self) -> list[tuple[Moment, Sample]]:
        """The samples in order, each with its moment."""
        return [(m, m.row.sample) for m in self.moments if m.row.sample is not None]


def _tie(row: LogRow, total: float | None) -> tuple[float, int, int, str]:
    """Order inside one day where the clock does not decide. `id` last, so that it never depends on
    arrival."""
    return (float("-inf") if total is None else total, row.seq, _RANK.get(row.kind, 5), row.id)


def _order_day(rows: list[tuple[LogRow, float | None]]) -> list[tuple[LogRow, float | None]]:
    """One day's rows. Rows with a time keep the clock's order; the others go in by their meter.

    "Time if both have one" alone is not an order (it can run in a circle), so an untimed row is
    placed before the first timed row it would sort before by meter, seq and kind.
    """
    untimed = sorted((x for x in rows if x[0].at is None), key=lambda x: _tie(*x))
    timed = sorted(
        (x for x in rows if x[0].at is not None), key=lambda x: (x[0].at or time.min, *_tie(*x))
    )
    if not timed or not untimed:
        return timed or untimed
    out: list[tuple[LogRow, float | None]] = []
    for one in timed:
        # A row without any meter says nothing against the clock: it stays behind the timed ones.
        while (
            untimed
            and untimed[0][1] is not None
            and one[1] is not None
            and _tie(*untimed[0]) < _tie(*one)
        ):
            out.append(untimed.pop(0))
        out.append(one)
    return out + untimed


def _totals(rows: list[LogRow], offset: float) -> tuple[list[tuple[LogRow, float | None]], float]:
    """True meters of one day's rows, and the offset that holds after the day."""
    swaps = sorted(
        (r for r in rows if r.kind == "meter_replaced" and r.dial_new is not None),
        key=lambda r: (r.at or time.min, r.seq, r.id),
    )
    if not swaps:
        return [(r, None if r.dial is None else r.dial + offset) for r in rows], offset
    # Before the first swap, and after each: the offset that holds there, and a dial figure it is
    # near to.
    offsets, near = [offset], [swaps[0].dial or 0.0]
    for swap in swaps:
        offsets.append(offsets[-1] + (swap.dial or 0.0) - (swap.dial_new or 0.0))
        near.append(swap.dial_new or 0.0)
    out: list[tuple[LogRow, float | None]] = []
    for r in rows:
        if r.dial is None:
            out.append((r, None))
        elif r in swaps:
            out.append((r, r.dial + offsets[swaps.index(r)]))
        else:
            out.append((r, r.dial + offsets[_stretch(r, swaps, near)]))
    return out, offsets[-1]


def _stretch(row: LogRow, swaps: list[LogRow], near: list[float]) -> int:
    """How many swaps of the day lie before a row: by the clock, else by the dial it lies nearest
    to."""
    if row.at is not None and all(s.at is not None for s in swaps):
        return sum(1 for s in swaps if s.at is not None and row.at > s.at)
    dial = row.dial or 0.0
    return min(range(len(near)), key=lambda k: abs(dial - near[k]))


def order(log: tuple[LogRow, ...]) -> list[tuple[LogRow, float | None]]:
    """The rows of one engine in their order, each with its true total meter.

    >>> from datetime import date
    >>> day = date(2026, 1, 2)
    >>> rows = (LogRow("b", day, "oil_change", 250), LogRow("a", day, "sample", 250))
    >>> [r.kind for r, _ in order(rows)]
    ['sample', 'oil_change']
    """
    out: list[tuple[LogRow, float | None]] = []
    offset = 0.0
    for _, day in groupby(sorted(log, key=lambda r: r.on), key=lambda r: r.on):
        rows = list(day)
        if len(rows) == 1 and rows[0].kind != "meter_replaced":
            dial = rows[0].dial
            out.append((rows[0], None if dial is None else dial + offset))
            continue
        with_total, offset = _totals(rows, offset)
        out += _order_day(with_total)
    return out


def build_time_line(history: History) -> TimeLine:
    """The time line of one engine: ordered moments, charges, and where a dial runs backwards."""
    moments: list[Moment] = []
    backwards: list[Backwards] = []
    charge = Charge(number=0, life=1, start=None, start_on=None, oil=None, litres_in=None)
    charges = [charge]
    life, life_start = 1, 0.0 if history.engine.in_service_on else None
    high: tuple[float, LogRow] | None = None
    for row, total in order(history.log):
        if total is not None:
            if high and total < high[0] - BACKWARDS_SLACK:
                backwards.append(Backwards(row, high[1]))
            else:
                high = (total, row)
        if row.kind in _NEW_LIFE:
            life, life_start = life + 1, total
            if (
                charge.start_on == row.on
            ):  # the fill of that day sorts before it, and is the new life's
                charge.life = life
        # A rebuild with an oil change on the same day is one new charge, not two.
        if row.kind in _NEW_CHARGE and not (charge.start_on == row.on and charge.life == life):
            charge.end, charge.end_on = total, row.on
            charge = Charge(
                number=charge.number + 1,
                life=life,
                start=total,
                start_on=row.on,
                oil=row.oil,
                litres_in=row.litres_in,
            )
            charges.append(charge)
        elif row.kind in _NEW_CHARGE:
            charge.oil, charge.litres_in = row.oil or charge.oil, row.litres_in or charge.litres_in
        elif row.kind == "top_up" and row.litres_in:
            if total is not None:
                charge.top_ups.append((total, row.litres_in))
            else:
                charge.untimed_top_up_l += row.litres_in
        moments.append(Moment(row, total, life, life_start, charge.number))
    return TimeLine(tuple(moments), tuple(charges), tuple(backwards))
