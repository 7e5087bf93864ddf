"""What goes over the wire for Collect."""

from datetime import date, time
from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field

from ..core.planning import ChecklistStep
from ..core.terms import Confirmed, DrawPurpose, MaybeMethod
from .models import Due, LevelNumber, QueryOut, StateOut

BottleCode = Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[^\x00-\x1f/\\?#]+$")]


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
    sample: BottleCode
    engine: str = Field(max_length=60)
    on: date
    at: time | None = None
    dial: float = Field(ge=0, lt=1e9, allow_inf_nan=False)
    purpose: DrawPurpose = "routine"
    method: MaybeMethod = ""
    top_up_l: float | None = Field(default=None, ge=0, lt=1e4, allow_inf_nan=False)
    oil_changed_after: bool | None = None
    appearance: str = Field(default="", max_length=40)
    smell: str = Field(default="", max_length=40)
    level_on_stick: float | None = Field(default=None, ge=-2, le=3, allow_inf_nan=False)
    note: str = Field(default="", max_length=2000)
    resample_of: str = Field(default="", max_length=60)


Litres = Field(default=None, ge=0, lt=1e5, allow_inf_nan=False)
Dial = Field(default=None, ge=0, lt=1e9, allow_inf_nan=False)


class NewEvent(BaseModel):
    """Something logged at the engine; `id` is made by the client."""

    id: UUID
    on: date
    kind: str = Field(max_length=40)
    at: time | None = None
    dial: float | None = Dial
    dial_new: float | None = Dial
    litres_in: float | None = Litres
    litres_drained: float | None = Litres
    oil: str = Field(default="", max_length=60)
    grade: str = Field(default="", max_length=20)
    batch: str = Field(default="", max_length=40)
    part: str = Field(default="", max_length=60)
    note: str = Field(default="", max_length=2000)
    details: dict[
        Annotated[str, Field(pattern=r"^[a-z_]{1,30}$")], Annotated[str, Field(max_length=200)]
    ] = Field(default={}, max_length=16)


class NewCount(BaseModel):
    type: str = Field(max_length=40)
    size_class: str = Field(default="", max_length=20)
    count: int = Field(ge=0, lt=1_000_000)


class NewLook(BaseModel):
    """A look at filter, plug, pan, strainer or cooler; nothing counted means nothing was there."""

    id: UUID
    on: date
    dial: float | None = Dial
    place: str = Field(max_length=20)
    tool: str = Field(default="", max_length=20)
    share: float = Field(default=1.0, gt=0, le=1, allow_inf_nan=False)
    counts: list[NewCount] = Field(default=[], max_length=60)
    note: str = Field(default="", max_length=2000)


class TriedCheck(BaseModel):
    """A check as it would be written down, to hear what it would say."""

    check: str = Field(max_length=40)
    details: dict[str, Annotated[str, Field(max_length=200)]] = Field(default={}, max_length=16)


class CheckSays(BaseModel):
    """What it would say: its result, its level, and which limit the figures were held against."""

    words: str
    level: LevelNumber
    meaning: str
    figures: str
    limit_from: str


Amount = Field(default=None, ge=0, lt=1e12, allow_inf_nan=False)


class NewOutcome(BaseModel):
    """What an inspection found; `id` is made by the client."""

    id: UUID
    on: date
    found: str = Field(max_length=40)
    confirmed: Confirmed
    sample: str = Field(default="", max_length=60)
    hours_down: float | None = Amount
    cost: float | None = Amount
    saved: float | None = Amount
    note: str = Field(default="", max_length=2000)
    piece: str = Field(default="", max_length=200)


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
