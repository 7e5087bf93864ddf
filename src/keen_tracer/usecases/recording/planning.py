"""Tasks moved to another day, hours a depot has, calendars that leave the house."""

import hashlib
import secrets
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from uuid import UUID

from ...core.errors import CoreError
from ...core.planning import check_move
from ...storage.bulk import insert
from ...storage.db import Connection
from ...storage.errors import Conflict
from ...storage.records import row, rows, run
from ..answers.from_rows import answers
from ..answers.plan import FeedOut, Listed
from ..days import day_of_engine
from ..errors import CannotRecord, NotThere
from ..fields import Day, TaskKey, Text, Word
from ..pages.plan_tasks import tasks_of_engine

SECRET_BYTES = 24  # of a calendar's address; our choice


@dataclass(frozen=True, slots=True, kw_only=True)
class Move:
    """A task moved. `id` is made by the client; `day` None: back to its own; `follows`: the move
    the person saw standing."""

    id: UUID
    engine: Word
    task: TaskKey
    day: Day | None = None
    reason: Text = ""
    follows: UUID | None = None


def move(connection: Connection, want: Move, who: str) -> None:
    """Move a task; sent twice it is moved once.

    Raises NotThere for a task that is done or was never there, CannotRecord for a day it cannot go
    to, Conflict where another moved it meanwhile.
    """
    if row(connection, "task_move_there", id=want.id) is not None:
        return
    engine, listed = tasks_of_engine(connection, want.engine)
    found = next((t for t in listed if t.key == want.task), None)
    if found is None:
        raise NotThere("this task is done, or another stands in its place; look again")
    if found.move != want.follows:
        raise Conflict("task_move_standing")
    _gate(found, want.day, want.reason, day_of_engine(connection, want.engine))
    _check_turn(found, listed, want.day)
    insert(
        connection,
        "task_move",
        {
            "id": want.id,
            "engine_id": engine,
            "task": want.task,
            "day": want.day,
            "reason": want.reason.strip(),
            "follows": want.follows,
            "moved_by": who,
        },
    )


def _gate(task: Listed, day: date | None, reason: str, today: date) -> None:
    if day is None:
        return
    try:
        check_move(task.earliest, task.latest, task.movable, day, reason, today)
    except CoreError as error:
        raise CannotRecord(error.code, str(error)) from error


def _check_turn(task: Listed, listed: Iterable[Listed], day: date | None) -> None:
    """Refuse a day that lies before the work that has to be done first; no reason changes that.
    Raises CannotRecord."""
    first = max((t for t in listed if t.key in task.after), key=lambda t: t.day, default=None)
    if day is not None and first is not None and day < first.day:
        words = f"{first.what!r} comes before it and stands on {first.day}: move that one first"
        raise CannotRecord("order_of_work", words)


def move_all(connection: Connection, wanted: Iterable[Move], who: str) -> None:
    """A proposal taken over: every move or none, what comes first before what waits for it."""
    moves = list(wanted)
    after = {
        (code, t.key): len(t.after)
        for code in {m.engine for m in moves}
        for t in tasks_of_engine(connection, code)[1]
    }
    for one in sorted(moves, key=lambda m: after.get((m.engine, m.task), 0)):
        move(connection, one, who)


def say_hours(
    connection: Connection, depot: str, starts: str, hours: list[float], who: str
) -> None:
    """What hours a depot has from a day of the year on; none takes the season back."""
    if row(connection, "depot_by_code", code=depot) is None:
        raise NotThere(f"there is no depot {depot}")
    if hours and any(not 0 <= h <= 1000 for h in hours):
        raise CannotRecord("hours", "hours of a day go from 0 to 1000")
    insert(
        connection,
        "depot_hours",
        {"depot": depot, "starts": starts, "hours": hours, "said_by": who},
    )


def _hash(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()


def open_feed(connection: Connection, key: UUID, depot: str, person: str, who: str) -> str:
    """A new calendar, for a depot, for a person's work, or for all; its secret, which is shown once
    and never kept."""
    if depot and row(connection, "depot_by_code", code=depot) is None:
        raise NotThere(f"there is no depot {depot}")
    secret = secrets.token_urlsafe(SECRET_BYTES)
    insert(
        connection,
        "calendar_feed",
        {
            "id": key,
            "secret_hash": _hash(secret),
            "depot": depot or None,
            "person": person,
            "made_by": who,
        },
    )
    return secret


def feed_of(connection: Connection, secret: str) -> tuple[str | None, str]:
    """(depot, person) of a calendar's secret. Raises NotThere, the same for a wrong and a revoked
    one."""
    found = row(connection, "feed_by_hash", hash=_hash(secret))
    if found is None:
        raise NotThere("there is no such calendar, or its address was renewed")
    return found["depot"], found["person"]


def revoke_feed(connection: Connection, key: UUID) -> None:
    run(connection, "feed_revoke", id=key)


def feeds(connection: Connection) -> list[FeedOut]:
    """Calendars that leave the house, without their secrets."""
    return answers(FeedOut, rows(connection, "feeds"))
