"""The words of a log row: what happened, with what was written beside it."""

from collections.abc import Mapping

from ..errors import CoreError
from ..record import check_kinds, checked
from ..terms import BOTTLE_EVENTS, DETAIL, EVENT_KINDS, SYMPTOMS

_KINDS = {**EVENT_KINDS, **BOTTLE_EVENTS}


def _facts(details: Mapping[str, str]) -> list[str]:
    unit = details.get("pressure_unit", "")
    out = []
    for name, said in sorted(details.items()):
        detail = DETAIL.get(name)
        if name in ("result", "pressure_unit") or not said.strip():
            continue
        if detail is None:
            out.append(f"{name.replace('_', ' ')} {said}")
            continue
        words = (detail.choices or {}).get(said, said)
        out.append(
            detail.said.format(f"{words} {unit or detail.unit}" if detail.pressure else words)
        )
    return out


def event_words(kind: str, part: str, note: str, details: Mapping[str, str]) -> str:
    """Something that happened, in one line."""
    said = (
        [SYMPTOMS.get(part) or part.replace("_", " ")]
        if kind == "symptom"
        else [part.replace("_", " ")]
    )
    if kind == "field_check":
        try:
            found, _ = checked(part, details)
            said = [f"{check_kinds()[part].words}: {found.words}"]
        except CoreError:
            said.append(details.get("result", ""))
    said += _facts(details)
    return " · ".join(x for x in (_KINDS.get(kind, kind.replace("_", " ")), *said, note) if x)
