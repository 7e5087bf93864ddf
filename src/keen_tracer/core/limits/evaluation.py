"""Fixed limits over arrays: many samples at once, one column an analyte (DOMAIN 3.4-3.7).

`evaluate` turns a Fleet into an Evaluation: fresh oil, start of charge, rates, the concentration at
which each limit is reached at this sample's hours and top-ups, and the level of every reading.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..laboratory import ANALYTES, Censor, N, idx, limits_of_difference, standard_deviation
from ..oil import Mixing, mixing, start_of_charge
from ..record import Fleet, Floats, SampleContext, all_contexts, padded
from .limit_set import ACT, CONC, PCT, PCT_LOW, RATE, RISE, RISE_LOW, WATCH, EngineLimits, LimitSet

# share of R by which a reading must clear a limit to have passed it, after ASTM D3244
PASSED = 0.59
EARLY = 0.25  # of the nominal drain: "early in a charge"; our choice
SHORTEST_RATE = 0.10  # of the nominal drain, DOMAIN 3.5
NOISIEST_RATE = 0.3  # of the Watch rate, DOMAIN 3.5
WEAR = np.array([a.kind == "wear" for a in ANALYTES])
# What fresh oil holds of itself. Fuel, soot, water and debris are not in it, so no early reading
# stands in for them.
IN_FRESH_OIL = np.array([a.in_fresh for a in ANALYTES])
# What fresh oil has most of: there the highest early reading stands in, elsewhere the lowest (our
# choice).
FALLING = np.array([a.falls for a in ANALYTES])

# Where a fresh-oil figure comes from.
BATCH, SAME_OIL, LOWEST_EARLY, TAKEN_AS_ZERO, UNKNOWN = 0, 1, 2, 3, -1


@dataclass(frozen=True)
class Evaluation:
    """What was computed for every sample (rows) and analyte (columns); NaN where it cannot be said.

    upper, lower : (2, samples, analytes) concentration at which Watch and Act are reached, above
        and below
    upper_basis, lower_basis : place of the limit that binds (see limits)
    level : 0 Steady, 1 Watch, 2 Act, -1 no limit could be applied
    """

    fleet: Fleet
    contexts: list[SampleContext]
    limits: list[EngineLimits]
    middle: Floats
    fresh: Floats
    fresh_source: NDArray[np.int8]
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


def reference(oil: str | None, known: dict[str, Floats]) -> tuple[Floats, int]:
    """The fresh-oil figures for an oil key "oil|grade|batch": its batch, else another batch of the
    oil.

    >>> reference("X|40|b2", {"X|40|b1": np.zeros(2)})[1] == SAME_OIL
    True
    """
    if oil is None:
        return np.full(N, np.nan), UNKNOWN
    if oil in known:
        return known[oil], BATCH
    parts = oil.split("|")
    for depth in (2, 1):
        stem = "|".join(parts[:depth]) + "|"
        alike = sorted(k for k in known if k.startswith(stem))
        if alike:
            return known[alike[-1]], SAME_OIL
    return np.full(N, np.nan), UNKNOWN


def _fresh(
    fleet: Fleet,
    contexts: list[SampleContext],
    middle: Floats,
    t: Floats,
    nominal: Floats,
) -> tuple[Floats, NDArray[np.int8]]:
    """Fresh-oil figures of every sample, and where each comes from (DOMAIN 3.4, last sentence)."""
    fresh = np.full(middle.shape, np.nan)
    source = np.full(middle.shape, UNKNOWN, dtype=np.int8)
    kept: dict[str | None, tuple[Floats, int]] = {}
    groups: dict[tuple[str, str | None], int] = {}
    group = np.empty(len(contexts), dtype=np.intp)
    for i, p in enumerate(contexts):
        if p.oil not in kept:
            kept[p.oil] = reference(p.oil, fleet.fresh)
        fresh[i], source[i] = kept[p.oil]
        group[i] = groups.setdefault((p.engine.code, p.oil), len(groups))
    source[np.isnan(fresh)] = UNKNOWN
    sign = np.where(FALLING, -1.0, 1.0)
    fallback = sign * _lowest_of_others(
        sign * middle, group, (t >= 0) & (t <= EARLY * nominal), len(groups)
    )
    use = np.isnan(fresh) & ~np.isnan(fallback) & IN_FRESH_OIL
    fresh[use], source[use] = fallback[use], LOWEST_EARLY
    none = np.isnan(fresh) & WEAR[None, :]
    fresh[none], source[none] = 0.0, TAKEN_AS_ZERO
    return fresh, source


def _lowest_of_others(
    middle: Floats, group: NDArray[np.intp], early: NDArray[np.bool_], groups: int
) -> Floats:
    """The lowest early reading of each sample's group, never the sample's own: nothing is its own
    reference."""
    rows = np.flatnonzero(early)
    first = np.full((groups, middle.shape[1]), np.nan)
    np.fmin.at(first, group[rows], middle[rows])
    holder = np.full(first.shape, len(middle), dtype=np.intp)
    at_lowest = middle[rows] == first[group[rows]]
    np.minimum.at(holder, group[rows], np.where(at_lowest, rows[:, None], len(middle)))
    is_holder = holder[group] == np.arange(len(middle))[:, None]
    second = np.full(first.shape, np.nan)
    np.fmin.at(second, group[rows], np.where(is_holder, np.nan, middle)[rows])
    out: Floats = np.where(is_holder, second[group], first[group])
    return out


def _start_and_rate(
    contexts: list[SampleContext],
    middle: Floats,
    fresh: Floats,
    mix: Mixing,
    drained: Mixing,
    too_short: NDArray[np.bool_],
) -> tuple[Floats, Floats]:
    """Start of charge and rate, one wave of charges after another: a charge starts from the one
    before."""
    depth = np.zeros(len(contexts), dtype=np.intp)
    by_depth: dict[int, list[int]] = {}
    for history_order in sorted(range(len(contexts)), key=lambda i: contexts[i].moment.charge):
        p = contexts[history_order]
        depth[history_order] = depth[p.ended] + 1 if p.ended >= 0 else 0
        by_depth.setdefault(int(depth[history_order]), []).append(history_order)
    ended = np.array([p.ended for p in contexts], dtype=np.intp)
    carry = np.array([p.engine.carry_over for p in contexts])
    start, rate = fresh.copy(), np.full(fresh.shape, np.nan)
    for wave in sorted(by_depth):
        rows = np.array(by_depth[wave])
        before = ended[rows]
        known = before >= 0
        prev = np.where(known, before, 0)
        part = Mixing(drained.kept[prev], drained.fresh[prev], drained.gain[prev])
        projected = part.end(start[prev], fresh[prev], rate[prev])
        # Where no rate could be had, the last reading itself is the best word on what was left
        # behind.
        projected = np.where(
            np.isnan(projected) | too_short[prev][:, None], middle[prev], projected
        )
        projected = np.where(known[:, None], np.maximum(projected, 0.0), np.nan)
        start[rows] = start_of_charge(projected, fresh[rows], carry[rows][:, None])
        here = Mixing(mix.kept[rows], mix.fresh[rows], mix.gain[rows])
        rate[rows] = here.rate(middle[rows], start[rows], fresh[rows])
    return start, rate


def _thresholds(
    limits: Floats,
    fresh: Floats,
    start: Floats,
    mix: Mixing,
    nominal: Floats,
    rate_ok: NDArray[np.bool_],
) -> tuple[Floats, NDArray[np.int8], Floats, NDArray[np.int8]]:
    """Every limit as a concentration at this sample, the tightest on each side, and which one it
    is.

    `limits` is (samples, 6, 2, analytes). A metal's concentration limit holds at the nominal drain,
    so it also stands for the rate (limit - fresh) / nominal drain; an explicit rate limit replaces
    that.
    """
    conc = limits[:, CONC]
    derived = np.where(WEAR, (conc - fresh[:, None, :]) / nominal[:, None, None], np.nan)
    rate = np.where(np.isnan(limits[:, RATE]), derived, limits[:, RATE] / 100.0)
    without = mix.end(start, fresh, np.zeros_like(fresh))[:, None, :]
    by_rate = np.where(
        rate_ok[:, None, :] & (rate > 0), without + mix.gain[:, None, None] * rate, np.nan
    )
    f = fresh[:, None, :]
    above = np.stack([conc, f + limits[:, RISE], f * limits[:, PCT] / 100.0, by_rate])
    below = np.stack([f + limits[:, RISE_LOW], f * limits[:, PCT_LOW] / 100.0])
    upper = np.fmin.reduce(above, axis=0)
    lower = np.fmax.reduce(below, axis=0)
    place_up = np.array([CONC, RISE, PCT, RATE], dtype=np.int8)
    place_low = np.array([RISE_LOW, PCT_LOW], dtype=np.int8)
    up = place_up[np.argmin(np.where(np.isnan(above), np.inf, above), axis=0)]
    low = place_low[np.argmax(np.where(np.isnan(below), -np.inf, below), axis=0)]
    return (
        np.moveaxis(upper, 1, 0),
        np.moveaxis(up, 1, 0),
        np.moveaxis(lower, 1, 0),
        np.moveaxis(low, 1, 0),
    )


def _levels(
    value: Floats, censor: NDArray[np.int8], upper: Floats, lower: Floats, R: Floats
) -> tuple[NDArray[np.int8], NDArray[np.bool_], NDArray[np.bool_]]:
    """Level of each reading, whether it is only at the limit, whether a non-detect leaves it
    unproven.

    A limit is reached at value ≥ limit and passed at value - 0.59 R ≥ limit. `<L` is taken as the
    value in [0, L] that gives the higher level: a test that cannot see down to Watch cannot clear.
    """
    high = value
    low = np.where(censor == Censor.BELOW, 0.0, value)
    level = np.zeros(value.shape, dtype=np.int8)
    passed = np.zeros(value.shape, dtype=np.int8)
    with np.errstate(invalid="ignore"):
        for n, mark in ((1, WATCH), (2, ACT)):
            level[(high >= upper[mark]) | (low <= lower[mark])] = n
            passed[(high - PASSED * R >= upper[mark]) | (low + PASSED * R <= lower[mark])] = n
        unproven = (censor == Censor.BELOW) & (level > 0)
    level[(censor == Censor.POSITIVE) & ~np.isnan(upper[WATCH])] = 1
    limited = ~np.isnan(upper).all(axis=0) | ~np.isnan(lower).all(axis=0)
    level[(censor < 0) | ~limited] = -1
    return level, (level > passed) & (level > 0) & (censor == Censor.EXACT), unproven


def _mixed(
    t: Floats, volume: Floats, stays: NDArray[np.bool_], top_ups: list[list[tuple[float, float]]]
) -> Mixing:
    """What top-ups did to each sample; where lost oil evaporates (`stays`) its metal stays in the
    engine."""
    mix = mixing(t, volume, *padded(top_ups))
    if not stays.any():
        return mix
    other = mixing(t, volume, *padded(top_ups), phi=0.0)
    return Mixing(
        *(np.where(stays, getattr(other, f), getattr(mix, f)) for f in ("kept", "fresh", "gain"))
    )


def evaluate(fleet: Fleet, limits: LimitSet) -> Evaluation:
    """Everything the fixed school says of every reading of the fleet. Pure: same input, same
    output."""
    contexts = all_contexts(fleet)
    if not contexts:
        raise ValueError("there is no sample to evaluate")
    value, censor = fleet.value, fleet.censor
    middle = np.where(censor == Censor.BELOW, value / 2, value)
    detection = np.where(censor == Censor.BELOW, value, 0.0)
    t = np.array([p.hours_on_oil for p in contexts])
    nominal = np.array([p.engine.nominal_drain for p in contexts])
    volume = np.array([p.engine.oil_total_l or np.nan for p in contexts])
    fresh, source = _fresh(fleet, contexts, middle, t, nominal)
    stays = np.array(["evaporating_oil" in p.engine.features for p in contexts])
    mix = _mixed(t, volume, stays, [p.top_ups for p in contexts])
    drained_at = np.array([p.drained_at for p in contexts])
    drained_at = np.where(np.isnan(drained_at), t, np.maximum(drained_at, t))
    drained = _mixed(
        drained_at,
        volume,
        stays,
        [[(a - (p.charge.start or 0.0), q) for a, q in p.charge.top_ups] for p in contexts],
    )
    with np.errstate(invalid="ignore"):
        too_short = ~(t >= SHORTEST_RATE * nominal)
    start, rate = _start_and_rate(contexts, middle, fresh, mix, drained, too_short)
    per_engine = [limits.for_engine(p.engine) for p in contexts]
    stacked = np.stack([x.at for x in per_engine])
    for i, p in enumerate(contexts):
        if p.engine.fuel == "petrol_leaded":
            stacked[i, :, :, idx("Pb")] = np.nan
    s_now = standard_deviation(middle, detection)
    gain = np.where(mix.gain > 0, mix.gain, np.nan)[:, None]
    s_start = standard_deviation(start)
    sigma = np.sqrt(s_now**2 + (mix.kept[:, None] * s_start) ** 2) / gain
    # Whether a rate means anything must not depend on the reading: judged at the Watch
    # concentration.
    conc_watch = stacked[:, CONC, WATCH]
    watch_rate = np.where(
        np.isnan(stacked[:, RATE, WATCH]),
        (conc_watch - fresh) / nominal[:, None],
        stacked[:, RATE, WATCH] / 100,
    )
    with np.errstate(invalid="ignore"):
        at_watch = np.maximum(mix.end(start, fresh, watch_rate), 0.0)
        noise = (
            np.sqrt(standard_deviation(at_watch) ** 2 + (mix.kept[:, None] * s_start) ** 2) / gain
        )
        too_noisy = noise > NOISIEST_RATE * watch_rate
        withheld = too_short[:, None] | too_noisy | np.isnan(rate)
        upper, up, lower, low = _thresholds(
            stacked, fresh, start, mix, nominal, ~(too_short[:, None] | too_noisy)
        )
    _, R = limits_of_difference(value, detection)
    level, at_limit, unproven = _levels(value, censor, upper, lower, R)
    return Evaluation(
        fleet,
        contexts,
        per_engine,
        middle,
        fresh,
        source,
        start,
        mix,
        rate,
        sigma,
        withheld,
        upper,
        up,
        lower,
        low,
        level,
        at_limit,
        unproven,
    )
