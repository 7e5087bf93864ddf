"""What peers say of an engine that has little history of its own: a published summary, and the
prior it gives (docs/judgement.md).

Peers are engines of the same model, else of the same class, each counted once. An engine is never
its own peer. All figures are in y = ln(rise at the nominal drain + a), the scale of `expectation`.
`peer_summary` makes a version from steady histories, `peer_rows` writes it down.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from functools import cache

import numpy as np

from ..laboratory import ANALYTES, N, standard_deviation
from ..limits import CONC, RISE, WATCH, EngineLimits
from ..record import Engine, Floats

# What an engine has a habit of: wear metals and the elements of dirt and coolant, and what else
# comes into its oil, thins, thickens or spends it.
EXPECTED = tuple(a for a in ANALYTES if a.expected)
ELEMENTS = np.array([a.index for a in EXPECTED])
E = len(ELEMENTS)
SYMBOLS = tuple(ANALYTES[i].symbol for i in ELEMENTS)
# sd of one engine's y around its mean where nothing is published; our choice (docs/judgement.md)
SPREAD = 0.35
SPREADS = np.array([a.spread or SPREAD for a in EXPECTED])
# of the Watch rise: what an engine is expected to show when it has no peers; our choice
EMPTY_SHARE = 0.33
EMPTY_SPREAD = 0.6  # sd of that guess; our choice
# variance between engines is never taken as less; our choice (docs/judgement.md)
LEAST_BETWEEN = 0.02
# degrees of freedom that "half of the class's variance" counts for inside a model; our choice
MODEL_WEIGHT = 8.0
ENOUGH_PEERS = 30  # for school P to speak by itself; the-trade 3.7
STEEPEST_DUTY = 2.0  # e times as hard, e² times the wear: no engine is steeper; our choice
FACTOR_RANGE = (
    0.04,
    9.0,
)  # a spread is never taken as under a fifth or over three times the assumed; our choice


# The same on the scale of each: what spreads less within an engine differs less between engines.
_EMPTY = (EMPTY_SPREAD * SPREADS / SPREAD) ** 2
LEAST = LEAST_BETWEEN * (SPREADS / SPREAD) ** 2


@cache
def element_place(symbol: str) -> int:
    """Place of an element in the arrays of peers and expectations.

    >>> SYMBOLS[element_place("Pb")]
    'Pb'
    """
    return SYMBOLS.index(symbol)


@cache
def started_log() -> Floats:
    """a [unit of the scale] of each element: its own, or max(1 ppm, s_site at 1 ppm), so that noise
    near zero stays small in the logarithm."""
    metal = np.maximum(1.0, standard_deviation(np.full((1, N), 1.0))[0, ELEMENTS])
    out: Floats = np.array([k.started or a for k, a in zip(EXPECTED, metal, strict=True)])
    return out


@dataclass(frozen=True)
class Group:
    """A model or a class: how many engines, their mean and median, the variance between them, and
    the spread inside one engine as a factor on what was assumed."""

    engines: Floats
    mean: Floats
    median: Floats
    between: Floats
    factor: Floats
    origin: str


@dataclass(frozen=True, kw_only=True)
class PeerSet:
    """A published version of peers, offsets between laboratories and seasons."""

    name: str
    models: Mapping[str, Group] = field(default_factory=dict)
    classes: Mapping[str, Group] = field(default_factory=dict)
    # engine → mean of y, NaN where it has none
    means: Mapping[str, Floats] = field(default_factory=dict)
    offsets: Mapping[tuple[str, str], tuple[Floats, Floats, Floats]] = field(default_factory=dict)
    # class → (4 quarters, elements) shift of y
    seasons: Mapping[str, Floats] = field(default_factory=dict)
    # class → shift of y where worked e times as hard
    duties: Mapping[str, Floats] = field(default_factory=dict)
    # class → factor on the spread of rises within a charge
    rises: Mapping[str, Floats] = field(default_factory=dict)
    # (depot, month as year · 12 + month) → shift of y its engines shared
    neighbours: Mapping[tuple[str, int], Floats] = field(default_factory=dict)


def month_of(day: date) -> int:
    """A month as one number, in order.

    >>> month_of(date(2026, 1, 31)) - month_of(date(2025, 12, 1))
    1
    """
    return day.year * 12 + day.month - 1


NOTHING_PUBLISHED = PeerSet(name="none")


@dataclass(frozen=True)
class Prior:
    """What is expected of an engine before it has a history: mean and variance of its own mean,
    factor on its spread.

    peers : how many engines stand behind it, per element; rise_factor : the factor for rises within
        a charge
    """

    mean: Floats
    variance: Floats
    factor: Floats
    rise_factor: Floats
    peers: Floats


def _guess(limits: EngineLimits) -> Floats:
    """ln(a third of the Watch rise + a); where there is no limit, a."""
    a = started_log()
    conc, rise = limits.at[CONC, WATCH, ELEMENTS], limits.at[RISE, WATCH, ELEMENTS]
    watch = np.where(np.isnan(conc), rise, conc)
    by_limit = EMPTY_SHARE * np.where(np.isnan(watch), 2 * a, watch)
    guess = [k.guess or u for k, u in zip(EXPECTED, by_limit, strict=True)]
    out: Floats = np.log(np.array(guess) + a)
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
    """The prior of one engine: m0 = k/(k+1) mean of the model + 1/(k+1) of the class,
    docs/judgement.md.

    Without any peers a third of the Watch rise stands in, with a wide spread.
    """
    guess, own = _guess(limits), peers.means.get(engine.code)
    empty = np.zeros(E)
    held = peers.classes.get(engine.engine_class)
    if held is None:
        return Prior(guess, _EMPTY, np.ones(E), np.ones(E), empty)
    k_class, mean_class = _without(held, own)
    # The class itself is one more voice beside the guess from the limits, by the same rule.
    centre = np.where(k_class > 2, held.median, mean_class)
    wide = np.where(
        k_class > 0, np.nan_to_num(k_class * np.nan_to_num(centre) + guess) / (k_class + 1), guess
    )
    vb = np.where(k_class > 2, np.maximum(held.between, LEAST), _EMPTY)
    group = peers.models.get(engine.model)
    k, mean = (
        _without(group, own) if group is not None and engine.model else (empty, np.full(E, np.nan))
    )
    m0 = (k * np.nan_to_num(mean) + wide) / (k + 1)
    # Half of what tells the engines of a class apart is their model, until the model's own engines
    # say better.
    free = np.maximum(k - 1, 0)
    seen = np.nan_to_num(group.between) if group is not None else empty
    vp = (free * seen + MODEL_WEIGHT * 0.5 * vb) / (free + MODEL_WEIGHT) + vb * 0.5 / (k + 1)
    rise_factor = peers.rises.get(engine.engine_class, np.ones(E))
    return Prior(m0, vp, held.factor, rise_factor, np.where(k > 0, k, k_class))
