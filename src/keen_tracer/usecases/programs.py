"""Programs of a person's own: their keys, and the files they sent that only a person can bring
in."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta

from .. import clock
from ..storage.db import Connection
from ..storage.records import Row, row, rows, run
from .answers.exchange import KeyOut, Waiting
from .answers.from_rows import answers
from .errors import CannotRecord, NotThere
from .fields import Day, Word

KEYS = 20  # a person has at once; our choice
KEY_DAYS, MOST_KEY_DAYS = 365, 3 * 365  # how long a key lasts, and at most; our choice


@dataclass(frozen=True, slots=True)
class WantedKey:
    """A key somebody wants for a program: which one, whether it may read besides bringing reports
    in, and the last day it opens anything (a year from now where none is said)."""

    name: Word
    reads: bool = False
    last_day: Day | None = None


def keys(connection: Connection, person: int) -> Sequence[KeyOut]:
    """A person's keys, the newest first, also ended ones."""
    return answers(KeyOut, rows(connection, "keys_of", person=person, today=clock.today()))


def make_key(connection: Connection, person: int, wanted: WantedKey, key_hash: bytes) -> None:
    """A key for a program; only its hash is kept. Raises CannotRecord."""
    name, today = wanted.name.strip(), clock.today()
    last = wanted.last_day or today + timedelta(days=KEY_DAYS)
    if not name:
        raise CannotRecord("name", "say which program it is for", {"name": "say which program"})
    if not today <= last <= today + timedelta(days=MOST_KEY_DAYS):
        words = f"a key ends within {MOST_KEY_DAYS // 365} years, and not before today"
        raise CannotRecord("last_day", words, {"last_day": words})
    if sum(k["ended_at"] is None and not k["over"] for k in keys(connection, person)) >= KEYS:
        raise CannotRecord("too_many", f"{KEYS} keys are in use; end one first")
    row(
        connection,
        "key_put",
        key=key_hash,
        person=person,
        name=name,
        reads=wanted.reads,
        last_day=last,
    )


def end_key(connection: Connection, person: int, key: int) -> None:
    """End one of a person's own keys. Raises NotThere."""
    if not run(connection, "key_end", id=key, person=person):
        raise NotThere("there is no such key of yours in use")


def put_aside(connection: Connection, name: str, content: bytes, why: str, who: str) -> None:
    """Keep a file that only a person can bring in, with why."""
    row(connection, "arrived_put", name=name, content=content, why=why, by=who)


def waiting(connection: Connection) -> Sequence[Waiting]:
    """Files that wait for a person, the oldest first."""
    return answers(Waiting, rows(connection, "arrived_waiting"))


def held(connection: Connection, file: int) -> Row:
    """A waiting file with what it holds. Raises NotThere."""
    found = row(connection, "arrived_content", id=file)
    if found is None:
        raise NotThere("nothing waits under this number")
    return found


def settle(connection: Connection, file: int, who: str) -> None:
    """A person is done with a waiting file. Raises NotThere."""
    if not run(connection, "arrived_settle", id=file, by=who):
        raise NotThere("nothing waits under this number")
