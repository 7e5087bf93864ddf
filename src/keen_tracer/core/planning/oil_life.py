"""How long the oil lasts: which property reaches its limit first, by what form, and when to drain
(the-trade 3.11).

Each property ages in a form of its own: base number falls about exponentially, soot and nitration
grow in a straight line, oxidation does so after an induction. A fixed-interval school drains at the
interval whatever the oil says, unless it is spent; a condition-based one drains when the first
property nears its limit, and goes past the maker's interval only where the site's policy allows it.
"""

import math
from dataclasses import dataclass

import numpy as np

from ..certainty import SURE
from ..laboratory import ANALYTES, BY_SYMBOL, EXACT, columns, idx, standard_deviation
from ..limits import ACT, Evaluation
from ..record import SampleContext
from ..statistics import FEWEST, crossing, fit_line

INDUCTION_RISE = 2.0  # A/cm of oxidation above fresh before it counts as begun; our choice


@dataclass(frozen=True, slots=True)
class Ageing:
    """One property of the oil in the engine now. Meters are true meters; None where nothing can be
    said.

    word : "crosses", "reached", "no trend", "away" or "too few"; limit : its Act limit, in the
        property's unit
    """

    symbol: str
    form: str
    limit: float
    points: int
    word: str
    at: float | None
    earliest: float | None
    latest: float | None


@dataclass(frozen=True, slots=True)
class OilLife:
    """What the oil of the present charge has left.

    first : the property that reaches its limit first; drain : "now", "at", "extend" or "unknown";
        at : true meter;
    because : "spent", "first limit", "interval", "maker's limit", "site policy", or "new oil" where
        the newest sample is of an oil drained since
    """

    ageing: tuple[Ageing, ...]
    first: Ageing | None
    drain: str
    at: float | None
    because: str


def _points(
    evaluation: Evaluation, here: list[SampleContext], a: int
) -> tuple[list[float], list[float]]:
    """(meter units on the oil, readings) of one charge, beginning with its start."""
    known = [p for p in here if evaluation.fleet.censor[p.row, a] == EXACT and p.hours_on_oil > 0]
    x, y = [p.hours_on_oil for p in known], [float(evaluation.middle[p.row, a]) for p in known]
    start = float(evaluation.start[here[0].row, a])
    return ([0.0, *x], [start, *y]) if np.isfinite(start) else (x, y)


def _straight(
    form: str, y: list[float], limit: float, fresh: float
) -> tuple[list[float], float, int]:
    """Readings and limit on the scale on which they run straight, and how many first ones lie
    before that begins."""
    if form == "exponential":
        return [math.log(max(v, 1e-3)) for v in y], math.log(max(limit, 1e-3)), 0
    if form == "linear after induction":
        begun = next((n for n, v in enumerate(y) if v - fresh >= INDUCTION_RISE), len(y))
        return y, limit, max(begun - 1, 0)
    return y, limit, 0


Found = tuple[str, float | None, float | None, float | None]


def _two_points(x: list[float], y: list[float], limit: float, sd: float) -> Found:
    """A line through two points, its spread from the test's noise: (word, at, earliest, latest) in
    meter units."""
    rise, span = y[1] - y[0], x[1] - x[0]
    if abs(rise) < SURE * sd:
        return "no trend", None, None, None
    if (limit - y[1]) * rise <= 0:
        return (
            ("reached", x[1], x[1], x[1])
            if (limit - y[0]) * rise > 0
            else ("away", None, None, None)
        )
    steep, flat = abs(rise) + SURE * sd, abs(rise) - SURE * sd
    near, middle, far = (x[1] + abs(limit - y[1]) / r * span for r in (steep, abs(rise), flat))
    return "crosses", middle, near, far


def ageing(evaluation: Evaluation, here: list[SampleContext], symbol: str) -> Ageing | None:
    """How one property of the present charge ages; None without a limit or a reading. `here`: the
    charge's places."""
    a, form, rising = idx(symbol), BY_SYMBOL[symbol].ageing, not BY_SYMBOL[symbol].falls
    newest = here[-1]
    limit = float((evaluation.upper if rising else evaluation.lower)[ACT, newest.row, a])
    x, y = _points(evaluation, here, a)
    start = newest.charge.start
    if not math.isfinite(limit) or len(x) < 2 or start is None:
        return None
    straight, bound, skip = _straight(form, y, limit, float(evaluation.fresh[newest.row, a]))
    x, straight = x[skip:], straight[skip:]
    if len(x) < 2:
        return Ageing(symbol, form, limit, len(x), "too few", None, None, None)
    if len(x) < FEWEST:
        sd = float(standard_deviation(evaluation.middle[newest.row])[a])
        sd = sd / max(y[-1], 1e-3) if form == "exponential" else sd
        word, at, early, late = _two_points(x, straight, bound, sd)
    else:
        found = crossing(fit_line(x, straight), bound, x[-1], rising)
        word, at, early, late = found.word, found.at, found.earliest, found.latest
    meters = [None if t is None else start + t for t in (at, early, late)]
    return Ageing(symbol, form, limit, len(x), word, *meters)


def oil_life(
    evaluation: Evaluation, contexts: list[SampleContext], longest: float = 1.0
) -> OilLife | None:
    """The oil's outlook from one engine's places in order; None without a charge or a meter.

    longest : how many nominal drains the site's policy allows at most; 1 keeps to the maker's
        interval. Below 1 is
    taken as 1: shortening is what the limits are for.
    """
    if not contexts:
        return None
    newest = contexts[-1]
    present = newest.time_line.charges[-1]
    if present.number != newest.charge.number:
        # What is known is of an oil that was drained: of this one only its interval is.
        if present.start is None:
            return None
        return OilLife((), None, "at", present.start + newest.engine.nominal_drain, "new oil")
    now, start = newest.moment.total, newest.charge.start
    if now is None or start is None:
        return None
    here = [p for p in contexts if p.charge is newest.charge]
    found = tuple(
        x for k in ANALYTES if k.ageing and (x := ageing(evaluation, here, k.symbol)) is not None
    )
    crossing_ones = [x for x in found if x.word in ("crosses", "reached") and x.at is not None]
    first = min(crossing_ones, key=lambda x: x.at or math.inf, default=None)
    interval = start + newest.engine.nominal_drain
    if any(evaluation.level[newest.row, n] >= 2 for n in columns("spends_oil")):
        return OilLife(found, first, "now", now, "spent")
    # The early edge: half of all oils would be spent before the middle.
    edge = None if first is None else first.earliest if first.earliest is not None else first.at
    if edge is not None and edge < interval:
        return OilLife(found, first, "at", max(edge, now), "first limit")
    if not longest > 1 or not found:
        return OilLife(found, first, "at", interval, "interval")
    furthest = start + longest * newest.engine.nominal_drain
    if edge is not None and edge < furthest:
        return OilLife(found, first, "extend", edge, "first limit")
    return OilLife(found, first, "extend", furthest, "site policy")
