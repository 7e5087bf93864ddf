"""Which engines something new is tried on before it is published."""

from ...storage.db import Connection
from ...storage.records import number, rows

TRIED_SAMPLES = 4000  # our choice, for half a minute's work


def spread_over(connection: Connection) -> list[int]:
    """Engines spread evenly over the fleet, so many that their samples stay about within
    TRIED_SAMPLES."""
    ids = [r["id"] for r in rows(connection, "engine_ids", codes=None)]
    every = -(-number(connection, "count_samples") // TRIED_SAMPLES)
    return ids[:: max(every, 1)]
