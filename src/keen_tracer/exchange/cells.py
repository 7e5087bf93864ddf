"""One cell at a time: text to value, or a BadCell that says what is wrong and what to write."""

import json
import re
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from typing import Any
from uuid import UUID

from ..clock import now, today
from ..core.bounds import (
    AHEAD,
    BOUNDS,
    CLOCKS_DIFFER,
    DAY_OF_YEAR,
    FACT,
    FIRST_DAY,
    NAME,
    TEXT,
    Bound,
    check_text,
)
from ..core.errors import CoreError
from ..core.laboratory import number_text
from ..core.oil import grade_range
from ..core.terms import LEVELS, TEST_LIMITS
from ..core.words import range_words

Parser = Callable[[str], Any]
_NUMBER = re.compile(r"^\d{1,30}(\.\d{1,30})?([eE][+-]?\d{1,2})?$")


class BadCell(ValueError):
    """A cell that cannot be read."""

    def __init__(self, what: str, fix: str):
        self.what, self.fix = what, fix
        super().__init__(f"{what}: {fix}")

    def __reduce__(self) -> tuple[type["BadCell"], tuple[str, str]]:
        return BadCell, (self.what, self.fix)


def _kept(cell: str, most: int = TEXT) -> str:
    try:
        return check_text(cell, most)
    except CoreError as error:
        raise BadCell(f"{cell[:40]!r}: {error}", "shorten or correct it") from error


def text(cell: str) -> str:
    """A note, a reason: any text that can be seen."""
    return _kept(cell)


def word(cell: str) -> str:
    """A name of something: short."""
    return _kept(cell, NAME)


def any_day(cell: str) -> date:
    """An ISO date that exists."""
    try:
        value = date.fromisoformat(cell)
    except ValueError:
        value = None
    if value is None or not re.fullmatch(r"\d{4}-\d\d-\d\d", cell):
        no_day = re.fullmatch(r"\d{4}-\d\d-\d\d", cell)
        raise BadCell(
            f"{cell!r} is not a {'day that exists' if no_day else 'date'}",
            "write year-month-day, such as 2026-02-28",
        )
    return value


def day(cell: str) -> date:
    """An ISO date that exists and does not lie in the future."""
    value = any_day(cell)
    if value > today("UTC") + timedelta(days=1):
        raise BadCell(f"{cell} lies in the future", "give the day it happened")
    if value < FIRST_DAY:
        raise BadCell(f"{cell} lies before {FIRST_DAY.year}", "check the year")
    return value


def day_ahead(cell: str) -> date:
    """An ISO date that may lie ahead, as the end of a permission does."""
    value = any_day(cell)
    if not FIRST_DAY <= value <= today("UTC") + AHEAD:
        raise BadCell(f"{cell} lies too far off", "check the year")
    return value


def day_of_year(cell: str) -> str:
    """A month and a day, as 11-15."""
    if not re.fullmatch(DAY_OF_YEAR, cell):
        raise BadCell(f"{cell[:20]!r} is no month and day", "write such as 11-15")
    return cell


def clock(cell: str) -> time:
    """A time of day at the engine's depot."""
    try:
        value = time.fromisoformat(cell).replace(microsecond=0)
    except ValueError:
        value = None
    if value is None or value.tzinfo is not None:
        raise BadCell(f"{cell!r} is not a time of day", "write hours:minutes, such as 14:30")
    return value


def moment(cell: str) -> datetime:
    """A date with time that lies in the past, in UTC."""
    try:
        value = datetime.fromisoformat(cell).astimezone(UTC)
    except (ValueError, OverflowError):
        raise BadCell(
            f"{cell!r} is not a date with time", "write such as 2026-02-28T09:30:00+00:00"
        ) from None
    if value.date() < FIRST_DAY:
        raise BadCell(f"{cell} lies before {FIRST_DAY.year}", "check the year")
    if value > now() + CLOCKS_DIFFER:
        raise BadCell(f"{cell} lies in the future", "give the moment it happened")
    return value


def _number(cell: str) -> float:
    if not _NUMBER.match(cell):
        if re.match(r"^\d{1,3}(,\d+)+$", cell):
            raise BadCell(
                f"{cell!r}: a comma can mean thousands or a decimal",
                f"write {cell.replace(',', '')} or {cell.replace(',', '.', 1)}",
            )
        raise BadCell(
            f"{cell!r} is not a number", "write digits with a decimal point, without the unit"
        )
    return float(cell)


@dataclass(frozen=True, slots=True)
class Bounded:
    """Reads a figure of one kind; a whole one as an int."""

    bound: Bound

    def __call__(self, cell: str) -> float | int:
        minus = cell.startswith("-")
        value = -_number(cell[1:]) if minus else _number(cell)
        if not self.bound.holds(value) or (minus and self.bound.low >= 0):
            raise BadCell(
                f"{cell} cannot be {self.bound.words}", f"it lies {range_words(self.bound)}"
            )
        return int(value) if self.bound.whole else value


def bounded(name: str) -> Parser:
    """A figure of one kind, as `core/tables/bounds.csv` has it."""
    return Bounded(BOUNDS[name])


def level(cell: str) -> int:
    """A verdict level by its number."""
    return int(one_of(*(str(n) for n in range(len(LEVELS))))(cell))


def yes_no(cell: str) -> bool:
    words = {"yes": True, "true": True, "1": True, "no": False, "false": False, "0": False}
    if cell.lower() not in words:
        raise BadCell(f"{cell!r} is neither yes nor no", "write yes or no")
    return words[cell.lower()]


@dataclass(frozen=True, slots=True)
class OneOf:
    """Reads one of a few known words."""

    known: tuple[str, ...]

    def __call__(self, cell: str) -> str:
        if cell not in self.known:
            raise BadCell(f"{cell!r} is not known here", f"write one of {', '.join(self.known)}")
        return cell


def one_of(*known: str) -> Parser:
    return OneOf(known)


def words(cell: str) -> list[str]:
    """A list separated by semicolons."""
    return [word(w.strip()) for w in cell.split(";") if w.strip()]


def grades(cell: str) -> list[str]:
    found = words(cell)
    for grade in found:
        try:
            grade_range(grade)
        except CoreError as error:
            raise BadCell(
                f"{grade!r} is not a viscosity grade", "write such as 10W-40;30"
            ) from error
    return found


def facts(cell: str) -> dict[str, str]:
    """Named facts separated by semicolons, such as `heard=cold start;pressure_bar=0.6`."""
    out = {}
    for part in filter(None, (w.strip() for w in cell.split(";"))):
        name, equals, value = part.partition("=")
        if not equals or not re.fullmatch(r"[a-z_]{1,30}", name.strip()) or not value.strip():
            raise BadCell(
                f"{part!r} is not a named fact", "write name=value, such as heard=cold start"
            )
        out[name.strip()] = _kept(value.strip(), FACT)
    if len(out) > MOST_FACTS:
        raise BadCell(f"{len(out)} named facts", f"{MOST_FACTS} at most")
    return out


MOST_FACTS = 16  # beside one event; our choice
NOTHING = "-"  # an empty list that was meant, where an empty cell means nobody said


def named(cell: str) -> list[str]:
    """A list of names that may be empty on purpose.

    >>> named("-"), named("a;b")
    ([], ['a', 'b'])
    """
    return [] if cell == NOTHING else [_kept(w.strip()) for w in cell.split(";") if w.strip()]


def document(cell: str) -> dict[str, Any]:
    """A JSON object, as the export wrote it."""
    try:
        found = json.loads(cell)
    except ValueError:
        found = None
    if not isinstance(found, dict):
        raise BadCell("this is no JSON object", "leave the cell as the export wrote it")
    return found


def limits(cell: str) -> dict[str, float]:
    """Named figures separated by semicolons, such as `minimum_hot=1.2;allowed_leak=25`."""
    out = {}
    for name, value in facts(cell).items():
        if name not in TEST_LIMITS:
            raise BadCell(
                f"{name!r} is no pass criterion", f"write one of {', '.join(TEST_LIMITS)}"
            )
        out[name] = float(bounded("test_figure")(value))
    return out


def digest(cell: str) -> str:
    """A SHA-256 as 64 hexadecimal digits."""
    if not re.fullmatch(r"[0-9a-f]{64}", cell):
        raise BadCell(f"{cell!r} is no SHA-256", "leave it as the export wrote it")
    return cell


def identity(cell: str) -> UUID:
    try:
        return UUID(cell)
    except ValueError:
        raise BadCell(f"{cell!r} is not an identity", "leave it as the export wrote it") from None


def written(value: object) -> str:
    """A value as the open files write it; the reverse of the parsers."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return number_text(value)
    if isinstance(value, list):
        return ";".join(str(v) for v in value)
    if isinstance(value, dict):
        return ";".join(f"{k}={written(value[k])}" for k in sorted(value))
    if isinstance(value, time):
        return value.isoformat("seconds") if value.second else value.isoformat("minutes")
    if hasattr(value, "isoformat"):
        return str(value.isoformat())
    return str(value)
