"""What an engine might do on a day that is past, by the Stops and decisions of that day."""

from collections.abc import Sequence
from datetime import date

from ..verdict import Reason, RunDecision
from .reasons import lifted, permitted


def halted_on(day: date, stops: Sequence[Reason], decisions: Sequence[RunDecision]) -> bool:
    """Whether the engine might not run on a day: a Stop raised until then stood open, or a hold.

    stops : every Stop that was ever raised · decisions : run decisions in their order
    """
    known = [d for d in decisions if d.on <= day]
    standing = known[-1] if known else None
    if standing is not None and standing.state == "hold":
        return True
    ended = standing is not None and standing.until_on is not None and standing.until_on < day
    open_ = [r for r in stops if r.on <= day and not lifted(known, r)]
    return any(ended or not permitted(standing, r) for r in open_)
