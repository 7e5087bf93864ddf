"""Looking back: before against after, alarms against findings, records that do not fit."""

from .alarm_review import Outcome, Tally, act_by_policy, alarm_days, tally
from .before_after import Study, compare_periods
from .log_checks import Query, unsampled_queries
from .record_checks import IDENTITY, record_queries

__all__ = [
    "IDENTITY",
    "Outcome",
    "Query",
    "Study",
    "Tally",
    "act_by_policy",
    "alarm_days",
    "compare_periods",
    "record_queries",
    "tally",
    "unsampled_queries",
]
