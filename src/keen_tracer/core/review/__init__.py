"""Looking back: before against after, alarms against findings, records that do not fit."""

from .alarm_review import Outcome, Tally, act_by_policy, alarm_days, tally
from .before_after import Study, compare_periods
from .exchanged_labels import CODE as LABELS_EXCHANGED
from .exchanged_labels import SAME_ROUND, label_queries, strangers
from .log_checks import Query, unsampled_queries
from .record_checks import IDENTITY, record_queries
from .study_in_words import study_lines

__all__ = [
    "IDENTITY",
    "LABELS_EXCHANGED",
    "SAME_ROUND",
    "Outcome",
    "Query",
    "Study",
    "Tally",
    "act_by_policy",
    "alarm_days",
    "compare_periods",
    "label_queries",
    "record_queries",
    "strangers",
    "study_lines",
    "tally",
    "unsampled_queries",
]
