"""One cell at a time: text to value, or a BadCell that says what is wrong and what to write."""

import json
import re
from collections.abc import Callable
from datetime import date, time, timedelta
from typing import Any
from uuid import UUID

from ..core.errors import CoreError
from ..core.laboratory import number_text
from ..core.oil import grade_range
from ..core.terms import TEST_LIMITS

Parser = Callable[[str], Any]
_NUMBER = re.compile(r"^[+-]?\d+(\.\d+)?([eE][+-]?\d{1,2})?$")


class BadCell(ValueError):
    """A cell that cannot be taken as it stands."""

    def __init__(self, what: str, fix: str):
        self.what, self.fix = what, fix
        super().__init__(f"{what}: {fix}")


def text(cell: str) -> str:
    if "\x00" in cell:
        raise BadCell("the cell holds a zero byte", "remove it")
    return cell


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
    if value > date.today() + timedelta(days=1):
        raise BadCell(f"{cell} lies in the future", "give the day it happened")
    if value.year < 1950:
        raise BadCell(f"{cell} lies before 1950", "check the year")
    return value


def clock(cell: str) -> time:
    try:
        return time.fromisoformat(cell).replace(microsecond=0)
    except ValueError:
        raise BadCell(
            f"{cell!r} is not a time of day", "write hours:minutes, such as 14:30"
        ) from None


def number(cell: str) -> float:
    """A plain number from 0, with a decimal point."""
    if not _NUMBER.match(cell):
        if re.match(r"^\d{1,3}(,\d+)+$", cell):
            raise BadCell(
                f"{cell!r}: a comma can mean thousands or a decimal",
                f"write {cell.replace(',', '')} or {cell.replace(',', '.', 1)}",
            )
        raise BadCell(
            f"{cell!r} is not a number", "write digits with a decimal point, without the unit"
        )
    value = float(cell)
    if not 0 <= value < 1e12:
        raise BadCell(f"{cell} is below 0 or far too large", "check the figure")
    return value


def signed_number(cell: str) -> float:
    """Like number, but a lower limit may lie below 0."""
    return -number(cell[1:]) if cell.startswith("-") else number(cell)


def whole(cell: str) -> int:
    value = number(cell)
    if value != int(value) or value > 2_000_000_000:
        raise BadCell(f"{cell!r} is not a whole number", "write digits only")
    return int(value)


def above_zero(cell: str) -> float:
    value = number(cell)
    if value == 0:
        raise BadCell("0 means nothing here", "give a figure above 0, or leave the cell empty")
    return value


def share(cell: str) -> float:
    value = number(cell)
    if value >= 1:
        raise BadCell(f"{cell} is not a share below 1", "write 0.1 for ten per cent")
    return value


def yes_no(cell: str) -> bool:
    words = {"yes": True, "true": True, "1": True, "no": False, "false": False, "0": False}
    if cell.lower() not in words:
        raise BadCell(f"{cell!r} is neither yes nor no", "write yes or no")
    return words[cell.lower()]


def one_of(*known: str) -> Parser:
    def parse(cell: str) -> str:
        if cell not in known:
            raise BadCell(f"{cell!r} is not known here", f"write one of {', '.join(known)}")
        return cell

    return parse


def words(cell: str) -> list[str]:
    """A list separated by semicolons."""
    return [w.strip() for w in cell.split(";") if w.strip()]


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
    for part in words(cell):
        name, equals, value = part.partition("=")
        if not equals or not re.fullmatch(r"[a-z_]{1,30}", name.strip()) or not value.strip():
            raise BadCell(
                f"{part!r} is not a named fact", "write name=value, such as heard=cold start"
            )
        out[name.strip()] = value.strip()
    return out


NOTHING = "-"  # an empty list that was meant, where an empty cell means nobody said


def named(cell: str) -> list[str]:
    """A list of names that may be empty on purpose.

    >>> named("-"), named("a;b")
    ([], ['a', 'b'])
    """
    return [] if cell == NOTHING else words(cell)


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
        out[name] = number(value)
    return out


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
