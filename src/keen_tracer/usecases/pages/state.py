"""What every page shows: who is signed in, what waits, which Stops are open."""

from datetime import datetime, timedelta

from ... import clock
from ...storage.db import Connection, address
from ...storage.records import Row, number, row, rows, setting
from ..answers.frame import State
from ..answers.from_rows import answer
from ..days import day_at
from ..judging.currency import currency
from ..kept import Kept

TOO_LONG = timedelta(minutes=1)  # that an engine may wait to be judged unsaid; our choice

_kept = Kept[Row](8)  # what was counted last, for each database this process serves


def _counts(connection: Connection) -> Row:
    found = row(connection, "state")
    assert found is not None
    return {
        **found,
        "amendments": number(connection, "pending_amendments_count"),
        "currency": currency(connection),
        "demo": setting(connection, "demo_loaded") is not None,
        "arrived": number(connection, "arrived_count"),
        "stray": number(connection, "stray_count"),
        "open_stops": rows(connection, "open_stops"),
        "unjudged": [
            {k: r[k] for k in ("code", "name", "why")} for r in rows(connection, "unjudged")
        ],
    }


def waited(connection: Connection) -> timedelta:
    """How long the engine that waits longest to be judged has waited; none: no time at all."""
    since = (row(connection, "stale_since") or {}).get("since")
    return max(clock.now() - since, timedelta()) if since else timedelta()


def _too_long(since: datetime | None) -> str:
    """The age of what waits, once the pages must not be taken for current."""
    age = clock.now() - since if since else timedelta()
    return f"{age // timedelta(minutes=1)} min" if age >= TOO_LONG else ""


def state(connection: Connection, person: Row | None) -> State:
    """The one thing every page asks for again and again. Its `mark` moves with every write; as long
    as it stands, nothing is counted anew."""
    mark, today = number(connection, "mark"), day_at(connection)
    counts = dict(_kept.get(address(connection), (mark, today), lambda: _counts(connection)))
    stale_for = _too_long(counts.pop("stale_since"))
    mine = rows(connection, "choices_of", person=person["id"]) if person else []
    return answer(
        State,
        counts,
        now=clock.now(),
        today=today,
        mark=mark,
        person=person,
        stale_for=stale_for,
        choices={r["what"]: r["chosen"] for r in mine},
    )
