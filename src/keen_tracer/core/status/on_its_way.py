"""What the record says was done of what a state asks for: a bottle was drawn, the oil was changed.
It lowers nothing: the level, a permission and its end stay until the figures are in."""

from collections.abc import Sequence
from datetime import date

from ..record import Moment, TimeLine
from ..verdict import A_BOTTLE, Action, Verdict

# What is done only when the oil was changed as well.
WITH_A_CHANGE = "sample_and_change"


def on_its_way(line: TimeLine, judged: Sequence[tuple[Verdict, Moment]], since: date | None) -> str:
    """The code of the newest bottle whose figures are not in yet, drawn after every sample that was
    judged and since the engine stands as it does; "" where there is none."""
    measured = {
        m.row.sample.code for v, m in judged if v.level is not None and m.row.sample is not None
    }
    newest = next((m.row for m in reversed(line.moments) if m.row.sample is not None), None)
    if newest is None or newest.sample is None or newest.sample.code in measured:
        return ""
    return newest.sample.code if since is None or newest.on >= since else ""


def still_asked(
    actions: Sequence[Action], line: TimeLine, since: date | None, bottle: str
) -> tuple[Action, ...]:
    """The actions that are not done on record; `bottle` is on its way."""
    if not bottle:
        return tuple(actions)
    changed = any(
        m.row.kind == "oil_change" and (since is None or m.row.on >= since) for m in line.moments
    )
    done = {code for code in A_BOTTLE if changed or code != WITH_A_CHANGE}
    return tuple(a for a in actions if a.code not in done)
