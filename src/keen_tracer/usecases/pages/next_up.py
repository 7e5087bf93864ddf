"""What comes next at one engine: its next sample, its next oil, its next look, other work, and what
waits for what. The tasks are the plan's own."""

from collections.abc import Iterable, Sequence
from datetime import date

from ..answers.engine import NextUp, Waits
from ..answers.plan import Listed

# What a task is to a reader, by where it is done; anything else is work.
_GROUPS = {"bottle": "sample", "oil_change": "oil", "look": "look", "check": "look", "run": "run"}
_ORDER = ("run", "look", "work", "oil", "sample")
_SAID = {
    "run": "decision",
    "look": "look or check",
    "work": "work",
    "oil": "oil change",
    "sample": "sample",
}


def _one(task: Listed, group: str, today: date) -> NextUp:
    return {
        "group": _SAID[group],
        "words": task.what,
        "on": max(task.day, today),
        "late": task.late,
        "at_dial": task.at_dial,
    }


def next_up(tasks: Sequence[Listed], today: date, halted: bool) -> list[NextUp]:
    """The first task of each group that nothing has to come before.

    tasks : of one engine, the late ones first, then by day · halted : the engine may not run, so
        what ends that comes first, and nothing is said that needs it to turn
    """
    free = [t for t in tasks if not t.after and t.form != "tracking"]
    if halted:
        free = [t for t in free if t.at_rest]
    first: dict[str, Listed] = {}
    for t in free:
        first.setdefault(_GROUPS.get(t.form, "work"), t)
    if halted:
        # A sample alone would read as if nothing else were to be done to an engine under Stop.
        told = [g for g in _ORDER if g in first]
        return [] if told == ["sample"] else [_one(first[g], g, today) for g in told]
    ordered = sorted(first, key=lambda g: (-first[g].late, first[g].day, _ORDER.index(g)))
    return [_one(first[g], g, today) for g in ordered]


def waits(tasks: Iterable[Listed]) -> list[Waits]:
    """The tasks that have to wait, each with the tasks that come before it."""
    known = {t.key: t for t in tasks}
    return [
        {"words": t.what, "until": [known[k].what for k in t.after if k in known]}
        for t in known.values()
        if any(k in known for k in t.after)
    ]
