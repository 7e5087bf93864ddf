"""Answers of bottles."""

from datetime import date, datetime
from uuid import UUID

from typing_extensions import TypedDict

from .collect import NewOilBatch


class BottleOut(TypedDict):
    """A bottle under way. `late_days` is over what its laboratory usually takes."""

    sample: str
    engine: str | None
    depot: str | None
    log: UUID | None
    oil: str | None
    drawn_on: date
    purpose: str
    resample_of: str
    state: str
    laboratory: str | None
    age_days: int
    late_days: int


class Unmatched(TypedDict):
    """Figures under a label nobody registered."""

    sample: str
    laboratory: str
    report: str
    analysed_on: date | None
    received_on: date
    readings: int


class Partial(TypedDict):
    """A report without what its laboratory nearly always reports."""

    sample: str
    engine: str
    laboratory: str
    drawn_on: date
    received_on: date
    missing: list[str]


class Parked(TypedDict):
    """A bottle of an engine that is not on record."""

    id: UUID
    sample: str
    engine_said: str
    on_date: date
    dial: float | None
    recorded_by: str


class OrderOut(TypedDict):
    """Bottles at the simulated laboratory."""

    id: UUID
    samples: list[str]
    mischief: str
    due_at: datetime
    made_by: str
    returned_at: datetime | None


class UnderWay(TypedDict):
    today: date
    out: list[BottleOut]
    unmatched: list[Unmatched]
    partial: list[Partial]
    parked: list[Parked]
    new_oil: list[NewOilBatch]
    laboratories: list[str]


class Inbox(UnderWay):
    """The inbox with what the simulated laboratory holds."""

    orders: list[OrderOut]
    simulated: str


class SheetAnalyte(TypedDict):
    column: str
    symbol: str
    name: str
    unit: str
    usual: bool


class Sheet(TypedDict):
    """An empty sheet for figures from paper."""

    sample: str
    engine: str | None
    drawn_on: date | None
    laboratory: str
    laboratories: list[str]
    analytes: list[SheetAnalyte]


class LabelRun(TypedDict):
    id: int
    first: int
    last: int
