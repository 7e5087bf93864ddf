"""Sign-offs and run decisions: who, when, on which figures. One supersedes the other; nothing is
overwritten."""

from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from typing import Annotated
from uuid import UUID, uuid4

from pydantic import Field

from ... import clock
from ...core.roles import Actor, check_may
from ...core.status import Decision, check_decision
from ...core.terms import RunState
from ...core.verdict import Level, Reason
from ...storage.db import Connection
from ...storage.errors import Conflict
from ...storage.records import Row, row, run
from ..days import day_of_engine
from ..errors import CannotDecide, NotThere
from ..fields import Day, Meter, Text, Word
from .closing import closed, stands_open, to_close
from .judging import judge_one
from .second_person import check_second
from .stored_state import state_of

# How long a raised engine may be permitted before somebody looks again [days]; our choice.
PERMIT_DAYS, PERMIT_WATCH_DAYS = 30, 90


@dataclass(frozen=True, slots=True, kw_only=True)
class Origin:
    """Where a decision comes from when it is not taken now, on a page: its identity and its moment
    in the file, and the file."""

    id: UUID
    at: datetime
    source: int


def put_decision(
    connection: Connection, about: int, decision: Decision, origin: Origin | None = None
) -> str:
    """Write one decision through the gate; returns its identity. `about`: the row of its engine,
    sample or report. Every decision there is was written here.

    Raises BadDecision and its like where it cannot be one.
    """
    moment = replace(decision, at=origin.at) if origin else decision
    check_decision(moment, clock.now())
    key = str(origin.id if origin else uuid4())
    run(
        connection,
        "decision_put",
        id=key,
        kind=decision.kind,
        **dict.fromkeys(("engine_id", "sample_id", "report_id")) | {f"{decision.about}_id": about},
        supersedes=decision.supersedes,
        proposed=decision.proposed,
        level=decision.level,
        basis=decision.basis,
        run_state=decision.run_state,
        until_dial=decision.until,
        until_on=decision.until_on,
        lifts=None if decision.lifts is None else list(decision.lifts),
        found=decision.found,
        done=decision.done,
        accepted=decision.accepted,
        reason=decision.reason,
        note=decision.note,
        decided_by=decision.by,
        decided_at=moment.at,
        source=origin.source if origin else None,
    )
    return key


def _standing(supersedes: str | None) -> UUID | None:
    return UUID(supersedes) if supersedes else None


def _owner(connection: Connection, sample: str) -> Row:
    owner = row(connection, "engine_of_sample", code=sample)
    if owner is None:
        raise CannotDecide("unknown_sample", f"there is no sample {sample}")
    return owner


def sign(
    connection: Connection,
    sample: str,
    level: int,
    basis: str,
    supersedes: str | None,
    reason: str,
    note: str,
    who: Actor,
    origin: Origin | None = None,
) -> str:
    """Sign a sample's verdict at `level`. `basis` is the input hash of the verdict the person saw.

    Raises Conflict when the figures or the standing decision are no longer those; CannotDecide when
    a level other than the proposed one comes without a reason. Signing never lifts a Stop: that is
    a run decision.
    """
    owner = _owner(connection, sample)
    verdict = row(connection, "verdict_of_sample", sample=owner["sample_id"])
    if verdict is None or verdict["level"] is None:
        raise CannotDecide(
            "not_judged", f"sample {sample} has no verdict yet; its figures are not in"
        )
    if verdict["input_hash"] != basis:
        raise Conflict("verdict_basis")
    if level != verdict["level"] and not reason.strip():
        raise CannotDecide("reason_required", "a level other than the proposed one needs a reason")
    if level < verdict["level"] == Level.STOP:
        check_may(who, "sign_stop_down")
    standing = row(connection, "decision_of_sample", sample=owner["sample_id"])
    if (standing["id"] if standing else None) != supersedes:
        raise Conflict("decision_standing")
    if standing and _says_the_same(standing, level, basis) and not (reason or note).strip():
        return str(standing["id"])
    d = Decision(
        kind="sign_off",
        about="sample",
        by=who.name,
        supersedes=_standing(supersedes),
        proposed=verdict["level"],
        level=level,
        basis=basis,
        reason=reason.strip(),
        note=note.strip(),
    )
    key = put_decision(connection, owner["sample_id"], d, origin)
    judge_one(connection, owner["engine_id"])
    return key


def _says_the_same(standing: Row, level: int, basis: str) -> bool:
    """Whether a sample stands signed at this level on these very figures: a second press, or a
    second person, writes nothing new."""
    kept = (standing["kind"], standing["level"], standing["basis"])
    return kept == ("sign_off", level, basis)


def undo_sign(
    connection: Connection, sample: str, decision: str, who: Actor, origin: Origin | None = None
) -> str:
    """Withdraw the standing sign-off of a sample; only the person who signed can undo it."""
    owner = _owner(connection, sample)
    standing = row(connection, "decision_of_sample", sample=owner["sample_id"])
    if standing is None or standing["id"] != decision or standing["kind"] != "sign_off":
        raise Conflict("decision_standing")
    if standing["decided_by"] != who.name:
        raise CannotDecide(
            "not_yours", f"{standing['decided_by']} signed this; only they can undo it"
        )
    d = Decision(kind="withdraw", about="sample", by=who.name, supersedes=_standing(decision))
    key = put_decision(connection, owner["sample_id"], d, origin)
    judge_one(connection, owner["engine_id"])
    return key


@dataclass(frozen=True, slots=True, kw_only=True)
class NewRunDecision:
    """What somebody wants of an engine.

    lifts : keys of the open reasons the person saw, all of which a release or a restriction lifts
    found, done : what was behind a Stop and what was done about it
    supersedes : the decision the person saw standing
    """

    state: RunState
    reason: Text = ""
    until: Meter | None = None
    until_on: Day | None = None
    lifts: Annotated[tuple[Text, ...], Field(max_length=500)] = ()
    found: Text = ""
    done: Text = ""
    supersedes: Word | None = None
    renewed: Annotated[tuple[Word, ...], Field(max_length=500)] = ()
    left: Annotated[tuple[Word, ...], Field(max_length=500)] = ()


def _open_reasons(connection: Connection, engine: int) -> list[Reason]:
    """The reasons that are open now, whatever waited to be judged."""
    if row(connection, "judging_waits", engine=engine):
        judge_one(connection, engine)
    held = row(connection, "state_of_engine", engine=engine)
    return list(state_of(held["state"]).reasons) if held and held["state"] else []


def _check_seen(connection: Connection, engine: int, code: str) -> None:
    """Nobody lifts what the program cannot see."""
    cannot = row(connection, "is_unjudged", engine=engine)
    if cannot is not None:
        raise CannotDecide(
            "not_judged",
            f"{code} cannot be judged ({cannot['why']}), so nobody knows what is open; correct its "
            "record first, or hold it",
        )


def _check_lifting(want: NewRunDecision, reasons: list[Reason]) -> None:
    """Lifting is for what was seen: every open Stop must have been on the page, and what was found
    and done must be named."""
    stops = {r.key for r in reasons if r.level >= Level.STOP}
    if not stops <= set(want.lifts):
        raise Conflict("open_reasons")
    if stops and not (want.found.strip() and want.done.strip()):
        raise CannotDecide(
            "found_and_done",
            "a Stop is lifted by naming what was found and what was done about it",
        )


def _bounded(
    connection: Connection, engine: str, want: NewRunDecision, reasons: list[Reason]
) -> date | None:
    """The last day of a permission. For a raised engine it ends with the next look at the latest,
    never years ahead; where only a meter was given, that day is added."""
    worst = max((r.level for r in reasons), default=0)
    if worst < Level.WATCH or (want.until is None and want.until_on is None):
        return want.until_on
    days = PERMIT_DAYS if worst >= Level.ACT else PERMIT_WATCH_DAYS
    latest = day_of_engine(connection, engine) + timedelta(days=days)
    if want.until_on is not None and want.until_on > latest:
        raise CannotDecide(
            "permission_too_long",
            f"a raised engine may be permitted until {latest:%d.%m.%Y} at the latest; look at it "
            "again then, and decide anew",
        )
    return want.until_on or latest


def _last_day(
    connection: Connection,
    engine: str,
    want: NewRunDecision,
    reasons: list[Reason],
    origin: Origin | None,
) -> date | None:
    """The last day as it is signed now; what was signed before is brought in as it stands."""
    return want.until_on if origin is not None else _bounded(connection, engine, want, reasons)


def decide_run(
    connection: Connection,
    engine: str,
    want: NewRunDecision,
    who: Actor,
    origin: Origin | None = None,
) -> str:
    """Hold, restrict or release an engine. Anyone may hold; only a releaser lifts what is held.

    Raises Conflict where another decision or another open Stop came in meanwhile: nobody lifts what
    they did not see.
    """
    found = row(connection, "engine_by_code", code=engine)
    if found is None:
        raise CannotDecide("unknown_engine", f"there is no engine {engine}")
    if want.state != "hold":
        check_may(who, "lift")
    reasons = _open_reasons(connection, found["id"])
    if want.state != "hold":
        _check_seen(connection, found["id"], engine)
        _check_lifting(want, reasons)
        check_second(connection, found["id"], reasons, who)
    closes = want.state == "release" and origin is None and stands_open(reasons)
    parts = closed(to_close(connection, found["id"]), want.renewed, want.left) if closes else ""
    standing = row(connection, "decision_of_engine", engine=found["id"])
    if (standing["id"] if standing else None) != want.supersedes:
        raise Conflict("decision_standing")
    restricted, lifting = want.state == "restrict", want.state != "hold"
    d = Decision(
        kind="run",
        about="engine",
        by=who.name,
        supersedes=_standing(want.supersedes),
        run_state=want.state,
        until=want.until if restricted else None,
        until_on=_last_day(connection, engine, want, reasons, origin) if restricted else None,
        lifts=tuple(sorted({r.key for r in reasons} & set(want.lifts))) if lifting else (),
        found=want.found.strip() if lifting else "",
        done=f"{want.done.strip()} {parts}".strip() if lifting else "",
        reason=want.reason.strip(),
    )
    key = put_decision(connection, found["id"], d, origin)
    judge_one(connection, found["id"])
    return key


def answer_amendment(
    connection: Connection,
    report: int,
    accept: bool,
    reason: str,
    who: Actor,
    origin: Origin | None = None,
) -> str:
    """Accept or refuse an amended report; accepted figures count from now on and the engine is
    judged again."""
    if row(connection, "report_there", report=report) is None:
        raise NotThere("there is no such report")
    if row(connection, "decision_of_report", report=report) is not None:
        raise Conflict("decision_standing")
    d = Decision(
        kind="amendment", about="report", by=who.name, accepted=accept, reason=reason.strip()
    )
    key = put_decision(connection, report, d, origin)
    owner = row(connection, "report_engine", report=report)
    if owner:
        judge_one(connection, owner["engine_id"])
    elif accept:
        run(connection, "mark_all_stale")
    return key
