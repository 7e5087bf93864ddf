"""A look at filter, plug, pan, strainer or cooler, written down where it was made."""

from dataclasses import dataclass, replace
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from ...core.baseline import bearing_kind
from ...core.causes import Causes, evidence_words, with_weights
from ...core.diagnosis import done_in, of_fact
from ...core.errors import CoreError
from ...core.inspection import Rate, Tray, tray_of
from ...core.record import (
    DebrisCount,
    DebrisLook,
    EarlierLook,
    History,
    LogRow,
    barred_now,
    build_time_line,
    facts_of,
    hours_of_looks,
    look_places,
    looks_before,
    share_seen,
)
from ...core.terms import LEVELS, TOOLS
from ...core.verdict import Level
from ...core.words import sentence
from ...storage import fleet
from ...storage.bulk import copy_rows, insert
from ...storage.db import Connection
from ...storage.peers import weights_in_force
from ...storage.records import row, rows
from ..answers.inspect import LookSays, RateOut, TraySays
from ..days import day_of_engine
from ..errors import CannotRecord
from ..fields import Count, Day, Mass, Meter, Minutes, Surface, Text, Word
from ..judging.judging import judge_one
from ..pages.standing import barred_today, check_out
from .log_rows import check_day, check_dial, engine_id, known_row, write_log

CLASS_LOOKS = 40  # engines of a class a look is held against; our choice


@dataclass(frozen=True, slots=True, kw_only=True)
class NewCount:
    """What was found of one type and size: counted, or an amount nobody could count; mass in mg
    where it was weighed."""

    type: Word
    size_class: Word = ""
    count: Count = 0
    amount: Literal["", "dusting", "covers"] = ""
    mass_mg: Mass | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class NewLook:
    """A look as it was made; nothing counted means nothing was there. `id` is made by the client;
    `seen` of `whole` pleats or cm², as the place has them; `hours` the meter units it speaks for,
    where somebody knows better than the log."""

    id: UUID
    on: Day
    place: Word
    dial: Meter | None = None
    tool: Word = ""
    seen: Surface | None = None
    whole: Surface | None = None
    both_sides: bool = True
    drained_min: Minutes | None = None
    hours: Meter | None = None
    counts: Annotated[tuple[NewCount, ...], Field(max_length=80)] = ()
    note: Text = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Look(NewLook):
    """The same of one engine."""

    engine: str


def try_look(connection: Connection, seen: Look) -> LookSays:
    """What a look would say before it is written down: its level in sentences, rates, the parts it
    can come from, what to look at next."""
    engine = engine_id(connection, seen.engine)
    history = fleet.load(connection, [engine], {}, figures=False).fleet.histories[0]
    row_ = LogRow(str(seen.id), seen.on, "look", seen.dial, seq=10**6, look=_look(seen))
    return says(connection, engine, replace(history, log=(*history.log, row_)), row_.id)


def says(connection: Connection, engine: int, history: History, key: str) -> LookSays:
    """What the look `key` of a history says."""
    line = build_time_line(history)
    at = next(n for n, m in enumerate(line.moments) if m.row.id == key)
    row_ = line.moments[at].row
    assert row_.look is not None
    told = facts_of(history.engine, line)
    facts = [f for f in told if f.moment.row.id == key]
    found = [f for fact in facts for f in of_fact(fact)]
    level = max((f.level for f in found), default=0)
    hours = hours_of_looks(line)[at]
    tray = tray_of(
        row_,
        hours,
        history.engine,
        bearing_kind(history.engine.bearing_type),
        looks_before(line, at),
        _of_class(connection, engine, row_.look.place),
        Causes(with_weights(weights_in_force(connection)[1])),
        # Under Stop, this look's or another's, nothing that turns the engine is offered.
        barred=_barred(connection, engine)
        | barred_now((), "do_not_run" if level >= Level.STOP else ""),
        done=done_in(told, line),
    )
    return {
        "level": level,
        "says": [f"{LEVELS[f.level]}: {sentence(f)}" for f in found],
        **_tray_out(tray, hours),
    }


def _barred(connection: Connection, engine: int) -> frozenset[str]:
    """What may not be done to the engine today, by what is on record."""
    found = row(connection, "wall_row", engine=engine)
    return barred_today(found["picture"] if found else None, day_of_engine(connection, engine))


def _of_class(connection: Connection, engine: int, place: str) -> list[EarlierLook]:
    """The newest look at a place of each other engine of the class."""
    others = [
        r["id"]
        for r in rows(connection, "engines_with_looks", engine=engine, place=place, n=CLASS_LOOKS)
    ]
    if not others:
        return []
    out = []
    for history in fleet.load(connection, others, {}, figures=False).fleet.histories:
        line = build_time_line(history)
        looked = [
            n
            for n, m in enumerate(line.moments)
            if m.row.look is not None and m.row.look.place == place
        ]
        if looked:
            look = line.moments[looked[-1]].row.look
            assert look is not None
            out.append(EarlierLook(look, hours_of_looks(line)[looked[-1]]))
    return out


def _tray_out(tray: Tray, hours: float) -> TraySays:
    return {
        "hours": hours if hours == hours else None,
        "rates": [_rate_out(r) for r in tray.rates],
        "parts": [
            {"code": code, "words": said, "why": [evidence_words(e) for e in why]}
            for code, said, why in tray.parts
        ],
        "checks": [check_out(code) for code in tray.checks],
        "clears_iron_only": bool(tray.clears),
        "keep": tray.keep,
    }


def _rate_out(r: Rate) -> RateOut:
    whole, low, high = r.whole
    return {
        "type": r.type,
        "whole": {"value": whole, "low": low, "high": high},
        "per_100": None
        if r.rate is None
        else {"value": r.rate[0], "low": r.rate[1], "high": r.rate[2]},
        "own": r.own,
        "others": r.others,
        "word": r.word,
    }


def _look(seen: Look) -> DebrisLook:
    """The look as the core reads it. Raises CannotRecord where it makes no sense."""
    if seen.tool and seen.tool not in TOOLS:
        raise CannotRecord("unknown_word", f"{seen.tool!r} is no tool; known: {', '.join(TOOLS)}")
    try:
        share = share_seen(seen.seen, seen.whole, seen.both_sides)
        counts = tuple(DebrisCount(x.type, x.size_class, x.count, x.amount) for x in seen.counts)
        return DebrisLook(seen.place, seen.tool, share, counts, seen.hours)
    except CoreError as error:
        raise CannotRecord(error.code, str(error)) from error


def record_look(connection: Connection, seen: Look, who: str) -> str:
    """Write down a look, with everything that was counted; sent twice it is recorded once."""
    if known_row(connection, seen.id) is not None:
        return str(seen.id)
    check_day(seen.on)
    _look(seen)
    if len({(x.type, x.size_class) for x in seen.counts}) < len(seen.counts):
        raise CannotRecord("counted_twice", "one type and size stands twice; add the two")
    engine = engine_id(connection, seen.engine)
    write_log(connection, seen.id, engine, seen.on, None, seen.dial, "look", who)
    pleats = look_places()[seen.place].surface == "pleats"
    told = seen.seen is not None and seen.whole is not None
    insert(
        connection,
        "look",
        {
            "log_id": seen.id,
            "name": str(seen.id),
            "place": seen.place,
            "tool": seen.tool,
            "area_cm2": seen.seen if told and not pleats else None,
            "area_total_cm2": seen.whole if told and not pleats else None,
            "pleats": round(seen.seen or 0) if told and pleats else None,
            "pleats_total": round(seen.whole or 0) if told and pleats else None,
            "both_sides": seen.both_sides,
            "drained_min": seen.drained_min,
            "hours": seen.hours,
            "note": seen.note.strip(),
        },
    )
    copy_rows(
        connection,
        "look_count",
        ("log_id", "type", "size_class", "count", "amount", "mass_mg"),
        [
            (seen.id, x.type, x.size_class, x.count, x.amount, x.mass_mg)
            for x in seen.counts
            if x.count or x.amount
        ],
    )
    check_dial(connection, engine, seen.id)
    judge_one(connection, engine)
    return str(seen.id)
