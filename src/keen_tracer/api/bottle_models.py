"""What goes over the wire for a bottle's way after the draw."""

from datetime import date, datetime
from typing import Literal
from uuid import UUID

from pydantic import BaseModel, Field

from ..core.terms import BottleStep
from .collect_models import NewOilBatch
from .fields import Code, Day, Text, Word


class BottleOut(BaseModel):
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


class Unmatched(BaseModel):
    """Figures under a label nobody registered."""

    sample: str
    laboratory: str
    report: str
    analysed_on: date | None
    received_on: date
    readings: int


class Partial(BaseModel):
    """A report without what its laboratory nearly always reports."""

    sample: str
    engine: str
    laboratory: str
    drawn_on: date
    received_on: date
    missing: list[str]


class Parked(BaseModel):
    """A bottle of an engine that is not on record."""

    id: UUID
    sample: str
    engine_said: str
    on_date: date
    dial: float | None
    recorded_by: str


class OrderOut(BaseModel):
    """Bottles at the simulated laboratory."""

    id: UUID
    samples: list[str]
    mischief: str
    due_at: datetime
    made_by: str
    returned_at: datetime | None


class Inbox(BaseModel):
    today: date
    out: list[BottleOut]
    unmatched: list[Unmatched]
    partial: list[Partial]
    parked: list[Parked]
    new_oil: list[NewOilBatch]
    laboratories: list[str]
    orders: list[OrderOut]
    simulated: str


class StepOf(BaseModel):
    id: UUID
    sample: Code


class NewSteps(BaseModel):
    """The same step of some bottles; each id is made by the client."""

    bottles: list[StepOf] = Field(min_length=1, max_length=500)
    step: BottleStep
    on: Day
    laboratory: Word = ""
    note: Text = ""


class Settle(BaseModel):
    engine: Word


class Match(BaseModel):
    to: Code
    reason: Text = ""


class NewReference(BaseModel):
    """A bottle of fresh oil."""

    id: UUID
    sample: Code
    oil: Code
    grade: Word = ""
    batch: Word = ""
    on: Day


class SheetAnalyte(BaseModel):
    column: str
    symbol: str
    name: str
    unit: str
    usual: bool


class Sheet(BaseModel):
    """An empty sheet for figures from paper."""

    sample: str
    engine: str | None
    drawn_on: date | None
    laboratory: str
    laboratories: list[str]
    analytes: list[SheetAnalyte]


class NewFigures(BaseModel):
    """Figures from paper: analyte column → cell, as it stands on the paper."""

    laboratory: Word = ""
    report: Word = ""
    analysed_on: Day | None = None
    cells: dict[Word, Word] = Field(max_length=80)


class NewOrder(BaseModel):
    """Bottles for the simulated laboratory, which answers after `delay_s` seconds."""

    id: UUID
    samples: list[Code] = Field(min_length=1, max_length=200)
    delay_s: int = Field(ge=0, le=30 * 86_400)
    mischief: Literal["none", "now_and_then", "swap", "late", "amended"] = "now_and_then"
    on: Day


class NewLabels(BaseModel):
    engines: list[Word] = Field(default=[], max_length=500)
    spare: int = Field(default=0, ge=0, le=500)


class LabelRun(BaseModel):
    id: int
    first: int
    last: int


class Photo(BaseModel):
    sha256: str
