"""What may be written down beside an event's columns: named facts, refused at the door where they
mean nothing."""

import re
from collections.abc import Mapping

from ..errors import OutOfRange
from .field_checks import check_result

# Name → lowest, highest, unit. Wide bounds: they catch a slip or another unit (°F, psi), not a bad
# engine; our choice.
NUMBERS: dict[str, tuple[float, float, str]] = {
    "drained_c": (-40, 200, "°C"),
    "pressure_hot_bar": (0, 20, "bar"),
    "pressure_cold_bar": (0, 20, "bar"),
    "coolant_l": (0, 1000, "L"),
}
_NUMBER = re.compile(r"^-?\d+(\.\d+)?$")


def detail_number(details: Mapping[str, str], name: str) -> float | None:
    """A named fact as a number in its unit, None when it was not said. Raises OutOfRange for
    anything else.

    >>> detail_number({"drained_c": "65"}, "drained_c")
    65.0
    """
    text = details.get(name, "").strip()
    if not text:
        return None
    low, high, unit = NUMBERS[name]
    value = float(text) if _NUMBER.match(text) else float("nan")
    if not low <= value <= high:
        raise OutOfRange(f"{name.replace('_', ' ')} {text!r}", value, low, high, unit)
    return value


def check_event(kind: str, part: str, details: Mapping[str, str]) -> None:
    """Refuse facts that cannot be meant: OutOfRange for a number, UnknownName for a field check or
    its result."""
    for name in NUMBERS:
        detail_number(details, name)
    if kind == "field_check":
        check_result(part, details.get("result", ""))
