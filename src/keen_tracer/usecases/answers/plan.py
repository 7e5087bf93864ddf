"""Answers of the plan."""

from dataclasses import dataclass
from datetime import date
from typing import Literal
from uuid import UUID

from typing_extensions import TypedDict

Quick = Literal["", "oil", "bottle", "result", "nothing", "work"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Listed:
    """A task with its day and its place in the plan. `form`: the page where it is marked as done;
    `late`: days past its latest; `quick`: how it is marked as done in two taps, "" where it needs
    its form; `ends`: the day on which work ends that is longer than any day; `after`: the keys of
    what has to be done before it; `move`: the move in force, None where nobody moved it; `work`:
    the row of a piece of work that *done* replaces."""

    key: str
    kind: str
    code: str
    short: str
    what: str
    form: str
    tools: str
    caution: str
    day: date
    earliest: date
    latest: date
    at_dial: float | None
    hours: float
    level: int
    late: int
    at_rest: bool
    movable: bool
    who: str = ""
    move: UUID | None = None
    moved_by: str = ""
    reason: str = ""
    work: UUID | None = None
    case: UUID | None = None
    quick: Quick = ""
    ends: date | None = None
    after: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class PlanLine:
    """An engine with its tasks in the window, the late ones first. `risk`: what it is expected to
    cost to leave it alone, None where nobody said what a failure costs."""

    code: str
    name: str
    depot: str
    unit: str
    level: int | None
    may_run: str
    failure_cost: float | None
    risk: float | None
    tasks: list[Listed]


@dataclass(frozen=True, slots=True)
class DayHours:
    """A day: hours there are, and hours the tasks on it take."""

    on: date
    hours: float
    used: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Proposed:
    """One task of a proposal: from its present day to another, or out of the weeks (None).
    `risks`: what leaving it out means."""

    engine: str
    key: str
    what: str
    was: date
    to: date | None
    move: str | None
    risks: str


class Season(TypedDict):
    """Hours of a depot from a day of the year ("11-15") on, Monday first."""

    depot: str
    starts: str
    hours: list[float]


class PlanOut(TypedDict):
    """The weeks ahead. `lines` are a window of the engines; the days count all of them."""

    today: date
    until: date
    depots: list[str]
    total: int
    late: int
    days: list[DayHours]
    lines: list[PlanLine]
    seasons: list[Season]


class ProposalOut(TypedDict):
    """What would lie where, and what does not fit. `gap`: how far from the best it may be, as a
    share; of the worst week where a depot was packed `by_week`."""

    moves: list[Proposed]
    out: list[Proposed]
    gap: float
    by_week: bool


class FeedOut(TypedDict):
    id: UUID
    depot: str
    person: str
    made_by: str
