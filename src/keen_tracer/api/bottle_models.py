"""What goes over the wire for a bottle's way after the draw."""

from typing import Literal
from uuid import UUID

from pydantic import BaseModel, Field

from ..core.terms import BottleStep
from ..usecases.fields import Code, Day, Text, Word


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


class NewFigures(BaseModel):
    """Figures from paper: analyte column → cell, as it is written on the paper."""

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


class Photo(BaseModel):
    sha256: str
