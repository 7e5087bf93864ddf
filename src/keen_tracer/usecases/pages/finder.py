"""The finder: engines, samples and cases by any part of their name."""

from ...storage.db import Connection
from ...storage.records import anywhere, rows
from ..answers.frame import Found
from ..answers.from_rows import answers


def find(connection: Connection, text: str) -> list[Found]:
    """Engines, samples and cases by any part of their name."""
    if not text.strip():
        return []
    return answers(Found, rows(connection, "find", like=anywhere(text)))
