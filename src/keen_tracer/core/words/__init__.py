"""All prose, written from codes and numbers when it is read."""

from .query_words import query_words
from .sentences import (
    ACTION_SHORT,
    ACTION_WORDS,
    CHANNEL_WORDS,
    LEVEL_WORDS,
    computed,
    day,
    due_words,
    sentence,
    summary,
    would_change,
)

__all__ = [
    "ACTION_SHORT",
    "ACTION_WORDS",
    "CHANNEL_WORDS",
    "LEVEL_WORDS",
    "computed",
    "day",
    "due_words",
    "query_words",
    "sentence",
    "summary",
    "would_change",
]
