"""All prose, written from codes and numbers when it is read."""

from .event_words import event_words
from .figures import computed, day, figure, listed, short_day
from .query_words import query_words
from .sentences import ACTION_SHORT, ACTION_WORDS, chip, due_words, sentence, summary, would_change
from .spoken import SENTENCES

__all__ = [
    "ACTION_SHORT",
    "ACTION_WORDS",
    "SENTENCES",
    "chip",
    "computed",
    "day",
    "due_words",
    "event_words",
    "figure",
    "listed",
    "query_words",
    "sentence",
    "short_day",
    "summary",
    "would_change",
]
