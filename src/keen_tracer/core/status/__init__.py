"""The state of an engine: may it run and why, and where its bottle is."""

from .bottle_tracking import late_by, missing_analytes, usual_analytes, usual_days
from .comb import Tooth, comb, group_of, waits
from .engine_state import looked_on, may_run_now
from .gate import BadDecision, Decision, check_decision
from .in_pieces import NotSound, not_sound
from .not_judged import NEVER_LOOKED_AT, not_judged
from .on_the_day import halted_on
from .reasons import OnRecord, SignOff, lifted
from .states import engine_states, time_lines
from .stops_alone import is_grave, stops_of_log

__all__ = [
    "NEVER_LOOKED_AT",
    "BadDecision",
    "Decision",
    "NotSound",
    "OnRecord",
    "SignOff",
    "Tooth",
    "check_decision",
    "comb",
    "engine_states",
    "group_of",
    "halted_on",
    "is_grave",
    "late_by",
    "lifted",
    "looked_on",
    "may_run_now",
    "missing_analytes",
    "not_judged",
    "not_sound",
    "stops_of_log",
    "time_lines",
    "usual_analytes",
    "usual_days",
    "waits",
]
