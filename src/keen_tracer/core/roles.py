"""Who does something, and what their role lets them do: one table, asked by every use case."""

from collections.abc import Mapping
from dataclasses import dataclass

from . import tables
from .errors import CoreError
from .terms import ROLES

MACHINE = "machine"  # whoever is at the machine itself and runs ./keen


class NotAllowed(CoreError):
    """Something a role does not let somebody do."""

    code = "not_allowed"


PROGRAM = "program"  # whoever sends a key: it decides nothing


@dataclass(frozen=True, slots=True)
class Actor:
    """Who does something, as what, and by which door: a role of the list, `MACHINE` or `PROGRAM`; a
    door of `tables/doors.csv`."""

    name: str
    role: str
    door: str = "page"


@dataclass(frozen=True, slots=True)
class _Right:
    words: str
    roles: frozenset[str]


def _rights() -> dict[str, _Right]:
    return {
        r["what"]: _Right(r["words"], frozenset(r["roles"].split())) for r in tables.read("roles")
    }


DOORS: Mapping[str, frozenset[str]] = {
    r["table"]: frozenset(r["doors"].split()) for r in tables.read("doors")
}
DOOR_WORDS: Mapping[str, str] = {
    "page": "by a person on a page",
    "key": "by a program's key",
    "folder": "by a watched folder",
    "command": "by ./keen import",
    "record": "by ./keen import --as-record",
}


def check_door(actor: Actor, table: str, as_record: bool = False) -> None:
    """Raises NotAllowed, naming the doors there are, where a file of this kind may not come in by
    the door it came to.

    >>> check_door(Actor("lab", PROGRAM, "key"), "limits")  # doctest: +ELLIPSIS
    Traceback (most recent call last):
    ...
    keen_tracer.core.roles.NotAllowed: limits.csv does not come in by a program's key, but by a ...
    """
    door = "record" if as_record else actor.door
    if door in DOORS[table]:
        return
    others = " or ".join(words for code, words in DOOR_WORDS.items() if code in DOORS[table])
    raise NotAllowed(f"{table}.csv does not come in {DOOR_WORDS[door]}, but {others}")


RIGHTS: Mapping[str, _Right] = _rights()


def at_the_machine(name: str) -> Actor:
    """The administrator at the machine."""
    return Actor(name, MACHINE, "command")


def by_folder(name: str) -> Actor:
    """What is laid into a watched folder, whoever laid it there."""
    return Actor(name, PROGRAM, "folder")


def anybody(name: str) -> Actor:
    """Somebody of whom no more is asked than what everybody on the list may do."""
    return Actor(name, "technician")


def check_may(actor: Actor, what: str) -> None:
    """Raises NotAllowed, naming who may, where the actor's role does not let them.

    >>> check_may(Actor("Jo", "technician"), "lift")  # doctest: +ELLIPSIS
    Traceback (most recent call last):
    ...
    keen_tracer.core.roles.NotAllowed: a technician may not release or restrict an engine: ...
    """
    right = RIGHTS[what]
    if actor.role in right.roles:
        return
    role = ROLES.get(actor.role, actor.role)
    article = "an" if role[0] in "aeiou" else "a"
    raise NotAllowed(f"{article} {role} may not {right.words}")
