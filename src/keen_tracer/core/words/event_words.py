"""The words of a log row: what happened, with what was written beside it."""

from collections.abc import Mapping
from contextlib import suppress

from ..errors import CoreError
from ..record import check_kinds, checked, condition_of, place_words
from ..terms import BOTTLE_EVENTS, DETAIL, EVENT_KINDS, SYMPTOMS

# Of a finding: said where it is and how it is.
_IN_WORDS = {"condition", "position", "side", "order"}
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
    if kind == "finding":
        with suppress(CoreError):
            how = condition_of(part, details).words
            said = [f"{place_words(part, details)}: {how}"]
            details = {k: v for k, v in details.items() if k not in _IN_WORDS}
    said += _facts(details)
    return " · ".join(x for x in (_KINDS.get(kind, kind.replace("_", " ")), *said, note) if x)
