"""What a charge starts from: fresh oil and where its figures come from, what was left behind, what
top-ups did, and the rate that follows (the-trade 3.4, 3.5)."""

import numpy as np
from numpy.typing import NDArray

from ..laboratory import ANALYTES, N
from ..oil import Mixing, mixing, start_of_charge
from ..record import Fleet, Floats, SampleContext, padded

EARLY = 0.25  # of the nominal drain: "early in a charge"; our choice
# share by which fills of one oil differ from its reference, 1 sd; our choice
FRESH_SD = 0.05
WEAR = np.array([a.kind == "wear" for a in ANALYTES])
# What fresh oil holds of itself. Fuel, soot, water and debris are not in it, so no early reading
# stands in for them.
IN_FRESH_OIL = np.array([a.in_fresh for a in ANALYTES])
# What fresh oil has most of: there the highest early reading stands in, elsewhere the lowest (our
# choice).
FALLING = np.array([a.falls for a in ANALYTES])
# Where a fresh-oil figure comes from.
BATCH, SAME_OIL, LOWEST_EARLY, TAKEN_AS_ZERO, UNKNOWN = 0, 1, 2, 3, -1


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


def fresh_oil(
    fleet: Fleet,
    contexts: list[SampleContext],
    middle: Floats,
    t: Floats,
    nominal: Floats,
) -> tuple[Floats, NDArray[np.int8]]:
    """Fresh-oil figures of every sample, and where each comes from (the-trade 3.4, last
    sentence)."""
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
    # Wear metals begin at 0: an early reading holds wear already, and would hide as much again.
    use = np.isnan(fresh) & ~np.isnan(fallback) & IN_FRESH_OIL & ~WEAR
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


def start_and_rate(
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


def _top_ups_in(
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


def mixed(contexts: list[SampleContext], hours: Floats) -> tuple[Mixing, Mixing]:
    """What top-ups did to each sample's oil until the sample, and until its charge was drained."""
    volume = np.array([p.engine.oil_total_l or np.nan for p in contexts])
    stays = np.array(["evaporating_oil" in p.engine.features for p in contexts])
    drained_at = np.array([p.drained_at for p in contexts])
    drained_at = np.where(np.isnan(drained_at), hours, np.maximum(drained_at, hours))
    of_charge = [
        [(at - (p.charge.start or 0.0), litres) for at, litres in p.charge.top_ups]
        for p in contexts
    ]
    return (
        _top_ups_in(hours, volume, stays, [p.top_ups for p in contexts]),
        _top_ups_in(drained_at, volume, stays, of_charge),
    )
