"""What goes over the wire for putting records right: corrections, queries, the fleet record,
plans."""

from datetime import time
from typing import Any
from uuid import UUID

from pydantic import BaseModel, Field

from ..core.terms import Answer, DrawPurpose, MaybeMethod, PlanKind
from ..usecases.fields import Code, Day, Every, Litres, Meter, Said, Text, Word
from ..usecases.recording.log_rows import NewEvent


class Changes(BaseModel):
    """What a row should say instead; only the fields that are given change."""

    on_date: Day | None = None
    at_time: time | None = None
    dial: Meter | None = None
    dial_new: Meter | None = None
    purpose: DrawPurpose | None = None
    method: MaybeMethod | None = None
    oil_change_dial: Meter | None = None
    hours_on_oil: Meter | None = None
    oil_changed_after: bool | None = None
    top_up_l: Litres | None = None
    litres_in: Litres | None = None
    litres_drained: Litres | None = None
    oil: Word | None = None
    grade: Word | None = None
    batch: Word | None = None
    part: Word | None = None
    note: Text | None = None


class NewCorrection(BaseModel):
    """A correction; `id` is made by the client. `engine` moves the record there."""

    id: UUID
    reason: Text = ""
    engine: Word | None = None
    changes: Changes = Changes()


class NewSwap(BaseModel):
    one: Code
    other: Code
    reason: Text = ""


class NewWithdrawal(BaseModel):
    reason: Text = ""


class NewAnswer(BaseModel):
    """What a person says to a query; with `corrected` comes the correction or the missing event."""

    id: UUID
    key: Text
    said: Answer
    reason: Text = ""
    log: UUID | None = None
    fix: NewCorrection | None = None
    event: NewEvent | None = None


class Done(BaseModel):
    done: bool = True


class NewEntry(BaseModel):
    """An entry of the fleet record as cells; `version` is the one it was read at, none for a new
    entry."""

    cells: dict[Word, Text] = Field(max_length=60)
    version: int | None = None


class NewFeature(BaseModel):
    """Something about an engine that anybody at it can see."""

    feature: Word


class Saved(BaseModel):
    changed: list[str]


class NewOil(BaseModel):
    oil: Code
    grade: Word = ""
    batch: Word = ""
    reference_on: Word = ""
    cells: dict[Word, Word] = Field(default={}, max_length=80)


class Amended(BaseModel):
    """Whether the figures wait, because other ones are on record under the same name."""

    waits: bool


class PlanBody(BaseModel):
    kind: PlanKind
    every: Every | None = None
    method: MaybeMethod = ""
    said: Word = ""


class PlansBody(BaseModel):
    """All rules of an engine; `seen`: those that stood on the page when they were changed."""

    plans: list[PlanBody] = Field(max_length=12)
    seen: list[PlanBody] | None = Field(default=None, max_length=12)


class TightenedBody(BaseModel):
    """Share of the interval while an engine is at Watch, and while it is at Act or Stop."""

    watch: float = Field(gt=0, le=1, allow_inf_nan=False)
    act: float = Field(gt=0, le=1, allow_inf_nan=False)
    origin: Said = ""


def given(changes: Changes) -> dict[str, Any]:
    """The fields of a correction that were sent."""
    return changes.model_dump(exclude_unset=True)
