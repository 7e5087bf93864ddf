"""The one gate for decisions: what every signature, run decision and accepted report must have,
wherever it comes from."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from typing import Literal
from uuid import UUID

from ..bounds import CLOCKS_DIFFER, FIRST_DAY, check, check_text
from ..errors import CoreError
from ..terms import LEVELS, RUN_STATES

Kind = Literal["sign_off", "run", "amendment", "withdraw"]
FEWEST_LETTERS = 4  # in what was found and what was done, that they mean something; our choice
# What each kind is about, and the fields it alone has; the rest stay empty.
_ABOUT: Mapping[str, tuple[str, ...]] = {
    "sign_off": ("sample",),
    "run": ("engine",),
    "amendment": ("report",),
    "withdraw": ("sample",),
}
_FIELDS: Mapping[str, frozenset[str]] = {
    "sign_off": frozenset({"proposed", "level", "basis"}),
    "run": frozenset({"run_state", "until", "until_on", "lifts", "found", "done"}),
    "amendment": frozenset({"accepted"}),
    "withdraw": frozenset(),
}


class BadDecision(CoreError):
    """A decision that cannot be one. `field` says where."""

    code = "bad_decision"

    def __init__(self, field: str, text: str):
        self.field = field
        super().__init__(text)


@dataclass(frozen=True, slots=True, kw_only=True)
class Decision:
    """A decision of a person, before it is written.

    about : engine, sample or report · proposed : the level the program proposed · basis : the
    figures it rested on · lifts : keys of the reasons it lifts, None in records of versions that
    did not name them · at : when, None for now
    """

    kind: Kind
    about: str
    by: str
    supersedes: UUID | None = None
    proposed: int | None = None
    level: int | None = None
    basis: str = ""
    run_state: str | None = None
    until: float | None = None
    until_on: date | None = None
    lifts: tuple[str, ...] | None = None
    found: str = ""
    done: str = ""
    accepted: bool | None = None
    reason: str = ""
    note: str = ""
    at: datetime | None = None


def _refuse_if(wrong: bool, field: str, text: str) -> None:
    if wrong:
        raise BadDecision(field, text)


def _check_sign_off(decision: Decision) -> None:
    levels = range(len(LEVELS))
    _refuse_if(decision.proposed not in levels, "proposed", "say which level was proposed, 0 to 3")
    _refuse_if(decision.level not in levels, "level", "say at which level it is signed, 0 to 3")
    _refuse_if(not decision.basis.strip(), "basis", "say on which figures it was signed")
    other = decision.level != decision.proposed and not decision.reason.strip()
    _refuse_if(other, "reason", "a level other than the proposed one needs a reason")


def _check_run(decision: Decision) -> None:
    _refuse_if(
        decision.run_state not in RUN_STATES, "run_state", f"write one of {', '.join(RUN_STATES)}"
    )
    nothing = not (decision.reason.strip() or decision.found.strip())
    _refuse_if(nothing, "reason", "give a reason, in a few words")
    ends = decision.until is not None or decision.until_on is not None
    restricted = decision.run_state == "restrict"
    _refuse_if(restricted and not ends, "until", "say until which meter or which day it may run")
    _refuse_if(ends and not restricted, "until", "only a restriction ends by a meter or a day")
    if decision.until is not None:
        check("meter", decision.until)
    for name in ("found", "done"):
        said = getattr(decision, name).strip()
        # What was signed before, and is brought in as it stands, is not worded anew.
        empty = (
            decision.at is None and bool(said) and sum(x.isalpha() for x in said) < FEWEST_LETTERS
        )
        _refuse_if(empty, name, "name the part and what it was, in words")
    holds = decision.run_state == "hold"
    _refuse_if(holds and bool(decision.lifts), "lifts", "a hold lifts nothing")


def _check_when(decision: Decision, now: datetime) -> None:
    if decision.at is None:
        return
    _refuse_if(decision.at > now + CLOCKS_DIFFER, "at", "it lies in the future")
    _refuse_if(decision.at.date() < FIRST_DAY, "at", f"it lies before {FIRST_DAY.year}")


def check_decision(decision: Decision, now: datetime) -> None:
    """Raises BadDecision, OutOfRange or BadText where this cannot be a decision."""
    _refuse_if(decision.kind not in _FIELDS, "kind", f"write one of {', '.join(_FIELDS)}")
    _refuse_if(
        decision.about not in _ABOUT[decision.kind],
        _ABOUT[decision.kind][0],
        f"a {decision.kind} is about another",
    )
    _refuse_if(not decision.by.strip(), "by", "say who decided")
    for texts in (
        decision.reason,
        decision.note,
        decision.found,
        decision.done,
        *(decision.lifts or ()),
    ):
        check_text(texts)
    for name in frozenset().union(*_FIELDS.values()) - _FIELDS[decision.kind]:
        _refuse_if(
            getattr(decision, name) not in (None, "", ()), name, f"no part of a {decision.kind}"
        )
    _check_when(decision, now)
    if decision.kind == "sign_off":
        _check_sign_off(decision)
    if decision.kind == "run":
        _check_run(decision)
    _refuse_if(
        decision.kind == "amendment" and decision.accepted is None, "accepted", "say yes or no"
    )
    gone = decision.kind == "withdraw" and decision.supersedes is None
    _refuse_if(gone, "supersedes", "say which signature is withdrawn")
