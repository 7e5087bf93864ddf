"""Clearances of an opened engine from what was measured, each with its uncertainty and held against
limits of the maker's manual (the-trade 3.19).

Micrometers and bore gauges: one sd each, in INSTRUMENT; an engine shop's figures, our choice. A
person's own figures and the manual's come first.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import sqrt
from statistics import mean

from ..errors import OutOfRange, UnknownName
from ..laboratory import SURE
from ..record import detail_number, detail_numbers
from ..terms import MM_PER

# One sd of a reading [mm]: outside micrometer, bore gauge, ball micrometer on a shell.
INSTRUMENT = {"journal": 0.002, "bore": 0.003, "shell": 0.002, "figure": 0.01}
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
    def verdict(self) -> str:
        if self.low is None and self.high is None:
            return ""
        under = self.low is not None and self.mm < self.low
        over = self.high is not None and self.mm > self.high
        near = any(x is not None and abs(self.mm - x) <= self.half for x in (self.low, self.high))
        return "at its limit" if near else "outside" if under or over else "within"


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


def clearances(details: Mapping[str, str]) -> list[Figure]:
    """Everything the readings of one finding come to, in mm whatever they were typed in.

    Limits, where typed, hold for the oil clearance, else for the single figure. Raises OutOfRange
    for readings that do not belong together, UnknownName for a unit nobody knows.
    """
    named = details.get("length_unit", "") or "mm"
    if named not in MM_PER:
        raise UnknownName("unit of length", named, list(MM_PER))
    unit = MM_PER[named]
    read = {
        name: [unit * x for x in detail_numbers(details, name)]
        for name in ("journal_front", "journal_rear", "bore", "shell", "figure")
    }
    low, high = (
        None if x is None else unit * x
        for x in (detail_number(details, "limit_low"), detail_number(details, "limit_high"))
    )
    out: list[Figure] = []
    stations = [read[x] for x in ("journal_front", "journal_rear") if read[x]]
    pair = SURE * sqrt(2) * INSTRUMENT["journal"]
    if any(len(x) > 1 for x in stations):
        worst = max(out_of_round(x) for x in stations if len(x) > 1)
        out.append(Figure("out of round", worst, pair))
    if len(stations) == 2:
        out.append(Figure("taper", taper(*stations), pair))
    journal = [x for station in stations for x in station]
    if read["bore"] and read["shell"] and journal:
        clearance, sd = oil_clearance(read["bore"], read["shell"], journal)
        out.append(Figure("oil clearance", clearance, SURE * sd, low, high))
        low = high = None
    if read["figure"]:
        sd = INSTRUMENT["figure"] / sqrt(len(read["figure"]))
        out.append(Figure("measured", mean(read["figure"]), SURE * sd, low, high))
    return out
