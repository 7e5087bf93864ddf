"""What goes over the wire of Inspect."""

from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field

from ..core.terms import WorkKind, WorkState
from .fields import (
    Count,
    Day,
    HoursDown,
    KnownMm,
    KnownSdMm,
    Mass,
    Meter,
    Minutes,
    Money,
    Point,
    Said,
    Surface,
    Text,
    Word,
)


class NewCount(BaseModel):
    """What was found of one type and size; `amount` where nobody could count."""

    type: Word
    size_class: Word = ""
    count: Count = 0
    amount: Literal["", "dusting", "covers"] = ""
    mass_mg: Mass | None = None


class NewLook(BaseModel):
    """A look at filter, plug, pan, strainer or cooler; nothing counted means nothing was there.
    `seen` of `whole` pleats or cm², as the place has them."""

    id: UUID
    on: Day
    dial: Meter | None = None
    place: Word
    tool: Word = ""
    seen: Surface | None = None
    whole: Surface | None = None
    both_sides: bool = True
    drained_min: Minutes | None = None
    hours: Meter | None = None
    counts: list[NewCount] = Field(default=[], max_length=80)
    note: Text = ""


class NewLine(BaseModel):
    """A line drawn on a picture. `withdraws` takes an earlier one back."""

    id: UUID
    kind: Literal["scale", "particle", "withdraw"]
    type: Word = ""
    x1: Point | None = None
    y1: Point | None = None
    x2: Point | None = None
    y2: Point | None = None
    known_mm: KnownMm | None = None
    known_sd_mm: KnownSdMm | None = None
    known_from: Word = ""
    withdraws: UUID | None = None


class NewWork(BaseModel):
    """A piece of work as it is decided. `replaces`: the row seen standing, None for a new one."""

    id: UUID
    kind: WorkKind
    words: Annotated[Text, Field(min_length=1)]
    state: WorkState
    who: Word = ""
    due: Day | None = None
    hours: HoursDown | None = None
    estimate: Money | None = None
    cost: Money | None = None
    replaces: UUID | None = None
    finding: UUID | None = None
    case: UUID | None = None


class NewLink(BaseModel):
    """A link kept or drawn (`keep`), or cut; kept one way it is cut the other way round."""

    id: UUID
    cause: UUID
    effect: UUID
    keep: bool


class TriedFinding(BaseModel):
    """Readings as they would be written down."""

    part: Word
    details: dict[Word, Said] = Field(default={}, max_length=40)
