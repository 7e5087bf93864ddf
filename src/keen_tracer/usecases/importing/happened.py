"""What happened beside the log: Stops that were raised, a bottle's way, answers to queries."""

from ...core.errors import CoreError
from ...core.findings import stored
from ...exchange.csvfile import Row
from ...storage.records import json, row, run
from .task import Task


def stops(task: Task, part: list[Row]) -> None:
    """Rows of stops.csv: Stops that were raised, each once; they remain whatever else comes."""
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
            task.connection,
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
        found = row(task.connection, "sample_id", code=c["sample"])
        if found is None:
            task.problem(
                r.number,
                "sample",
                f"sample {c['sample']!r} is not known",
                "import samples.csv with it first",
            )
            continue
        added = run(
            task.connection,
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
        owner = row(task.connection, "engine_of_sample", code=c["sample"])
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
            task.connection,
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
