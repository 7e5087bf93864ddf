"""The words of a log row: what happened, with what was written beside it."""

from collections.abc import Mapping

from ..errors import CoreError
from ..record import check_result
from ..terms import BOTTLE_EVENTS, DETAIL, EVENT_KINDS, SYMPTOMS

_KINDS = {**EVENT_KINDS, **BOTTLE_EVENTS}


def event_words(kind: str, part: str, note: str, details: Mapping[str, str]) -> str:
    """Something that happened, in one line."""
    said = (
        [SYMPTOMS.get(part) or part.replace("_", " ")]
        if kind == "symptom"
        else [part.replace("_", " ")]
    )
    if kind == "field_check":
        try:
            found = check_result(part, details.get("result", ""))
            said = [f"{found.check_words}: {found.words}"]
        except CoreError:
            said.append(details.get("result", ""))
    else:
        said += [
            (DETAIL[k].said if k in DETAIL else k.replace("_", " ") + " {}").format(v)
            for k, v in sorted(details.items())
        ]
    return " · ".join(x for x in (_KINDS.get(kind, kind.replace("_", " ")), *said, note) if x)
