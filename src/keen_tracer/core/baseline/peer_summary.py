"""A version of peers, offsets between laboratories, seasons and duty from the steady histories of a
fleet."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from warnings import catch_warnings, simplefilter

import numpy as np
from numpy.typing import NDArray

from ..record import Floats
from .peers import (
    ENOUGH_PEERS,
    FACTOR_RANGE,
    LEAST,
    SPREADS,
    STEEPEST_DUTY,
    SYMBOLS,
    E,
    Group,
    PeerSet,
    element_place,
)

# how many degrees of freedom that figure counts for; our choice (docs/judgement.md)
SPREAD_WEIGHT = 20.0
ENOUGH_OVERLAP = 10  # engines that changed laboratory, for an offset; the-trade 3.2
HALF, THREE_QUARTERS = 0.6745, 1.1503  # quantiles of |z|, normal data
MEDIAN_ERROR = 1.2533  # sd of a median over sd of a mean, normal data
# What a depot's engines can share by where and when they run: salt and dust.
SHARED = (element_place("Na"), element_place("Si"))
ENOUGH_NEIGHBOURS, NEIGHBOUR_WEIGHT = 5, 3.0  # engines; our choice
SEASON_WEIGHT = 30.0  # samples a season of no effect counts for; our choice
DUTY_PRIOR = 0.2  # sd of the slope on duty before any sample speaks; our choice


@dataclass(frozen=True, kw_only=True)
class Member:
    """One engine's steady history: mean and squared deviations of y, samples and charges behind
    them, per element."""

    engine: str
    model: str
    engine_class: str
    mean: Floats
    n: Floats
    charges: Floats
    residuals: Floats  # (samples, elements) y - mean, for the spread of the class
    standard: Floats  # the same over the larger of habit and test noise
    # y - mean of the rise since the sample before in the same charge, over what was assumed
    rises: Floats
    duty: Floats  # ln of how much harder than usual it was worked before each sample
    quarter: NDArray[
        np.int8
    ]  # 0 December to February, 1 March to May, 2 June to August, 3 September to November
    depot: str
    month: NDArray[np.int32]  # see `month_of`
    switches: tuple[
        tuple[str, str, Floats], ...
    ] = ()  # from laboratory, to laboratory, change of y


@dataclass(frozen=True)
class Offset:
    """How much one laboratory reads above another in y, from `n` engines that went from one to the
    other."""

    from_laboratory: str
    to_laboratory: str
    symbol: str
    offset: float
    sd: float
    n: int


def _robust(x: Floats) -> tuple[Floats, Floats]:
    """(variance around zero, count) of every column, from the half and from the three quarters
    nearest to zero, whichever is larger: near the detection limit most readings are alike and the
    half alone would say "no spread"; more than three quarters would count the samples of engines
    that nobody knows to be sick yet."""
    n = np.sum(~np.isnan(x), axis=0).astype(float)
    out = np.full(x.shape[1], np.nan)
    for e in np.flatnonzero(n > 3):
        half, most = np.quantile(np.abs(x[~np.isnan(x[:, e]), e]), (0.5, 0.75))
        out[e] = max(half / HALF, most / THREE_QUARTERS) ** 2
    return out, n


def _factor(standard: Floats, members: int) -> Floats:
    """How much of the assumed spread was really seen, with 20 degrees of freedom of "just as
    assumed" mixed in."""
    seen, n = _robust(standard)
    free = np.maximum(n - members, 0)  # a mean of its own was taken out of every engine
    seen = seen * np.divide(n, free, out=np.ones(E), where=free > 0)
    mixed = (SPREAD_WEIGHT + free * np.nan_to_num(seen)) / (SPREAD_WEIGHT + free)
    out: Floats = np.where(np.isnan(seen), 1.0, np.clip(mixed, *FACTOR_RANGE))
    return out


def group_of(members: Iterable[Member]) -> Group:
    """The summary of some engines."""
    listed = list(members)
    means = np.array([m.mean for m in listed])
    n, charges = np.array([m.n for m in listed]), np.array([m.charges for m in listed])
    residuals = np.concatenate([m.residuals for m in listed])
    within, _ = _robust(residuals)
    k = np.sum(~np.isnan(means), axis=0).astype(float)
    mean, median, between = np.full(E, np.nan), np.full(E, np.nan), np.full(E, np.nan)
    effective = n / (1 + 0.5 * np.maximum(n / np.maximum(charges, 1) - 1, 0))
    for e in np.flatnonzero(k):
        there = ~np.isnan(means[:, e])
        x = means[there, e]
        mean[e], median[e] = x.mean(), np.median(x)
        # By the median deviation, so that a few worn engines do not make every engine's habit look
        # wide.
        robust = (1.4826 * np.median(np.abs(x - median[e]))) ** 2 * len(x) / max(len(x) - 1, 1)
        between[e] = max(
            robust - np.nan_to_num(within[e]) * float(np.mean(1 / effective[there, e])),
            LEAST[e],
        )
    factor = _factor(np.concatenate([m.standard for m in listed]), len(listed))
    samples = int(np.sum(~np.isnan(residuals).all(axis=1)))
    return Group(k, mean, median, between, factor, f"{samples} steady samples of this fleet")


def offsets_of(members: Iterable[Member]) -> list[Offset]:
    """Offsets between laboratories from engines that went from one to the other; only where at
    least 10 did (3.2)."""
    seen: dict[tuple[str, str], list[Floats]] = {}
    for m in members:
        for a, b, change in m.switches:
            low, high = min(a, b), max(a, b)
            seen.setdefault((low, high), []).append(change if (low, high) == (a, b) else -change)
    out = []
    for (a, b), changes in sorted(seen.items()):
        table = np.array(changes)
        for e in range(E):
            x = table[~np.isnan(table[:, e]), e]
            if len(x) < ENOUGH_OVERLAP:
                continue
            middle = float(np.median(x))
            sd = float(1.4826 * np.median(np.abs(x - middle)) * MEDIAN_ERROR / np.sqrt(len(x)))
            out += [
                Offset(a, b, SYMBOLS[e], middle, sd, len(x)),
                Offset(b, a, SYMBOLS[e], -middle, sd, len(x)),
            ]
    return out


def offset_table(offsets: Iterable[Offset]) -> dict[tuple[str, str], tuple[Floats, Floats, Floats]]:
    """(from, to) → offset, its sd and n, per element; an element nobody compared has offset 0 and
    sd NaN."""
    out: dict[tuple[str, str], tuple[Floats, Floats, Floats]] = {}
    for o in offsets:
        pair = (o.from_laboratory, o.to_laboratory)
        offset, sd, n = out.setdefault(pair, (np.zeros(E), np.full(E, np.nan), np.zeros(E)))
        at = element_place(o.symbol)
        offset[at], sd[at], n[at] = o.offset, o.sd, o.n
    return out


def by_class(members: Iterable[Member]) -> dict[str, list[Member]]:
    """The engines of every class, classes in the order of their names."""
    out: dict[str, list[Member]] = {}
    for m in members:
        out.setdefault(m.engine_class, []).append(m)
    return dict(sorted(out.items()))


def seasons_of(members: Iterable[Member]) -> dict[str, Floats]:
    """Class → (4 quarters, elements): how y shifts with the season, drawn towards 0 where few
    samples say so."""
    out = {}
    for name, listed in by_class(members).items():
        residuals = np.concatenate([m.residuals for m in listed])
        quarter = np.concatenate([m.quarter for m in listed])
        shift = np.zeros((4, E))
        for q in range(4):
            part = residuals[quarter == q]
            n = np.sum(~np.isnan(part), axis=0)
            for e in np.flatnonzero(n >= ENOUGH_PEERS):
                shift[q, e] = float(np.nanmedian(part[:, e])) * n[e] / (n[e] + SEASON_WEIGHT)
        out[name] = shift
    return out


def neighbours_of(
    members: Iterable[Member], seasons: Mapping[str, Floats]
) -> dict[tuple[str, int], Floats]:
    """(depot, month) → what its engines shared in that month of SHARED beyond the season, one voice
    an engine. Only what is more, by two of its own errors, and drawn towards 0 where few engines
    say so. The median, so that no engine in trouble, nor any engine's own figure, makes it.
    """
    voices: dict[tuple[str, int], list[Floats]] = {}
    for m in members:
        y = m.residuals - seasons[m.engine_class][m.quarter]
        for month in np.unique(m.month) if m.depot else ():
            with catch_warnings():
                simplefilter("ignore", RuntimeWarning)  # a month without a figure of one element
                voices.setdefault((m.depot, int(month)), []).append(
                    np.nanmedian(y[m.month == month], axis=0)
                )
    out = {}
    for key, said in voices.items():
        figures, shift = np.stack(said), np.zeros(E)
        for e in SHARED:
            there = figures[~np.isnan(figures[:, e]), e]
            n = len(there)
            if n < ENOUGH_NEIGHBOURS:
                continue
            more, chance = float(np.median(there)), MEDIAN_ERROR * SPREADS[e] / np.sqrt(n)
            shift[e] = more * n / (n + NEIGHBOUR_WEIGHT) if more >= 2 * chance else 0.0
        if shift.any():
            out[key] = shift
    return out


def duties_of(members: Iterable[Member], seasons: Mapping[str, Floats]) -> dict[str, Floats]:
    """Class → slope of y on duty, after the season is taken off: least squares drawn towards 0 (a
    ridge), so that a fleet whose wear does not depend on how hard it works gets none."""
    out = {}
    for name, listed in by_class(members).items():
        worked = np.concatenate([m.duty for m in listed])
        y = np.concatenate([m.residuals - seasons[name][m.quarter] for m in listed])
        slope = np.zeros(E)
        for e in range(E):
            there = ~np.isnan(y[:, e]) & (worked != 0)
            x, r = worked[there], np.clip(y[there, e], -2 * SPREADS[e], 2 * SPREADS[e])
            if len(x) >= ENOUGH_PEERS:
                x = x - x.mean()
                found = float(x @ (r - r.mean()) / (x @ x + (SPREADS[e] / DUTY_PRIOR) ** 2))
                slope[e] = min(max(found, -STEEPEST_DUTY), STEEPEST_DUTY)
        out[name] = slope
    return out


def rises_of(members: Iterable[Member]) -> dict[str, Floats]:
    """Class → factor on the variance of a rise within a charge. From the upper half alone: a
    difference of two noisy figures on a logarithm falls further than it rises, and only what rises
    is ever an alarm."""
    out = {}
    for name, listed in by_class(members).items():
        rises = np.concatenate([m.rises for m in listed])
        out[name] = _factor(np.where(rises > 0, rises, np.nan), 0)
    return out


def peer_set(name: str, members: Iterable[Member]) -> PeerSet:
    """The version of peers, offsets and seasons that these engines make."""
    listed = list(members)
    by_model: dict[str, list[Member]] = {}
    for m in listed:
        if m.model:
            by_model.setdefault(m.model, []).append(m)
    seasons = seasons_of(listed)
    return PeerSet(
        name=name,
        models={k: group_of(v) for k, v in sorted(by_model.items())},
        classes={k: group_of(v) for k, v in by_class(listed).items()},
        means={m.engine: m.mean for m in listed},
        offsets=offset_table(offsets_of(listed)),
        seasons=seasons,
        duties=duties_of(listed, seasons),
        rises=rises_of(listed),
        neighbours=neighbours_of(listed, seasons),
    )
