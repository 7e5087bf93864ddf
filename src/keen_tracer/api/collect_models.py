"""What goes over the wire for Collect."""

from uuid import UUID

from pydantic import BaseModel, Field

from ..usecases.answers.standing import QueryOut, StateOut
from ..usecases.fields import (
    Said,
    Word,
)


class TriedCheck(BaseModel):
    """A check as it would be written down, to hear what it would say."""

    check: Word
    details: dict[Word, Said] = Field(default={}, max_length=40)


class Recorded(BaseModel):
    """What was recorded, what does not fit about it, and the state of the engine now."""

    id: UUID
    sample: str | None
    queries: list[QueryOut] = []
    state: StateOut | None = None
