"""What every page knows: who is here, what waits, what stands open."""

from datetime import date
from typing import Any

from ...storage.db import Connection
from ...storage.records import Row, number, row, rows

# What was counted last, for each database this process serves: (mark, day, counts).
_counted: dict[str, tuple[int, date, Row]] = {}


def _counts(c: Connection) -> Row:
    found = row(c, "state")
    assert found is not None
    return {
        **found,
        "amendments": number(c, "pending_amendments_count"),
        "stray": number(c, "stray_count"),
        "open_stops": rows(c, "open_stops"),
    }


def state(c: Connection, person: Row | None) -> dict[str, Any]:
    """The one thing every page asks for again and again. Its `mark` moves with every write; as long
    as it stands, nothing is counted anew."""
    mark, today = number(c, "mark"), date.today()
    held = _counted.get(c.info.dsn)
    if held is None or held[:2] != (mark, today):
        held = (mark, today, _counts(c))
        _counted[c.info.dsn] = held
    return {"today": today, "mark": mark, "person": person, **held[2]}
