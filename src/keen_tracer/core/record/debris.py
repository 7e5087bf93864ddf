"""A look at filter, plug, pan, strainer or cooler as a measurement: counts, rates, what they say
(the-trade 3.12, 3.14)."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

import numpy as np
from scipy.special import gammaincinv

from .. import tables
from ..errors import OutOfRange, UnknownName
from ..terms import DEBRIS_PLACES, DEBRIS_SIZES, rank

FLAKES = ("bright_flakes", "copper_flakes")
# Flakes on the whole element: Watch, and Act where they are half a millimetre and more, far too
# large for any spectrometer; our choice.
MANY_FLAKES = 20.0
_LARGE = rank(DEBRIS_SIZES, "1-3")  # from 1 mm on


@dataclass(frozen=True, slots=True)
class DebrisCount:
    """How many of one type and size were seen on the part that was looked at."""

    type: str
    size_class: str
    count: int


@dataclass(frozen=True, slots=True)
class DebrisLook:
    """One look. `share` is the part of the whole surface that was inspected, above 0 to 1."""

    place: str
    tool: str = ""
    share: float = 1.0
    counts: tuple[DebrisCount, ...] = ()

    def __post_init__(self) -> None:
        if not 0 < self.share <= 1:
            raise OutOfRange("share of the surface seen", self.share, 0, 1, "")
        if self.place not in DEBRIS_PLACES:
            raise UnknownName("place of a look", self.place, list(DEBRIS_PLACES))
        for c in self.counts:
            if c.type not in debris_types():
                raise UnknownName("type of debris", c.type, list(debris_types()))
            if c.size_class and c.size_class not in DEBRIS_SIZES:
                raise UnknownName("size class", c.size_class, list(DEBRIS_SIZES))

    def found(self) -> dict[str, int]:
        """Counts by type, those above 0."""
        out: dict[str, int] = {}
        for c in self.counts:
            if c.count:
                out[c.type] = out.get(c.type, 0) + c.count
        return out

    def largest(self, kinds: Sequence[str]) -> int:
        """Place in SIZES of the largest piece of some types; -1 where none has a size."""
        return max(
            (
                rank(DEBRIS_SIZES, c.size_class)
                for c in self.counts
                if c.count and c.type in kinds and c.size_class
            ),
            default=-1,
        )


@dataclass(frozen=True, slots=True)
class DebrisType:
    """What a type of debris is and says by itself."""

    words: str
    magnetic: bool | None
    level: int
    meaning: str
    evidence: str


@cache
def debris_types() -> dict[str, DebrisType]:
    """Every type of debris. Source: `tables/debris_types.csv`."""
    magnetic = {"yes": True, "no": False}
    return {
        r["type"]: DebrisType(
            r["words"],
            magnetic.get(r["magnetic"]),
            int(r["level"]),
            r["meaning"],
            r["evidence"],
        )
        for r in tables.read("debris_types")
    }


def debris_evidence(look: DebrisLook) -> dict[str, bool]:
    """Evidence in a look: seen, or known to be absent because the place was looked at."""
    found = look.found()
    return {
        kind.evidence: any(
            other.evidence == kind.evidence and code in found
            for code, other in debris_types().items()
        )
        for kind in debris_types().values()
        if kind.evidence
    }


def poisson_interval(n: int) -> tuple[float, float]:
    """95 % interval of a count's mean, exact. Nothing seen: up to 3.7, or 3.0 one-sided ("the rule
    of three").

    Raises OutOfRange below 0. Source: Garwood 1936, by the chi-square distribution.

    >>> [round(x, 2) for x in poisson_interval(10)]
    [4.8, 18.39]
    """
    if not n >= 0:
        raise OutOfRange("count", n, 0, float("inf"), "")
    low = float(gammaincinv(n, 0.025)) if n else 0.0
    return low, float(gammaincinv(n + 1, 0.975)) if n else 3.0


def on_the_whole(n: int, share: float) -> tuple[float, float, float]:
    """(count, low, high) scaled from the part seen to the whole element: N·A_total/A_seen, Poisson
    interval.

    >>> [round(x, 1) for x in on_the_whole(0, 0.25)]
    [0.0, 0.0, 12.0]
    """
    if not 0 < share <= 1:
        raise OutOfRange("share of the surface seen", share, 0, 1, "")
    low, high = poisson_interval(n)
    return n / share, low / share, high / share


def per_100(look: DebrisLook, hours: float) -> dict[str, tuple[float, float, float]]:
    """Debris generation per 100 meter units by type (rate, low, high); empty where the hours are
    not known."""
    if not 0 < hours < float("inf"):
        return {}
    out = {}
    for kind, n in look.found().items():
        rate, low, high = (100 * x / hours for x in on_the_whole(n, look.share))
        out[kind] = (rate, low, high)
    return out


def look_says(look: DebrisLook, earlier: Sequence[DebrisLook]) -> dict[str, int]:
    """Type → level of everything a look says, worst first; `earlier` are the looks before it.

    Hard stops of 3.12: a chunk or a fragment; bearing flakes over 3 mm once, over 1 mm in two
    looks. A saw adds chips of its own: slivers it may have made count as Watch.
    """
    said: dict[str, int] = {}
    for kind, n in look.found().items():
        own = debris_types()[kind].level
        if kind == "slivers" and look.tool == "saw":
            own = 1
        if kind in FLAKES:
            own = _flakes(look, earlier, kind, n)
        if own:
            said[kind] = own
    return dict(sorted(said.items(), key=lambda x: -x[1]))


def large_flakes(look: DebrisLook) -> bool:
    """Whether a look found flakes over 1 mm."""
    return look.largest(FLAKES) >= _LARGE


def flakes_told(size: str) -> int:
    """The level of flakes somebody reports without counting them, by the largest of them. Where no
    size was said the worst holds.

    >>> flakes_told(""), flakes_told("1-3"), flakes_told("under 0.1")
    (3, 2, 1)
    """
    if not size or size not in DEBRIS_SIZES or rank(DEBRIS_SIZES, size) > _LARGE:
        return 3
    return 2 if rank(DEBRIS_SIZES, size) == _LARGE else 1


def _flakes(look: DebrisLook, earlier: Sequence[DebrisLook], kind: str, n: int) -> int:
    size = look.largest([kind])
    if size > _LARGE:
        return 3
    if size == _LARGE:
        return 3 if any(large_flakes(x) for x in earlier) else 2
    whole, low, _ = on_the_whole(n, look.share)
    if size >= rank(DEBRIS_SIZES, "0.5-1") and whole >= MANY_FLAKES:
        return 2  # no engine's usual
    before = [
        on_the_whole(x.found().get(kind, 0), x.share)[2] for x in earlier if x.place == look.place
    ]
    if before and low > float(np.median(before)):
        return 2  # more than this engine's usual, beyond chance
    return 1 if whole >= MANY_FLAKES and not (before and whole <= float(np.median(before))) else 0
