"""What the figures of a sample say: findings, explanations, evidence."""

from .evidence import lead, parts_and_checks
from .expectation_findings import of_expectation, of_readings
from .explanations import explanations, worth_explaining
from .findings import (
    GLYCOL,
    SOURCES,
    Marks,
    combinations,
    hard_stops,
    marks,
    remarks,
    run_in,
    thickness,
)

__all__ = [
    "GLYCOL",
    "SOURCES",
    "Marks",
    "combinations",
    "explanations",
    "hard_stops",
    "lead",
    "marks",
    "of_expectation",
    "of_readings",
    "parts_and_checks",
    "remarks",
    "run_in",
    "thickness",
    "worth_explaining",
]
