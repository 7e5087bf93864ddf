"""All prose, written from codes and numbers when it is read."""

from .action_words import action_kinds
from .amounts import OWN_UNITS, Units
from .average_words import average_words
from .check_words import helps, pulls
from .event_words import event_words, row_words
from .fact_words import LIMIT_FROM
from .figures import computed, day, figure, listed, quoted, range_words, short_day, small
from .query_words import query_words
from .sentences import chip, due_words, in_short, sentence, summary, would_change
from .spoken import SENTENCES
from .state_words import MEND_SHORT, by_when, may_run_words, meter_words, reason_words, state_lines
from .task_words import TaskWords, rule_words, task_words

__all__ = [
    "LIMIT_FROM",
    "MEND_SHORT",
    "OWN_UNITS",
    "SENTENCES",
    "TaskWords",
    "Units",
    "action_kinds",
    "average_words",
    "by_when",
    "chip",
    "computed",
    "day",
    "due_words",
    "event_words",
    "figure",
    "helps",
    "in_short",
    "listed",
    "may_run_words",
    "meter_words",
    "pulls",
    "query_words",
    "quoted",
    "range_words",
    "reason_words",
    "row_words",
    "rule_words",
    "sentence",
    "short_day",
    "small",
    "state_lines",
    "summary",
    "task_words",
    "would_change",
]
