"""What is to be done and why, in a line each."""

from dataclasses import dataclass

from ..record import check_kinds
from ..terms import PLAN_KINDS, WORK_KINDS
from .action_words import action_kinds


@dataclass(frozen=True, slots=True)
class TaskWords:
    """A task in words: `short` for its mark, `what` in full, what one needs, the caution."""

    short: str
    what: str
    tools: str = ""
    caution: str = ""


def task_words(kind: str, code: str, words: str = "") -> TaskWords:
    """A task in words. `words`: what somebody wrote of a piece of work.

    >>> task_words("follow", "10 h").what
    'Sample, and look into the filter, 10 h after the work'
    """
    if kind == "action":
        action = action_kinds()[code]
        return TaskWords(action.short, action.words, action.tools, action.caution)
    if kind == "check":
        check = check_kinds()[code]
        return TaskWords(check.words, check.words, check.tools, check.caution)
    bottle = action_kinds()["first_sample"]
    if kind == "sample":
        first = "the first: no forecast yet"
        what = f"Sample, {first if code == 'first' else PLAN_KINDS[code]}"
        return TaskWords("sample", what, bottle.tools, bottle.caution)
    if kind == "follow":
        what = f"Sample, and look into the filter, {code} after the work"
        return TaskWords("sample", what, bottle.tools, bottle.caution)
    if kind == "drain":
        change = action_kinds()["sample_and_change"]
        why = {
            "condition": "by what its oil has left",
            "calendar": "by the calendar, its days in the engine",
        }.get(code, "at the nominal drain")
        return TaskWords("oil", f"Oil change, {why}", change.tools, change.caution)
    if kind == "bottle":
        return TaskWords("bottle", f"Figures of bottle {code} expected")
    if kind == "decide":
        return TaskWords(
            *{
                "release": ("decide", "Hold or release: a releaser decides"),
                "permission_ends": ("ends", "The permission to run ends: decide anew"),
            }[code]
        )
    return TaskWords(words, f"{WORK_KINDS.get(code, code)}: {words}".capitalize())
