"""The currency a site counts its money in: said beside every amount, never converted."""

from ...core.bounds import check_text
from ...core.roles import Actor, check_may
from ...storage.db import Connection
from ...storage.records import run, set_setting, setting

KEY = "currency"
LONGEST = 8  # letters: a sign, a code of three letters, or a short word; our choice


def currency(connection: Connection) -> str:
    """The currency shown beside amounts, "" where none was chosen."""
    return str(setting(connection, KEY) or "")


def set_currency(connection: Connection, said: str, who: Actor) -> str:
    """Keep the currency, by an administrator; who changed it is kept. The amounts stay as they are.

    Raises NotAllowed; BadText where it is too long.
    """
    check_may(who, "site_policy")
    wanted, before = check_text(" ".join(said.split()), LONGEST), currency(connection)
    set_setting(connection, KEY, wanted)
    run(
        connection,
        "record_change_put",
        place="library",
        code=KEY,
        field=KEY,
        old=before,
        new=wanted,
        by=who.name,
    )
    return wanted
