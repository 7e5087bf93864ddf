"""What a figure, a day or a text may be at all: one table for files, forms, the API and the
database.

A figure outside is a slip of the hand and is refused where it is given, so that nothing behind has
to reckon with it. What a *reading* may mean is another matter: that is for the rules.
"""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from . import tables
from .errors import CoreError, OutOfRange

FIRST_DAY, LAST_DAY = date(1950, 1, 1), date(2199, 12, 31)  # of any record; our choice
AHEAD = timedelta(days=3660)  # how far ahead a permission may end; our choice
CLOCKS_DIFFER = timedelta(minutes=5)  # between two machines; our choice
# Letters. A name is typed and printed on labels; a text is a note or a reason; a fact stands beside
# an event. Our choice.
NAME, FACT, TEXT = 60, 200, 4000
DAY_OF_YEAR = r"(0[1-9]|1[0-2])-(0[1-9]|[12][0-9]|3[01])"  # a month and a day, as 11-15
NAMEABLE = r"[^\x00-\x1f/\\?#]+"  # what a name is made of that links carry
_UNSEEN = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f]")


class BadText(CoreError):
    """A text too long, or with letters that cannot be seen."""

    code = "bad_text"


class BadReading(CoreError):
    """A reading that physics does not know; `fix` says what to write instead."""

    code = "bad_reading"

    def __init__(self, text: str, fix: str):
        self.fix = fix
        super().__init__(text)


@dataclass(frozen=True, slots=True, kw_only=True)
class Bound:
    """What one kind of figure may be.

    above : `low` itself is left out · whole : no fractions · columns : where the database holds
    such figures, as table.column
    """

    name: str
    words: str
    unit: str
    low: float
    above: bool
    high: float
    whole: bool
    columns: tuple[str, ...]

    def holds(self, value: float) -> bool:
        """Whether a figure may be one of these; NaN and infinity never."""
        over = value > self.low if self.above else value >= self.low
        return over and value <= self.high and (not self.whole or value == int(value))


def _read() -> dict[str, Bound]:
    return {
        r["bound"]: Bound(
            name=r["bound"],
            words=r["words"],
            unit=r["unit"],
            low=float(r["low"]),
            above=r["above"] == "yes",
            high=float(r["high"]),
            whole=r["whole"] == "yes",
            columns=tuple(r["columns"].split()),
        )
        for r in tables.read("bounds")
    }


BOUNDS: Mapping[str, Bound] = _read()
_READINGS = {
    r["column"]: (float(r["least"]), float(r["most"])) for r in tables.read("reading_bounds")
}


LEAST_TOLD = 1e-6  # in any unit: no test tells less from nothing; our choice
_WHOLE, _MOST = 1e6, 1e9  # all of it in ppm; anything else, our choice


def reading_range(column: str) -> tuple[float, float]:
    """The least and the most a reading may be, in its analyte's unit.

    >>> reading_range("flash_C"), reading_range("Fe_ppm")
    ((5.0, 400.0), (0.0, 1000000.0))
    """
    return _READINGS.get(column, (0.0, _WHOLE if column.endswith("_ppm") else _MOST))


def check_reading(column: str, value: float) -> float:
    """A reading in its analyte's unit, if physics lets it be one. Raises BadReading, with what to
    write instead.

    >>> check_reading("Fe_ppm", 0.0), check_reading("KV100_mm2_s", 14.1)
    (0.0, 14.1)
    >>> check_reading("KV100_mm2_s", 0.0)
    Traceback (most recent call last):
    ...
    keen_tracer.core.bounds.BadReading: 0 is no reading of it
    """
    least, most = reading_range(column)
    if value == 0 and least > 0:
        raise BadReading("0 is no reading of it", "leave it empty where it was not measured")
    if value < 0:
        raise BadReading("it is below 0", "check the figure")
    if 0 < value < LEAST_TOLD:
        raise BadReading("no test tells so little", "check the figure and its unit")
    if not least <= value <= most:
        said = f"it lies outside {least:g} to {most:g}"
        raise BadReading(said, "check the figure and its unit")
    return value


def check(bound: str, value: float) -> float:
    """The value, if it may be one of these. Raises OutOfRange.

    >>> check("meter", 3120.0)
    3120.0
    >>> check("days", 2e9)  # doctest: +ELLIPSIS
    Traceback (most recent call last):
    ...
    keen_tracer.core.errors.OutOfRange: an interval in days is ...; it must lie from 1 to 3650 days
    """
    b = BOUNDS[bound]
    if not b.holds(value):
        raise OutOfRange(b.words, value, b.low, b.high, b.unit)
    return value


def check_text(text: str, most: int = TEXT) -> str:
    """The text, if it may be kept. Raises BadText.

    >>> check_text("seen at 65 °C")
    'seen at 65 °C'
    """
    if len(text) > most:
        raise BadText(f"the text has {len(text)} letters; {most} at most")
    if _UNSEEN.search(text):
        raise BadText("the text holds a letter that cannot be seen, such as a zero byte; remove it")
    return text
