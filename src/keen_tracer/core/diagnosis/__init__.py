"""What the figures of a sample say: findings, explanations, evidence, and what to do next."""

from .actions import Advice, advice
from .evidence import evidence_of, lead, parts_and_checks
from .expectation_findings import of_expectation, of_readings
from .explanations import explanations, worth_explaining
from .hard_stops import hard_stops
from .limit_findings import SOURCES, run_in
from .reading_combinations import GLYCOL, Marks, combinations, marks, thickness
from .remarks import remarks
from .sample_facts import SampleFacts

__all__ = [
    "GLYCOL",
    "SOURCES",
    "Advice",
    "Marks",
    "SampleFacts",
    "advice",
    "combinations",
    "evidence_of",
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
