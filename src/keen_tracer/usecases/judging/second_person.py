"""A site may ask for two people: whoever signed a Stop or did the work on it cannot lift it."""

from collections.abc import Sequence

from ...core.roles import Actor, check_may
from ...core.verdict import Level, Reason
from ...storage.db import Connection
from ...storage.records import rows, run, set_setting, setting
from ..errors import CannotDecide

POLICY = "second_person"
WORDS = "by another person than who signed it or did the work"


def is_asked(connection: Connection) -> bool:
    """Whether the site asks for a second person."""
    return bool(setting(connection, POLICY))


def ask(connection: Connection, asked: bool, who: Actor) -> None:
    """Set the policy, by an administrator; who changed it is kept."""
    check_may(who, "site_policy")
    before = is_asked(connection)
    set_setting(connection, POLICY, asked)
    run(
        connection,
        "record_change_put",
        place="library",
        code=POLICY,
        field="asked",
        old="yes" if before else "no",
        new="yes" if asked else "no",
        by=who.name,
    )


def check_second(
    connection: Connection, engine: int, reasons: Sequence[Reason], who: Actor
) -> None:
    """Raises CannotDecide where the policy asks for a second person and this one signed what stops
    the engine, or wrote down the work on it since."""
    stops = [r for r in reasons if r.level >= Level.STOP]
    if not stops or not is_asked(connection):
        return
    involved = rows(
        connection,
        "first_people_of_stop",
        engine=engine,
        since=min(r.on for r in stops),
        samples=[r.sample for r in reasons if r.level >= Level.ACT and r.sample],
    )
    did = {person["what"] for person in involved if person["name"] == who.name}
    if did:
        what = " and ".join(sorted(did))
        raise CannotDecide(
            "second_person",
            f"{who.name} {what}: here a Stop is lifted {WORDS}; ask another releaser",
        )
