"""The state of an engine the program cannot judge: what stood before clears nothing any more."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date

from ..terms import CHANNELS
from ..verdict import EngineState, Level, Reason, RunDecision

NEVER_LOOKED_AT = EngineState(
    level=None,
    may_run="unknown",
    since=None,
    until=None,
    until_on=None,
    reasons=(),
    channels=(),
    actions=(),
    checks=(),
    lead="",
    second="",
    decision=None,
    undecided=False,
)


def not_judged(
    before: EngineState,
    why: str,
    on: date,
    decision: RunDecision | None,
    stops: Sequence[Reason] = (),
) -> EngineState:
    """The state an engine keeps while it cannot be judged: a Stop and a hold stand, every other
    level is withdrawn.

    before : as it was judged last · decision : what a person decided last; a hold holds, and
    nothing else lifts a Stop that the program cannot see the end of · stops : what stands open by
    the log alone

    >>> not_judged(NEVER_LOOKED_AT, "a figure is missing", date(2026, 11, 27), None).may_run
    'not_judged'
    """
    held = decision is not None and decision.state == "hold"
    known = {r.key for r in before.reasons}
    new = tuple(r for r in stops if r.key not in known)
    if stops:
        before = replace(before, level=int(Level.STOP), reasons=(*new, *before.reasons))
        before = replace(before, may_run="do_not_run", undecided=not held, until=None)
    stands = held or before.may_run == "do_not_run"
    return replace(
        before,
        level=before.level if stands and before.may_run == "do_not_run" else None,
        may_run="do_not_run" if stands else "not_judged",
        since=before.since if before.cannot or before.may_run == "do_not_run" else on,
        channels=(None,) * len(CHANNELS),
        decision=decision,
        cannot=why,
    )
