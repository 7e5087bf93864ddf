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
