"""Answers of imports and backups."""

from datetime import date, datetime

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


class KeyOut(TypedDict):
    """A key of a program of a person's own."""

    id: int
    name: str
    made_at: datetime
    used_at: datetime | None
    ended_at: datetime | None
    reads: bool
    last_day: date
    over: bool


class KeyMade(TypedDict):
    """A new key, shown this once."""

    key: str


class Arrived(TypedDict):
    """What became of a file: `why` it waits for a person, "" where it was brought in."""

    why: str


class Waiting(TypedDict):
    """A file that waits for a person."""

    id: int
    name: str
    why: str
    sent_by: str
    sent_at: datetime
