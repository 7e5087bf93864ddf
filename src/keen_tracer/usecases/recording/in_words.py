"""What people write in a case in their own words, and what of it is a fact of the engine: it is
asked about, written in the log, and taken back with the words (VERDICT 8.7)."""

from collections.abc import Collection
from datetime import date
from uuid import UUID, uuid5

from ...core.record import (
    FactKind,
    build_time_line,
    fact_kinds,
    facts_in,
    facts_of,
    told_as,
    told_in_words,
)
from ...core.terms import LEVELS
from ...storage import fleet
from ...storage.db import Connection
from ..errors import CannotRecord
from .log_rows import Event, known_row, record_event, void

WRITTEN = ("evidence", "note")  # kinds of entry whose words may say a fact


def in_log(entry: UUID, fact: str) -> UUID:
    """The row of the log that an entry's fact is kept by."""
    return uuid5(entry, fact)


def facts_for_log(
    connection: Connection, engine: int, words: str, answered: Collection[str] | None
) -> tuple[str, ...]:
    """The facts of an entry's words that go into the log.

    answered : those somebody said belong there, None where nobody was asked
    Raises CannotRecord where the words say a fact that is not on record and nobody was asked.
    """
    if answered is not None:
        unknown = set(answered) - told_in_words()
        if unknown:
            named = ", ".join(sorted(unknown))
            raise CannotRecord("unknown_word", f"{named}: no fact that is told by a word")
        return tuple(answered)
    kinds = not_in_log(connection, engine, words)
    if not kinds:
        return ()
    raise CannotRecord(
        "says_a_fact",
        f"this says: {', '.join(k.words for k in kinds)}; say whether it goes into the log, where "
        "the engine is judged by it",
        {k.fact: f"{k.words} ({LEVELS[k.level]})" for k in kinds},
    )


def not_in_log(connection: Connection, engine: int, words: str) -> list[FactKind]:
    """The facts that words say and that the log of the engine does not have."""
    said = facts_in(words)
    known = _on_record(connection, engine) if said else set()
    return [fact_kinds()[f] for f in said if f not in known]


def _on_record(connection: Connection, engine: int) -> set[str]:
    """The unanswered facts of the log: one that was entered twice counts once."""
    history = fleet.load(connection, [engine], {}, figures=False).fleet.histories[0]
    found = facts_of(history.engine, build_time_line(history))
    return {w.fact for f in found if not f.answered for w in f.words}


def log_fact(connection: Connection, engine: str, on: date, fact: str, key: UUID, who: str) -> None:
    """Write a fact in the log of an engine, as if it had been entered there."""
    how = told_as(fact)
    assert how is not None
    event = Event(
        id=key, engine=engine, on=on, kind=how.kind, part=how.part, details=dict(how.details)
    )
    record_event(connection, event, who)


def take_back_facts(connection: Connection, entry: UUID, who: str) -> None:
    """Take back what an entry wrote in the log; a Stop that it raised stands until it is
    released."""
    for fact in sorted(told_in_words()):
        row = known_row(connection, in_log(entry, fact))
        if row is not None and not row["replaced"]:
            void(connection, row, who)
