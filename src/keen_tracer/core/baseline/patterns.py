"""From standardised readings to levels: single elements and patterns of elements, confirmed before
they are Act.

Thresholds start from docs/judgement.md and were tuned with `./keen bench detection` on seeds that
are not reported.
"""

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from .. import tables
from ..laboratory import BY_SYMBOL, with_role
from ..limits import AS_SHIPPED
from ..record import Floats
from .company import Company
from .expectation import Expectation
from .peers import SYMBOLS, element_place

CLIP_LOW, CLIP_HIGH = -1.5, 5.0  # what one element can add to a pattern (docs/judgement.md)
# between elements: half of 0.3, R = ½ corr + ½ I of docs/judgement.md; 0.3 is our choice
CORRELATION = 0.15
NEVER = -9.0


@dataclass(frozen=True, slots=True)
class Threshold:
    """From how many sd on a lens raises something; (single element, pattern)."""

    single: float
    pattern: float

    def at(self, is_pattern: NDArray[np.bool_], strictness: float = AS_SHIPPED) -> Floats:
        out: Floats = strictness * np.where(is_pattern, self.pattern, self.single)
        return out


WATCH = Threshold(
    2.6, 2.3
)  # one sample, or several weighed together (docs/judgement.md 3.0 / 2.6; tuned)
AGAIN = Threshold(
    1.65, 1.3
)  # on two samples in a row, one of them at Watch: Act (docs/judgement.md 2.5 / 2.2; tuned)
TOGETHER = Threshold(3.1, 2.55)  # two or three samples weighed together: Act (tuned)
AT_ONCE = Threshold(
    4.2, 3.1
)  # metals, one sample: Act, to be confirmed before anything is opened (tuned)
LASTING, LOOKED_BACK, OFTEN = (
    Threshold(2.3, 2.1),
    6,
    3,
)  # so high in so many of the last: Act (tuned)
# from which a member of a pattern counts as up, and what a pattern is at most without two; our
# choice
MEMBER, QUIET_MEMBER = 0.8, 1.0
STILL = 1.2  # the newest sample must itself lie this far up, whatever came before it; our choice
# copper alone may be a cooler's: tin or lead must come along before it is Act; our choice
COMPANION = 1.6
# silicon alone may be sealant: aluminium, iron or chromium must come along; our choice
TAKEN_ALONG = 1.0
LONE = 5.0  # sd from which sodium alone is believed; our choice
# where metal is at Act, dirt or coolant this far up is named as a cause beside it; our choice
CAUSE = 1.5


@dataclass(frozen=True, slots=True)
class Lens:
    """One way to look at a sample: an element, or a pattern of elements."""

    name: str
    channel: str
    weights: tuple[tuple[int, float], ...]
    bearings: tuple[str, ...] = ()
    leads: tuple[int, ...] = ()

    @property
    def is_pattern(self) -> bool:
        return len(self.weights) > 1


def _both_sides() -> list[str]:
    return [a.symbol for a in with_role("both_sides")]


@cache
def lenses() -> tuple[Lens, ...]:
    """Every element by itself, then the patterns of `tables/wear_patterns.csv`; a negative weight
    looks at what is lower than expected."""
    single = [Lens(s, BY_SYMBOL[s].channel, ((n, 1.0),)) for n, s in enumerate(SYMBOLS)]
    low = [
        Lens(f"{s} low", BY_SYMBOL[s].channel, ((element_place(s), -1.0),)) for s in _both_sides()
    ]
    patterns = []
    for r in tables.read("wear_patterns"):
        weights = tuple(
            (element_place(s), float(w)) for s, w in (x.split("=") for x in r["weights"].split(";"))
        )
        patterns.append(
            Lens(
                r["pattern"],
                r["channel"],
                weights,
                tuple(r["bearings"].split()),
                tuple(element_place(s) for s in r["leads"].split(";") if s),
            )
        )
    return (*single, *low, *patterns)


def lens(name: str) -> int:
    """Place of a lens in the arrays of `Levels`.

    >>> lenses()[lens("dirt")].channel
    'dirt'
    """
    return next(n for n, one in enumerate(lenses()) if one.name == name)


def bearing_kind(words: str) -> str:
    """The construction of a model's bearings, from the words of its register.

    >>> bearing_kind("aluminium-tin bimetal"), bearing_kind("leaded tri-metal"), bearing_kind("")
    ('aluminium', 'leaded', 'unknown')
    """
    said = words.lower().replace("lead-free", "leadfree").replace("lead free", "leadfree")
    if any(w in said for w in ("leadfree", "bismuth", "polymer", "sputter")):
        return "lead_free"
    if "alumin" in said or "al-sn" in said:
        return "aluminium"
    return "leaded" if "lead" in said or "tri-metal" in said or "pb" in said else "unknown"


def _or_never(z: Floats) -> Floats:
    out: Floats = np.where(np.isnan(z), NEVER, z)
    return out


def _seen_by(one: Lens, z: Floats, kinds: NDArray[np.str_]) -> Floats:
    """How far a pattern lies up, in sd, for z (…, samples, elements); NEVER where it cannot
    speak."""
    at = [n for n, _ in one.weights]
    q = np.array([w for _, w in one.weights])
    part = z[..., at] * np.sign(q)
    there = ~np.isnan(part)
    weight = np.where(there, np.abs(q), 0.0)
    # q'Rq with R = I + c (off the diagonal), over the elements that were measured.
    norm = (1 - CORRELATION) * (weight**2).sum(-1) + CORRELATION * weight.sum(-1) ** 2
    total = (weight * np.minimum(np.maximum(np.where(there, part, 0.0), CLIP_LOW), CLIP_HIGH)).sum(
        -1
    )
    least = 2 if one.is_pattern else 1
    with np.errstate(invalid="ignore", divide="ignore"):
        out = np.where(there.sum(-1) >= least, total / np.sqrt(norm), NEVER)
    if one.is_pattern:
        # A pattern is of two at least: one loud member alone is that member's own affair.
        up = (np.where(there, part, NEVER) >= MEMBER).sum(-1)
        out = np.where(up >= 2, out, np.minimum(out, QUIET_MEMBER))
    for lead in one.leads:
        out = np.where(
            _or_never(z[..., lead]) >= (COMPANION if len(one.leads) == 1 else STILL), out, NEVER
        )
    if one.bearings:
        out = np.where(np.isin(kinds, one.bearings), out, NEVER)
    result: Floats = out
    return result


@dataclass(frozen=True)
class Levels:
    """What every lens says of every sample; (samples, lenses).

    level : 0 Steady, 1 Watch, 2 Act, -1 cannot speak
    score : sd above expectation of the look that speaks loudest; look : 0 the sample, 1 two
        together, 2 three together,
    3 the rise since the sample before
    why   : how Act was reached (again, together, at_once, lasting, cause), "" otherwise
    held  : a Watch that stays one for want of company
    """

    level: NDArray[np.int8]
    score: Floats
    look: NDArray[np.int8]
    why: NDArray[np.str_]
    held: NDArray[np.bool_]


def _before(x: Floats, previous: NDArray[np.intp]) -> Floats:
    """The rows of the sample before each sample; NEVER where there is none."""
    out: Floats = np.where((previous >= 0)[:, None], x[previous], NEVER)
    return out


def persistent(
    now: Floats,
    previous: NDArray[np.intp],
    patterns: NDArray[np.bool_],
    strictness: float = AS_SHIPPED,
) -> NDArray[np.int8]:
    """Level of single looks: Watch from WATCH on, Act where it comes again. For the schools P and O
    by themselves."""
    before = _before(now, previous)
    watch, again = WATCH.at(patterns, strictness), AGAIN.at(patterns, strictness)
    act = (now >= again) & (before >= again) & ((now >= watch) | (before >= watch))
    level = np.where(act, 2, np.where(now >= watch, 1, 0)).astype(np.int8)
    level[now <= NEVER] = -1
    return level


def levels(
    expectation: Expectation,
    previous: NDArray[np.intp],
    kinds: NDArray[np.str_],
    repeats: NDArray[np.bool_],
    company: Company,
    reach: NDArray[np.int8],
    strictness: float = AS_SHIPPED,
) -> Levels:
    """The level every lens gives every sample.

    previous : row of the sample before in the same life, -1 where there is none
    kinds    : construction of the bearings (see `bearing_kind`)
    repeats  : whether the sample is a resample; the next one is then held against it and the one it
        repeats, their mean
    company  : where the absence of company says something
    reach    : (samples, elements) the highest level each element may be given by itself
    strictness : factor on every threshold, above 0 (see `dial`)
    """
    known = lenses()
    patterns = np.array([one.is_pattern for one in known])
    metal = np.array([one.channel == "wear" for one in known])
    every = np.concatenate([expectation.z, expectation.rise_z[None]])  # (looks, samples, elements)
    # A member that could not be seen is missing, not low.
    seen = np.where(expectation.y_exact, every, np.nan)
    looks = np.stack(  # (looks, samples, lenses)
        [_seen_by(one, seen, kinds) if one.is_pattern else _of_one(one, every) for one in known],
        axis=-1,
    )
    now = np.maximum(looks[0], looks[-1])
    together = looks[1:-1].max(axis=0)
    before = _before(now, previous)
    both = repeats[:, None] & (before > NEVER)
    before = _before(np.where(both, (np.maximum(now, NEVER) + before) / 2, now), previous)
    watch, again = WATCH.at(patterns, strictness), AGAIN.at(patterns, strictness)
    raised = (now >= watch) | ((together >= watch) & (now >= STILL))
    by_again = (now >= again) & (before >= again) & ((now >= watch) | (before >= watch))
    # A dirty bottle lifts one sample, and so what several weigh together: dirt and coolant must be
    # seen twice.
    by_together = (
        (together >= TOGETHER.at(patterns, strictness))
        & (now >= STILL)
        & (metal | (before >= STILL))
    )
    by_once = (now >= AT_ONCE.at(patterns, strictness)) & metal
    by_lasting = _lasts(now, previous, LASTING.at(patterns, strictness)) & (now >= STILL)
    act = by_again | by_together | by_once | by_lasting
    lonely = act & ~_accompanied(looks, company)
    act &= ~lonely
    why = np.where(
        ~act,
        "",
        np.select([by_together, by_again, by_once], ["together", "again", "at_once"], "lasting"),
    )
    level = np.where(act, 2, np.where(raised, 1, 0)).astype(np.int8)
    level = np.minimum(level, _reach(known, reach))
    why[level < 2] = ""
    level[now <= NEVER] = -1
    _name_causes(level, why, looks, metal)
    return Levels(level, looks.max(axis=0), _loudest(looks), why, lonely)


def _of_one(one: Lens, z: Floats) -> Floats:
    (place, sign), *_ = one.weights
    return _or_never(sign * z[..., place])


def _reach(known: tuple[Lens, ...], reach: NDArray[np.int8]) -> NDArray[np.int8]:
    """(samples, lenses) how high each lens may go: as high as one of its elements may."""
    return np.stack([reach[:, [n for n, _ in one.weights]].max(axis=1) for one in known], axis=-1)


def _lasts(now: Floats, previous: NDArray[np.intp], high: Floats) -> NDArray[np.bool_]:
    """Whether a lens was this high in enough of the last samples, one after the other or not: what
    comes and goes has no two in a row."""
    times, at = (now >= high).astype(np.intp), previous
    for _ in range(LOOKED_BACK - 1):
        there = at >= 0
        times += there[:, None] & (now[at] >= high)
        at = np.where(there, previous[at], -1)
    out: NDArray[np.bool_] = times >= OFTEN
    return out


def _loudest(looks: Floats) -> NDArray[np.int8]:
    out: NDArray[np.int8] = looks.argmax(axis=0).astype(np.int8)
    return out


def _accompanied(looks: Floats, company: Company) -> NDArray[np.bool_]:
    """Where a lens has the company it needs before it may be Act, or nobody could have seen it:
    copper tin or lead, silicon a metal it wears, sodium potassium or water."""
    out = np.ones(looks.shape[1:], dtype=np.bool_)
    lately = looks[:2].max(axis=0)
    # Where copper stays high by itself, chance would bring a little tin along sooner or later: it
    # has to last.
    lasting = np.where(looks[1] > NEVER, looks[:2].mean(axis=0), looks[0])
    bearing = np.maximum(lasting[:, lens("Sn")], lasting[:, lens("Pb")]) >= COMPANION
    worn = np.maximum.reduce([lately[:, lens(s)] for s in ("Al", "Fe", "Cr")]) >= TAKEN_ALONG
    wet = np.maximum(lately[:, lens("K")], lately[:, lens("Water")]) >= TAKEN_ALONG
    for name in ("Cu", "bearing", "bronze"):
        out[:, lens(name)] = bearing | ~company.copper
    for name in ("Si", "dirt"):
        out[:, lens(name)] = worn | ~company.silicon
    out[:, lens("Na")] = wet | ~company.sodium | (looks[0][:, lens("Na")] >= LONE)
    return out


def _name_causes(
    level: NDArray[np.int8], why: NDArray[np.str_], looks: Floats, metal: NDArray[np.bool_]
) -> None:
    """Dirt and coolant wear metals: where metal is at Act and they are up too, they are named, not
    only the damage."""
    up = (level[:, metal] == 2).any(axis=1)
    best = looks[:-1].max(axis=0)
    for name in ("Si", "coolant"):
        at = lens(name)
        here = up & (best[:, at] >= CAUSE) & (level[:, at] < 2)
        level[here, at] = 2
        why[here, at] = "cause"
