"""Answers of what every page shows around itself."""

from datetime import date, datetime

from typing_extensions import TypedDict


class Person(TypedDict):
    id: int
    name: str
    role: str


class OpenStop(TypedDict):
    code: str
    name: str


class Unjudged(TypedDict):
    """An engine the program cannot judge, and why."""

    code: str
    name: str
    why: str


class State(TypedDict):
    """What every page shows in its frame."""

    now: datetime  # the clock the pages go by
    today: date
    mark: int
    person: Person | None
    choices: dict[str, str]  # what the person chose: units, a tour that was dismissed
    queue: int
    stale: int
    stale_for: str  # how long the oldest of them has waited, in words, once that is too long
    unjudged: list[Unjudged]
    amendments: int
    currency: str  # what stands beside amounts of money, "" where nobody said
    demo: bool  # whether this is the invented fleet
    arrived: int  # files a program sent that wait for a person
    queries: int
    stray: int
    engines: int
    open_stops: list[OpenStop]


class Found(TypedDict):
    kind: str
    name: str
    detail: str
    engine: str
    key: str


class Health(TypedDict):
    database: str
    migration: int | None
    stale: int | None
    stale_s: float
    unjudged: int
    last_backup: datetime | None
    backup_tried: datetime | None
