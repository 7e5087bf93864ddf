"""What may be written down beside an event's columns: named facts, refused at the door where they
mean nothing."""

import re
from collections.abc import Mapping

from ..errors import OutOfRange, UnknownName
from ..terms import DETAIL, DETAILS, SYMPTOMS
from .field_checks import check_result

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
    detail = DETAIL[name]
    low, high, unit = detail.low, detail.high, detail.unit
    value = float(text) if _NUMBER.match(text) else float("nan")
    if not low <= value <= high:
        raise OutOfRange(f"{name.replace('_', ' ')} {text!r}", value, low, high, unit)
    return value


def check_event(kind: str, part: str, details: Mapping[str, str]) -> None:
    """Refuse facts that cannot be meant: OutOfRange for a number, UnknownName for a symptom, a
    field check or its result. A misspelt knock would be a Stop that nobody hears of."""
    for detail in DETAILS:
        if detail.choices is None:
            detail_number(details, detail.name)
    if kind == "symptom" and part and part not in SYMPTOMS:
        raise UnknownName("symptom", part, list(SYMPTOMS))
    if kind == "field_check":
        check_result(part, details.get("result", ""))
