"""What goes over the wire of the plan."""

from typing import Annotated
from uuid import UUID

from fastapi import Query
from pydantic import BaseModel, Field

from ..core.bounds import DAY_OF_YEAR
from ..usecases.fields import HoursDown, Word
from ..usecases.pages.plan import WEEKS
from ..usecases.recording.planning import Move

Weeks = Annotated[int, Query(ge=1, le=WEEKS)]


class NewMoves(BaseModel):
    """Moves taken over together: all or none."""

    moves: Annotated[list[Move], Field(min_length=1, max_length=5000)]


class NewHours(BaseModel):
    """Hours of a depot from a day of the year on, Monday first; none takes the season back."""

    depot: Word
    starts: Annotated[str, Field(pattern=f"^{DAY_OF_YEAR}$")]
    hours: Annotated[list[HoursDown], Field(max_length=7)]


class NewFeed(BaseModel):
    """A calendar for a depot, for a person's work, or for all."""

    id: UUID
    depot: Word = ""
    person: Word = ""


class FeedMade(BaseModel):
    """Its secret path, shown once."""

    path: str
