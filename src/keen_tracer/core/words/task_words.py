"""What is to be done and why, in a line each."""

from dataclasses import dataclass
from datetime import date

from ..record import check_kinds
from ..terms import PLAN_KINDS, PLAN_RULES, WORK_KINDS
from .action_words import action_kinds
from .figures import short_day


@dataclass(frozen=True, slots=True)
class TaskWords:
    """A task in words: `short` for its mark, `what` in full, what one needs, the caution."""

    short: str
    what: str
    tools: str = ""
    caution: str = ""


def rule_words(kind: str, every: float | None, said: str, unit: str) -> str:
    """A rule of sampling in words; `unit`: the meter's, `said`: what the rule says besides.

    >>> rule_words("meter", 125.0, "", "h"), rule_words("season", None, "11-15", "h")
    ('every 125 h', 'before 15 Nov every year')
    """
    if kind == "season":
        month, day = (int(x) for x in said.split("-"))
        said = short_day(date(2000, month, day))  # any year with a 29 February
    return PLAN_RULES[kind].format(every=f"{every:g}" if every else "", unit=unit, said=said)


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
            "calendar": "because of its age",
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
