"""Failure modes, the evidence for and against each, and the check that would tell them apart. Knows
no sample."""

from .failure_modes import (
    BadWeight,
    Mode,
    WeightRow,
    evidence_table,
    evidence_words,
    failure_modes,
    with_weights,
)
from .ranking import (
    NONE_OF_THESE,
    SAMPLING_FAULT,
    Causes,
    Check,
    Hypothesis,
    Ranking,
    ranking,
    shipped,
)

__all__ = [
    "NONE_OF_THESE",
    "SAMPLING_FAULT",
    "BadWeight",
    "Causes",
    "Check",
    "Hypothesis",
    "Mode",
    "Ranking",
    "WeightRow",
    "evidence_table",
    "evidence_words",
    "failure_modes",
    "ranking",
    "shipped",
    "with_weights",
]
