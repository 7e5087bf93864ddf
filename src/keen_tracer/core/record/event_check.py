"""The door of the log: what may be written down, and what is refused before it is."""

from collections.abc import Mapping

from ..errors import UnknownName
from ..terms import SYMPTOMS
from .event_details import check_details
from .field_checks import checked
from .opened import check_finding


def check_event(kind: str, part: str, details: Mapping[str, str]) -> None:
    """Refuse facts that cannot be meant: OutOfRange for a number, UnknownName for a symptom, a
    field check or its result, FiguresDisagree for a result milder than its figures. A misspelt
    knock would be a Stop that nobody hears of."""
    check_details(details)
    if kind == "symptom" and part and part not in SYMPTOMS:
        raise UnknownName("symptom", part, list(SYMPTOMS))
    if kind == "field_check":
        checked(part, details)
    if kind == "finding":
        check_finding(part, details)
