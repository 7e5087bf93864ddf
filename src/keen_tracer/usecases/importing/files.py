"""Bring open files in: all or nothing, with every problem by file, row and column before anything
is written.

A preview is the same import, rolled back. So what the preview shows is what the import does.
"""

import hashlib
from collections.abc import Callable, Iterator
from functools import partial
from itertools import islice
from pathlib import Path
from typing import BinaryIO

from ...core.record import build_time_line
from ...core.roles import Actor, NotAllowed, check_door, check_may
from ...exchange.archive import members, picture_beside
from ...exchange.csvfile import OpenFile, Row
from ...storage import fleet
from ...storage.db import Connection, single
from ...storage.records import row, rows, run
from . import (
    averages,
    cases,
    debris,
    decisions,
    events,
    happened,
    kept_layouts,
    master_data,
    peers,
    pictures,
    reports,
    stopping,
    weights,
)
from .task import FileReport, ImportReport, Task

CHUNK = 4000


Handler = Callable[[Task, list[Row]], None]
HANDLERS: dict[str, Handler] = {
    "depots": master_data.depots,
    "models": master_data.models,
    "engines": master_data.engines,
    "plans": master_data.plans,
    "limits": master_data.limits,
    "oils": reports.oils,
    "events": events.events,
    "samples": events.samples,
    "readings": reports.readings,
    "decisions": decisions.decisions,
    "stops": happened.stops,
    "coolants": master_data.coolants,
    "bottles": happened.bottles,
    "answers": happened.answers,
    "peers": peers.peers,
    "policies": peers.policies,
    "debris": debris.debris,
    "outcomes": debris.outcomes,
    "weights": weights.weights,
    "pictures": pictures.pictures,
    "lines": pictures.lines,
    "cases": cases.cases,
    "case_entries": cases.entries,
    "work": cases.work,
    "links": cases.links,
    "moves": cases.moves,
    "hours": cases.hours,
    "maps": kept_layouts.layouts,
    "averages": averages.averages,
}
PUBLISHES = {"limits", "peers", "policies", "weights"}
# What is known only when a file has ended.
FINISHERS: dict[str, Callable[[Task], None]] = {
    "limits": master_data.finish_limits,
    "readings": reports.finish_readings,
    "peers": peers.finish_peers,
    "debris": debris.finish_debris,
    "weights": weights.finish_weights,
}


def chunks(rows_in: Iterator[Row]) -> Iterator[list[Row]]:
    while part := list(islice(rows_in, CHUNK)):
        yield part


def _one_file(task: Task, opened: OpenFile, digest: str, size: int) -> None:
    assert opened.table is not None
    task.file = FileReport(opened.name, opened.table.name, ignored=opened.ignored)
    task.report.files.append(task.file)
    if opened.table.export_only:
        task.file.note = "verdicts are not read: they are computed again from the figures"
        return
    found = row(
        task.connection,
        "source_put",
        sha256=digest,
        kind=opened.table.name,
        name=opened.name,
        bytes=size,
        by=task.actor.name,
        together=task.sources[0] if task.sources else None,
    )
    assert found is not None
    task.source = found["id"]
    task.sources.append(task.source)
    try:
        check_door(task.actor, opened.table.name, task.as_record)
        if opened.table.name in PUBLISHES:
            check_may(task.actor, "publish")
    except NotAllowed as error:
        task.problem(None, None, str(error), "let somebody who may bring this file in")
        return
    handler = HANDLERS[opened.table.name]
    for part in chunks(opened.rows()):
        task.file.rows += len(part)
        if task.most_rows is not None and task.file.rows > task.most_rows:
            task.problem(
                None,
                None,
                f"the file has over {task.most_rows} rows",
                "import it with ./keen import",
            )
            return
        handler(task, [r for r in part if _of_their_own(task, r)])
        task.tell(sum(f.rows for f in task.report.files))
    if opened.table.name in FINISHERS:
        FINISHERS[opened.table.name](task)


def _of_their_own(task: Task, r: Row) -> bool:
    """Whether what somebody answers for comes in by themselves; a problem where not. Of decisions
    those on record are known whoever brings them, so they ask by themselves."""
    by = r.cells.get("by")
    return by is None or task.file.table == "decisions" or task.their_own(r.number, by)


def _dials(task: Task) -> None:
    """Refuse dials that run backwards, naming the row; the time line alone says what backwards
    means."""
    suspects = [
        r["engine_id"] for r in rows(task.connection, "falling_dials", engines=sorted(task.touched))
    ]
    if not suspects:
        return
    for history in fleet.load(task.connection, suspects, {}).fleet.histories:
        unit = history.engine.meter_unit
        for wrong in build_time_line(history).backwards:
            origin = rows(task.connection, "source_rows", ids=[wrong.row.id])
            name, at = (origin[0]["name"], origin[0]["source_row"]) if origin else (None, None)
            task.problems.add(
                name or "on record",
                at,
                "meter",
                f"engine {history.engine.code}: {wrong.row.dial:g} {unit} on {wrong.row.on} "
                "is below "
                f"{wrong.before.dial:g} {unit} on {wrong.before.on}",
                "correct the figure, or add an event meter_replaced where the dial was changed",
            )


def _digest(stream: BinaryIO) -> tuple[str, int]:
    total, size = hashlib.sha256(), 0
    while part := stream.read(1 << 20):
        total.update(part)
        size += len(part)
    stream.seek(0)
    return total.hexdigest(), size


def run_import(
    connection: Connection,
    paths: list[tuple[str, Path]],
    who: Actor,
    accept: bool = False,
    most_rows: int | None = None,
    as_record: bool = False,
    tell: Callable[[int], None] = lambda rows: None,
) -> ImportReport:
    """Import files inside the caller's transaction, which must be rolled back when `written` is
    False.

    `paths` are (name as the person knows it, where it lies). `accept` takes changes to depots,
    models and engines; amended reports always wait for a person's decision of their own.
    `as_record` takes in what other people signed, as a whole record; only at the machine. Raises
    NotAllowed.
    """
    if as_record:
        check_may(who, "as_record")
    task = Task(connection, who, accept, most_rows, as_record, tell)
    task.picture = partial(picture_beside, paths)
    with members(paths, task.problems) as found:
        marks = [_digest(stream) for _, stream in found]
        opened = [
            (OpenFile(name, stream, task.problems), *mark)
            for (name, stream), mark in zip(found, marks, strict=True)
        ]
        for one, digest, size in sorted(
            opened, key=lambda x: (x[0].table.order if x[0].table else 0, x[0].name)
        ):
            if one.table is not None:
                _one_file(task, one, digest, size)
    if task.touched:
        _dials(task)
    report = task.report
    report.problems, report.problem_count = task.problems.shown, task.problems.total
    report.engines = len(task.touched)
    if report.problem_count == 0:
        report.written = True
        if task.all_touched:
            run(connection, "mark_all_stale")
        run(connection, "mark_stale", ids=sorted(task.touched))
        stopping.wait(task)
    return report


def import_files(
    url: str,
    paths: list[tuple[str, Path]],
    who: Actor,
    accept: bool = False,
    preview: bool = False,
    most_rows: int | None = None,
    as_record: bool = False,
    tell: Callable[[int], None] = lambda rows: None,
) -> ImportReport:
    """Import in one transaction of its own; a preview, or any problem, rolls everything back.
    Of two at once the second waits, and finds what the first brought; `tell` hears how many rows
    were read."""
    with single(url) as connection:
        run(connection, "one_import")
        report = run_import(connection, paths, who, accept, most_rows, as_record, tell)
        if preview or not report.written:
            connection.rollback()
            report.written = False
        return report
