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


@dataclass(frozen=True, slots=True)
class Actor:
    """Who does something, and as what: a role of the list, or `MACHINE`."""

    name: str
    role: str


@dataclass(frozen=True, slots=True)
class _Right:
    words: str
    roles: frozenset[str]


def _rights() -> dict[str, _Right]:
    return {
        r["what"]: _Right(r["words"], frozenset(r["roles"].split())) for r in tables.read("roles")
    }


RIGHTS: Mapping[str, _Right] = _rights()


def at_the_machine(name: str) -> Actor:
    """The administrator at the machine."""
    return Actor(name, MACHINE)


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
