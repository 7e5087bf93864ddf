"""A look at filter, plug, pan, strainer or cooler as a measurement: counts, rates, what they say
(the-trade 3.12, 3.14)."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from math import nan

from scipy.special import gammaincinv

from .. import tables
from ..errors import OutOfRange, UnknownName
from ..terms import DEBRIS_AMOUNTS, DEBRIS_PLACES, DEBRIS_SIZES, rank
from .fact_kinds import fact_kinds
from .ladders import SEVERAL, bearing_metal, threefold

FLAKES = ("bright_flakes", "copper_flakes")
_LARGE = rank(DEBRIS_SIZES, "1-3")  # from 1 mm on


@dataclass(frozen=True, slots=True)
class DebrisCount:
    """How many of one type and size were seen on the part that was looked at; `amount`, of
    DEBRIS_AMOUNTS, where nobody could count."""

    type: str
    size_class: str
    count: int
    amount: str = ""


@dataclass(frozen=True, slots=True)
class DebrisLook:
    """One look. `share` is the part of the whole surface that was inspected, above 0 to 1; `hours`
    the meter units it speaks for where somebody said so."""

    place: str
    tool: str = ""
    share: float = 1.0
    counts: tuple[DebrisCount, ...] = ()
    hours: float | None = None

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
            if c.amount and c.amount not in DEBRIS_AMOUNTS:
                raise UnknownName("amount of debris", c.amount, list(DEBRIS_AMOUNTS))

    def found(self) -> dict[str, int]:
        """Counts by type, those above 0."""
        out: dict[str, int] = {}
        for c in self.counts:
            if c.count:
                out[c.type] = out.get(c.type, 0) + c.count
        return out

    def amounts(self) -> dict[str, str]:
        """Amounts by type where nobody counted, the largest of each."""
        out: dict[str, str] = {}
        for c in self.counts:
            if c.amount and rank(DEBRIS_AMOUNTS, c.amount) >= rank(
                DEBRIS_AMOUNTS, out.get(c.type, c.amount)
            ):
                out[c.type] = c.amount
        return out

    def present(self) -> frozenset[str]:
        """Types that were there, counted or not."""
        return frozenset(self.found()) | frozenset(self.amounts())

    def largest(self, kinds: Sequence[str]) -> int:
        """Place in SIZES of the largest piece of some types; -1 where none has a size."""
        return max(
            (
                rank(DEBRIS_SIZES, c.size_class)
                for c in self.counts
                if (c.count or c.amount) and c.type in kinds and c.size_class
            ),
            default=-1,
        )


@dataclass(frozen=True, slots=True)
class LookPlace:
    """A place to look: how much there is to see, how it is done and what can hurt."""

    surface: str
    how: str
    caution: str


@cache
def look_places() -> dict[str, LookPlace]:
    """Every place. Source: `tables/look_places.csv`."""
    return {
        r["place"]: LookPlace(r["surface"], r["how"], r["caution"])
        for r in tables.read("look_places")
    }


@dataclass(frozen=True, slots=True)
class KeyStep:
    """One answer of the key to debris: `next` is another step, or the type it is."""

    step: str
    question: str
    how: str
    answer: str
    next: str
    says: str


@cache
def debris_key() -> tuple[KeyStep, ...]:
    """The key, its first step first. Source: `tables/debris_key.csv`."""
    return tuple(KeyStep(**r) for r in tables.read("debris_key"))


@dataclass(frozen=True, slots=True)
class BenchTest:
    """A simple test by which kinds of debris differ: `minutes` it takes, 0 for at once."""

    code: str
    words: str
    how: str
    minutes: int
    says: str


@cache
def debris_tests() -> tuple[BenchTest, ...]:
    """The simple tests. Source: `tables/debris_tests.csv`."""
    return tuple(
        BenchTest(r["test"], r["words"], r["how"], int(r["minutes"]), r["says"])
        for r in tables.read("debris_tests")
    )


def share_seen(seen: float | None, whole: float | None, both_sides: bool = True) -> float:
    """Share of the surface that was inspected, of pleats or cm²; half of that where only one side
    of every pleat was looked at. All of it where nobody said.

    >>> share_seen(12, 60), share_seen(12, 60, both_sides=False), share_seen(None, 60)
    (0.2, 0.1, 1.0)
    """
    if seen is None or whole is None:
        return 1.0 if both_sides else 0.5
    if not 0 < seen <= whole < float("inf"):
        raise OutOfRange("surface seen", seen, 0, whole, "")
    return seen / whole * (1.0 if both_sides else 0.5)


@dataclass(frozen=True, slots=True)
class DebrisType:
    """What a type of debris is; `fact` of `fact_kinds`."""

    words: str
    magnetic: bool | None
    fact: str
    meaning: str

    @property
    def level(self) -> int:
        return fact_kinds()[self.fact].level

    @property
    def evidence(self) -> str:
        return fact_kinds()[self.fact].evidence


@cache
def debris_types() -> dict[str, DebrisType]:
    """Every type of debris. Source: `tables/debris_types.csv`."""
    magnetic = {"yes": True, "no": False}
    return {
        r["type"]: DebrisType(
            r["words"],
            magnetic.get(r["magnetic"]),
            r["fact"],
            r["meaning"],
        )
        for r in tables.read("debris_types")
    }


def debris_evidence(look: DebrisLook) -> dict[str, bool]:
    """Evidence in a look: seen, or known to be absent because the place was looked at."""
    found = look.present()
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


@dataclass(frozen=True, slots=True)
class EarlierLook:
    """An earlier look, with the meter units in which its debris gathered; NaN where not known."""

    look: DebrisLook
    hours: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Said:
    """What one type of a look says: its level, the size that made it, and whether it grew
    threefold since the look before."""

    level: int
    size: str = ""
    grown: bool = False


def look_says(
    look: DebrisLook,
    earlier: Sequence[EarlierLook] = (),
    hours: float = nan,
    run_in: bool = False,
) -> dict[str, Said]:
    """Type → what it says, of everything a look says, worst first.

    Hard stops of the-trade 3.12: a chunk or a fragment; bearing flakes over 3 mm once, over 1 mm in
    two looks. Bearing metal speaks from its first flake (`ladders.bearing_metal`), and at Act it is
    Stop where it grew threefold since the look before. A saw adds chips of its own: what it may
    have made counts one level less.

    earlier : the looks before it, oldest first · hours : meter units it speaks for · run_in : the
        engine still runs in
    """
    said: dict[str, Said] = {}
    for kind in look.present():
        one = _flakes(look, earlier, hours, kind, run_in) if kind in FLAKES else _other(look, kind)
        if one.level:
            said[kind] = one
    return dict(sorted(said.items(), key=lambda x: (-x[1].level, x[0])))


def large_flakes(look: DebrisLook) -> bool:
    """Whether a look found flakes over 1 mm."""
    return look.largest(FLAKES) >= _LARGE


def flakes_told(size: str) -> int:
    """The level of flakes somebody tells of without counting them, by the largest of them: as if
    several of that size lay in the tray. Where no size was said the worst holds until they are
    measured.

    >>> flakes_told(""), flakes_told("1-3"), flakes_told("over 3"), flakes_told("under 0.1")
    (3, 2, 3, 1)
    """
    if size not in DEBRIS_SIZES:
        return 3
    return bearing_metal([(size, float(SEVERAL))])[0]


def _pieces(look: DebrisLook, kind: str) -> list[tuple[str, float]]:
    """(size class, how many on the whole element) of one type; a dusting that has a size is several
    of it, one without is fine dust."""
    out = []
    for c in look.counts:
        if c.type != kind:
            continue
        if c.amount == "dusting":
            out.append((c.size_class or "under 0.1", float(SEVERAL)))
        elif c.count:
            out.append((c.size_class, c.count / look.share))
    return out


def _flakes(
    look: DebrisLook, earlier: Sequence[EarlierLook], hours: float, kind: str, run_in: bool
) -> Said:
    pieces, largest = _pieces(look, kind), look.largest([kind])
    level, _ = bearing_metal(pieces, run_in)
    if look.amounts().get(kind) == "covers":
        level = 3
    if largest == _LARGE and any(large_flakes(x.look) for x in earlier):
        level = 3
    grown = _grown(look, earlier, hours, kind)
    if level >= 2 and grown:
        level = 3
    if look.tool == "saw" and largest <= _LARGE:
        level = max(level - 1, 1)
    return Said(level=level, size=list(DEBRIS_SIZES)[largest] if largest >= 0 else "", grown=grown)


def _grown(look: DebrisLook, earlier: Sequence[EarlierLook], hours: float, kind: str) -> bool:
    """Whether one type grew threefold since the look before at the same place."""
    before = next((x for x in reversed(earlier) if x.look.place == look.place), None)
    if before is None:
        return False
    now, then = look.found().get(kind, 0), before.look.found().get(kind, 0)
    known = hours > 0 and before.hours > 0
    mine, its = (hours, before.hours) if known else (1.0, 1.0)
    return threefold(now, then, look.share * mine, before.look.share * its)


# Types that say more where a piece is large: from which size class, and what they are then.
_LARGE_PIECE = {"plastic": ("over 3", 2), "grit": ("over 3", 2), "sealant": ("over 3", 2)}


def _other(look: DebrisLook, kind: str) -> Said:
    """A type that is no bearing metal: by what it is, more where it covers the surface or a piece
    is large."""
    fact, largest = debris_types()[kind].fact, look.largest([kind])
    level = fact_kinds()[fact].level
    if kind == "slivers" and look.tool == "saw":
        level = 1
    if fact in _LARGE_PIECE and largest >= rank(DEBRIS_SIZES, _LARGE_PIECE[fact][0]):
        level = max(level, _LARGE_PIECE[fact][1])
    if look.amounts().get(kind) == "covers":
        level = max(level, 1)
    return Said(level=level, size=list(DEBRIS_SIZES)[largest] if largest >= 0 else "")
