"""What goes over the wire of cases."""

from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field

from ..core.terms import CaseEnd, CaseEntryKind
from .fields import Capacity, Day, HoursDown, Litres, MgKg, Money, Said, Text, Weight, Word


class NewCase(BaseModel):
    """A case as it is opened; without a name and a beginning, what the engine's state says."""

    id: UUID
    opened_from: Word
    name: Word = ""
    since: Day | None = None
    sample: Word = ""


class NewCaseEntry(BaseModel):
    """Something added to a case; what belongs to which kind is told by the answer where it is
    missing."""

    id: UUID
    kind: CaseEntryKind
    on: Day
    hypothesis: Word = ""
    said: Word = ""
    words: Text = ""
    weight: Weight | None = None
    amount: Money | None = None
    litres_new: Capacity | None = None
    litres_trapped: Litres | None = None
    measured: MgKg | None = None
    target: MgKg | None = None
    filter_changed: bool | None = None
    follows: UUID | None = None
    withdraws: UUID | None = None
    facts: Annotated[tuple[Word, ...], Field(max_length=20)] | None = None


class NewEnd(BaseModel):
    """How a case ended; `follows` is the closing or opening seen standing."""

    id: UUID
    end: CaseEnd
    on: Day
    found: Word
    follows: UUID | None = None
    hours_down: HoursDown | None = None
    cost: Money | None = None
    saved: Money | None = None
    note: Text = ""
    piece: Said = ""
    lesson: Said = ""
