"""Clearances of an opened engine from what was measured, each with its uncertainty and held against
limits of the maker's manual (the-trade 3.19).

Micrometers and bore gauges: one sd each, in INSTRUMENT; an engine shop's figures, our choice. A
person's own figures and the manual's come first.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import sqrt
from statistics import mean
from typing import Literal

from ..certainty import SURE
from ..errors import OutOfRange, UnknownName
from ..laboratory import plain_text
from ..terms import MEASURES, MM_PER, READ_AS_IT_STANDS
from .event_details import detail_number, detail_numbers

# The widths printed for a measuring strip lie so far apart [mm]: common practice, from memory.
STRIP_STEP = 0.025
# One sd of a reading [mm]: outside micrometer, bore gauge, ball micrometer on a shell; of a strip
# that of the nearest of its widths (JCGM 100:2008, 4.3.7); "figure" for everything else.
INSTRUMENT = {
    "journal": 0.002,
    "bore": 0.003,
    "shell": 0.002,
    "strip": STRIP_STEP / sqrt(12),
    "figure": 0.01,
}
# The two stations at which a journal and a bore are measured.
STATIONS = {"journal": ("journal_front", "journal_rear"), "bore": ("bore_top", "bore_bottom")}
NOT_A_FIT = 5.0  # mm: two parts that differ so much do not belong together; our choice


@dataclass(frozen=True, slots=True)
class Figure:
    """A computed figure [mm] with its 95 % half width. `verdict`: "within", "outside", "at its
    limit" where the half width leaves both open, "" without limits."""

    what: str
    mm: float
    half: float
    low: float | None = None
    high: float | None = None

    @property
    def verdict(self) -> Literal["", "within", "outside", "at its limit"]:
        if self.low is None and self.high is None:
            return ""
        under = self.low is not None and self.mm < self.low
        over = self.high is not None and self.mm > self.high
        near = any(x is not None and abs(self.mm - x) <= self.half for x in (self.low, self.high))
        return "at its limit" if near else "outside" if under or over else "within"

    @property
    def words(self) -> str:
        """The figure with its limits.

        >>> Figure("ring gap", 0.9, 0.02, 0.3, 0.75).words
        'ring gap 0.9 mm, allowed 0.3 to 0.75'
        """
        ends = [f"{x:g}" for x in (self.low, self.high) if x is not None]
        allowed = " to ".join(ends) if len(ends) == 2 else ends[0] if ends else ""
        bound = "at least " if self.high is None else "at most "
        which = "" if len(ends) == 2 else bound
        return f"{self.what} {plain_text(self.mm)} mm" + (
            f", allowed {which}{allowed}" if ends else ""
        )


def out_of_round(diameters: Sequence[float]) -> float:
    """Largest less smallest diameter of one station [mm].

    >>> round(out_of_round([79.962, 79.958, 79.947, 79.951]), 3)
    0.015
    """
    return max(diameters) - min(diameters)


def taper(front: Sequence[float], rear: Sequence[float]) -> float:
    """Largest difference of two stations at the same angle [mm]; of their means where the angles do
    not pair.

    >>> round(taper([79.962, 79.958], [79.960, 79.955]), 3)
    0.003
    """
    if len(front) == len(rear):
        return max(abs(a - b) for a, b in zip(front, rear, strict=True))
    return abs(mean(front) - mean(rear))


def oil_clearance(
    bore: Sequence[float], shells: Sequence[float], journal: Sequence[float]
) -> tuple[float, float]:
    """(clearance, its sd) [mm]: housing bore less the two shells less the journal, each the mean of
    its readings. One shell counts twice; then its error does too. Raises OutOfRange where the parts
    do not belong together.

    >>> c, sd = oil_clearance([85.020, 85.022], [2.480, 2.482], [79.962, 79.958])
    >>> round(c, 3), round(sd, 4)
    (0.099, 0.0038)
    """
    s, b, j = INSTRUMENT["shell"], INSTRUMENT["bore"], INSTRUMENT["journal"]
    both = shells[0] + shells[1] if len(shells) > 1 else 2 * shells[0]
    clearance = mean(bore) - both - mean(journal)
    if not -1 < clearance < NOT_A_FIT:
        raise OutOfRange("oil clearance", round(clearance, 3), -1, NOT_A_FIT, "mm")
    of_shells = sqrt(2) * s if len(shells) > 1 else 2 * s
    return clearance, sqrt(b**2 / len(bore) + of_shells**2 + j**2 / len(journal))


def piston_clearance(bore: Sequence[float], piston: Sequence[float]) -> tuple[float, float]:
    """(clearance, its sd) [mm]: the bore less the piston across its skirt, each the mean of its
    readings. Raises OutOfRange where the two do not belong together.

    >>> c, sd = piston_clearance([100.060, 100.064], [99.940])
    >>> round(c, 3), round(sd, 4)
    (0.122, 0.0029)
    """
    clearance = mean(bore) - mean(piston)
    if not -1 < clearance < NOT_A_FIT:
        raise OutOfRange("piston clearance", round(clearance, 3), -1, NOT_A_FIT, "mm")
    sd = sqrt(INSTRUMENT["bore"] ** 2 / len(bore) + INSTRUMENT["journal"] ** 2 / len(piston))
    return clearance, sd


class _Readings:
    """The readings of one finding, in mm whatever they were typed in."""

    def __init__(self, details: Mapping[str, str]):
        named = details.get("length_unit", "") or "mm"
        if named not in MM_PER:
            raise UnknownName("unit of length", named, list(MM_PER))
        self.details, self.unit = details, MM_PER[named]

    def of(self, name: str) -> list[float]:
        return [self.unit * x for x in detail_numbers(self.details, name)]

    def limits(self, name: str) -> tuple[float | None, float | None]:
        """(least, most) allowed of a figure."""
        low, high = (detail_number(self.details, f"{name}_{end}") for end in ("low", "high"))
        return (
            None if low is None else self.unit * low,
            None if high is None else self.unit * high,
        )

    def figure(self, code: str, mm: float, half: float) -> Figure:
        return Figure(MEASURES[code], mm, half, *self.limits(code))


def _round_and_taper(read: _Readings) -> list[Figure]:
    """Out of round and taper of a journal, or of a bore, from two stations."""
    out: list[Figure] = []
    for kind, names in STATIONS.items():
        stations = [x for x in map(read.of, names) if x]
        half = SURE * sqrt(2) * INSTRUMENT[kind]
        if any(len(x) > 1 for x in stations):
            worst = max(out_of_round(x) for x in stations if len(x) > 1)
            out.append(read.figure("out_of_round", worst, half))
        if len(stations) == 2:
            out.append(read.figure("taper", taper(*stations), half))
    return out


def _fits(read: _Readings) -> list[Figure]:
    """Clearances between two parts."""
    out: list[Figure] = []
    journal = [x for name in STATIONS["journal"] for x in read.of(name)]
    bore = [x for name in STATIONS["bore"] for x in read.of(name)]
    housing, shells, piston = read.of("bore"), read.of("shell"), read.of("piston")
    if housing and shells and journal:
        clearance, sd = oil_clearance(housing, shells, journal)
        out.append(read.figure("oil_clearance", clearance, SURE * sd))
    if bore and piston:
        clearance, sd = piston_clearance(bore, piston)
        out.append(read.figure("piston_clearance", clearance, SURE * sd))
    return out


def clearances(details: Mapping[str, str]) -> list[Figure]:
    """Everything the readings of one finding come to, in mm whatever they were typed in.

    Each figure is held against limits of its own, where they were typed; `limit_low` and
    `limit_high` hold for the oil clearance, else for the single figure. Several readings of one
    clearance (valve by valve) are each a figure: their mean would hide the tight one. Raises
    OutOfRange for readings that do not belong together, UnknownName for a unit nobody knows.

    >>> [(f.what, round(f.mm, 2), f.verdict) for f in clearances(
    ...     {"ring_gap": "0.9", "ring_gap_low": "0.30", "ring_gap_high": "0.75"})]
    [('ring gap', 0.9, 'outside')]
    >>> [round(f.half, 3) for f in clearances({"strip": "0.05"})]
    [0.014]
    """
    read = _Readings(details)
    out = _round_and_taper(read) + _fits(read)
    for code in READ_AS_IT_STANDS:
        found = read.of(code)
        half = SURE * INSTRUMENT.get(code, INSTRUMENT["figure"])
        if code == "figure" and found:
            out.append(read.figure(code, mean(found), half / sqrt(len(found))))
        else:
            out += [read.figure(code, x, half) for x in found]
    limits = read.limits("limit")
    for n, f in enumerate(out):
        main = f.what in (MEASURES["oil_clearance"], MEASURES["figure"])
        if main and (f.low, f.high) == (None, None):
            out[n] = replace(f, low=limits[0], high=limits[1])
            break
    return out
