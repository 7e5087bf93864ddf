"""A look at filter, plug, pan, strainer or cooler, written down where it was made."""

from dataclasses import dataclass, replace
from datetime import date
from uuid import UUID

from ...core.diagnosis import of_fact
from ...core.errors import CoreError
from ...core.record import DebrisCount, DebrisLook, LogRow, build_time_line, facts_of
from ...core.terms import LEVELS, TOOLS
from ...core.words import sentence
from ...storage import fleet
from ...storage.bulk import copy_rows, insert
from ...storage.db import Connection
from ..errors import CannotRecord
from ..judging.judging import judge_one
from .log_rows import check_day, check_dial, engine_id, known_row, write_log

WHOLE = 100.0  # a look by hand gives the share it saw, in per cent of the whole surface


@dataclass(frozen=True, slots=True, kw_only=True)
class Look:
    """A look as it was made. `id` is made by the client; `share` is the part of the surface that
    was seen, above 0 to 1; `counts` are (type, size class, how many)."""

    id: UUID
    engine: str
    on: date
    place: str
    dial: float | None = None
    tool: str = ""
    share: float = 1.0
    counts: tuple[tuple[str, str, int], ...] = ()
    note: str = ""


def try_look(c: Connection, seen: Look) -> list[str]:
    """What a look would say, in sentences, before it is written down; empty where it says
    nothing."""
    history = fleet.load(c, [engine_id(c, seen.engine)], {}, figures=False).fleet.histories[0]
    row_ = LogRow(str(seen.id), seen.on, "look", seen.dial, look=_look(seen))
    tried = replace(history, log=(*history.log, row_))
    found = facts_of(history.engine, build_time_line(tried))
    said = [f for fact in found if fact.moment.row.id == row_.id for f in of_fact(fact)]
    return [f"{LEVELS[f.level]}: {sentence(f)}" for f in said]


def _look(seen: Look) -> DebrisLook:
    """The look as the core reads it. Raises CannotRecord where it makes no sense."""
    if seen.tool and seen.tool not in TOOLS:
        raise CannotRecord("unknown_word", f"{seen.tool!r} is no tool; known: {', '.join(TOOLS)}")
    try:
        counts = tuple(DebrisCount(*x) for x in seen.counts)
        return DebrisLook(seen.place, seen.tool, seen.share, counts)
    except CoreError as error:
        raise CannotRecord(error.code, str(error)) from error


def record_look(c: Connection, seen: Look, who: str) -> str:
    """Write down a look, with everything that was counted; sent twice it is recorded once."""
    if known_row(c, seen.id) is not None:
        return str(seen.id)
    check_day(seen.on)
    counts = _look(seen).counts
    if len({(x.type, x.size_class) for x in counts}) < len(counts):
        raise CannotRecord("counted_twice", "one type and size stands twice; add the two")
    engine = engine_id(c, seen.engine)
    write_log(c, seen.id, engine, seen.on, None, seen.dial, "look", who)
    insert(
        c,
        "look",
        {
            "log_id": seen.id,
            "name": str(seen.id),
            "place": seen.place,
            "tool": seen.tool,
            "area_cm2": WHOLE * seen.share,
            "area_total_cm2": WHOLE,
            "note": seen.note.strip(),
        },
    )
    copy_rows(
        c,
        "look_count",
        ("log_id", "type", "size_class", "count"),
        [(seen.id, x.type, x.size_class, x.count) for x in counts if x.count],
    )
    check_dial(c, engine, seen.id)
    judge_one(c, engine)
    return str(seen.id)
