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


def _title(e: Row, t: Listed) -> str:
    late = f" ({t.late} d late)" if t.late else ""
    return f"{e['code']}: {t.what}{late}"


def _text(e: Row, t: Listed) -> str:
    said = [
        f"{e['code']} {e['name']}, {t.hours:g} h.",
        f"Allowed from {t.earliest} to {t.latest}"
        + (f", at {t.at_dial:,.0f} {e['unit']}." if t.at_dial is not None else "."),
        f"It stands at {LEVELS[t.level]}." if t.level else "",
        f"Moved by {t.moved_by}: {t.reason}" if t.reason else "",
        f"Needs: {t.tools}." if t.tools else "",
        f"Caution: {t.caution}" if t.caution else "",
    ]
    return "\n".join(x for x in said if x)


def _uid(e: Row, t: Listed) -> str:
    return hashlib.blake2b(f"{e['code']}|{t.key}".encode(), digest_size=16).hexdigest()


def _tasks(c: Connection, depot: str | None, person: str) -> Iterator[tuple[Row, Listed]]:
    engines = rows(c, "plan_rows", depot=depot)
    tasks = tasks_by_engine(c, engines)
    for e in engines:
        for t in tasks[e["id"]]:
            if not person or t.who == person:
                yield e, t


def calendar(c: Connection, depot: str | None, person: str, base: str) -> bytes:
    """Everything that is to be done in a depot, by a person, or at all; `base` is the address of
    the program as whoever asks reaches it, ending in a slash."""
    found = list(_tasks(c, depot, person))
    ids = [e["id"] for e, _ in found]
    written = {r["engine_id"]: r["n"] for r in rows(c, "written_of_engines", engines=ids)}
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


def table(c: Connection, depot: str | None) -> Iterator[tuple[object, ...]]:
    """The same as rows, in the order of their days."""
    found = sorted(_tasks(c, depot, ""), key=lambda x: (x[1].day, x[0]["code"], x[1].key))
    for e, t in found:
        yield (
            *(e["code"], e["name"], e["depot"], t.day, t.what, t.earliest, t.latest, t.at_dial),
            *(t.hours, LEVELS[t.level], t.late, t.who, t.reason),
        )
