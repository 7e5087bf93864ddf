"""Sign-offs and run decisions: who, when, on which figures. One supersedes the other; nothing is
overwritten."""

from uuid import uuid4

from ...core.terms import MAY_RELEASE
from ...storage.db import Connection
from ...storage.errors import Conflict
from ...storage.records import Row, row, run
from ..errors import CannotDecide
from .judging import judge_one


def put_decision(c: Connection, **values: object) -> str:
    """Write one decision; returns its identity."""
    blank: dict[str, object] = dict.fromkeys(
        (
            "engine_id",
            "sample_id",
            "report_id",
            "supersedes",
            "proposed",
            "level",
            "run_state",
            "until_dial",
            "accepted",
            "decided_at",
        )
    )
    key = str(uuid4())
    run(c, "decision_put", **{**blank, "basis": "", "reason": "", "note": "", **values, "id": key})
    return key


def _owner(c: Connection, sample: str) -> Row:
    owner = row(c, "engine_of_sample", code=sample)
    if owner is None:
        raise CannotDecide("unknown_sample", f"there is no sample {sample}")
    return owner


def sign(
    c: Connection,
    sample: str,
    level: int,
    basis: str,
    supersedes: str | None,
    reason: str,
    note: str,
    who: str,
) -> str:
    """Sign a sample's verdict at `level`. `basis` is the input hash of the verdict the person saw.

    Raises Conflict when the figures or the standing decision are no longer those; CannotDecide when
    a level other than the proposed one comes without a reason. Signing never lifts a Stop: that is
    a run decision.
    """
    owner = _owner(c, sample)
    verdict = row(c, "verdict_of_sample", sample=owner["sample_id"])
    if verdict is None or verdict["level"] is None:
        raise CannotDecide(
            "not_judged", f"sample {sample} has no verdict yet; its figures are not in"
        )
    if verdict["input_hash"] != basis:
        raise Conflict("verdict_basis")
    if level != verdict["level"] and not reason.strip():
        raise CannotDecide("reason_required", "a level other than the proposed one needs a reason")
    standing = row(c, "decision_of_sample", sample=owner["sample_id"])
    if (standing["id"] if standing else None) != supersedes:
        raise Conflict("decision_standing")
    key = put_decision(
        c,
        kind="sign_off",
        sample_id=owner["sample_id"],
        supersedes=supersedes,
        proposed=verdict["level"],
        level=level,
        basis=basis,
        reason=reason.strip(),
        note=note.strip(),
        decided_by=who,
    )
    judge_one(c, owner["engine_id"])
    return key


def undo_sign(c: Connection, sample: str, decision: str, who: str) -> str:
    """Withdraw the standing sign-off of a sample; only the person who signed can undo it."""
    owner = _owner(c, sample)
    standing = row(c, "decision_of_sample", sample=owner["sample_id"])
    if standing is None or standing["id"] != decision or standing["kind"] != "sign_off":
        raise Conflict("decision_standing")
    if standing["decided_by"] != who:
        raise CannotDecide(
            "not_yours", f"{standing['decided_by']} signed this; only they can undo it"
        )
    key = put_decision(
        c, kind="withdraw", sample_id=owner["sample_id"], supersedes=decision, decided_by=who
    )
    judge_one(c, owner["engine_id"])
    return key


def decide_run(
    c: Connection,
    engine: str,
    state: str,
    until: float | None,
    reason: str,
    supersedes: str | None,
    who: str,
    role: str,
) -> str:
    """Hold, restrict or release an engine. Anyone may hold; only a releaser lifts what is held."""
    found = row(c, "engine_by_code", code=engine)
    if found is None:
        raise CannotDecide("unknown_engine", f"there is no engine {engine}")
    if state != "hold" and role not in MAY_RELEASE:
        raise CannotDecide(
            "not_allowed", "only a releaser may release or restrict an engine; anyone may hold one"
        )
    if state == "restrict" and until is None:
        raise CannotDecide("until_required", "say until which meter it may run")
    standing = row(c, "decision_of_engine", engine=found["id"])
    if (standing["id"] if standing else None) != supersedes:
        raise Conflict("decision_standing")
    key = put_decision(
        c,
        kind="run",
        engine_id=found["id"],
        supersedes=supersedes,
        run_state=state,
        until_dial=until if state == "restrict" else None,
        reason=reason.strip(),
        decided_by=who,
    )
    judge_one(c, found["id"])
    return key


def answer_amendment(c: Connection, report: int, accept: bool, reason: str, who: str) -> str:
    """Accept or refuse an amended report; accepted figures count from now on and the engine is
    judged again."""
    key = put_decision(
        c,
        kind="amendment",
        report_id=report,
        accepted=accept,
        reason=reason.strip(),
        decided_by=who,
    )
    owner = row(c, "report_engine", report=report)
    if owner:
        judge_one(c, owner["engine_id"])
    elif accept:
        run(c, "mark_all_stale")
    return key
