"""Answers of the record: queries, corrections, the fleet."""

from datetime import date, datetime
from uuid import UUID

from typing_extensions import TypedDict

from ...core.planning import ChargeBalance
from ...core.terms import MaybeMethod, PlanKind
from .standing import QueryOut


class AnswerOut(TypedDict):
    key: str
    said: str
    words: str
    reason: str
    by: str
    at: datetime


class LogRowOut(TypedDict):
    id: UUID
    kind: str
    on_date: date
    dial: float | None
    recorded_by: str
    corrected: bool
    sample: str | None
    purpose: str | None
    method: str | None
    oil_change_dial: float | None
    hours_on_oil: float | None
    oil_changed_after: bool | None
    top_up_l: float | None
    appearance: str | None
    smell: str | None
    level_on_stick: float | None
    dial_new: float | None
    litres_in: float | None
    litres_drained: float | None
    oil: str
    grade: str
    batch: str
    part: str
    note: str
    step: str
    figures: bool
    words: str


class CorrectionOut(TypedDict):
    kind: str
    sample: str | None
    on: date
    words: str
    reason: str
    by: str
    at: datetime


class TrendOut(TypedDict):
    p: float | None
    n: int
    word: str


class PhotoOut(TypedDict):
    sha256: str
    caption: str
    on_date: date
    kind: str
    part: str
    result: str
    sample: str | None


class Logbook(TypedDict):
    engine: str
    unit: str
    sump_l: float | None
    stick: str
    rows: list[LogRowOut]
    corrections: list[CorrectionOut]
    queries: list[QueryOut]
    answers: list[AnswerOut]
    balance: list[ChargeBalance]
    oil_use: TrendOut | None
    photos: list[PhotoOut]


class FieldOut(TypedDict):
    name: str
    required: bool
    choices: list[str] | None


class EntryOut(TypedDict):
    code: str
    version: int
    cells: dict[str, str]


class Entries(TypedDict):
    place: str
    key: str
    fields: list[FieldOut]
    entries: list[EntryOut]


class RecordChange(TypedDict):
    field: str
    old: str
    new: str
    by: str
    at: datetime


class OilOut(TypedDict):
    oil: str
    grade: str
    batch: str
    reference_on: date | None
    readings: int
    fills: int


class IntervalOut(TypedDict):
    """The longest interval that leaves three samples before a failure, and what it rests on."""

    most: float
    takes: float
    drains: float
    drain: float


class AskedTest(TypedDict):
    words: str
    why: str


class PlanRow(TypedDict):
    """One rule of when to sample an engine."""

    kind: PlanKind
    every: float | None
    method: MaybeMethod
    said: str


class SamplingAdvice(TypedDict):
    """How often at least, and what to ask the laboratory for this month."""

    interval: IntervalOut
    slate: list[AskedTest]


class PlansOut(SamplingAdvice):
    """Plans with advice."""

    plans: list[PlanRow]


class Tightened(TypedDict):
    """Share of the interval while an engine is at Watch, and while it is at Act or Stop."""

    watch: float
    act: float
    origin: str
