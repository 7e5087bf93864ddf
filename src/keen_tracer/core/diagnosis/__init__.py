"""What the figures of a sample say: findings, explanations, evidence, and what to do next."""

from .actions import Advice, Known, Since, advice, since_known
from .case_evidence import causes_of_case, work_before
from .evidence import causes_now, causes_of, confirmed, done_at, done_in, evidence_of
from .expectation_findings import of_expectation, of_readings
from .explanations import explanations, worth_explaining
from .hard_stops import hard_stops, of_bottle, of_fact
from .limit_findings import SOURCES, run_in
from .reading_combinations import GLYCOL, Marks, combinations, marks, thickness
from .remarks import remarks
from .run_in_course import RunIn, run_in_course
from .sample_facts import SampleFacts
from .thresholds import FUEL_STOP, WATER_STOP

__all__ = [
    "FUEL_STOP",
    "GLYCOL",
    "SOURCES",
    "WATER_STOP",
    "Advice",
    "Known",
    "Marks",
    "RunIn",
    "SampleFacts",
    "Since",
    "advice",
    "causes_now",
    "causes_of",
    "causes_of_case",
    "combinations",
    "confirmed",
    "done_at",
    "done_in",
    "evidence_of",
    "explanations",
    "hard_stops",
    "marks",
    "of_bottle",
    "of_expectation",
    "of_fact",
    "of_readings",
    "remarks",
    "run_in",
    "run_in_course",
    "since_known",
    "thickness",
    "work_before",
    "worth_explaining",
]
