"""What goes over the wire for Collect."""

from datetime import date, time
from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field

from ..core.planning import ChecklistStep
from ..core.terms import Confirmed, DrawPurpose, MaybeMethod
from .fields import (
    Code,
    Day,
    HoursDown,
    Litres,
    Meter,
    Money,
    Said,
    StickLevel,
    Text,
    Word,
)
from .models import Due, LevelNumber, QueryOut, StateOut


class Stop(BaseModel):
    """One engine of a round. Meter figures are on the dial that is fitted now."""

    code: str
    name: str
    depot: str | None
    unit: str
    level: LevelNumber | None
    signed: bool
    state: StateOut
    next: str
    purpose: DrawPurpose
    resample_of: str
    due: Due | None
    why: str
    dial: float | None
    expected: float | None
    low: float | None
    high: float | None
    charge_start: float | None
    offset: float
    last_sample_dial: float | None
    oil: str
    method: str
    tube_mm: float | None
    steps: list[ChecklistStep]


class StopAlone(Stop):
    """A stop by itself; `on` is the day it is at the engine's depot."""

    next_label: int
    on: date


class NewOilBatch(BaseModel):
    """A batch in use whose fresh figures nobody knows."""

    oil: str
    grade: str
    batch: str
    first_used: date
    fills: int


class DepotOut(BaseModel):
    code: str
    name: str


class Round(BaseModel):
    on: date
    depot: str | None
    depots: list[DepotOut]
    capacity: int
    stops: list[Stop]
    waiting: list[str]
    kit: str
    next_label: int
    new_oil: list[NewOilBatch]


class NewBottle(BaseModel):
    """A drawn bottle; `id` is made by the client, so that sending it twice registers it once."""

    id: UUID
    sample: Code
    engine: Word
    on: Day
    at: time | None = None
    dial: Meter
    purpose: DrawPurpose = "routine"
    method: MaybeMethod = ""
    top_up_l: Litres | None = None
    oil_changed_after: bool | None = None
    appearance: Word = ""
    smell: Word = ""
    level_on_stick: StickLevel | None = None
    note: Text = ""
    resample_of: Word = ""


class NewEvent(BaseModel):
    """Something logged at the engine; `id` is made by the client."""

    id: UUID
    on: Day
    kind: Word
    at: time | None = None
    dial: Meter | None = None
    dial_new: Meter | None = None
    litres_in: Litres | None = None
    litres_drained: Litres | None = None
    oil: Word = ""
    grade: Word = ""
    batch: Word = ""
    part: Word = ""
    note: Text = ""
    details: dict[Annotated[str, Field(pattern=r"^[a-z_]{1,30}$")], Said] = Field(
        default={}, max_length=40
    )


class TriedCheck(BaseModel):
    """A check as it would be written down, to hear what it would say."""

    check: Word
    details: dict[Word, Said] = Field(default={}, max_length=40)


class CheckSays(BaseModel):
    """What it would say: its result, its level, and which limit the figures were held against."""

    words: str
    level: LevelNumber
    meaning: str
    figures: str
    limit_from: str


class NewOutcome(BaseModel):
    """What an inspection found; `id` is made by the client."""

    id: UUID
    on: Day
    found: Word
    confirmed: Confirmed
    sample: Word = ""
    hours_down: HoursDown | None = None
    cost: Money | None = None
    saved: Money | None = None
    note: Text = ""
    piece: Said = ""


class OutcomeOut(BaseModel):
    on: date
    sample: str | None
    words: str
    right: str
    hours_down: float | None
    cost: float | None
    saved: float | None
    note: str
    piece: str
    by: str


class Recorded(BaseModel):
    """What was recorded, what does not fit about it, and where the engine stands now."""

    id: UUID
    sample: str | None
    queries: list[QueryOut] = []
    state: StateOut | None = None
