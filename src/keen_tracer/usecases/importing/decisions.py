"""Decisions in: a person's own, through the same gate as on a page; or a whole record with what
other people signed."""

from collections.abc import Callable
from dataclasses import replace
from typing import cast

from ... import clock
from ...core.errors import CoreError
from ...core.roles import Actor
from ...core.status import Decision, check_decision
from ...core.terms import RunState
from ...exchange.csvfile import Row
from ...storage.errors import Conflict
from ...storage.records import Row as Record
from ...storage.records import row
from ..errors import CannotDecide, NotThere
from ..judging.deciding import (
    NewRunDecision,
    Origin,
    answer_amendment,
    decide_run,
    put_decision,
    sign,
    undo_sign,
)
from ..judging.judging import judge_one
from .task import Task

_SAME = ("kind", "decided_by", "reason", "level", "run_state")
Target = tuple[str, int]  # what a decision is about, and the row of it


def decisions(task: Task, part: list[Row]) -> None:
    """Rows of decisions.csv; one that supersedes another must stand after it."""
    for r in part:
        c = r.cells
        given = {**c, "decided_by": c["by"], "reason": c.get("reason") or ""}
        before = row(task.connection, "decision_known", id=c["decision"])
        if before:
            if all(before[k] == given.get(k) for k in _SAME):
                task.file.known += 1
            else:
                task.problem(
                    r.number,
                    "decision",
                    "this decision is on record with other content",
                    "decisions never change; a new one supersedes it",
                )
            continue
        target = _target(task, r)
        if target is not None and (_on_record if task.as_record else _of_their_own)(
            task, r, target
        ):
            task.file.added += 1


def _tried(task: Task, r: Row, does: Callable[[], object]) -> bool:
    """Whether a decision passed the gate; a problem in its words where not."""
    try:
        does()
    except Conflict:
        what, fix = "another decision, or another open Stop, stands there", "look again on Run"
    except (CannotDecide, CoreError, NotThere) as error:
        column = getattr(error, "field", None)
        task.problem(r.number, column, str(error), "nobody may write down what they may not decide")
        return False
    else:
        return True
    task.problem(r.number, "supersedes", what, fix)
    return False


def _decision(r: Row, about: str) -> Decision:
    c = r.cells
    return Decision(
        kind=c["kind"],
        about=about,
        by=c["by"],
        supersedes=c.get("supersedes"),
        proposed=c.get("proposed"),
        level=c.get("level"),
        basis=c.get("basis") or "",
        run_state=c.get("run_state"),
        until=c.get("until_meter"),
        until_on=c.get("until_on"),
        lifts=None if c.get("lifts") is None else tuple(c["lifts"]),
        found=c.get("found") or "",
        done=c.get("done") or "",
        accepted=c.get("accepted"),
        reason=c.get("reason") or "",
        note=c.get("note") or "",
    )


def _origin(task: Task, r: Row) -> Origin:
    return Origin(id=r.cells["decision"], at=r.cells["at"], source=task.source)


def _on_record(task: Task, r: Row, target: Target) -> bool:
    """A row of a whole record: it must follow what is in force, and be a complete decision."""
    about, key = target
    blank = dict.fromkeys(("engine", "sample", "report"))
    standing = row(task.connection, "decision_standing", **{**blank, about: key})
    supersedes = r.cells.get("supersedes")
    if (standing["id"] if standing else None) != supersedes:
        task.problem(
            r.number,
            "supersedes",
            "another decision stands there" if standing else "what it supersedes is not on record",
            "put rows after those they supersede, each superseding the one before",
        )
        return False
    if r.cells["kind"] == "withdraw" and standing and standing["kind"] != "sign_off":
        task.problem(r.number, "kind", "it withdraws what is no signature", "leave the row out")
        return False
    return _tried(
        task, r, lambda: put_decision(task.connection, key, _decision(r, about), _origin(task, r))
    )


def _of_their_own(task: Task, r: Row, target: Target) -> bool:
    """A row in the name of the person who brings it in: decided like on a page, as of that row's
    moment, on the figures as they are now."""
    c = r.cells
    who = row(task.connection, "person_named", name=c["by"])
    if not task.their_own(r.number, c["by"]):
        return False
    if who is None:
        task.problem(
            r.number,
            "by",
            f"{c['by']!r} is not on the list of people",
            "put them there first, under their own name",
        )
        return False
    actor, origin, d = Actor(who["name"], who["role"]), _origin(task, r), _decision(r, target[0])
    before = str(d.supersedes) if d.supersedes else None
    if not _tried(task, r, lambda: check_decision(replace(d, at=c["at"]), clock.now())):
        return False
    engine = _engine_of(task, target)
    if engine is not None:
        judge_one(task.connection, engine)
    if d.kind == "run":
        want = NewRunDecision(
            state=cast(RunState, d.run_state or ""),  # decide_run refuses what is none
            reason=d.reason,
            until=d.until,
            until_on=d.until_on,
            lifts=d.lifts or (),
            found=d.found,
            done=d.done,
            supersedes=before,
        )
        return _tried(
            task, r, lambda: decide_run(task.connection, c["engine"], want, actor, origin)
        )
    if d.kind == "withdraw":
        return _tried(
            task, r, lambda: undo_sign(task.connection, c["sample"], before or "", actor, origin)
        )
    if d.kind == "amendment":
        yes = bool(d.accepted)
        return _tried(
            task,
            r,
            lambda: answer_amendment(task.connection, target[1], yes, d.reason, actor, origin),
        )
    level = -1 if d.level is None else d.level
    return _tried(
        task,
        r,
        lambda: sign(
            task.connection, c["sample"], level, d.basis, before, d.reason, d.note, actor, origin
        ),
    )


def _engine_of(task: Task, target: Target) -> int | None:
    about, key = target
    if about == "engine":
        return key
    found = row(task.connection, f"{about}_engine", **{about: key})
    return int(found["engine_id"]) if found else None


def _target(task: Task, r: Row) -> Target | None:
    """What a decision is about: exactly one of a sample, an engine, a report."""
    c = r.cells
    named = [k for k in ("engine", "sample", "report") if c.get(k)]
    if len(named) != 1:
        task.problem(
            r.number,
            None,
            "a decision is about one engine, one sample or one report",
            "fill one of them",
        )
        return None
    if c.get("engine"):
        engine = task.engine(c["engine"], r.number)
        if engine is not None:
            task.touched.add(engine)
        return None if engine is None else ("engine", engine)
    found: Record | None
    if c.get("sample"):
        found = row(task.connection, "sample_id", code=c["sample"])
        owner = row(task.connection, "engine_of_sample", code=c["sample"])
        if owner:
            task.touched.add(owner["engine_id"])
        key = "sample"
    else:
        found = row(
            task.connection,
            "report_id",
            laboratory=c.get("laboratory") or "",
            number=c["report"],
            revision=c.get("revision") or 1,
        )
        task.all_touched = True
        key = "report"
    if found is None:
        task.problem(
            r.number, key, f"{key} {c[key]!r} is not known", "import it first, or in the same call"
        )
        return None
    return key, int(found["id"])
