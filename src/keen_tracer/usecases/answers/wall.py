"""Answers of Wall, Run and the queue."""

from datetime import date
from typing import Literal

from typing_extensions import TypedDict

from ...core.terms import PlanKind
from .levels import LevelNumber
from .standing import OpenCase, StateOut


class Tooth(TypedDict):
    channel: str
    state: Literal["judged", "stale", "not_measured"]
    level: LevelNumber | None
    sample: str | None


class Mark(TypedDict):
    """One mark on an engine's trace."""

    kind: Literal["sample", "bottle", "oil", "work", "symptom", "stored", "out"]
    on: date
    dial: float | None
    sample: str | None
    level: LevelNumber | None
    signed: bool
    what: str
    part: str


class Due(TypedDict):
    """The next sample with its 80 % range; `share` is how much of the interval has gone by."""

    on: date
    earliest: date
    latest: date
    by: PlanKind
    overdue: int
    share: float | None
    method: str
    words: str


class WallRow(TypedDict):
    code: str
    name: str
    depot: str | None
    unit: str
    group: str
    level: LevelNumber | None
    signed: bool
    comb: list[Tooth]
    trace: list[Mark]
    due: Due | None
    dial: float | None
    state: StateOut
    next: str
    stored: bool
    failure_cost: float | None
    risk: float | None
    cases: list[OpenCase]


class WallLine(WallRow):
    """A row with what other places take from it and the Wall does not show."""

    dial_on: str | None
    next_code: str
    sample_code: str
    sample: str | None
    open_stop: bool


class WallGroup(TypedDict):
    key: str
    label: str
    count: int
    start: int


class GraverLine(TypedDict):
    """An engine with a graver state since the rules of judging changed: the state before,
    and the state now."""

    code: str
    name: str
    level: LevelNumber | None
    was: str
    now: str


class Wall(TypedDict):
    """A window of the Wall; `graver`: what nobody has seen yet since the rules changed."""

    today: date
    since: date
    until: date
    total: int
    depots: list[str]
    groups: list[WallGroup]
    offset: int
    graver: list[GraverLine]
    rows: list[WallRow]


class QueueRow(TypedDict):
    """A sample that waits for a person; one with open queries is not signed in the quiet pass.
    `look_first`: why the pass does not tick it by itself, empty where it does."""

    sample: str
    queried: bool
    engine: str
    name: str
    depot: str | None
    on: date
    age_days: int
    level: LevelNumber | None
    was_signed: LevelNumber | None
    basis: str
    standing: str | None
    not_measured: list[str]
    look_first: str


class ToClose(TypedDict):
    """A part of an opened engine that was not sound: a closing says whether it was renewed."""

    finding: str
    words: str
    renewed: bool


class RunRow(TypedDict):
    """`closing`: the parts that a release of an opened engine has to name."""

    code: str
    name: str
    depot: str | None
    unit: str
    dial: float | None
    state: StateOut
    decision: str | None
    level: LevelNumber | None
    sample: str | None
    cases: list[OpenCase]
    clears: str
    closing: list[ToClose]


class Runs(TypedDict):
    """A window of the engines, worst first."""

    total: int
    rows: list[RunRow]
