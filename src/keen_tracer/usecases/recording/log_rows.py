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


def engine_id(connection: Connection, code: str) -> int:
    found = row(connection, "engine_by_code", code=code)
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


def void(connection: Connection, old: Row, who: str, reason: str = "") -> None:
    """Take a log row back by a compensating row; the old one stays readable."""
    insert(
        connection,
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
    judge_one(connection, old["engine_id"])


def write_log(
    connection: Connection,
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
        connection,
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


def known_row(connection: Connection, key: UUID) -> Row | None:
    return row(connection, "log_row", id=key)


def check_dial(connection: Connection, engine: int, key: UUID) -> None:
    """Refuse a dial that falls, or one that a later reading now lies below, with both figures."""
    history = fleet.load(connection, [engine], {}).fleet.histories[0]
    for wrong in build_time_line(history).backwards:
        if str(key) in (wrong.row.id, wrong.before.id):
            raise CannotRecord(
                "meter_falls",
                f"{wrong.row.dial:g} {history.engine.meter_unit} on {wrong.row.on} is "
                f"below {wrong.before.dial:g} on {wrong.before.on}; check the figure, or log a "
                "replaced "
                "meter first",
            )


def register_bottle(connection: Connection, bottle: Bottle, who: str) -> str:
    """Register a bottle; the same one sent again changes nothing. Returns the sample's code."""
    if known_row(connection, bottle.id) is not None:
        return bottle.sample
    check_day(bottle.on)
    if bottle.purpose not in PURPOSES or (bottle.method and bottle.method not in METHODS):
        raise CannotRecord(
            "unknown_word", f"purpose {bottle.purpose!r} or method {bottle.method!r} is not known"
        )
    engine = engine_id(connection, bottle.engine)
    held = row(connection, "sample_holder", code=bottle.sample)
    if held is not None and held["engine"] is not None:
        raise CannotRecord(
            "bottle_taken",
            f"bottle {bottle.sample} is registered already: {held['engine']} on "
            f"{held['on_date']}; take another label, or undo that one",
        )
    write_log(
        connection,
        bottle.id,
        engine,
        bottle.on,
        bottle.at,
        bottle.dial,
        "sample",
        who,
        typed=bottle.typed,
    )
    sample = held["id"] if held else new_sample(connection, bottle.sample)
    insert(
        connection,
        "draw",
        {
            "log_id": bottle.id,
            "sample_id": sample,
            "purpose": bottle.purpose,
            "resample_of": bottle.resample_of,
            "method": bottle.method,
            "oil_changed_after": bottle.oil_changed_after,
            "top_up_l": bottle.top_up_l,
            "appearance": bottle.appearance,
            "smell": bottle.smell,
            "level_on_stick": bottle.level_on_stick,
            "note": bottle.note,
        },
    )
    check_dial(connection, engine, bottle.id)
    judge_one(connection, engine)
    return bottle.sample


def new_sample(connection: Connection, code: str) -> int:
    """A new bottle's identity."""
    made = row(connection, "sample_put", code=code)
    assert made is not None
    return int(made["id"])


def record_event(connection: Connection, e: Event, who: str) -> str:
    """Log an event; the same one sent again changes nothing. Returns its identity."""
    if known_row(connection, e.id) is not None:
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
    engine = engine_id(connection, e.engine)
    order = detail_number(e.details, "order")  # of what was found in an opened engine
    write_log(connection, e.id, engine, e.on, e.at, e.dial, e.kind, who, int(order or 0), e.typed)
    insert(
        connection,
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
    check_dial(connection, engine, e.id)
    judge_one(connection, engine)
    return str(e.id)


def undo_record(connection: Connection, key: UUID, who: str) -> str:
    """Take a log row back by a compensating row; only the person who recorded it, and not once
    figures are in."""
    found = known_row(connection, key)
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
    void(connection, found, who)
    return str(key)


def try_check(
    connection: Connection, engine: str, check: str, details: dict[str, str]
) -> CheckSays:
    """What a check would say with these words and figures, before it is written down."""
    history = fleet.load(
        connection, [engine_id(connection, engine)], {}, figures=False
    ).fleet.histories[0]
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
