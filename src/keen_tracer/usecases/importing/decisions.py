"""Decisions in: sign-offs, run decisions, accepted amendments, as an export wrote them."""

from ...core.errors import CoreError
from ...core.findings import stored
from ...exchange.csvfile import Row
from ...storage.records import Row as Record
from ...storage.records import json, row, run
from .task import Task

_SAME = ("kind", "decided_by", "reason", "level", "run_state")


def decisions(task: Task, part: list[Row]) -> None:
    """Rows of decisions.csv; one that supersedes another must stand after it."""
    for r in part:
        c = r.cells
        given = {**c, "decided_by": c["by"], "reason": c.get("reason") or ""}
        before = row(task.c, "decision_known", id=c["decision"])
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
        if target is None:
            continue
        if c.get("supersedes") and not row(task.c, "decision_known", id=c["supersedes"]):
            task.problem(
                r.number,
                "supersedes",
                "the decision it supersedes is not on record",
                "put that row before this one",
            )
            continue
        run(
            task.c,
            "decision_put",
            id=c["decision"],
            kind=c["kind"],
            supersedes=c.get("supersedes"),
            proposed=c.get("proposed"),
            level=c.get("level"),
            basis=c.get("basis") or "",
            run_state=c.get("run_state"),
            until_dial=c.get("until_meter"),
            until_on=c.get("until_on"),
            lifts=c.get("lifts"),
            found=c.get("found") or "",
            done=c.get("done") or "",
            accepted=c.get("accepted"),
            reason=given["reason"],
            note=c.get("note") or "",
            decided_by=c["by"],
            decided_at=c["at"],
            **{"engine_id": None, "sample_id": None, "report_id": None, **target},
        )
        task.file.added += 1


def stops(task: Task, part: list[Row]) -> None:
    """Rows of stops.csv: Stops that were raised, each once; they stand whatever else comes."""
    for r in part:
        c = r.cells
        engine = task.engine(c["engine"], r.number)
        if engine is None:
            continue
        try:
            finding = stored(c["finding"])
        except (CoreError, ValueError, KeyError, TypeError):
            task.problem(
                r.number,
                "finding",
                "this is no finding of this program",
                "leave the cell as the export wrote it",
            )
            continue
        added = run(
            task.c,
            "raised_stop_put",
            engine=engine,
            key=c["reason"],
            on=c["on"],
            dial=c.get("meter"),
            sample=c.get("sample") or "",
            finding=json(finding.as_dict()),
        )
        task.file.added, task.file.known = task.file.added + added, task.file.known + 1 - added
        task.touched.add(engine)


def bottles(task: Task, part: list[Row]) -> None:
    """Rows of bottles.csv: steps of a bottle's way, each once."""
    for r in part:
        c = r.cells
        found = row(task.c, "sample_id", code=c["sample"])
        if found is None:
            task.problem(
                r.number,
                "sample",
                f"sample {c['sample']!r} is not known",
                "import samples.csv with it first",
            )
            continue
        added = run(
            task.c,
            "bottle_step_put",
            id=c["step"],
            sample=found["id"],
            step=c["what"],
            on=c["on"],
            laboratory=c.get("laboratory") or "",
            note=c.get("note") or "",
            by=c["by"],
            at=c.get("at"),
        )
        task.file.added, task.file.known = task.file.added + added, task.file.known + 1 - added
        owner = row(task.c, "engine_of_sample", code=c["sample"])
        if owner:
            task.touched.add(owner["engine_id"])


def answers(task: Task, part: list[Row]) -> None:
    """Rows of answers.csv: what a person said to a query, each once."""
    for r in part:
        c = r.cells
        engine = task.engine(c["engine"], r.number)
        if engine is None:
            continue
        added = run(
            task.c,
            "query_answer_put",
            id=c["answer"],
            engine=engine,
            query=c["query"],
            code=c["code"],
            said=c["said"],
            numbers=json(c.get("values") or {}),
            reason=c.get("reason") or "",
            by=c["by"],
            at=c["at"],
        )
        task.file.added, task.file.known = task.file.added + added, task.file.known + 1 - added
        task.touched.add(engine)


def _target(task: Task, r: Row) -> dict[str, int] | None:
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
        return None if engine is None else {"engine_id": engine}
    found: Record | None
    if c.get("sample"):
        found = row(task.c, "sample_id", code=c["sample"])
        owner = row(task.c, "engine_of_sample", code=c["sample"])
        if owner:
            task.touched.add(owner["engine_id"])
        key = "sample"
    else:
        found = row(
            task.c,
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
    return {f"{key}_id": found["id"]}
