"""What is on record of an engine: its facts, its log in order, what was seen, and where each sample
stands."""

from .debris import DEBRIS_PLACES, DEBRIS_SIZES, FLAKES, DebrisCount, DebrisLook, debris_types
from .event_details import check_event, detail_number
from .field_checks import check_result, field_cautions, field_checks
from .model import (
    CLASSES,
    DEFAULT_CARRY_OVER,
    EVENT_KINDS,
    FEATURES,
    FUELS,
    METER_UNITS,
    PURPOSES,
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
from .sample_context import (
    SampleContext,
    all_contexts,
    padded,
    sample_contexts,
    telling,
    telling_look,
)
from .timeline import Charge, Moment, TimeLine, build_time_line

__all__ = [
    "CLASSES",
    "DEBRIS_PLACES",
    "DEBRIS_SIZES",
    "DEFAULT_CARRY_OVER",
    "EVENT_KINDS",
    "FEATURES",
    "FLAKES",
    "FUELS",
    "METER_UNITS",
    "PURPOSES",
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
    "all_contexts",
    "build_time_line",
    "check_event",
    "check_result",
    "debris_types",
    "detail_number",
    "field_cautions",
    "field_checks",
    "nominal_drain",
    "oil_words",
    "padded",
    "sample_contexts",
    "telling",
    "telling_look",
]
