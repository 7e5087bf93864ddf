"""The list of work that grows out of findings: what each asks for, what was decided of it, and the
sum of it all."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date

from ..errors import CoreError, NotPossible, UnknownName
from ..record import LogRow, condition_of, place_words
from ..terms import WORK_KINDS, WORK_STATES

ENDED, ENDED_OPENS = ("done", "dropped"), "open"


@dataclass(frozen=True, slots=True, kw_only=True)
class Work:
    """A piece of work as it was last decided. `kind` of WORK_KINDS, `state` of WORK_STATES;
    `hours` it takes, `estimate` and `cost` in the site's own money, None where nobody said."""

    kind: str
    words: str
    state: str
    who: str = ""
    due: date | None = None
    hours: float | None = None
    estimate: float | None = None
    cost: float | None = None


@dataclass(frozen=True, slots=True)
class Proposed:
    """Work a finding asks for that nobody decided yet."""

    finding: str
    kind: str
    words: str


@dataclass(frozen=True, slots=True)
class Sums:
    """What the work comes to: what was first estimated, what it is now (paid where done, else
    estimated), the hours still to do, and how many have no figure."""

    first: float
    now: float
    hours: float
    unknown: int


def may_become(before: str, state: str) -> bool:
    """Whether a piece of work may go from one state ("" for new) to another: what has ended is
    opened again first; of what is done the sum may be put right.

    >>> may_become("decided", "done"), may_become("dropped", "done")
    (True, False)
    """
    if before in ENDED:
        return state == ENDED_OPENS or before == state == "done"
    return state in WORK_STATES


def check_work(work: Work, before: str) -> None:
    """Refuse work that cannot be meant, or a state it cannot go to from `before` ("" for new):
    UnknownName, NotPossible."""
    if work.kind not in WORK_KINDS:
        raise UnknownName("kind of work", work.kind, list(WORK_KINDS))
    if work.state not in WORK_STATES:
        raise UnknownName("state of work", work.state, list(WORK_STATES))
    if not may_become(before, work.state):
        said = f"what is {WORK_STATES[before]} cannot become {WORK_STATES[work.state]}"
        raise NotPossible(f"{said}; open it again first")
    if not work.words.strip():
        raise NotPossible("say what is to be done")


def work_proposed(findings: Sequence[LogRow], taken: Iterable[str]) -> list[Proposed]:
    """Work the findings ask for, in their order; `taken`: findings somebody decided work for."""
    done = set(taken)
    out = []
    for r in findings:
        try:
            found = condition_of(r.part, r.details)
        except CoreError:  # of another version
            continue
        if found.work and r.id not in done:
            out.append(Proposed(r.id, found.work, place_words(r.part, r.details)))
    return out


def sums(works: Iterable[tuple[Work, Work]]) -> Sums:
    """Sums over pieces of work, each as it was first written down and as it stands; what is
    dropped costs nothing now.

    >>> first = Work(kind="renew", words="cooler", state="open", estimate=700.0)
    >>> now = Work(kind="renew", words="cooler", state="done", estimate=700.0, cost=640.0)
    >>> sums([(first, now)])
    Sums(first=700.0, now=640.0, hours=0.0, unknown=0)
    """
    first = now = hours = 0.0
    unknown = 0
    for began, stands in works:
        first += began.estimate or 0.0
        if stands.state == "dropped":
            continue
        amount = stands.cost if stands.cost is not None else stands.estimate
        now += amount or 0.0
        unknown += amount is None and stands.kind != "leave"
        hours += (stands.hours or 0.0) if stands.state != "done" else 0.0
    return Sums(first, now, hours, unknown)
