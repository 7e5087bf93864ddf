"""What goes over the wire of Inspect."""

from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field

from ..core.terms import WorkKind, WorkState
from ..usecases.fields import (
    Day,
    HoursDown,
    Money,
    Said,
    Text,
    Word,
)


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
