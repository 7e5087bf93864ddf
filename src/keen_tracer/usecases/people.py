"""The short list of people: who may be on it, and who may put them there."""

from dataclasses import fields

from ..core.errors import CoreError
from ..core.names import check_new_name
from ..core.roles import Actor, check_may
from ..core.terms import SHOWN_UNITS
from ..core.words import Units
from ..storage.db import Connection
from ..storage.records import Row, row, rows, run
from .answers.frame import Person
from .answers.from_rows import answer
from .errors import CannotRecord, NotThere

LEAST = "technician"  # the role that decides nothing, which anybody may give
MOST = 200  # people on a list one chooses a name from; our choice


class NobodyYet(Exception):
    """Somebody has to be on the list before others can be added to it."""


def add_person(connection: Connection, name: str, role: str, by: Actor | None) -> Person:
    """Put somebody on the list; a name that is on it already is answered as it is, with its role.

    by : who does it; None for a page nobody has chosen a name on, which may only make the very
        first person
    Raises NotAllowed, CannotRecord, NobodyYet.
    """
    name = " ".join(name.split())
    everybody = rows(connection, "everybody")
    there = next((p for p in everybody if p["name"] == name and p["active"]), None)
    if there is not None:
        return answer(Person, there)
    if role == "admin":
        check_may(by or Actor("", "guest"), "add_admin")
    if by is not None:
        check_may(by, "add_person" if role == LEAST else "give_role")
    elif everybody:
        raise NobodyYet
    if len(everybody) >= MOST:
        raise CannotRecord("too_many", f"the list holds {MOST} people; more cannot be chosen from")
    try:
        check_new_name(name, (p["name"] for p in everybody))
    except CoreError as error:
        raise CannotRecord(error.code, str(error), {"name": str(error)}) from error
    made = row(connection, "person_put", name=name, role=role)
    assert made is not None
    return answer(Person, made)


def set_role(connection: Connection, name: str, role: str, by: Actor) -> Person:
    """Give somebody on the list another role, or take one away. Raises NotAllowed, NotThere."""
    check_may(by, "add_admin" if role == "admin" else "give_role")
    changed = row(connection, "person_role_put", name=name, role=role)
    if changed is None:
        raise NotThere(f"{name} is not on the list")
    return answer(Person, changed)


# What somebody may choose for himself, each with what it may be.
CHOICES = {**{what: tuple(units) for what, units in SHOWN_UNITS.items()}, "tour": ("seen",)}


def choose(connection: Connection, person: int, what: str, chosen: str) -> None:
    """Keep what somebody chose for himself. Raises CannotRecord for what nobody can choose."""
    known = CHOICES.get(what)
    if known is None or chosen not in known:
        said = f"one of {', '.join(known)}" if known else f"one of {', '.join(CHOICES)}"
        raise CannotRecord("unknown_choice", f"choose {said}", {what: f"choose {said}"})
    run(connection, "choice_put", person=person, what=what, chosen=chosen)


def units_of(connection: Connection, person: Row | None) -> Units:
    """The units somebody reads; the program's own where nobody asks or nothing was chosen."""
    found = rows(connection, "choices_of", person=person["id"]) if person else []
    chosen = {r["what"]: r["chosen"] for r in found}
    return Units(**{f.name: chosen[f.name] for f in fields(Units) if f.name in chosen})
