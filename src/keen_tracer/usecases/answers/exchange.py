"""Answers of imports and backups."""

from datetime import date, datetime

from typing_extensions import TypedDict


class Standing(TypedDict):
    """When it was last written down elsewhere, and last tried whether that comes back."""

    last_backup: datetime | None
    backup_tried: datetime | None


class SourceOut(TypedDict):
    """A file that was brought in; `mark` is the start of its SHA-256. Files that came in together
    have one `together`; `taken_by` and `reason` where it was taken back."""

    id: int
    together: int
    name: str
    kind: str
    bytes: int
    imported_at: datetime
    imported_by: str
    mark: str
    taken_by: str | None
    taken_at: datetime | None
    reason: str


class InTheWay(TypedDict):
    """What somebody did with what an import brought, and why it keeps the import from being taken
    back."""

    words: str


class TakenBack(TypedDict):
    """What taking an import back comes to: what would go, or went, what stays, and what is in the
    way; nothing is taken back while anything is."""

    files: list[str]
    events: int
    samples: int
    looks: int
    reports: int
    figures: int
    engines: list[str]
    stays: list[str]
    in_the_way: list[InTheWay]
    done: bool


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
