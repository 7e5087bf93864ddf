"""Failure modes, the evidence for and against each, and the check that would tell them apart. Knows
no sample."""

from .failure_modes import (
    BadWeight,
    Check,
    Hypothesis,
    Mode,
    WeightRow,
    best,
    evidence_table,
    failure_modes,
    hypotheses,
    next_checks,
    with_weights,
)

__all__ = [
    "BadWeight",
    "Check",
    "Hypothesis",
    "Mode",
    "WeightRow",
    "best",
    "evidence_table",
    "failure_modes",
    "hypotheses",
    "next_checks",
    "with_weights",
]
