"""What every page knows: who is here, what waits, what stands open."""

from datetime import date
from typing import Any

from ...storage.db import Connection
from ...storage.records import Row, number, rows, setting


def state(c: Connection, person: Row | None) -> dict[str, Any]:
    return {
        "today": date.today(),
        "person": person,
        "queue": number(c, "queue_count"),
        "stale": number(c, "stale_count"),
        "amendments": len(rows(c, "pending_amendments")),
        "queries": number(c, "queries_count"),
        "stray": number(c, "stray_count"),
        "engines": number(c, "count_engines"),
        "open_stops": rows(c, "open_stops"),
        "demo": setting(c, "demo_loaded") is not None,
    }
