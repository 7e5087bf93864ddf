"""Answers about the state of an engine."""

from datetime import date, datetime
from typing import Literal
from uuid import UUID

from typing_extensions import TypedDict

from ...core import terms
from .levels import LevelNumber

# Where a check is answered: a word or a figure at the engine, a look, a bottle, or nowhere here.
CheckForm = Literal["check", "look", "bottle", ""]


class RunState(TypedDict):
    """What a person allowed; it never follows from the figures."""

    state: terms.RunState
    until: float | None
    until_on: date | None
    by: str
    on: date
    reason: str
    found: str
    done: str


class ReasonOut(TypedDict):
    """One open reason; `key` is what a release lifts."""

    key: str
    level: LevelNumber
    channel: str
    words: str
    sample: str


class ActionOut(TypedDict):
    """What to do next: before which meter or day, with what, and the caution at that step."""

    code: str
    words: str
    ends: str
    tools: str
    caution: str
    at: str


class CheckOut(TypedDict):
    """What to find out next, what it does to the engine, and where it is answered; `lacks`: what an
    engine may be without, or have, that makes it impossible, asked with `lacks_words`."""

    code: str
    words: str
    hours: float
    tools: str
    caution: str
    at: str
    form: CheckForm
    lacks: str
    lacks_words: str


class StateOut(TypedDict):
    """The state of an engine today: two lines first (`what`, `what_next`), then the analyst's;
    `barred`: what may not be done to it, of "cranked", "running", "heat", "spark"."""

    level: LevelNumber | None
    may_run: terms.MayRun
    may_run_words: str
    what: str
    what_next: str
    reasons: list[ReasonOut]
    actions: list[ActionOut]
    checks: list[CheckOut]
    parts: list[str]
    barred: list[str]
    run: RunState | None


class KnownFaultOut(TypedDict):
    """A known fault of a model that may be this engine's, and why it may; `own`: it is one of a
    range that holds its serial number."""

    words: str
    why: str
    own: bool


class OpenCase(TypedDict):
    """A case of an engine that is not closed."""

    id: UUID
    name: str


class SignedOff(TypedDict):
    """The signature in force on a sample, or that it was taken back."""

    id: str
    kind: str
    proposed: LevelNumber | None
    level: LevelNumber | None
    reason: str
    note: str
    decided_by: str
    decided_at: datetime


class Decision(SignedOff):
    """A decision in an engine's trail, on a sample or on whether it may run."""

    sample: str | None
    run_state: str | None
    until_dial: float | None
    until_on: date | None
    found: str
    done: str
    imported_by: str


class QueryOut(TypedDict):
    """A record that does not fit, in words; `remedies` are the fields it can be put right by."""

    engine: str
    name: str
    depot: str | None
    unit: str
    key: str
    code: str
    sample: str
    log: UUID
    on_date: date | None
    words: str
    settles: str
    remedies: list[str]
    exchanged_with: str
