"""Events and drawn samples: rows of the time line. The same row twice adds nothing; a correction is
never undone.

A row that carries the identity it was exported with is that row. One without is known by what it
says, but for one case: an engine that was released on that day or before, after the same was
written down, may have done the same again, and it counts anew.
"""

import hashlib
from collections.abc import Iterable
from typing import Any
from uuid import UUID

from ...core.errors import CoreError
from ...core.record import check_event
from ...exchange.cells import written
from ...exchange.csvfile import Cells, Row
from ...storage.bulk import copy_rows, new_ids
from ...storage.records import Row as Held
from ...storage.records import rows
from . import reports
from .task import Task

_EVENT = (
    "meter_new",
    "litres_in",
    "litres_drained",
    "oil",
    "grade",
    "batch",
    "part",
    "note",
    "details",
)
_DRAW = (
    "purpose",
    "resample_of",
    "oil_change_meter",
    "oil",
    "method",
    "oil_changed_after",
    "top_up_l",
    "laboratory",
    "instrument",
    "analysed_on",
    "received_on",
    "appearance",
    "note",
    "level_on_stick",
    "smell",
)
_LOG_COLUMNS = (
    "id",
    "engine_id",
    "on_date",
    "at_time",
    "seq",
    "dial",
    "kind",
    "recorded_by",
    "source_id",
    "source_row",
    "typed",
)
_EVENT_COLUMNS = ("log_id", "dial_new", *_EVENT[1:])
_DRAW_COLUMNS = (
    *("log_id", "sample_id", "purpose", "resample_of", "oil_change_dial"),
    *_DRAW[3:],
    "hours_on_oil",
)
_TEXT = {
    "oil",
    "grade",
    "batch",
    "part",
    "note",
    "resample_of",
    "method",
    "laboratory",
    "instrument",
    "appearance",
    "smell",
}


def row_identity(*parts: object) -> UUID:
    """The identity of a log row that came from a file: made from what it says, so that a file read
    twice is known."""
    line = "\x1f".join(written(p) for p in parts)
    return UUID(bytes=hashlib.blake2b(line.encode(), digest_size=16).digest())


def new_identities(task: Task, keys: Iterable[UUID]) -> dict[UUID, UUID]:
    """The identity each new row is written with: its own, or another made from it where the log
    had it from a file that was taken back."""
    listed = list(keys)
    had = {r["id"] for r in rows(task.connection, "log_ids", ids=listed)}
    return {k: row_identity(k, task.source) if k in had else k for k in listed}


def _fields(cells: Cells, names: tuple[str, ...]) -> list[Any]:
    return [
        ("" if cells.get(n) is None else cells[n]) if n in _TEXT else cells.get(n) for n in names
    ]


Built = tuple[UUID, int, Row, list[Any]]  # identity, engine, row of the file, its own columns


def _event(task: Task, r: Row) -> Built | None:
    """A row of events.csv with its identity; None, and a problem, where it cannot be taken."""
    c = r.cells
    engine = task.engine(c["engine"], r.number)
    if engine is None or not _event_makes_sense(task, r):
        return None
    fields = _fields(c, _EVENT[:-1])
    details = c.get("details") or {}
    if c.get("row"):
        return c["row"], engine, r, [*fields, details]
    # An event without details is the same event it was before files had that column.
    key = row_identity(
        c["engine"],
        c["on"],
        c.get("at"),
        c.get("seq") or 0,
        c.get("meter"),
        c["kind"],
        *fields,
        *([details] if details else []),
        *([c["typed"]] if c.get("typed") else []),
    )
    return key, engine, r, [*fields, details]


Said = tuple[str, ...]


def _said(cells: Cells, fields: list[Any]) -> Said:
    """The cells of a file's row as text, so that two rows can be compared."""
    head = (
        cells["engine"],
        cells["on"],
        cells.get("at"),
        cells.get("seq") or 0,
        cells.get("meter"),
        cells["kind"],
    )
    return tuple(written(x) for x in (*head, *fields))


def _held(r: Held) -> Said:
    """What a row on record says, in the same words."""
    head = (r["engine"], r["on_date"], r["at_time"], r["seq"], r["dial"], r["kind"])
    return tuple(written(x) for x in (*head, r["dial_new"], *(r[n] for n in _EVENT[1:])))


def _twice(task: Task, at: int, other: int) -> None:
    task.problem(
        at,
        None,
        f"this event stands twice, also in row {other}",
        "remove one; if both happened give them another seq",
    )


def _log_row(
    task: Task, key: UUID, engine: int, r: Row, on: str, at: str, kind: str
) -> tuple[Any, ...]:
    """One line of the log; `on` and `at` name the columns that hold its day and time."""
    c = r.cells
    return (
        key,
        engine,
        c[on],
        c.get(at),
        c.get("seq") or 0,
        c.get("meter"),
        kind,
        task.actor.name,
        task.source,
        r.number,
        c.get("typed"),
    )


class _OnRecord:
    """The rows of the log on the days of some rows, those that were replaced among them."""

    def __init__(self, task: Task, built: Iterable[Built]):
        listed = list(built)
        self.task = task
        found = rows(
            task.connection,
            "events_on_record",
            engines=sorted({engine for _, engine, _, _ in listed}),
            days=sorted({r.cells["on"] for _, _, r, _ in listed}),
            ids=[str(key) for key, _, r, _ in listed if r.cells.get("row")],
        )
        self.by_id = {r["id"]: r for r in found}
        named = {str(key) for key, _, _, _ in listed}
        # Each stands for one row of the file that says the same under another name or none: those
        # nobody released since come last, and are taken first.
        self.alike: dict[Said, list[bool]] = {}
        for r in sorted(found, key=lambda r: not r["released"]):
            if r["id"] not in named:
                self.alike.setdefault(_held(r), []).append(r["released"])

    def has(self, one: Built) -> bool:
        """Whether a row is on record; one that contradicts the record is a problem."""
        key, _, r, fields = one
        before, said = self.by_id.get(str(key)), _said(r.cells, fields)
        if before is None:
            alike = self.alike.get(said, [])
            if not alike or (alike[-1] and not r.cells.get("row")):
                return False
            alike.pop()
        elif before["source_id"] == self.task.source:
            _twice(self.task, r.number, before["source_row"])
            return True
        elif r.cells.get("row") and said != _held(before):
            self.task.problem(
                r.number,
                "row",
                "this row is on record with other facts",
                "leave the record as it is in the file, or correct it in the program; an import "
                "never overwrites",
            )
            return True
        self.task.file.known += 1
        return True


def events(task: Task, part: list[Row]) -> None:
    """Rows of events.csv."""
    built: dict[UUID, Built] = {}
    for r in part:
        one = _event(task, r)
        if one is not None and one[0] in built:
            _twice(task, r.number, built[one[0]][2].number)
        elif one is not None:
            built[one[0]] = one
    held = _OnRecord(task, built.values())
    fresh = [one for one in built.values() if not held.has(one)]
    task.file.added += len(fresh)
    task.touched.update(engine for _, engine, _, _ in fresh)
    ids = new_identities(task, (key for key, _, _, _ in fresh))
    copy_rows(
        task.connection,
        "log",
        _LOG_COLUMNS,
        [_log_row(task, ids[k], e, r, "on", "at", r.cells["kind"]) for k, e, r, _ in fresh],
    )
    copy_rows(
        task.connection, "event", _EVENT_COLUMNS, [(ids[k], *fields) for k, _, _, fields in fresh]
    )


def _event_makes_sense(task: Task, r: Row) -> bool:
    c = r.cells
    if c["kind"] == "meter_replaced" and (c.get("meter") is None or c.get("meter_new") is None):
        task.problem(
            r.number,
            "meter_new",
            "a replaced meter needs both figures",
            "give the old dial under meter and the new one under meter_new",
        )
        return False
    if c["kind"] == "top_up" and not c.get("litres_in"):
        task.problem(r.number, "litres_in", "a top-up needs its litres", "give the litres put in")
        return False
    try:
        check_event(c["kind"], c.get("part") or "", c.get("details") or {})
    except CoreError as error:
        task.problem(r.number, "details", str(error), "correct the fact, or leave it out")
        return False
    return True


def _drawn(task: Task, r: Row, seen: dict[str, int]) -> Built | None:
    """A row of samples.csv with its identity; None, and a problem, where it cannot be taken."""
    c = r.cells
    engine = task.engine(c["engine"], r.number)
    if engine is None:
        return None
    if c["sample"] in seen:
        task.problem(
            r.number,
            "sample",
            f"sample {c['sample']!r} stands twice",
            f"row {seen[c['sample']]} has it too; keep one",
        )
        return None
    seen[c["sample"]] = r.number
    c["purpose"] = c.get("purpose") or "routine"
    fields = _fields(c, _DRAW)
    key = row_identity(
        "sample",
        c["sample"],
        c["engine"],
        c["drawn_on"],
        c.get("drawn_at"),
        c.get("meter"),
        *fields,
    )
    hours, typed = c.get("hours_on_oil"), c.get("typed")
    if hours is not None or typed:  # beside it, so that files from before it are known again
        key = row_identity(key, hours, typed)
    return key, engine, r, [*fields, hours]


def _report_of(r: Row, engine: int, sample: int) -> reports.Incoming:
    """The report in the analyte columns of a sample."""
    c = r.cells
    return reports.Incoming(
        c.get("laboratory") or "",
        c["sample"],
        1,
        sample,
        None,
        c.get("analysed_on"),
        r.readings,
        r.number,
        f"sample {c['sample']}",
        engine,
    )


def samples(task: Task, part: list[Row]) -> None:
    """Rows of samples.csv, with the report in their analyte columns where there is one."""
    seen: dict[str, int] = {}
    built = [one for r in part if (one := _drawn(task, r, seen)) is not None]
    record: dict[str, list[Held]] = {}
    for k in rows(task.connection, "samples_known", codes=list(seen)):
        record.setdefault(k["code"], []).append(k)
    # A label that was on a row of a file that was taken back stands where it stands now.
    record = {code: [h for h in held if h["log_id"]] or held for code, held in record.items()}
    ids = {code: held[0]["id"] for code, held in record.items()}
    fresh = []
    for one in built:
        before = record.get(one[2].cells["sample"])
        # A label nobody registered until now may have figures already.
        if before is None or before[0]["log_id"] is None:
            fresh.append(one)
        else:
            _known_sample(task, one[2], one[0], before)
    new = [r.cells["sample"] for _, _, r, _ in fresh if r.cells["sample"] not in ids]
    ids |= dict(zip(new, new_ids(task.connection, "sample", len(new)), strict=True))
    task.file.added += len(fresh)
    task.touched.update(engine for _, engine, _, _ in fresh)
    keys = new_identities(task, (key for key, _, _, _ in fresh))
    copy_rows(
        task.connection,
        "log",
        _LOG_COLUMNS,
        [_log_row(task, keys[k], e, r, "drawn_on", "drawn_at", "sample") for k, e, r, _ in fresh],
    )
    copy_rows(task.connection, "sample", ("id", "code"), [(ids[n], n) for n in new])
    drawn = [(keys[k], ids[r.cells["sample"]], *fields) for k, _, r, fields in fresh]
    copy_rows(task.connection, "draw", _DRAW_COLUMNS, drawn)
    found = [_report_of(r, e, ids[r.cells["sample"]]) for _, e, r, _ in built if r.readings]
    reports.write_reports(task, found)


def _known_sample(task: Task, r: Row, key: UUID, before: list[Held]) -> None:
    """A sample that is on record: the same row is known, another one is refused, a correction
    stays."""
    if any(b["source_id"] == task.source and b["source_row"] != r.number for b in before):
        task.problem(
            r.number,
            "sample",
            f"sample {r.cells['sample']!r} stands twice",
            f"row {before[-1]['source_row']} has it too; keep one",
        )
    elif any(b["log_id"] in (str(key), str(row_identity(key, b["source_id"]))) for b in before):
        task.file.known += 1
    else:
        now = before[-1]
        task.problem(
            r.number,
            "sample",
            f"sample {r.cells['sample']!r} is on record with other facts: {now['engine']}, "
            f"{now['on_date']}, "
            f"meter {written(now['dial'])}",
            "leave the record as it is in the file, or correct it in the program; an import never "
            "overwrites",
        )
