"""What was really found: the end of an alarm, and what the alarms are measured by."""

from dataclasses import dataclass
from uuid import UUID

from ...core.causes import failure_modes
from ...core.terms import CONFIRMED, Confirmed
from ...storage.db import Connection
from ...storage.records import row, rows, run
from ..answers.collect import OutcomeOut
from ..answers.from_rows import answer
from ..errors import CannotRecord
from ..fields import Day, HoursDown, Money, Said, Text, Word
from ..judging.judging import judge_one
from .log_rows import check_day, engine_id

NOTHING = "nothing"


@dataclass(frozen=True, slots=True, kw_only=True)
class NewOutcome:
    """What an inspection found. `id` is made by the client; `found` is a failure mode or "nothing";
    `piece` is where the piece is kept."""

    id: UUID
    on: Day
    found: Word
    confirmed: Confirmed
    sample: Word = ""
    hours_down: HoursDown | None = None
    cost: Money | None = None
    saved: Money | None = None
    note: Text = ""
    piece: Said = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome(NewOutcome):
    """The same of one engine."""

    engine: str


def found_words() -> dict[str, str]:
    """What may be found, with its words."""
    return {NOTHING: "nothing was found"} | {m.code: m.words for m in failure_modes()}


def record_outcome(connection: Connection, o: Outcome, who: str) -> None:
    """Write down what was found; the same one sent again changes nothing."""
    check_day(o.on)
    if o.found not in found_words() or o.confirmed not in CONFIRMED:
        raise CannotRecord("unknown_word", f"{o.found!r} or {o.confirmed!r} is not known")
    engine = engine_id(connection, o.engine)
    sample = row(connection, "sample_id", code=o.sample) if o.sample else None
    if o.sample and sample is None:
        raise CannotRecord("unknown_sample", f"there is no sample {o.sample}")
    run(
        connection,
        "outcome_put",
        id=o.id,
        engine=engine,
        sample=sample["id"] if sample else None,
        on=o.on,
        found=o.found,
        confirmed=o.confirmed,
        hours_down=o.hours_down,
        cost=o.cost,
        saved=o.saved,
        note=o.note.strip(),
        piece=o.piece.strip(),
        by=who,
        at=None,
    )
    run(connection, "mark_models_stale", engines=[engine])
    judge_one(connection, engine)


def outcomes(connection: Connection, engine: str) -> list[OutcomeOut]:
    """What was found on an engine, in words, newest first."""
    known = found_words()
    return [
        answer(
            OutcomeOut,
            r,
            words=known.get(r["found"], r["found"]),
            right=CONFIRMED[r["confirmed"]],
        )
        for r in rows(connection, "outcomes_of_engine", engine=engine_id(connection, engine))
    ]
