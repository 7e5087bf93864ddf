"""The queue of the analyst: samples that wait for a person."""

from ...core.terms import CHANNELS
from ...storage.db import Connection
from ...storage.records import Row, rows
from ..answers.wall import QueueRow
from ..days import days_now

SHOWN = 500  # of the queue; the rest comes up as these are signed


def waiting(connection: Connection, limit: int = SHOWN) -> list[Row]:
    """The samples that wait for a person, worst first, then oldest."""
    return rows(connection, "queue", limit=limit)


MUST_BE_SEEN = ("wear", "debris")  # channels without which nobody signs Steady in passing


def _look_first(r: Row) -> str:
    """Why a sample is not ticked in the quiet pass by itself: what was not measured clears nothing,
    and an engine raised since is looked at first."""
    level = dict(zip(CHANNELS, r["channels"], strict=True))
    missing = [CHANNELS[c] for c in MUST_BE_SEEN if level[c] is None]
    if missing:
        return f"{' and '.join(missing)} not measured"
    return "raised since" if r["stands"] else ""


def queue(connection: Connection) -> list[QueueRow]:
    """What waits for the analyst, as the desk lists it."""
    days = days_now(connection)
    return [
        {
            "sample": r["sample"],
            "queried": r["queried"],
            "engine": r["engine"],
            "name": r["name"],
            "depot": r["depot"],
            "on": r["on_date"],
            "age_days": (days.at(r["depot"]) - r["on_date"]).days,
            "level": r["level"],
            "was_signed": r["signed_level"] if r["decision_kind"] == "sign_off" else None,
            "basis": r["input_hash"],
            "standing": r["standing"],
            "look_first": _look_first(r),
            "not_measured": [
                words
                for words, level in zip(CHANNELS.values(), r["channels"], strict=True)
                if level is None
            ],
        }
        for r in waiting(connection)
    ]
