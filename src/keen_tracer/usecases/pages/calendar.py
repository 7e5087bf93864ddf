"""The plan as a calendar and as a table."""

import hashlib
from collections.abc import Iterator
from urllib.parse import quote

from ... import clock
from ...core.terms import LEVELS
from ...exchange.calendar import Entry, calendar_of
from ...storage.db import Connection
from ...storage.records import Row, rows
from ..answers.plan import Listed
from .plan_tasks import tasks_by_engine

ALL = "Keen Tracer"


def _title(e: Row, task: Listed) -> str:
    late = f" ({task.late} d late)" if task.late else ""
    return f"{e['code']}: {task.what}{late}"


def _text(e: Row, task: Listed) -> str:
    said = [
        f"{e['code']} {e['name']}, {task.hours:g} h.",
        f"Allowed from {task.earliest} to {task.latest}"
        + (f", at {task.at_dial:,.0f} {e['unit']}." if task.at_dial is not None else "."),
        f"It stands at {LEVELS[task.level]}." if task.level else "",
        f"Moved by {task.moved_by}: {task.reason}" if task.reason else "",
        f"Needs: {task.tools}." if task.tools else "",
        f"Caution: {task.caution}" if task.caution else "",
    ]
    return "\n".join(x for x in said if x)


def _uid(e: Row, task: Listed) -> str:
    return hashlib.blake2b(f"{e['code']}|{task.key}".encode(), digest_size=16).hexdigest()


def _tasks(connection: Connection, depot: str | None, person: str) -> Iterator[tuple[Row, Listed]]:
    engines = rows(connection, "plan_rows", depot=depot)
    tasks = tasks_by_engine(connection, engines)
    for e in engines:
        for t in tasks[e["id"]]:
            if not person or t.who == person:
                yield e, t


def calendar(connection: Connection, depot: str | None, person: str, base: str) -> bytes:
    """Everything that is to be done in a depot, by a person, or at all; `base` is the address of
    the program as whoever asks reaches it, ending in a slash."""
    found = list(_tasks(connection, depot, person))
    ids = [e["id"] for e, _ in found]
    written = {r["engine_id"]: r["n"] for r in rows(connection, "written_of_engines", engines=ids)}
    entries = [
        Entry(
            key=_uid(e, t),
            day=t.day,
            title=_title(e, t),
            text=_text(e, t),
            place=e["depot"] or "",
            late=t.late > 0,
            link=f"{base}engine/{quote(e['code'], safe='')}",
            revision=written.get(e["id"], 0),
        )
        for e, t in found
    ]
    return calendar_of(person or depot or ALL, entries, clock.now())


COLUMNS = (
    *("engine", "name", "depot", "day", "task", "allowed_from", "allowed_to", "at_meter"),
    *("hours", "level", "late_days", "who", "reason"),
)


def table(connection: Connection, depot: str | None) -> Iterator[tuple[object, ...]]:
    """The same as rows, in the order of their days."""
    found = sorted(_tasks(connection, depot, ""), key=lambda x: (x[1].day, x[0]["code"], x[1].key))
    for e, t in found:
        yield (
            *(e["code"], e["name"], e["depot"], t.day, t.what, t.earliest, t.latest, t.at_dial),
            *(t.hours, LEVELS[t.level], t.late, t.who, t.reason),
        )
