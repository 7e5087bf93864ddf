"""Answers of imports and backups."""

from datetime import datetime

from typing_extensions import TypedDict


class Standing(TypedDict):
    """When it was last written down elsewhere, and last tried whether that comes back."""

    last_backup: datetime | None
    backup_tried: datetime | None


class SourceOut(TypedDict):
    """A file that was brought in; `mark` is the start of its SHA-256."""

    name: str
    kind: str
    bytes: int
    imported_at: datetime
    imported_by: str
    mark: str


class AmendedReading(TypedDict):
    symbol: str
    old: str
    new: str


class Amendment(TypedDict):
    id: int
    laboratory: str
    report: str
    revision: int
    sample: str | None
    readings: list[AmendedReading]
