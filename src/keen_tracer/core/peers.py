"""What peers say: a published summary of every engine's steady wear, and the prior it gives to one engine (JUDGEMENT).

Peers are engines of the same model, else of the same class, each counted once. An engine is never its own peer.
All figures are in y = ln(rise at the nominal drain + a), the scale of `expectation`.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from functools import cache

import numpy as np
from numpy.typing import NDArray

from .analytes import ANALYTES, N
from .limits import CONC, RISE, WATCH, EngineLimits
from .precision import standard_deviation
from .records import Engine, Floats

# Expected values are made for what accumulates in oil: wear metals and the elements of dirt and coolant.
ELEMENTS = np.array([a.index for a in ANALYTES if a.kind == "wear" or a.symbol in ("Si", "Na", "K")])
E = len(ELEMENTS)
SYMBOLS = tuple(ANALYTES[i].symbol for i in ELEMENTS)
SPREAD = 0.35  # sd of one engine's y around its mean where nothing is published; our choice (JUDGEMENT)
SPREAD_WEIGHT = 20.0  # how many degrees of freedom that figure counts for; our choice (JUDGEMENT)
EMPTY_SHARE = 0.33  # of the Watch rise: what an engine is expected to show when it has no peers; our choice
EMPTY_SPREAD = 0.6  # sd of that guess; our choice
LEAST_BETWEEN = 0.02  # variance between engines is never taken as less; our choice (JUDGEMENT)
ENOUGH_PEERS = 30  # for school P to speak by itself; DOMAIN 3.7
ENOUGH_OVERLAP = 10  # engines that changed laboratory, for an offset; DOMAIN 3.2
HALF, NINE_TENTHS = 0.6745, 1.6449  # quantiles of |z|, normal data
MEDIAN_ERROR = 1.2533  # sd of a median over sd of a mean, normal data
SEASON_WEIGHT = 30.0  # samples a season of no effect counts for; our choice
FACTOR_RANGE = (0.04, 9.0)  # a spread is never taken as under a fifth or over three times the assumed; our choice


@cache
def place(symbol: str) -> int:
    """Place of an element in the arrays of peers and expectations.

    >>> SYMBOLS[place("Pb")]
    'Pb'
    """
    return SYMBOLS.index(symbol)


@cache
def started_log() -> Floats:
    """a [ppm] of each element: max(1 ppm, s_site at 1 ppm), so that noise near zero stays small in the logarithm."""
    out: Floats = np.maximum(1.0, standard_deviation(np.full((1, N), 1.0))[0, ELEMENTS])
    return out


@dataclass(frozen=True)
class Member:
    """One engine's steady history: mean and squared deviations of y, samples and charges behind them, per element."""

    engine: str
    model: str
    engine_class: str
    mean: Floats
    n: Floats
    charges: Floats
    residuals: Floats  # (samples, elements) y - mean, for the spread of the class
    standard: Floats  # the same over the larger of habit and test noise
    quarter: NDArray[np.int8]  # 0 December to February, 1 March to May, 2 June to August, 3 September to November
    switches: tuple[tuple[str, str, Floats], ...] = ()  # from laboratory, to laboratory, change of y


@dataclass(frozen=True)
class Group:
    """A model or a class: how many engines, their mean and median, the variance between them, and the spread inside one
    engine as a factor on what was assumed."""

    engines: Floats
    mean: Floats
    median: Floats
    between: Floats
    factor: Floats
    origin: str


@dataclass(frozen=True)
class Offset:
    """How much one laboratory reads above another in y, from `n` engines that went from one to the other."""

    from_laboratory: str
    to_laboratory: str
    symbol: str
    offset: float
    sd: float
    n: int


@dataclass(frozen=True)
class PeerSet:
    """A published version of peers, offsets between laboratories and seasons."""

    name: str
    models: Mapping[str, Group] = field(default_factory=dict)
    classes: Mapping[str, Group] = field(default_factory=dict)
    means: Mapping[str, Floats] = field(default_factory=dict)  # engine → mean of y, NaN where it has none
    offsets: Mapping[tuple[str, str], tuple[Floats, Floats, Floats]] = field(default_factory=dict)
    seasons: Mapping[str, Floats] = field(default_factory=dict)  # class → (4 quarters, elements) shift of y


NOTHING_PUBLISHED = PeerSet("none")


@dataclass(frozen=True)
class Prior:
    """What is expected of an engine before it has a history: mean and variance of its own mean, factor on its spread.

    peers : how many engines stand behind it, per element
    """

    mean: Floats
    variance: Floats
    factor: Floats
    peers: Floats


def _guess(limits: EngineLimits) -> Floats:
    """ln(a third of the Watch rise + a); where there is no limit, a."""
    a = started_log()
    conc, rise = limits.at[CONC, WATCH, ELEMENTS], limits.at[RISE, WATCH, ELEMENTS]
    watch = np.where(np.isnan(conc), rise, conc)
    out: Floats = np.log(EMPTY_SHARE * np.where(np.isnan(watch), 2 * a, watch) + a)
    return out


def _without(group: Group, own: Floats | None) -> tuple[Floats, Floats]:
    """(engines, mean) of a group with the engine's own mean taken out again."""
    if own is None:
        return group.engines, group.mean
    inside = ~np.isnan(own) & (group.engines > 0)
    k = group.engines - inside
    with np.errstate(invalid="ignore", divide="ignore"):
        mean = (group.mean * group.engines - np.where(inside, own, 0.0)) / k
    return k, np.where(k > 0, np.where(inside, mean, group.mean), np.nan)


def prior(peers: PeerSet, engine: Engine, limits: EngineLimits) -> Prior:
    """The prior of one engine: m0 = k/(k+1) mean of the model + 1/(k+1) of the class, JUDGEMENT.

    Without any peers a third of the Watch rise stands in, with a wide spread.
    """
    guess, own = _guess(limits), peers.means.get(engine.code)
    empty = np.zeros(E)
    held = peers.classes.get(engine.engine_class)
    if held is None:
        return Prior(guess, np.full(E, EMPTY_SPREAD**2), np.ones(E), empty)
    k_class, mean_class = _without(held, own)
    # The class itself is one more voice beside the guess from the limits, by the same rule.
    centre = np.where(k_class > 2, held.median, mean_class)
    wide = np.where(k_class > 0, np.nan_to_num(k_class * np.nan_to_num(centre) + guess) / (k_class + 1), guess)
    vb = np.where(k_class > 2, np.maximum(held.between, LEAST_BETWEEN), EMPTY_SPREAD**2)
    group = peers.models.get(engine.model)
    k, mean = _without(group, own) if group is not None and engine.model else (empty, np.full(E, np.nan))
    m0 = (k * np.nan_to_num(mean) + wide) / (k + 1)
    vp = vb * (0.5 + 0.5 / (k + 1)) * (1 + 1 / (k + k_class + 1))
    return Prior(m0, vp, held.factor, np.where(k > 0, k, k_class))


def _robust(x: Floats) -> tuple[Floats, Floats]:
    """(variance around zero, count) of every column, from the half and from the nine tenths nearest to zero, whichever
    is larger: near the detection limit most readings are alike and the half alone would say "no spread"."""
    n = np.sum(~np.isnan(x), axis=0).astype(float)
    out = np.full(x.shape[1], np.nan)
    for e in np.flatnonzero(n > 3):
        half, most = np.quantile(np.abs(x[~np.isnan(x[:, e]), e]), (0.5, 0.9))
        out[e] = max(half / HALF, most / NINE_TENTHS) ** 2
    return out, n


def _factor(standard: Floats, members: int) -> Floats:
    """How much of the assumed spread was really seen, with 20 degrees of freedom of "just as assumed" mixed in."""
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
        # By the median deviation, so that a few worn engines do not make every engine's habit look wide.
        robust = (1.4826 * np.median(np.abs(x - median[e]))) ** 2 * len(x) / max(len(x) - 1, 1)
        between[e] = max(robust - np.nan_to_num(within[e]) * float(np.mean(1 / effective[there, e])), LEAST_BETWEEN)
    factor = _factor(np.concatenate([m.standard for m in listed]), len(listed))
    samples = int(np.sum(~np.isnan(residuals).all(axis=1)))
    return Group(k, mean, median, between, factor, f"{samples} steady samples of this fleet")


def offsets_of(members: Iterable[Member]) -> list[Offset]:
    """Offsets between laboratories from engines that went from one to the other; only where at least 10 did (3.2)."""
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
            out += [Offset(a, b, SYMBOLS[e], middle, sd, len(x)), Offset(b, a, SYMBOLS[e], -middle, sd, len(x))]
    return out


def seasons_of(members: Iterable[Member]) -> dict[str, Floats]:
    """Class → (4 quarters, elements): how y shifts with the season, drawn towards 0 where few samples say so."""
    by_class: dict[str, list[Member]] = {}
    for m in members:
        by_class.setdefault(m.engine_class, []).append(m)
    out = {}
    for name, listed in sorted(by_class.items()):
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


def peer_set(name: str, members: Iterable[Member]) -> PeerSet:
    """The version of peers, offsets and seasons that these engines make."""
    listed = list(members)
    by_model: dict[str, list[Member]] = {}
    by_class: dict[str, list[Member]] = {}
    for m in listed:
        by_class.setdefault(m.engine_class, []).append(m)
        if m.model:
            by_model.setdefault(m.model, []).append(m)
    return PeerSet(name, {k: group_of(v) for k, v in sorted(by_model.items())},
                   {k: group_of(v) for k, v in sorted(by_class.items())},
                   {m.engine: m.mean for m in listed}, offset_table(offsets_of(listed)), seasons_of(listed))


def offset_table(offsets: Iterable[Offset]) -> dict[tuple[str, str], tuple[Floats, Floats, Floats]]:
    """(from, to) → offset, its sd and n, per element; an element nobody compared has offset 0 and sd NaN."""
    out: dict[tuple[str, str], tuple[Floats, Floats, Floats]] = {}
    for o in offsets:
        pair = (o.from_laboratory, o.to_laboratory)
        offset, sd, n = out.setdefault(pair, (np.zeros(E), np.full(E, np.nan), np.zeros(E)))
        at = place(o.symbol)
        offset[at], sd[at], n[at] = o.offset, o.sd, o.n
    return out


@dataclass(frozen=True, slots=True)
class PeerRow:
    """One line of a published version, as files and the database hold it. See the migration for the columns."""

    kind: str
    name: str
    other: str
    analyte: int
    n: int
    mean: float | None
    median: float | None
    sd: float | None
    factor: float | None
    origin: str


def _digits(x: float) -> float | None:
    """Five digits: the same on any machine, and exact through a file."""
    return float(f"{x:.5g}") if np.isfinite(x) else None


def rows_of(peers: PeerSet) -> list[PeerRow]:
    """A version as rows; nothing is said of an element no engine has."""
    code = [ANALYTES[i].code for i in ELEMENTS]
    out = []
    for kind, groups in (("model", peers.models), ("class", peers.classes)):
        for name, g in groups.items():
            out += [PeerRow(kind, name, "", code[e], int(g.engines[e]), _digits(g.mean[e]), _digits(g.median[e]),
                            _digits(np.sqrt(g.between[e])), _digits(g.factor[e]), g.origin)
                    for e in range(E) if g.engines[e] > 0]
    for engine, mean in peers.means.items():
        out += [PeerRow("engine", engine, "", code[e], 0, _digits(mean[e]), None, None, None,
                        "median of its steady samples") for e in range(E) if np.isfinite(mean[e])]
    for (a, b), (offset, sd, n) in peers.offsets.items():
        out += [PeerRow("laboratories", a, b, code[e], int(n[e]), _digits(offset[e]), None, _digits(sd[e]), None,
                        f"{int(n[e])} engines that changed laboratory") for e in range(E) if n[e] > 0]
    for name, shift in peers.seasons.items():
        out += [PeerRow("season", name, str(q), code[e], 0, _digits(shift[q, e]), None, None, None,
                        "median of this fleet's steady samples in these months")
                for q in range(4) for e in range(E) if shift[q, e] != 0]
    return out


def peers_of_rows(name: str, rows: Iterable[PeerRow]) -> PeerSet:
    """The version its rows say; the inverse of `rows_of` up to five digits.

    Season, laboratories and engines nobody measured an element of are simply absent.
    """
    at = {ANALYTES[i].code: e for e, i in enumerate(ELEMENTS)}
    groups: dict[tuple[str, str], dict[str, Floats]] = {}
    origins: dict[tuple[str, str], str] = {}
    means: dict[str, Floats] = {}
    seasons: dict[str, Floats] = {}
    offsets = []
    for r in rows:
        e, value = at[r.analyte], np.nan if r.mean is None else r.mean
        if r.kind in ("model", "class"):
            held = groups.setdefault((r.kind, r.name), {
                k: np.full(E, fill) for k, fill in (("engines", 0.0), ("mean", np.nan), ("median", np.nan),
                                                    ("between", np.nan), ("factor", 1.0))})
            origins[r.kind, r.name] = r.origin
            held["engines"][e], held["mean"][e] = r.n, value
            held["median"][e] = np.nan if r.median is None else r.median
            held["between"][e] = np.nan if r.sd is None else r.sd**2
            held["factor"][e] = 1.0 if r.factor is None else r.factor
        elif r.kind == "engine":
            means.setdefault(r.name, np.full(E, np.nan))[e] = value
        elif r.kind == "season":
            seasons.setdefault(r.name, np.zeros((4, E)))[int(r.other), e] = value
        else:
            offsets.append(Offset(r.name, r.other, SYMBOLS[e], value, np.nan if r.sd is None else r.sd, r.n))
    made = {key: Group(origin=origins[key], **held) for key, held in groups.items()}
    return PeerSet(name, {n: g for (k, n), g in made.items() if k == "model"},
                   {n: g for (k, n), g in made.items() if k == "class"}, means, offset_table(offsets), seasons)
