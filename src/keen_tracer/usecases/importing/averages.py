"""Rows of averages.csv: what a laboratory prints as usual for a model."""

from ...exchange.cells import written
from ...exchange.csvfile import Cells, Row
from ...storage.bulk import insert, known
from ...storage.db import Connection
from ...storage.records import row
from .task import Task


def put_average(connection: Connection, cells: Cells, who: str) -> None:
    """One average on record; the newest of its laboratory, model and analyte counts."""
    given = {k: cells.get(k) for k in ("laboratory", "model", "analyte", "average", "at_meter")}
    when = {"said_at": cells["at"]} if cells.get("at") else {}
    said = {"origin": cells.get("origin") or "", "said_by": cells.get("by") or who}
    insert(connection, "average", {**given, **said, **when})


def averages(task: Task, part: list[Row]) -> None:
    """A row that names who said it and when is a record of its own; one without is a
    laboratory's list, and another figure than the one that counts is a change to accept."""
    models = known(
        task.connection, "model", "code", ["code"], sorted({r.cells["model"] for r in part})
    )
    for r in part:
        c = r.cells
        if c["model"] not in models:
            what = f"model {c['model']!r} is not known"
            task.problem(r.number, "model", what, "bring in models.csv, or correct the name")
            continue
        key = {k: c[k] for k in ("laboratory", "model", "analyte")}
        if c.get("at"):
            if row(task.connection, "average_there", **key, at=c["at"]) is not None:
                task.file.known += 1
                continue
        elif (now := row(task.connection, "average_now", **key)) is not None:
            told = (c["average"], c.get("at_meter"), c.get("origin") or "")
            if told == (now["average"], now["at_meter"], now["origin"]):
                task.file.known += 1
                continue
            what = f"{c['laboratory']}, {c['model']}, {c['analyte']}"
            task.change(r.number, f"average of {what}", written(now["average"]), written(told[0]))
            if not task.accept:
                task.file.known += 1
                continue
        put_average(task.connection, c, task.actor.name)
        task.file.added += 1
