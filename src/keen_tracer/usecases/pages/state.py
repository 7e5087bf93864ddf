"""What every page knows: who is here, what waits, what stands open."""

from datetime import date
from typing import Any

from ...storage.db import Connection
from ...storage.records import Row, number, row, rows, setting


def state(c: Connection, person: Row | None) -> dict[str, Any]:
    """The one thing every page asks for again and again: cheap, and its `mark` moves with every
    write."""
    counts = row(c, "state")
    assert counts is not None
    return {
        "today": date.today(),
        "person": person,
        **counts,
        "amendments": number(c, "pending_amendments_count"),
        "stray": number(c, "stray_count"),
        "open_stops": rows(c, "open_stops"),
        "demo": setting(c, "demo_loaded") is not None,
    }
