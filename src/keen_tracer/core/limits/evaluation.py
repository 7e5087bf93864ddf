"""Fixed limits over arrays: many samples at once, one column an analyte (the-trade 3.4-3.7).

`evaluate` turns a Fleet into an Evaluation: fresh oil, start of charge, rates, the concentration at
which each limit is reached at this sample's hours and top-ups, and the level of every reading.
"""

from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..laboratory import Censor, idx, limits_of_difference, standard_deviation
from ..oil import Mixing
from ..record import Fleet, Floats, SampleContext, all_contexts
from .fresh_oil import fresh_oil, mixed, start_and_rate
from .limit_set import ACT, CONC, RATE, WATCH, EngineLimits, LimitSet
from .thresholds import levels, thresholds
from .usual_additives import usual_additives

SHORTEST_RATE = 0.10  # of the nominal drain, the-trade 3.5
EARLY_ROOM = (5.0, 9.0)  # sd of the test above the start of a charge: Watch, Act; our choice
ALL_OF_IT = 1e6  # ppm: more than that is no concentration
NOISIEST_RATE = 0.3  # of the Watch rate, the-trade 3.5


@dataclass(frozen=True, kw_only=True)
class Evaluation:
    """What was computed for every sample (rows) and analyte (columns); NaN where it cannot be said.

    upper, lower : (2, samples, analytes) concentration at which Watch and Act are reached, above
        and below
    upper_basis, lower_basis : place of the limit that binds (see limits)
    level : 0 Steady, 1 Watch, 2 Act, -1 no limit could be applied
    additives, least_added : (samples, ADDITIVES) what the oil of each sample holds, and where that
        is only the least of its class, see `usual_additives`
    """

    fleet: Fleet
    contexts: list[SampleContext]
    limits: list[EngineLimits]
    middle: Floats
    fresh: Floats
    fresh_source: NDArray[np.int8]
    additives: Floats
    least_added: NDArray[np.bool_]
    start: Floats
    mix: Mixing
    rate: Floats
    rate_sigma: Floats
    rate_withheld: NDArray[np.bool_]
    upper: Floats
    upper_basis: NDArray[np.int8]
    lower: Floats
    lower_basis: NDArray[np.int8]
    level: NDArray[np.int8]
    at_limit: NDArray[np.bool_]
    unproven: NDArray[np.bool_]

    @cached_property
    def leaves_open(self) -> list[bool]:
        """Whether a sample holds a non-detect that clears nothing."""
        found: list[bool] = np.asarray(self.unproven.any(axis=1)).tolist()
        return found


def _rate_noise(
    start: Floats, fresh: Floats, mix: Mixing, limits: Floats, nominal: Floats
) -> tuple[Floats, NDArray[np.bool_]]:
    """(variance of what was left of the start, whether the test's noise drowns a rate).

    Whether a rate means anything must not depend on the reading: judged at the Watch
    concentration.
    """
    gain = np.where(mix.gain > 0, mix.gain, np.nan)[:, None]
    left = (mix.kept[:, None] * standard_deviation(start)) ** 2
    watch_rate = np.where(
        np.isnan(limits[:, RATE, WATCH]),
        (limits[:, CONC, WATCH] - fresh) / nominal[:, None],
        limits[:, RATE, WATCH] / 100,
    )
    with np.errstate(invalid="ignore"):
        at_watch = np.clip(mix.end(start, fresh, watch_rate), 0.0, ALL_OF_IT)
        noise = np.sqrt(standard_deviation(at_watch) ** 2 + left) / gain
        return left, noise > NOISIEST_RATE * watch_rate


class _Allowed(NamedTuple):
    """What `thresholds` asks for: limits, fresh oil, start of the charge, top-ups, nominal drain,
    where a rate means something, and the concentration under which no rate is read."""

    limits: Floats
    fresh: Floats
    start: Floats
    mix: Mixing
    nominal: Floats
    rate_ok: NDArray[np.bool_]
    room: Floats | float = 0.0


def _before_a_tenth(
    allowed: _Allowed, contexts: list[SampleContext], hours: Floats, early: NDArray[np.bool_]
) -> _Allowed:
    """Early is not blind: before a tenth of the drain a rate is withheld, and what was read is held
    against what the limit allows at a tenth. `early`: (samples,) which were drawn so early."""
    mix, _ = mixed(contexts, np.maximum(hours, SHORTEST_RATE * allowed.nominal))
    left = _left_at_most(contexts, allowed.limits)
    start = np.where(early[:, None], allowed.start + left, allowed.start)
    return allowed._replace(
        start=start,
        mix=mix,
        rate_ok=allowed.rate_ok | (early & (hours > 0))[:, None],
        room=np.where(early[:, None, None], _early_room(start), 0.0),
    )


def _early_room(start: Floats) -> Floats:
    """(samples, 2, analytes) what the test alone may scatter above the start of a charge, so that a
    sample drawn early is not raised by noise."""
    sd = standard_deviation(np.maximum(start, 1.0))
    return np.stack([EARLY_ROOM[0] * sd, EARLY_ROOM[1] * sd], axis=1)


def _left_at_most(contexts: list[SampleContext], limits: Floats) -> Floats:
    """(samples, analytes) what a charge before that nobody sampled may have left behind, at its
    Act limit."""
    unknown = np.array([p.engine.carry_over if p.ended < 0 else 0.0 for p in contexts])
    out: Floats = np.nan_to_num(unknown[:, None] * limits[:, CONC, ACT])
    return out


def _limits_of(
    contexts: list[SampleContext], limits: LimitSet
) -> tuple[list[EngineLimits], Floats]:
    """The limits of each sample's engine, and stacked as (samples, bases, 2, analytes); lead of
    leaded fuel has none."""
    per_engine = [limits.for_engine(p.engine) for p in contexts]
    stacked = np.stack([x.at for x in per_engine])
    leaded = [p.engine.fuel == "petrol_leaded" for p in contexts]
    stacked[leaded, :, :, idx("Pb")] = np.nan
    return per_engine, stacked


def evaluate(fleet: Fleet, limits: LimitSet) -> Evaluation:
    """Everything the fixed school says of every reading of the fleet.

    Parameters
    ----------
    fleet : engines with their logs, readings as (samples, analytes) in each analyte's unit; at
        least one sample, ValueError otherwise.
    limits : published rows; concentrations in the analyte's unit, rates per 100 meter units.

    Pure: same input, same output, whatever the order of engines. What cannot be said is NaN, or -1
    where it is a level; nothing raises for a reading. Source of the forms: the-trade 3.4 to
    3.7, the limits' own origin stands in their rows.

    >>> from ..laboratory import N
    >>> from ..record import Engine, History, LogRow, Sample
    >>> from datetime import date
    >>> from .limit_set import default_limits
    >>> value, censor = np.full((1, N), np.nan), np.full((1, N), -1, dtype=np.int8)
    >>> value[0, idx("Fe")], censor[0, idx("Fe")] = 130.0, 0
    >>> change = LogRow("a", date(2026, 1, 2), "oil_change", 1000)
    >>> drawn = LogRow("b", date(2026, 3, 1), "sample", 1250, sample=Sample("S", 0))
    >>> one = Fleet((History(Engine("E", "heavy_diesel"), (change, drawn)),), value, censor)
    >>> int(evaluate(one, default_limits()).level[0, idx("Fe")])
    2
    """
    contexts = all_contexts(fleet)
    if not contexts:
        raise ValueError("there is no sample to evaluate")
    value, censor = fleet.value, fleet.censor
    middle = np.where(censor == Censor.BELOW, value / 2, value)
    detection = np.where(censor == Censor.BELOW, value, 0.0)
    hours = np.array([p.hours_on_oil for p in contexts])
    nominal = np.array([p.engine.nominal_drain for p in contexts])
    fresh, source = fresh_oil(fleet, contexts, middle, hours, nominal)
    mix, drained = mixed(contexts, hours)
    with np.errstate(invalid="ignore"):
        too_short = ~(hours >= SHORTEST_RATE * nominal)
    start, rate = start_and_rate(contexts, middle, fresh, mix, drained, too_short)
    per_engine, stacked = _limits_of(contexts, limits)
    left, too_noisy = _rate_noise(start, fresh, mix, stacked, nominal)
    gain = np.where(mix.gain > 0, mix.gain, np.nan)[:, None]
    sayable = (hours > 0)[:, None] & ~too_noisy
    allowed = _Allowed(stacked, fresh, start, mix, nominal, sayable)
    if too_short.any():
        allowed = _before_a_tenth(allowed, contexts, hours, too_short)
    with np.errstate(invalid="ignore"):
        upper, up, lower, low = thresholds(*allowed)
    _, R = limits_of_difference(value, detection)
    additives, least_added = usual_additives(fleet, contexts, fresh, source)
    level, at_limit, unproven = levels(value, censor, upper, lower, R)
    return Evaluation(
        fleet=fleet,
        contexts=contexts,
        limits=per_engine,
        middle=middle,
        fresh=fresh,
        fresh_source=source,
        additives=additives,
        least_added=least_added,
        start=start,
        mix=mix,
        rate=rate,
        rate_sigma=np.sqrt(standard_deviation(middle, detection) ** 2 + left) / gain,
        rate_withheld=too_short[:, None] | too_noisy | np.isnan(rate),
        upper=upper,
        upper_basis=up,
        lower=lower,
        lower_basis=low,
        level=level,
        at_limit=at_limit,
        unproven=unproven,
    )
