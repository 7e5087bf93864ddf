"""What goes over the wire of cases."""

from datetime import date
from typing import Literal
from uuid import UUID

from pydantic import BaseModel

from ..core.cases import Drained
from ..core.diagnosis import RunIn
from ..core.terms import CaseEnd, CaseEntryKind
from ..usecases.pages.case_line import OnLine
from .fields import Capacity, Day, HoursDown, Litres, MgKg, Money, Said, Text, Weight, Word
from .inspect_models import AskedWork, WorkList
from .models import CheckOut, StateOut


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


class CaseLine(BaseModel):
    """A case in a list."""

    id: UUID
    engine: str
    engine_name: str
    name: str
    since: date
    opened_by: str
    closed: bool
    ended: str


class PieceOut(BaseModel):
    """A piece on the balance [log-odds]; `origin`: who said it, "" for the table; `key`: the entry
    that can be taken back."""

    words: str
    weight: float
    origin: str
    key: str | None


class AsideOut(BaseModel):
    key: str
    why: str
    by: str


class ExplanationOut(BaseModel):
    """A row of the balance, the heaviest pieces first; `shown` without unfolding."""

    code: str
    words: str
    score: float
    own: bool
    shown: bool
    speaks_for: list[PieceOut]
    against: list[PieceOut]
    aside: AsideOut | None


class CaseCheck(CheckOut):
    """A check with how far it would pull the first two explanations apart, in words."""

    pulls: str


class Before(BaseModel):
    """What was done to the engine shortly before the trouble; `work`: a repair."""

    on: date
    words: str
    ago: str
    work: bool


class WayOut(BaseModel):
    id: UUID
    words: str
    amount: float
    by: str


class StageOut(BaseModel):
    """A fill: what it should have left, and what was measured."""

    key: UUID
    computed: float
    measured: float | None


class FlushOut(BaseModel):
    """Where a flush stands; `wrong`: why it cannot be computed."""

    key: UUID
    wrong: str
    what: str = ""
    start: float = 0
    target: float = 0
    planned_l: float = 0
    trapped_l: float = 0
    stages: list[StageOut]
    left: float = 0
    more: int | None = None
    share: float = 0
    litres: float = 0
    litres_more: float = 0
    filters: int = 0
    word: Literal["", "leaks", "done", "measure", "never", "dead_legs", "more"] = ""


class StepDone(BaseModel):
    words: str
    answer: str


class StepResult(BaseModel):
    code: str
    words: str


class StepOut(BaseModel):
    code: str
    words: str
    how: str
    caution: str
    results: list[StepResult]


class IsolationOut(BaseModel):
    """How far the leak isolation came; `step` follows, None where none is left."""

    done: list[StepDone]
    step: StepOut | None


class DrawnOut(BaseModel):
    sample: str
    on: date
    after: float | None
    level: int | None


class FollowedOut(BaseModel):
    """How far the last repair was followed; `next_at`: meter units after it for the next sample."""

    on: date
    words: str
    drawn: list[DrawnOut]
    next_at: float | None
    word: Literal["waiting", "not_steady", "steady"]


class SimilarOut(BaseModel):
    """A case that was like this one, and what it was."""

    id: UUID
    engine: str
    name: str
    ended: str
    found: str


class CaseOut(BaseModel):
    """A case as people work on it. `found`: the failure mode at the root of the opened engine;
    `standing`: the closing or opening that holds."""

    id: UUID
    engine: str
    engine_name: str
    unit: str
    name: str
    since: date
    sample: str | None
    known_faults: str
    opened_by: str
    opened_on: date
    opened_from: str
    today: date
    standing: UUID | None
    closed: bool
    ended: str
    state: StateOut
    rows: list[ExplanationOut]
    checks: list[CaseCheck]
    before: list[Before]
    line: list[OnLine]
    work: WorkList
    asked: list[AskedWork]
    ways_out: list[WayOut]
    flush: FlushOut | None
    isolation: IsolationOut
    drained: Drained | None
    run_in: RunIn | None
    followed: FollowedOut | None
    similar: list[SimilarOut]
    found: str
