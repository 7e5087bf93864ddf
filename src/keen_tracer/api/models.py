"""What goes over the wire. The front end's types are made from these."""

from datetime import date, datetime
from typing import Any, Literal
from uuid import UUID

from pydantic import BaseModel, Field

from ..core import terms
from ..core.baseline import School
from ..core.comparison import DerivationStep
from ..core.terms import PlanKind, Role
from .fields import Code, Day, Meter, Text, Word

LevelNumber = Literal[0, 1, 2, 3]


class Person(BaseModel):
    id: int
    name: str
    role: str


class NewPerson(BaseModel):
    name: Code
    role: Role


class ChosenPerson(BaseModel):
    person: int


class OpenStop(BaseModel):
    code: str
    name: str


class Unjudged(BaseModel):
    """An engine the program cannot judge, and why."""

    code: str
    name: str
    why: str


class State(BaseModel):
    """What every page shows in its frame."""

    today: date
    mark: int
    person: Person | None
    queue: int
    stale: int
    stale_for: str  # how long the oldest of them has waited, in words, once that is too long
    unjudged: list[Unjudged]
    amendments: int
    queries: int
    stray: int
    engines: int
    open_stops: list[OpenStop]


class Tooth(BaseModel):
    channel: str
    state: Literal["judged", "stale", "not_measured"]
    level: LevelNumber | None
    sample: str | None


class Mark(BaseModel):
    """One mark on an engine's trace."""

    kind: Literal["sample", "bottle", "oil", "work", "symptom", "stored", "out"]
    on: date
    dial: float | None = None
    sample: str | None = None
    level: LevelNumber | None = None
    signed: bool = False
    what: str = ""
    part: str = ""


class Due(BaseModel):
    """The next sample with its 80 % range; `share` is how much of the interval has gone by."""

    on: date
    earliest: date
    latest: date
    by: PlanKind
    overdue: int
    share: float | None
    method: str
    words: str


class RunState(BaseModel):
    """What a person allowed; it never follows from the figures."""

    state: terms.RunState
    until: float | None
    until_on: date | None
    by: str
    on: date
    reason: str
    found: str
    done: str


class ReasonOut(BaseModel):
    """One open reason; `key` is what a release lifts."""

    key: str
    level: LevelNumber
    channel: str
    words: str
    sample: str


class ActionOut(BaseModel):
    """What to do next: before which meter or day, with what, and the caution at that step."""

    code: str
    words: str
    ends: str
    tools: str
    caution: str
    at: str


class CheckOut(BaseModel):
    """What to find out next, what it does to the engine, and where it is answered."""

    code: str
    words: str
    hours: float
    tools: str
    caution: str
    at: str
    form: Literal["check", "look", "bottle", ""]


class StateOut(BaseModel):
    """Where an engine stands today: two lines first (`what`, `what_next`), then the analyst's."""

    level: LevelNumber | None
    may_run: terms.MayRun
    may_run_words: str
    what: str
    what_next: str
    reasons: list[ReasonOut]
    actions: list[ActionOut]
    checks: list[CheckOut]
    parts: list[str]
    run: RunState | None


class OpenCase(BaseModel):
    """A case of an engine that is not closed."""

    id: UUID
    name: str


class WallRow(BaseModel):
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
    cases: list[OpenCase]


class WallGroup(BaseModel):
    key: str
    label: str
    count: int
    start: int


class Wall(BaseModel):
    today: date
    since: date
    until: date
    total: int
    depots: list[str]
    groups: list[WallGroup]
    offset: int
    rows: list[WallRow]


class Decision(BaseModel):
    id: str
    kind: str
    sample: str | None = None
    proposed: LevelNumber | None = None
    level: LevelNumber | None = None
    run_state: str | None = None
    until_dial: float | None = None
    until_on: date | None = None
    found: str = ""
    done: str = ""
    reason: str = ""
    note: str = ""
    decided_by: str
    decided_at: datetime
    imported_by: str = ""


class Said(BaseModel):
    """One finding as a sentence, with what it rests on."""

    code: str
    channel: str
    level: LevelNumber
    analyte: str | None
    sentence: str
    chip: str
    origin: str


class VerdictAction(ActionOut):
    """An action of a verdict; `became` says when it was done or became pointless."""

    became: str


class VerdictOut(BaseModel):
    level: LevelNumber | None
    channels: dict[str, LevelNumber | None]
    summary: str
    said: list[Said]
    actions: list[VerdictAction]
    would_change: str
    policy: str
    rules: str
    limits: str
    peers: str | None
    basis: str


class ChangeOut(BaseModel):
    absolute: float
    words: str


class LadderOut(BaseModel):
    column: str
    symbol: str
    name: str
    unit: str
    channel: str
    text: str
    value: float | None
    censor: int
    low: float | None
    high: float | None
    fresh: float | None
    fresh_from: str
    previous: float | None
    same_laboratory: bool
    comparable: bool
    change: ChangeOut | None
    rate_per_100: float | None
    rate_withheld: str | None
    watch: float | None
    act: float | None
    watch_low: float | None
    act_low: float | None
    limit: dict[str, Any] | None
    level: LevelNumber | None
    axis_end: float
    schools: list[School]
    expected: "ExpectedOut | None"
    trace: list[float | None]


class ExpectedOut(BaseModel):
    """What was expected of a reading, and whose history that is."""

    value: float
    low: float
    high: float
    peers: int


class QueryOut(BaseModel):
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


class Weighed(BaseModel):
    """A piece of evidence and what it adds to a failure mode's score."""

    words: str
    weight: float


class PartOut(BaseModel):
    """A failure mode on this sample's evidence. The score orders; it is no probability."""

    mode: str
    words: str
    channel: str
    score: float
    prior: float
    speaks_for: list[Weighed]
    against: list[Weighed]


class NextCheck(CheckOut):
    """A next best check; `bits` is what its answer is expected to tell of which part it is."""

    bits: float


class SampleOut(BaseModel):
    """One sample on the analyst's desk."""

    sample: str
    engine: str
    engine_name: str
    depot: str | None
    unit: str
    drawn_on: date
    dial: float | None
    hours_on_oil: float | None
    topped_l: float
    oil: str
    laboratory: str
    same_laboratory: bool
    purpose: str
    appearance: str
    parts: list[PartOut]
    checks: list[NextCheck]
    ladders: list[LadderOut]
    verdict: VerdictOut | None
    decision: Decision | None
    basis_changed: str | None
    queries: list[QueryOut]
    state: StateOut


class QueueRow(BaseModel):
    """A sample that waits for a person; one with open queries is not signed in the quiet pass."""

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


class SignOff(BaseModel):
    level: LevelNumber
    basis: str = Field(max_length=64)
    supersedes: Word | None = None
    reason: Text = ""
    note: Text = ""


class Undo(BaseModel):
    decision: Word


class RunDecision(BaseModel):
    """What somebody decides; `lifts` are the keys of the open reasons that were on their page."""

    state: terms.RunState
    until: Meter | None = None
    until_on: Day | None = None
    reason: Text = ""
    lifts: list[Text] = Field(default=[], max_length=500)
    found: Text = ""
    done: Text = ""
    supersedes: Word | None = None


class RunRow(BaseModel):
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


class Runs(BaseModel):
    """A window of the engines, worst first."""

    total: int
    rows: list[RunRow]


class TopUp(BaseModel):
    at: float
    litres: float


class ChargeOut(BaseModel):
    number: int
    oil: str
    litres: float | None
    start: float | None
    end: float | None
    start_on: date | None
    end_on: date | None
    top_ups: list[TopUp]


class Point(BaseModel):
    """One reading on an engine's lane; `total` is the true meter."""

    sample: str
    on: date
    total: float | None
    value: float | None
    text: str
    censor: int
    rate: float | None
    start: float | None
    watch: float | None
    act: float | None
    watch_low: float | None
    act_low: float | None
    watch_rate: float | None
    act_rate: float | None
    level: LevelNumber | None


class Lane(BaseModel):
    column: str
    symbol: str
    name: str
    unit: str
    channel: str
    points: list[Point]


class EngineSample(BaseModel):
    sample: str
    on: date
    total: float | None
    dial: float | None
    charge: int
    level: LevelNumber | None
    signed: bool
    arrived: bool


class EngineEvent(BaseModel):
    on: date
    total: float | None
    dial: float | None
    kind: str
    words: str


class OutlookOut(BaseModel):
    """Where one analyte of an engine is heading, in words."""

    column: str
    symbol: str
    name: str
    points: int
    word: str
    level: LevelNumber
    crossing: str
    drain: str
    across: str
    telling: bool


class ControlOut(BaseModel):
    """An element's distance from expectation in sd, with its EWMA and upper CUSUM; drawn, never an
    alarm."""

    symbol: str
    name: str
    z: list[float]
    ewma: list[float]
    band: float
    cusum: list[float]
    height: float
    samples: list[str]


class OilLifeOut(BaseModel):
    """When to drain and why; `at` on the dial that is fitted now."""

    drain: str
    at: float
    words: str
    ageing: list[str]


class EngineOut(BaseModel):
    code: str
    name: str
    depot: str | None
    model: str
    engine_class: str
    unit: str
    oil: str
    oil_total_l: float | None
    sump_l: float | None
    allowed_grades: list[str]
    grade_low: float | None
    grade_high: float | None
    bearing_type: str
    layout: str
    materials: str
    nominal_drain: float
    interval_meter: float | None
    interval_days: int | None
    today: date
    now_total: float | None
    dial: float | None
    state: StateOut
    comb: list[Tooth]
    due: Due | None
    samples: list[EngineSample]
    charges: list[ChargeOut]
    lanes: list[Lane]
    events: list[EngineEvent]
    outlook: list[OutlookOut]
    oil_life: "OilLifeOut | None"
    control: list["ControlOut"]
    queries: list[QueryOut]
    trail: list[Decision]


class Found(BaseModel):
    kind: str
    name: str
    detail: str
    engine: str
    key: str


class Done(BaseModel):
    done: bool = True
    decision: str | None = None


class Health(BaseModel):
    database: str
    migration: int | None
    stale: int | None
    stale_s: float
    unjudged: int
    last_backup: datetime | None
    backup_tried: datetime | None


class How(BaseModel):
    analyte: str
    name: str
    steps: list[DerivationStep]
