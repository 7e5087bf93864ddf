"""Answers of one engine."""

from datetime import date

from typing_extensions import TypedDict

from .levels import LevelNumber
from .standing import Decision, KnownFaultOut, QueryOut, StateOut
from .wall import Due, Tooth


class TopUp(TypedDict):
    at: float
    litres: float


class ChargeOut(TypedDict):
    number: int
    oil: str
    litres: float | None
    start: float | None
    end: float | None
    start_on: date | None
    end_on: date | None
    top_ups: list[TopUp]


class LanePoint(TypedDict):
    """One reading on an engine's lane; `total` is the true meter."""

    sample: str
    on: date
    total: float | None
    value: float | None
    text: str
    censor: int
    rate: float | None
    start: float | None
    watch: float | None
    act: float | None
    watch_low: float | None
    act_low: float | None
    watch_rate: float | None
    act_rate: float | None
    # 95 % from low to high: expected of this engine, and of its sisters at the same hours
    expected: list[float] | None
    expected_rate: list[float] | None
    sisters: list[float] | None
    sisters_rate: list[float] | None
    level: LevelNumber | None


class Lane(TypedDict):
    column: str
    symbol: str
    name: str
    unit: str
    channel: str
    points: list[LanePoint]


class EngineSample(TypedDict):
    sample: str
    on: date
    total: float | None
    dial: float | None
    charge: int
    hours: float | None  # on the oil, in meter units
    level: LevelNumber | None
    signed: bool
    arrived: bool


class EngineEvent(TypedDict):
    on: date
    total: float | None
    dial: float | None
    kind: str
    words: str


class OutlookOut(TypedDict):
    """Where one analyte of an engine is heading, in words."""

    column: str
    symbol: str
    name: str
    points: int
    word: str
    level: LevelNumber
    crossing: str
    drain: str
    across: str
    telling: bool


class ControlOut(TypedDict):
    """An element's distance from expectation in sd, with its EWMA and upper CUSUM; drawn, never an
    alarm."""

    symbol: str
    name: str
    z: list[float]
    ewma: list[float]
    band: float
    cusum: list[float]
    height: float
    samples: list[str]


class OilLifeOut(TypedDict):
    """When to drain and why; `at` on the dial that is fitted now."""

    drain: str
    at: float
    words: str
    ageing: list[str]


class Ahead(TypedDict):
    """Where an engine and its oil are heading."""

    lanes: list[Lane]
    outlook: list[OutlookOut]
    oil_life: OilLifeOut | None
    control: list[ControlOut]


class EngineFacts(TypedDict):
    """What the register holds of an engine."""

    code: str
    name: str
    depot: str | None
    model: str
    engine_class: str
    oil: str
    oil_total_l: float | None
    sump_l: float | None
    allowed_grades: list[str]
    bearing_type: str
    layout: str
    serial_number: str
    nominal_drain_days: int | None


class NextUp(TypedDict):
    """The first task of a group (sample, oil change, look, work, decision), on its day in the plan;
    `late`: days past its latest."""

    group: str
    words: str
    on: date
    late: int
    at_dial: float | None


class Waits(TypedDict):
    """A task, and the tasks at the same engine that come before it."""

    words: str
    until: list[str]


class EngineOut(EngineFacts, Ahead):
    unit: str
    grade_low: float | None
    grade_high: float | None
    materials: str
    nominal_drain: float
    rules: list[str]
    known_faults: list[KnownFaultOut]
    today: date
    now_total: float | None
    dial: float | None
    state: StateOut
    comb: list[Tooth]
    due: Due | None
    next_up: list[NextUp]
    waits: list[Waits]
    samples: list[EngineSample]
    charges: list[ChargeOut]
    events: list[EngineEvent]
    queries: list[QueryOut]
    trail: list[Decision]
