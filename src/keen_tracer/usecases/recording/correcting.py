"""Putting right what went wrong at the engine. A correction is a new row that stands in place of
the old one."""

from dataclasses import dataclass, field
from uuid import UUID, uuid4

from ...core.terms import METHODS, PURPOSES
from ...storage.bulk import insert
from ...storage.db import Connection
from ...storage.records import Row, json, row
from ..errors import CannotRecord
from ..judging.judging import judge_one
from .log_rows import check_day, check_dial, engine_id, known_row, void

# What may be corrected of a row of the log, and of what it says.
LOG_FIELDS = ("on_date", "at_time", "dial")
DRAW_FIELDS = (
    "purpose",
    "resample_of",
    "oil_change_dial",
    "hours_on_oil",
    "oil",
    "method",
    "oil_changed_after",
    "top_up_l",
    "appearance",
    "smell",
    "level_on_stick",
    "note",
)
EVENT_FIELDS = ("dial_new", "litres_in", "litres_drained", "oil", "grade", "batch", "part", "note")


@dataclass(frozen=True, slots=True)
class Correction:
    """What a row of the log should say instead. `id` is made by the client; only `changes` differ
    from the old row."""

    id: UUID
    log: UUID
    reason: str
    engine: str | None = None
    changes: Row = field(default_factory=dict)


def _old(connection: Connection, key: UUID) -> tuple[Row, str]:
    """The row to be corrected with everything it says, and the table it says it in."""
    head = row(connection, "log_whole", id=key)
    if head is None:
        raise CannotRecord("unknown_record", "there is no such record")
    if head["replaced"] or head["voided"]:
        raise CannotRecord(
            "corrected_already", "somebody corrected this record already; look again"
        )
    return head, "draw" if head["kind"] == "sample" else "event"


def _check_changes(table: str, changes: Row) -> None:
    allowed = LOG_FIELDS + (DRAW_FIELDS if table == "draw" else EVENT_FIELDS)
    for name in changes:
        if name not in allowed:
            raise CannotRecord("unknown_field", f"{name!r} cannot be corrected here")
    if (
        changes.get("purpose", "routine") not in PURPOSES
        or (changes.get("method") or "vacuum") not in METHODS
    ):
        raise CannotRecord("unknown_word", "purpose or method is not known")
    if changes.get("on_date"):
        check_day(changes["on_date"])


def _replace(connection: Connection, fix: Correction, who: str) -> tuple[int, int]:
    """Write the row that replaces the old one; returns the engines it left and came to."""
    if not fix.reason.strip():
        raise CannotRecord(
            "reason_required", "say why, in a few words; the old record stays readable beside it"
        )
    old, table = _old(connection, fix.log)
    _check_changes(table, fix.changes)
    engine = engine_id(connection, fix.engine) if fix.engine else old["engine_id"]
    head = {k: fix.changes.get(k, old[k]) for k in LOG_FIELDS}
    insert(
        connection,
        "log",
        {
            "id": fix.id,
            "engine_id": engine,
            **head,
            "seq": old["seq"],
            "kind": old["kind"],
            "typed": _still_typed(old, fix.changes),
            "replaces": fix.log,
            "recorded_by": who,
            "reason": fix.reason.strip(),
        },
    )
    said = row(connection, f"{table}_said", id=fix.log)
    assert said is not None
    said |= {k: v for k, v in fix.changes.items() if k not in LOG_FIELDS}
    insert(
        connection,
        table,
        {k: json(v) if k == "details" else v for k, v in said.items()} | {"log_id": fix.id},
    )
    return old["engine_id"], engine


def _still_typed(old: Row, changes: Row) -> object:
    """What was typed of the figures that stay."""
    kept = {k: v for k, v in (old["typed"] or {}).items() if k not in changes}
    return json(kept) if kept else None


def _judge(connection: Connection, engines: set[int]) -> None:
    for engine in sorted(engines):
        judge_one(connection, engine)


def correct(connection: Connection, fix: Correction, who: str) -> str:
    """Correct one row: its facts, or the engine it belongs to. Both engines are judged again; sent
    twice it is known."""
    if known_row(connection, fix.id) is not None:
        return str(fix.id)
    left, came = _replace(connection, fix, who)
    check_dial(connection, came, fix.id)
    _judge(connection, {left, came})
    return str(fix.id)


def swap(connection: Connection, one: str, other: str, reason: str, who: str) -> None:
    """Two bottles carried each other's label: each takes the other's place on the time line,
    figures go with labels."""
    first, second = (row(connection, "draw_of_sample", code=code) for code in (one, other))
    if first is None or second is None:
        raise CannotRecord(
            "unknown_sample", f"bottle {one if first is None else other} is not registered"
        )
    if one == other:
        raise CannotRecord("same_bottle", "a bottle cannot be swapped with itself")
    if not reason.strip():
        raise CannotRecord(
            "reason_required", "say why, in a few words; the old record stays readable beside it"
        )
    engines = set()
    for place, label in ((first, second), (second, first)):
        key = uuid4()
        insert(
            connection,
            "log",
            {
                "id": key,
                "engine_id": place["engine_id"],
                "on_date": place["on_date"],
                "at_time": place["at_time"],
                "seq": place["seq"],
                "dial": place["dial"],
                "kind": "sample",
                "typed": _still_typed(place, {}),
                "replaces": place["log_id"],
                "recorded_by": who,
                "reason": reason.strip(),
            },
        )
        said = row(connection, "draw_said", id=place["log_id"])
        assert said is not None
        insert(connection, "draw", {**said, "log_id": key, "sample_id": label["sample_id"]})
        engines.add(place["engine_id"])
    _judge(connection, engines)


def withdraw(connection: Connection, key: UUID, reason: str, who: str) -> None:
    """Take a row out of the log for good, with a reason: registered twice, never happened."""
    if not reason.strip():
        raise CannotRecord(
            "reason_required", "say why, in a few words; the record stays readable in the trail"
        )
    old, _ = _old(connection, key)
    void(connection, old, who, reason.strip())
