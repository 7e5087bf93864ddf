"""Where things stand: may the engine run, where is the bottle."""

from .bottle_tracking import late_by, missing_analytes, usual_analytes, usual_days
from .engine_status import Tooth, comb, group_of, may_run_words, meter_words, run_state_now, waits

__all__ = [
    "Tooth",
    "comb",
    "group_of",
    "late_by",
    "may_run_words",
    "meter_words",
    "missing_analytes",
    "run_state_now",
    "usual_analytes",
    "usual_days",
    "waits",
]
