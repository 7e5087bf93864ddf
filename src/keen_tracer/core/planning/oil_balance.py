"""Oil in and oil out: fill against what the maker recommends, oil use with its trend, liquid that
came in (the-trade 3.16)."""

from dataclasses import dataclass
from math import inf

from ..bounds import check
from ..errors import OutOfRange
from ..record import LONG_ENOUGH, Charge, LogRow, TimeLine, detail_number
from ..statistics import Trend, trend

PER_DEGREE = 0.00075  # hot oil expands by 0.075 % a degree, the-trade 3.16
REFERENCE_C = 20.0  # volumes are compared at this temperature
STAYS = (0.03, 0.10)  # share that stays in filter and cooler at a drain, the-trade 3.16
# of the recommended fill, before a fill is called too much or too little; our choice
FILL_SLACK = 0.05
MEASURED = 0.02  # of the fill: a drained pan is not read closer than that; our choice


def volume_at(litres: float, measured_c: float, wanted_c: float = REFERENCE_C) -> float:
    """The volume [L] that oil measured at `measured_c` has at `wanted_c` [°C]. Raises OutOfRange
    outside -40 to 200 °C.

    Source: 0.075 % a degree on the volume at 20 °C, common practice.

    >>> round(volume_at(20, 20, 90), 2)
    21.05
    """
    for t in (measured_c, wanted_c):
        if not -40 <= t <= 200:
            raise OutOfRange("oil temperature", t, -40, 200, "°C")
    return (
        check("litres", litres)
        * (1 + PER_DEGREE * (wanted_c - REFERENCE_C))
        / (1 + PER_DEGREE * (measured_c - REFERENCE_C))
    )


def came_in(
    drained_l: float, filled_l: float, topped_l: float, drained_c: float = REFERENCE_C
) -> tuple[float, float]:
    """(least, most) litres of another liquid that came in during a charge; negative: so much less
    came out.

    Least: no oil was used, so the top-ups are still there. Most: the top-ups replaced oil that was
    used up, and a tenth of the fill stayed in filter and cooler. Source: drained - fill - top-ups
    (the-trade 3.16).

    >>> [round(x, 2) for x in came_in(36, 30, 2)]
    [4.0, 9.0]
    """
    # Top-ups are a sum of litres: together they may be more than one figure may be.
    for name, litres in (("fill", filled_l), ("top-ups", topped_l)):
        if not 0 <= litres < inf:
            raise OutOfRange(name, litres, 0, inf, "L")
    cold = volume_at(drained_l, drained_c)
    return cold - filled_l - topped_l, cold - filled_l * (1 - STAYS[1])


def above_full_l(level_on_stick: float, between_marks_l: float) -> float:
    """Litres above the full mark that a reading of the stick means (0 low mark, 1 full mark),
    negative below it.

    >>> above_full_l(1.25, 4.0)
    1.0
    """
    return (check("stick", level_on_stick) - 1) * check("between_marks", between_marks_l)


@dataclass(frozen=True, slots=True, kw_only=True)
class ChargeBalance:
    """One charge's oil. Litres; `per_100` litres topped up per 100 meter units, None where too
    short to mean anything.

    over_fill : litres over (under, if negative) the recommended fill, None where that is not known
    least_in, most_in : litres of other liquid, None where nothing was measured at the drain
    in_word : "came in" even if no oil was used, "may have come in" if more was drained than filled,
        else ""
    """

    number: int
    start: float
    end: float | None
    filled: float | None
    over_fill: float | None
    fill_word: str
    topped: float
    drained: float | None
    drained_c: float | None
    least_in: float | None
    most_in: float | None
    in_word: str
    per_100: float | None


@dataclass(frozen=True, slots=True)
class Balance:
    """All charges of an engine, and whether it uses more oil than it did."""

    charges: tuple[ChargeBalance, ...]
    use: Trend | None


def _drained_c(closing: LogRow | None) -> float | None:
    """The temperature written down at a drain; one that cannot be, from before it was refused, is
    as good as none."""
    try:
        return detail_number(closing.details, "drained_c") if closing else None
    except OutOfRange:
        return None


def _one(
    line: TimeLine, charge: Charge, now: float | None, sump_l: float | None, nominal: float
) -> ChargeBalance:
    start = charge.start or 0.0
    end = charge.end
    topped = sum(q for _, q in charge.top_ups) + charge.untimed_top_up_l
    # What was drained is written down at the change that ends the charge.
    closing = next(
        (m.row for m in line.moments if m.charge == charge.number + 1 and m.row.litres_drained),
        None,
    )
    drained = closing.litres_drained if closing else None
    drained_c = _drained_c(closing)
    over = charge.litres_in - sump_l if charge.litres_in and sump_l else None
    word = (
        ""
        if over is None or sump_l is None
        else "too much"
        if over > FILL_SLACK * sump_l
        else ("too little" if over < -FILL_SLACK * sump_l else "as recommended")
    )
    least = most = None
    in_word = ""
    if drained and charge.litres_in:
        heat_c = REFERENCE_C if drained_c is None else drained_c
        least, most = came_in(drained, charge.litres_in, topped, heat_c)
        seen = MEASURED * charge.litres_in
        in_word = (
            "came in"
            if least > seen
            else "may have come in"
            if volume_at(drained, heat_c) - charge.litres_in > seen
            else ""
        )
    hours = (end if end is not None else now if now is not None else start) - start
    return ChargeBalance(
        number=charge.number,
        start=start,
        end=end,
        filled=charge.litres_in,
        over_fill=over,
        fill_word=word,
        topped=topped,
        drained=drained,
        drained_c=drained_c,
        least_in=least,
        most_in=most,
        in_word=in_word,
        per_100=100 * topped / hours if hours >= LONG_ENOUGH * nominal else None,
    )


def oil_balance(line: TimeLine, sump_l: float | None, nominal_drain: float) -> Balance:
    """The oil balance of every charge on record, oldest first, and the trend of oil use from charge
    to charge."""
    now = next((m.total for m in reversed(line.moments) if m.total is not None), None)
    found = tuple(
        _one(line, q, now, sump_l, nominal_drain) for q in line.charges if q.start is not None
    )
    used = [(q.start, q.per_100) for q in found if q.per_100 is not None]
    distinct = len({x for x, _ in used}) > 1
    return Balance(found, trend([x for x, _ in used], [y for _, y in used]) if distinct else None)
