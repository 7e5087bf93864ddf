"""Answers of a case."""

from dataclasses import dataclass
from datetime import date
from typing import Literal
from uuid import UUID

from typing_extensions import TypedDict

from ...core.cases import Drained, FlushWait
from ...core.diagnosis import RunIn
from ...core.terms import FollowedWord
from .inspect import AskedWork, WorkList
from .standing import CheckOut, KnownFaultOut, StateOut


class CaseLine(TypedDict):
    """A case in a list."""

    id: UUID
    engine: str
    engine_name: str
    name: str
    since: date
    opened_by: str
    closed: bool
    ended: str


class PieceOut(TypedDict):
    """A piece on the balance [log-odds]; `origin`: who said it, "" for the table; `key`: the entry
    that can be taken back."""

    words: str
    weight: float
    origin: str
    key: str | None


class AsideOut(TypedDict):
    key: str
    why: str
    by: str


class UnknownOut(TypedDict):
    """Evidence nobody looked for yet, the check that finds it, and what it would add [log-odds]."""

    words: str
    check: str
    found: float
    absent: float


class ExplanationOut(TypedDict):
    """A row of the balance, the heaviest pieces first; `shown` without unfolding."""

    code: str
    words: str
    score: float
    own: bool
    shown: bool
    speaks_for: list[PieceOut]
    against: list[PieceOut]
    aside: AsideOut | None
    unknown: UnknownOut | None


class CaseCheck(CheckOut):
    """A check with how far it would pull the first two explanations apart, in words."""

    pulls: str


class Before(TypedDict):
    """What was done to the engine shortly before the trouble; `work`: a repair."""

    on: date
    words: str
    ago: str
    work: bool


class WayOut(TypedDict):
    id: UUID
    words: str
    amount: float
    by: str


class StageOut(TypedDict):
    """A fill: what it should have left, and what was measured."""

    key: UUID
    computed: float
    measured: float | None


class FlushOut(TypedDict):
    """The progress of a flush; `wrong`: why it cannot be computed."""

    key: UUID
    wrong: str
    what: str
    start: float
    target: float
    planned_l: float
    trapped_l: float
    stages: list[StageOut]
    left: float
    more: int | None
    share: float
    litres: float
    litres_more: float
    filters: int
    word: Literal["", "leaks", "unclear", "done", "measure", "never", "dead_legs", "more"]


class StepDone(TypedDict):
    words: str
    answer: str


class StepResult(TypedDict):
    code: str
    words: str


class StepOut(TypedDict):
    code: str
    words: str
    how: str
    caution: str
    results: list[StepResult]


class IsolationOut(TypedDict):
    """How far the leak isolation came; `step` follows, None where none is left."""

    done: list[StepDone]
    step: StepOut | None


class DrawnOut(TypedDict):
    sample: str
    on: date
    after: float | None
    level: int | None


class FollowedOut(TypedDict):
    """How far the last repair was followed; `next_at`: meter units after it for the next sample."""

    on: date
    words: str
    drawn: list[DrawnOut]
    next_at: float | None
    word: FollowedWord
    said: str


class SimilarOut(TypedDict):
    """A case that was like this one, and what it was."""

    id: UUID
    engine: str
    name: str
    ended: str
    found: str


@dataclass(frozen=True, slots=True, kw_only=True)
class OnLine:
    """One thing on the line. `id` of a log row or an entry, None for a decision; `own`: an entry
    that can be taken back; `gone`: it was."""

    id: UUID | None
    on: date
    kind: str
    words: str
    by: str
    sample: str = ""
    pictures: int = 0
    own: bool = False
    gone: bool = False


class CaseHead(TypedDict):
    """Which case it is; `standing`: the closing or opening that holds."""

    id: UUID
    engine: str
    engine_name: str
    unit: str
    name: str
    since: date
    sample: str | None
    known_faults: list[KnownFaultOut]
    model: str | None
    opened_by: str
    opened_on: date
    opened_from: str
    today: date
    standing: UUID | None
    closed: bool
    ended: str


class CaseOut(CaseHead):
    """A case as people work on it. `found`: the failure mode at the root of the opened engine."""

    state: StateOut
    rows: list[ExplanationOut]
    checks: list[CaseCheck]
    before: list[Before]
    line: list[OnLine]
    work: WorkList
    asked: list[AskedWork]
    ways_out: list[WayOut]
    flush: FlushOut | None
    flush_waits: FlushWait
    looked_after_at: list[float]
    isolation: IsolationOut
    drained: Drained | None
    run_in: RunIn | None
    followed: FollowedOut | None
    similar: list[SimilarOut]
    found: str
