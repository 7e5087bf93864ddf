"""What people write down at the engine: bottles, oil changes, top-ups, symptoms; sent twice it is
recorded once."""

from dataclasses import dataclass, field
from datetime import date, time, timedelta
from uuid import UUID, uuid4

from ... import clock
from ...core.errors import CoreError
from ...core.record import build_time_line, check_event, checked, detail_number, limits_now
from ...core.terms import EVENT_KINDS, METHODS, PURPOSES, DrawPurpose, MaybeMethod
from ...core.words import LIMIT_FROM
from ...storage import fleet
from ...storage.bulk import insert
from ...storage.db import Connection
from ...storage.records import Row, json, row
from ..answers.collect import CheckSays
from ..errors import CannotRecord
from ..fields import Code, Day, Details, Litres, Meter, StickLevel, Text, Typed, Word
from ..judging.judging import judge_one


@dataclass(frozen=True, slots=True, kw_only=True)
class Bottle:
    """A drawn sample as it is registered. `id` is made by the client, so that sending it twice
    registers it once."""

    id: UUID
    sample: Code
    engine: Word
    on: Day
    at: time | None = None
    dial: Meter
    purpose: DrawPurpose = "routine"
    method: MaybeMethod = ""
    top_up_l: Litres | None = None
    oil_changed_after: bool | None = None
    appearance: Word = ""
    smell: Word = ""
    level_on_stick: StickLevel | None = None
    note: Text = ""
    resample_of: Word = ""
    typed: Typed | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class NewEvent:
    """Something that happened to an engine, as it is logged; `id` is made by the client."""

    id: UUID
    on: Day
    kind: Word
    at: time | None = None
    dial: Meter | None = None
    dial_new: Meter | None = None
    litres_in: Litres | None = None
    litres_drained: Litres | None = None
    oil: Word = ""
    grade: Word = ""
    batch: Word = ""
    part: Word = ""
    note: Text = ""
    details: Details = field(default_factory=dict)
    typed: Typed | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Event(NewEvent):
    """The same of one engine."""

    engine: str


def engine_id(c: Connection, code: str) -> int:
    found = row(c, "engine_by_code", code=code)
    if found is None:
        raise CannotRecord("unknown_engine", f"there is no engine {code}")
    return int(found["id"])


def check_day(on: date) -> None:
    """Refuse a day that has not come anywhere on earth, or that lies before there were such
    records."""
    if on > clock.today("UTC") + timedelta(days=1):
        raise CannotRecord("future", f"{on} lies in the future; give the day it happened")
    if on.year < 1950:
        raise CannotRecord("too_old", f"{on} lies before 1950; check the year")


def void(c: Connection, old: Row, who: str, reason: str = "") -> None:
    """Take a log row back by a compensating row; the old one stays readable."""
    insert(
        c,
        "log",
        {
            "id": uuid4(),
            "engine_id": old["engine_id"],
            "on_date": old["on_date"],
            "at_time": old["at_time"],
            "dial": old["dial"],
            "kind": old["kind"],
            "replaces": old["id"],
            "voided": True,
            "recorded_by": who,
            "reason": reason,
        },
    )
    judge_one(c, old["engine_id"])


def write_log(
    c: Connection,
    key: UUID,
    engine: int,
    on: date,
    at: time | None,
    dial: float | None,
    kind: str,
    who: str,
    seq: int = 0,
    typed: dict[str, str] | None = None,
) -> None:
    """The line of the log that everything recorded hangs on; `seq` orders what has no time,
    `typed` keeps figures that were typed in another unit."""
    insert(
        c,
        "log",
        {
            "id": key,
            "engine_id": engine,
            "on_date": on,
            "at_time": at,
            "dial": dial,
            "kind": kind,
            "recorded_by": who,
            "seq": seq,
            "typed": json(typed) if typed else None,
        },
    )


def known_row(c: Connection, key: UUID) -> Row | None:
    return row(c, "log_row", id=key)


def check_dial(c: Connection, engine: int, key: UUID) -> None:
    """Refuse a dial that falls, or one that a later reading now lies below, with both figures."""
    history = fleet.load(c, [engine], {}).fleet.histories[0]
    for wrong in build_time_line(history).backwards:
        if str(key) in (wrong.row.id, wrong.before.id):
            raise CannotRecord(
                "meter_falls",
                f"{wrong.row.dial:g} {history.engine.meter_unit} on {wrong.row.on} is "
                f"below {wrong.before.dial:g} on {wrong.before.on}; check the figure, or log a "
                "replaced "
                "meter first",
            )


def register_bottle(c: Connection, b: Bottle, who: str) -> str:
    """Register a bottle; the same one sent again changes nothing. Returns the sample's code."""
    if known_row(c, b.id) is not None:
        return b.sample
    check_day(b.on)
    if b.purpose not in PURPOSES or (b.method and b.method not in METHODS):
        raise CannotRecord(
            "unknown_word", f"purpose {b.purpose!r} or method {b.method!r} is not known"
        )
    engine = engine_id(c, b.engine)
    held = row(c, "sample_holder", code=b.sample)
    if held is not None and held["engine"] is not None:
        raise CannotRecord(
            "bottle_taken",
            f"bottle {b.sample} is registered already: {held['engine']} on "
            f"{held['on_date']}; take another label, or undo that one",
        )
    write_log(c, b.id, engine, b.on, b.at, b.dial, "sample", who, typed=b.typed)
    sample = held["id"] if held else new_sample(c, b.sample)
    insert(
        c,
        "draw",
        {
            "log_id": b.id,
            "sample_id": sample,
            "purpose": b.purpose,
            "resample_of": b.resample_of,
            "method": b.method,
            "oil_changed_after": b.oil_changed_after,
            "top_up_l": b.top_up_l,
            "appearance": b.appearance,
            "smell": b.smell,
            "level_on_stick": b.level_on_stick,
            "note": b.note,
        },
    )
    check_dial(c, engine, b.id)
    judge_one(c, engine)
    return b.sample


def new_sample(c: Connection, code: str) -> int:
    """A new bottle's identity."""
    made = row(c, "sample_put", code=code)
    assert made is not None
    return int(made["id"])


def record_event(c: Connection, e: Event, who: str) -> str:
    """Log an event; the same one sent again changes nothing. Returns its identity."""
    if known_row(c, e.id) is not None:
        return str(e.id)
    check_day(e.on)
    if e.kind not in EVENT_KINDS:
        raise CannotRecord(
            "unknown_kind", f"{e.kind!r} is not a kind of event; known: {', '.join(EVENT_KINDS)}"
        )
    if e.kind == "meter_replaced" and (e.dial is None or e.dial_new is None):
        raise CannotRecord("both_dials", "a replaced meter needs the old figure and the new one")
    if e.kind == "top_up" and not e.litres_in:
        raise CannotRecord("litres", "a top-up needs its litres")
    try:
        check_event(e.kind, e.part, e.details)
    except CoreError as error:
        raise CannotRecord(error.code, str(error)) from error
    engine = engine_id(c, e.engine)
    order = detail_number(e.details, "order")  # of what was found in an opened engine
    write_log(c, e.id, engine, e.on, e.at, e.dial, e.kind, who, int(order or 0), e.typed)
    insert(
        c,
        "event",
        {
            "log_id": e.id,
            "dial_new": e.dial_new,
            "litres_in": e.litres_in,
            "litres_drained": e.litres_drained,
            "oil": e.oil,
            "grade": e.grade,
            "batch": e.batch,
            "part": e.part,
            "note": e.note,
            "details": json(e.details),
        },
    )
    check_dial(c, engine, e.id)
    judge_one(c, engine)
    return str(e.id)


def undo_record(c: Connection, key: UUID, who: str) -> str:
    """Take a log row back by a compensating row; only the person who recorded it, and not once
    figures are in."""
    found = known_row(c, key)
    if found is None:
        raise CannotRecord("unknown_record", "there is no such record")
    if found["recorded_by"] != who:
        raise CannotRecord(
            "not_yours", f"{found['recorded_by']} recorded this; only they can undo it"
        )
    if found["replaced"]:
        return str(key)
    if found["reports"]:
        raise CannotRecord(
            "figures_in", "its figures have come in; correct it instead of undoing it"
        )
    void(c, found, who)
    return str(key)


def try_check(c: Connection, engine: str, check: str, details: dict[str, str]) -> CheckSays:
    """What a check would say with these words and figures, before it is written down."""
    history = fleet.load(c, [engine_id(c, engine)], {}, figures=False).fleet.histories[0]
    try:
        limits = limits_now(history.engine, build_time_line(history))
        result, figures = checked(check, details, limits)
    except CoreError as error:
        raise CannotRecord(error.code, str(error)) from error
    return {
        "words": result.words,
        "level": result.level,
        "meaning": result.meaning,
        "figures": figures.said if figures else "",
        "limit_from": LIMIT_FROM[figures.limit_from] if figures else "",
    }
