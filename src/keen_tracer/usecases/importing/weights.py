"""Weights of evidence in: a version lies over the one in force, row by row."""

from ...core.causes import BadWeight, WeightRow, with_weights
from ...exchange.csvfile import Row
from ...storage.peers import publish_weights, weights_in_force
from ...storage.records import row, rows
from .task import Task


def weights(task: Task, part: list[Row]) -> None:
    """Rows of weights.csv, collected by version until the file ends."""
    for r in part:
        c = r.cells
        one = WeightRow(c["mode"], c["evidence"], c["seen"], c.get("absent") or 0.0, c["origin"])
        held = task.weights.setdefault(c["version"], {})
        if one.key in held:
            task.problem(
                r.number,
                "evidence",
                "this weight stands twice in its version",
                "keep one of the rows",
            )
            continue
        try:
            with_weights([one])
        except BadWeight as error:
            task.problem(r.number, "evidence", str(error), "correct the row")
            continue
        held[one.key] = one


def finish_weights(task: Task) -> None:
    """Publish each version that is not known; one that is must say the same."""
    for name, given in task.weights.items():
        known = row(task.connection, "weights_named", name=name)
        if known is None:
            before = {w.key: w for w in weights_in_force(task.connection)[1]}
            publish_weights(task.connection, name, task.actor.name, (before | given).values())
            task.file.added += len(given)
            task.all_touched = True
        elif set(given.values()) <= {
            WeightRow(**x) for x in rows(task.connection, "weight_rows", version=known["id"])
        }:
            task.file.known += len(given)
        else:
            task.problem(
                None,
                "version",
                f"version {name!r} is published with other rows",
                "give the changed weights a new version name; published ones never change",
            )
    task.weights = {}
