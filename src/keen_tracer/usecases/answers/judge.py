"""Answers of one sample."""

from datetime import date
from typing import Any

from typing_extensions import TypedDict

from ...core.baseline import School
from ...core.comparison import DerivationStep
from .levels import LevelNumber
from .standing import ActionOut, CheckOut, QueryOut, SignedOff, StateOut


class SaidFinding(TypedDict):
    """One finding as a sentence, with what it rests on."""

    code: str
    channel: str
    level: LevelNumber
    analyte: str | None
    sentence: str
    chip: str
    origin: str


class VerdictAction(ActionOut):
    """An action of a verdict; `became` says when it was done or became pointless."""

    became: str


class VerdictOut(TypedDict):
    level: LevelNumber | None
    channels: dict[str, LevelNumber | None]
    summary: str
    said: list[SaidFinding]
    actions: list[VerdictAction]
    would_change: str
    policy: str
    rules: str
    limits: str
    peers: str | None
    basis: str


class ChangeOut(TypedDict):
    absolute: float
    words: str


class ExpectedOut(TypedDict):
    """What was expected of a reading, and the history that comes from."""

    value: float
    low: float
    high: float
    peers: int


class AverageOut(TypedDict):
    """A laboratory's average for the model; `side`: above, below, about or apart."""

    average: float
    laboratory: str
    words: str
    side: str
    origin: str


class LadderOut(TypedDict):
    column: str
    symbol: str
    name: str
    unit: str
    channel: str
    text: str
    value: float | None
    censor: int
    low: float | None
    high: float | None
    fresh: float | None
    fresh_from: str
    previous: float | None
    same_laboratory: bool
    comparable: bool
    change: ChangeOut | None
    rate_per_100: float | None
    rate_withheld: str | None
    watch: float | None
    act: float | None
    watch_low: float | None
    act_low: float | None
    limit: dict[str, Any] | None
    level: LevelNumber | None
    axis_end: float
    schools: list[School]
    expected: ExpectedOut | None
    average: AverageOut | None
    trace: list[float | None]


class Weighed(TypedDict):
    """A piece of evidence and what it adds to a failure mode's score."""

    words: str
    weight: float


class PartOut(TypedDict):
    """A failure mode on this sample's evidence. The score orders; it is no probability."""

    mode: str
    words: str
    channel: str
    score: float
    prior: float
    speaks_for: list[Weighed]
    against: list[Weighed]


class NextCheck(CheckOut):
    """A next best check; `helps`: how much its answer is expected to tell of which part it is."""

    helps: str


class PointedTo(TypedDict):
    """Which part a raised sample points to, and what to check next."""

    parts: list[PartOut]
    checks: list[NextCheck]


class SampleHead(TypedDict):
    """Which sample it is, of which engine, on which oil."""

    engine: str
    engine_name: str
    depot: str | None
    unit: str
    drawn_on: date
    dial: float | None
    hours_on_oil: float | None
    topped_l: float
    oil: str
    laboratory: str
    purpose: str
    appearance: str


class SampleOut(SampleHead, PointedTo):
    """One sample on the analyst's desk."""

    sample: str
    same_laboratory: bool
    ladders: list[LadderOut]
    verdict: VerdictOut | None
    decision: SignedOff | None
    basis_changed: str | None
    queries: list[QueryOut]
    state: StateOut


class How(TypedDict):
    analyte: str
    name: str
    steps: list[DerivationStep]
