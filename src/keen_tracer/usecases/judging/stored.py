"""What is kept of a judged engine with its row of the Wall: codes, figures, and days as they are
written. Sentences are made when it is read."""

from typing import Any, NotRequired

from typing_extensions import TypedDict

from ...core.terms import MayRun, PlanKind, RunState, UsageBy


class StoredReason(TypedDict):
    key: str
    source: str
    level: int
    channel: str
    on: str
    dial: float | None
    sample: str
    finding: dict[str, Any]


class StoredDecision(TypedDict):
    state: RunState
    by: str
    on: str
    reason: str
    until: float | None
    until_on: str | None
    found: str
    done: str


class StoredAction(TypedDict):
    """`due_on` is missing where a version wrote it that knew no day."""

    code: str
    due_dial: float | None
    due_on: NotRequired[str | None]


class StoredState(TypedDict):
    """`cannot` is missing where a version wrote it that could judge everything, `barred` where one
    wrote it that forbade nothing, `awaited` where one wrote it that knew no bottle on its way."""

    level: int | None
    may_run: MayRun
    since: str | None
    until: float | None
    until_on: str | None
    reasons: list[StoredReason]
    channels: list[int | None]
    actions: list[StoredAction]
    checks: list[str]
    lead: str
    second: str
    decision: StoredDecision | None
    undecided: bool
    barred: NotRequired[list[str]]
    cannot: NotRequired[str]
    awaited: NotRequired[str]


class StoredTooth(TypedDict):
    channel: str
    level: int | None
    sample: str | None
    stale_on: str | None


class StoredMark(TypedDict):
    """One mark on the trace: of a bottle its sample, of anything else what it was."""

    kind: str
    on: str
    dial: float | None
    sample: str | None
    level: int | None
    signed: bool
    what: str
    part: str


# What a mark does not say.
NO_MARK: StoredMark = {
    "kind": "",
    "on": "",
    "dial": None,
    "sample": None,
    "level": None,
    "signed": False,
    "what": "",
    "part": "",
}


class StoredDue(TypedDict):
    on: str
    earliest: str
    latest: str
    by: PlanKind
    every: float | None
    tightened: bool
    at_dial: float | None
    per_week: float | None
    usage_by: UsageBy
    overdue: int
    share: float | None
    method: str


class StoredTask(TypedDict):
    key: str
    kind: str
    code: str
    earliest: str
    on: str
    latest: str
    at_dial: float | None
    hours: float
    level: int
    at_rest: bool
    movable: bool


class Drawn(TypedDict):
    """What the Wall draws of an engine besides its state."""

    comb: list[StoredTooth]
    trace: list[StoredMark]
    due: StoredDue | None
    dial: float | None
    dial_on: str | None
    sample: str | None
    next_code: str
    sample_code: str


class Picture(Drawn):
    """Everything the Wall draws of an engine that was judged."""

    state: StoredState
    tasks: list[StoredTask]


# The picture of an engine that was never judged.
NO_PICTURE: Drawn = {
    "comb": [],
    "trace": [],
    "due": None,
    "dial": None,
    "dial_on": None,
    "next_code": "",
    "sample_code": "",
    "sample": None,
}
