"""The finder: engines, samples and cases by any part of their name."""

from ...storage.db import Connection
from ...storage.records import Row, rows


def find(c: Connection, text: str) -> list[Row]:
    """Engines, samples and cases by any part of their name."""
    escaped = text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    return rows(c, "find", like=f"%{escaped}%") if text.strip() else []
