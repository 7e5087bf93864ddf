"""How files of a laboratory are read, kept by their headings and known again."""

from dataclasses import asdict, replace

from ...core.laboratory import BY_COLUMN
from ...core.terms import REPORT_FIELDS
from ...exchange.csvfile import Row
from ...exchange.layouts import Column, Layout, Line, fingerprint, targets
from ...storage.bulk import insert
from ...storage.db import Connection
from ...storage.records import Row as Record
from ...storage.records import json, row
from ..errors import CannotRecord
from .task import Task


def layout_of(kept: Record) -> Layout:
    """A layout as it was kept or sent. Raises CannotRecord for one that cannot be."""
    columns = tuple(Column(**x) for x in kept["columns"])
    lines = tuple(Line(**x) for x in kept.get("lines", ()))
    known = {"", *targets()}
    stood_for = [*(x.target for x in columns), *(x.target for x in lines)]
    wrong = next((t for t in stood_for if t not in known), None)
    if wrong is not None:
        raise CannotRecord("unknown_target", f"a column cannot stand for {wrong!r}")
    given = [(x.target, x.turn) for x in columns if x.target]
    given += [(x.target, 0) for x in lines if x.target]
    twice = next((t for t, turn in given if given.count((t, turn)) > 1), None)
    if twice:
        said = REPORT_FIELDS.get(twice) or BY_COLUMN[twice].name
        raise CannotRecord("target_twice", f"two columns stand for {said}; choose one of them")
    parts = kept.get("parts")
    return Layout(
        **{
            **kept,
            "columns": columns,
            "lines": lines,
            "parts": None if parts is None else tuple(parts),
            "others": tuple(kept.get("others", ())),
        }
    )


def kept(connection: Connection, layout: Layout) -> tuple[Layout, str]:
    """The layout somebody kept for these headings, and for which laboratory; else the one given."""
    found = _held(connection, fingerprint([x.heading for x in layout.columns]))
    if found is None:
        return layout, ""
    held = layout_of(found["layout"])
    if len(held.columns) != len(layout.columns):
        return layout, ""
    # Where the headings stand is this file's own: a letterhead grows by a line.
    here = replace(held, way=layout.way, header=layout.header, body=layout.body, width=layout.width)
    return here, found["laboratory"] or "these headings"


# What stands in place of a layout that was forgotten: what was said last counts.
FORGOTTEN: Record = {}


def _held(connection: Connection, heads: str) -> Record | None:
    """What was kept last for these headings; None where nothing was, or it was forgotten."""
    found = row(connection, "layout_of_heads", heads=heads)
    return None if found is None or found["layout"] == FORGOTTEN else found


def _say(connection: Connection, heads: str, laboratory: str, layout: Record, who: str) -> None:
    said = {"heads": heads, "laboratory": laboratory, "layout": json(layout), "said_by": who}
    insert(connection, "report_layout", said)


def keep(connection: Connection, layout: Layout, who: str) -> None:
    """Keep how a file was read, for the next one with the same headings."""
    heads = fingerprint([x.heading for x in layout.columns])
    held = _held(connection, heads)
    # Whose this file was is not whose the next one is.
    layout = replace(layout, engine="")
    if held is None or layout_of(held["layout"]) != layout:
        _say(connection, heads, layout.laboratory, asdict(layout), who)


def forget(connection: Connection, layout: Layout, who: str) -> None:
    """Forget how files with these headings are read: the next one is read as it looks. What was
    brought in stays. Nothing is written where nothing is kept."""
    heads = fingerprint([x.heading for x in layout.columns])
    held = _held(connection, heads)
    if held is not None:
        _say(connection, heads, held["laboratory"], FORGOTTEN, who)


def layouts(task: Task, part: list[Row]) -> None:
    """Rows of layouts.csv: how files with certain headings are read."""
    for r in part:
        c = r.cells
        if row(task.connection, "layout_there", heads=c["heads"], at=c["at"]) is not None:
            task.file.known += 1
            continue
        try:
            if c["layout"] != FORGOTTEN:
                layout_of(c["layout"])
        except (CannotRecord, KeyError, TypeError) as error:
            task.problem(
                r.number, "layout", f"no layout ({error})", "leave it as the export wrote it"
            )
            continue
        insert(
            task.connection,
            "report_layout",
            {
                "heads": c["heads"],
                "laboratory": c.get("laboratory") or "",
                "layout": json(c["layout"]),
                "said_by": c["by"],
                "said_at": c["at"],
            },
        )
        task.file.added += 1
