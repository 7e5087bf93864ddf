"""What may be written down beside an event's columns: named facts, refused at the door where they
mean nothing."""

import re
from collections.abc import Mapping

from ..errors import OutOfRange, UnknownName
from ..laboratory import convert
from ..terms import DETAIL, Detail

_NUMBER = re.compile(r"^-?\d+(\.\d+)?$")
_BETWEEN = re.compile(r"[\s;/]+")


def _in_its_unit(detail: Detail, details: Mapping[str, str], text: str) -> float:
    """One figure in the detail's own unit. Raises OutOfRange for anything that cannot be meant."""
    value = float(text) if _NUMBER.match(text) else float("nan")
    told = details.get("pressure_unit", "")
    if detail.pressure and told and told != detail.unit:
        value = convert(value, told, detail.unit)
    if not detail.low <= value <= detail.high:
        name = detail.name.replace("_", " ")
        raise OutOfRange(f"{name} {text!r}", value, detail.low, detail.high, detail.unit)
    return value


def detail_numbers(details: Mapping[str, str], name: str) -> list[float]:
    """A named fact that is several numbers, one a cylinder, in its unit; empty when it was not
    said.

    >>> detail_numbers({"cylinders": "28 27.5 26"}, "cylinders")
    [28.0, 27.5, 26.0]
    """
    text = details.get(name, "").strip()
    return [_in_its_unit(DETAIL[name], details, one) for one in _BETWEEN.split(text) if one]


def detail_number(details: Mapping[str, str], name: str) -> float | None:
    """A named fact as a number in its unit, None when it was not said. Raises OutOfRange for
    anything else.

    >>> detail_number({"drained_c": "65"}, "drained_c")
    65.0
    >>> detail_number({"drop": "100", "pressure_unit": "kPa"}, "drop")
    1.0
    """
    text = details.get(name, "").strip()
    return _in_its_unit(DETAIL[name], details, text) if text else None


def check_details(details: Mapping[str, str]) -> None:
    """Refuse figures and choices that cannot be meant: OutOfRange, UnknownName."""
    told = details.get("pressure_unit", "")
    choices = DETAIL["pressure_unit"].choices or {}
    if told and told not in choices:
        raise UnknownName("unit of a gauge", told, list(choices))
    for name, said in details.items():
        detail = DETAIL.get(name)
        if detail is None or not said.strip():
            continue
        if detail.choices is None:
            (detail_numbers if detail.many else detail_number)(details, name)
        elif detail.kind == "finding" and said not in detail.choices:
            raise UnknownName(detail.words, said, list(detail.choices))
