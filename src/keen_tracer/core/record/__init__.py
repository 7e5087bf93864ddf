"""What is on record of an engine: its facts, its log in order, what was seen, and where each sample
stands."""

from .debris import FLAKES, DebrisCount, DebrisLook, debris_evidence, debris_types
from .event_details import check_event, detail_number
from .field_checks import check_result, field_cautions, field_checks
from .model import (
    DEFAULT_CARRY_OVER,
    Coolant,
    Engine,
    Fleet,
    Floats,
    History,
    LogRow,
    Sample,
    nominal_drain,
    oil_words,
)
from .sample_context import SampleContext, all_contexts, padded, sample_contexts
from .seen_and_heard import Word, evidence_of_look, evidence_of_row, meanings, telling, telling_look
from .timeline import Charge, Moment, TimeLine, build_time_line

__all__ = [
    "DEFAULT_CARRY_OVER",
    "FLAKES",
    "Charge",
    "Coolant",
    "DebrisCount",
    "DebrisLook",
    "Engine",
    "Fleet",
    "Floats",
    "History",
    "LogRow",
    "Moment",
    "Sample",
    "SampleContext",
    "TimeLine",
    "Word",
    "all_contexts",
    "build_time_line",
    "check_event",
    "check_result",
    "debris_evidence",
    "debris_types",
    "detail_number",
    "evidence_of_look",
    "evidence_of_row",
    "field_cautions",
    "field_checks",
    "meanings",
    "nominal_drain",
    "oil_words",
    "padded",
    "sample_contexts",
    "telling",
    "telling_look",
]
