"""Answers of Collect."""

from datetime import date

from typing_extensions import TypedDict

from ...core.planning import ChecklistStep
from ...core.terms import DrawPurpose, MaybeMethod
from .levels import LevelNumber
from .standing import StateOut
from .wall import Due


class Expected(TypedDict):
    """What a dial should read, with its 80 % range."""

    expected: float | None
    low: float | None
    high: float | None


class Stop(Expected):
    """One engine of a round. Meter figures are on the dial that is fitted now."""

    code: str
    name: str
    depot: str | None
    unit: str
    level: LevelNumber | None
    signed: bool
    state: StateOut
    next: str
    purpose: DrawPurpose
    resample_of: str
    due: Due | None
    why: str
    dial: float | None
    charge_start: float | None
    offset: float
    last_sample_dial: float | None
    oil: str
    sump_l: float | None
    method: MaybeMethod
    tube_mm: float | None
    steps: list[ChecklistStep]


class StopFull(Stop):
    """A stop with what the kit is made up from."""

    dipstick_to_low_mm: float | None


class StopAlone(Stop):
    """A stop by itself; `on` is the day it is at the engine's depot."""

    next_label: int
    on: date


class NewOilBatch(TypedDict):
    """A batch in use without figures of its fresh oil."""

    oil: str
    grade: str
    batch: str
    first_used: date
    fills: int


class DepotOut(TypedDict):
    code: str
    name: str


class Round(TypedDict):
    on: date
    depot: str | None
    depots: list[DepotOut]
    capacity: int
    stops: list[Stop]
    waiting: list[str]
    kit: str
    next_label: int
    new_oil: list[NewOilBatch]


class CheckSays(TypedDict):
    """What it would say: its result, its level, and which limit the figures were held against."""

    words: str
    level: LevelNumber
    meaning: str
    figures: str
    limit_from: str


class OutcomeOut(TypedDict):
    on: date
    sample: str | None
    words: str
    right: str
    hours_down: float | None
    cost: float | None
    saved: float | None
    note: str
    piece: str
    by: str
