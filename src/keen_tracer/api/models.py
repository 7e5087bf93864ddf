"""What goes over the wire. The front end's types are made from these."""

from pydantic import BaseModel, Field

from ..core.terms import Role
from ..usecases.answers.levels import LevelNumber
from ..usecases.fields import Code, Text, Word


class NewPerson(BaseModel):
    name: Code
    role: Role


class NewRole(BaseModel):
    role: Role


class ChosenPerson(BaseModel):
    person: int


class Chosen(BaseModel):
    chosen: Word


class Seen(BaseModel):
    codes: list[Word] = Field(min_length=1, max_length=500)


class SignOff(BaseModel):
    level: LevelNumber
    basis: str = Field(max_length=64)
    supersedes: Word | None = None
    reason: Text = ""
    note: Text = ""


class Undo(BaseModel):
    decision: Word


class Done(BaseModel):
    done: bool = True
    decision: str | None = None
