"""What is on record of an engine: its facts, its log in order, what was seen, and where each sample
stands."""

from .checks import CheckKind, check_kinds
from .debris import (
    DebrisCount,
    DebrisLook,
    debris_key,
    debris_tests,
    debris_types,
    look_places,
    on_the_whole,
    per_100,
    share_seen,
)
from .event_check import check_event
from .event_details import check_details, detail_number, detail_numbers
from .facts import WORK, Fact, facts_of
from .field_checks import check_result, checked, field_checks
from .meanings import Word, meanings
from .model import (
    DEFAULT_CARRY_OVER,
    Coolant,
    Engine,
    Fleet,
    Floats,
    History,
    LogRow,
    Sample,
    brand,
    nominal_drain,
    oil_words,
)
from .opened import (
    Condition,
    Layout,
    Part,
    condition_of,
    conditions,
    layout_of,
    many,
    parts,
    place_words,
)
from .sample_context import SampleContext, all_contexts, padded, sample_contexts
from .seen_and_heard import (
    evidence_of_look,
    evidence_of_row,
    steady_look,
    telling_look,
    tellings,
)
from .timeline import LONG_ENOUGH, Charge, Moment, TimeLine, build_time_line

__all__ = [
    "DEFAULT_CARRY_OVER",
    "LONG_ENOUGH",
    "WORK",
    "Charge",
    "CheckKind",
    "Condition",
    "Coolant",
    "DebrisCount",
    "DebrisLook",
    "Engine",
    "Fact",
    "Fleet",
    "Floats",
    "History",
    "Layout",
    "LogRow",
    "Moment",
    "Part",
    "Sample",
    "SampleContext",
    "TimeLine",
    "Word",
    "all_contexts",
    "brand",
    "build_time_line",
    "check_details",
    "check_event",
    "check_kinds",
    "check_result",
    "checked",
    "condition_of",
    "conditions",
    "debris_key",
    "debris_tests",
    "debris_types",
    "detail_number",
    "detail_numbers",
    "evidence_of_look",
    "evidence_of_row",
    "facts_of",
    "field_checks",
    "layout_of",
    "look_places",
    "many",
    "meanings",
    "nominal_drain",
    "oil_words",
    "on_the_whole",
    "padded",
    "parts",
    "per_100",
    "place_words",
    "sample_contexts",
    "share_seen",
    "steady_look",
    "telling_look",
    "tellings",
]
