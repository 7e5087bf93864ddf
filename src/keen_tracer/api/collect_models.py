"""What goes over the wire for Collect."""

from datetime import time
from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field

from ..core.terms import Confirmed, DrawPurpose, MaybeMethod
from ..usecases.answers.standing import QueryOut, StateOut
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

# A figure as it was typed, by its field. No semicolon: it separates them in the open files.
AsTyped = Annotated[str, Field(max_length=40, pattern=r"^[^;]*$")]
Typed = Annotated[
    dict[Annotated[str, Field(pattern=r"^[a-z_]{1,30}$")], AsTyped], Field(max_length=12)
]


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
    typed: Typed | None = None


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
    typed: Typed | None = None


class TriedCheck(BaseModel):
    """A check as it would be written down, to hear what it would say."""

    check: Word
    details: dict[Word, Said] = Field(default={}, max_length=40)


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


class Recorded(BaseModel):
    """What was recorded, what does not fit about it, and where the engine stands now."""

    id: UUID
    sample: str | None
    queries: list[QueryOut] = []
    state: StateOut | None = None
