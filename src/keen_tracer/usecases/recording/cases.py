"""Cases: opened, added to, closed and opened again. Nothing is overwritten: what was wrong is taken
back by an entry of its own."""

from dataclasses import dataclass
from datetime import date, datetime
from typing import Annotated
from uuid import UUID

from pydantic import Field

from ... import clock
from ...core.cases import Own, beginning, check_said, check_weight
from ...core.causes import failure_modes
from ...core.errors import CoreError, NotPossible, UnknownName
from ...core.record import leak_answer
from ...core.terms import CASE_ENDS, CASE_FROM, END_CONFIRMS, CaseEnd, CaseEntryKind
from ...core.verdict import Level
from ...storage.bulk import insert
from ...storage.db import Connection
from ...storage.errors import Conflict
from ...storage.records import Row, row, rows
from ..days import day_of_engine
from ..errors import CannotRecord, NotThere
from ..fields import Capacity, Day, HoursDown, Litres, MgKg, Money, Said, Text, Weight, Word
from ..judging.judging import judge_one
from ..pages.standing import state_in
from .case_evidence import levels_in_order, ranked
from .in_words import WRITTEN, facts_for_log, in_log, log_fact, take_back_facts
from .lessons import learn_of_model
from .log_rows import check_day, engine_id
from .outcomes import Outcome, record_outcome

START = "start"  # of a flush: what was measured before the first drain, and the target
NO_TROUBLE = "looked into"


@dataclass(frozen=True, slots=True, kw_only=True)
class NewCase:
    """A case as somebody opens it. `id` is made by the client; an empty `name`, a missing `since`:
    what the engine's state says."""

    id: UUID
    opened_from: Word
    name: Word = ""
    since: Day | None = None
    sample: Word = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class NewCaseEntry:
    """Something added to a case: see `case_entry` for what belongs to which kind. `facts`: those
    its words say that are to stand in the log; None where nobody was asked."""

    id: UUID
    kind: CaseEntryKind
    on: Day
    hypothesis: Word = ""
    said: Word = ""
    words: Text = ""
    weight: Weight | None = None
    amount: Money | None = None
    litres_new: Capacity | None = None
    litres_trapped: Litres | None = None
    measured: MgKg | None = None
    target: MgKg | None = None
    filter_changed: bool | None = None
    follows: UUID | None = None
    withdraws: UUID | None = None
    facts: Annotated[tuple[Word, ...], Field(max_length=20)] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class NewEnd:
    """How a case ended, and what was found as an outcome has it. `follows` is the closing or
    opening seen standing; `lesson`: what is to be known of every engine of the model."""

    id: UUID
    end: CaseEnd
    on: Day
    found: Word
    follows: UUID | None = None
    hours_down: HoursDown | None = None
    cost: Money | None = None
    saved: Money | None = None
    note: Text = ""
    piece: Said = ""
    lesson: Said = ""


def open_case(
    connection: Connection, code: str, new: NewCase, who: str, at: datetime | None = None
) -> None:
    """Open a case with what is known; sent twice it is opened once. `at`: now, where nobody says
    otherwise."""
    if row(connection, "case_of", id=new.id) is not None:
        return
    if new.opened_from not in CASE_FROM:
        raise CannotRecord("unknown_word", f"{new.opened_from!r} is no place a case is opened from")
    engine = engine_id(connection, code)
    sample = row(connection, "sample_id", code=new.sample) if new.sample else None
    if new.sample and sample is None:
        raise CannotRecord("unknown_sample", f"there is no sample {new.sample}")
    name, since = _beginning(connection, engine)
    since = new.since or since
    check_day(since)
    known = ranked(connection, engine, since).ranking.known
    insert(
        connection,
        "engine_case",
        {
            "id": new.id,
            "engine_id": engine,
            "name": new.name.strip() or name,
            "since": since,
            "opened_from": new.opened_from,
            "sample_id": sample["id"] if sample else None,
            "carried": sorted(code for code, seen in known.items() if seen),
            "opened_by": who,
            "opened_at": at or clock.now(),
        },
    )


def _beginning(connection: Connection, engine: int) -> tuple[str, date]:
    """(name, since) as the engine's state says: what leads, and its oldest open reason."""
    found = row(connection, "wall_row", engine=engine)
    state = state_in(found["picture"] if found else None)
    open_ = [r for r in state.reasons if r.level >= Level.WATCH]
    words = {m.code: m.words for m in failure_modes()}
    # What was only seen at the engine began where it was seen.
    by_sample = any(r.source == "sample" for r in open_)
    samples = levels_in_order(connection, engine) if by_sample else []
    begins = beginning([r.on for r in open_], samples, day_of_engine(connection, engine))
    return words.get(state.lead, NO_TROUBLE), begins


def _entries(connection: Connection, case: UUID) -> list[Row]:
    return rows(connection, "case_entries", id=case)


def own_of(entries: list[Row]) -> list[Own]:
    """Explanations people named and did not take back."""
    return [
        Own(str(e["id"]), e["words"], e["by"])
        for e in entries
        if e["kind"] == "hypothesis" and not e["withdrawn"]
    ]


def _check(entry: NewCaseEntry, entries: list[Row]) -> None:
    """Refuse an entry that means nothing. Raises CoreError."""
    if entry.kind in ("evidence", "set_aside"):
        check_said(entry.hypothesis, own_of(entries))
    if entry.kind == "evidence":
        check_weight(entry.weight)
    if entry.kind == "step":
        leak_answer(entry.said, entry.words)
    needs_words = ("hypothesis", "evidence", "set_aside", "way_out", "note", "rename", "reopen")
    if entry.kind in needs_words and not entry.words.strip():
        raise NotPossible("say it in a few words")
    if entry.kind == "way_out" and entry.amount is None:
        raise NotPossible("a way out needs its sum")
    if entry.kind == "fill":
        _check_fill(entry, entries)
    if entry.kind == "withdraw":
        _check_withdraw(entry, entries)


def _check_fill(entry: NewCaseEntry, entries: list[Row]) -> None:
    started = any(
        x["kind"] == "fill" and x["said"] == START and not x["withdrawn"] for x in entries
    )
    if entry.litres_new is None or entry.litres_trapped is None:
        raise NotPossible("a fill needs the litres that went in and those that stay behind")
    if entry.said == START and (entry.measured is None or entry.target is None or started):
        raise NotPossible("one start per flush: what was measured, and the target")
    if entry.said != START and not started:
        raise NotPossible("say first what was measured at the start, and the target")


def _check_withdraw(entry: NewCaseEntry, entries: list[Row]) -> None:
    found = next((x for x in entries if x["id"] == entry.withdraws), None)
    if found is None or found["kind"] in ("close", "reopen", "withdraw"):
        known = [str(x["id"]) for x in entries]
        raise UnknownName("entry of this case that can be taken back", str(entry.withdraws), known)


def _case(connection: Connection, key: UUID) -> Row:
    found = row(connection, "case_of", id=key)
    if found is None:
        raise NotThere("there is no such case")
    return found


def add_entry(
    connection: Connection, case: UUID, entry: NewCaseEntry, who: str, at: datetime | None = None
) -> None:
    """Add something to a case; sent twice it is added once.

    Raises NotThere, CannotRecord for what means nothing or comes to a closed case, Conflict where
    another closed or opened it meanwhile.
    """
    found = _case(connection, case)
    if row(connection, "case_entry_there", id=entry.id) is not None:
        return
    if entry.kind == "close":
        raise CannotRecord("no_end", "a case is closed with what was found")
    try:
        check_entry(found, entry, _entries(connection, case))
    except CoreError as error:
        raise CannotRecord(error.code, str(error)) from error
    told = (
        facts_for_log(connection, found["engine_id"], entry.words, entry.facts)
        if entry.kind in WRITTEN
        else ()
    )
    put_entry(connection, case, entry, who, at)
    for fact in told:
        log_fact(connection, found["engine"], entry.on, fact, in_log(entry.id, fact), who)
    if entry.withdraws:
        take_back_facts(connection, entry.withdraws, who)
    if entry.kind in ("step", "withdraw"):
        # What a step found is a fact of the engine, and so is that it was taken back.
        judge_one(connection, found["engine_id"])


def check_entry(case: Row, entry: NewCaseEntry, entries: list[Row]) -> None:
    """The one gate every entry passes, from a page and from a file. `case` as it stands, `entries`
    what it has. Raises CoreError, CannotRecord, Conflict."""
    _check_standing(case, entry.kind, entry.follows)
    _check(entry, entries)
    check_day(entry.on)


def _check_standing(case: Row, kind: str, follows: UUID | None) -> None:
    """A closed case takes nothing but its being opened again, an open one no opening."""
    if kind in ("close", "reopen") and case["standing"] != follows:
        raise Conflict("case_standing")
    if case["closed"] and kind != "reopen":
        raise CannotRecord("case_closed", "this case is closed; open it again first")
    if not case["closed"] and kind == "reopen":
        raise CannotRecord("case_open", "this case is open")


def put_entry(
    connection: Connection,
    case: UUID,
    entry: NewCaseEntry,
    who: str,
    at: datetime | None,
    outcome: UUID | None = None,
) -> None:
    """Write an entry that passed the gate."""
    insert(
        connection,
        "case_entry",
        {
            "id": entry.id,
            "case_id": case,
            "kind": entry.kind,
            "hypothesis": entry.hypothesis,
            "said": entry.said,
            "words": entry.words.strip(),
            "weight": entry.weight,
            "amount": entry.amount,
            "litres_new": entry.litres_new if entry.kind == "fill" else None,
            "litres_trapped": entry.litres_trapped if entry.kind == "fill" else None,
            "measured": entry.measured,
            "target": entry.target,
            "filter_changed": entry.filter_changed,
            "outcome_id": outcome,
            "follows": entry.follows,
            "withdraws": entry.withdraws,
            "on_date": entry.on,
            "entered_by": who,
            "entered_at": at or clock.now(),
        },
    )


def _outcome(case: Row, end: NewEnd) -> Outcome:
    """What a case was, as every outcome says it."""
    return Outcome(
        id=end.id,
        engine=case["engine"],
        on=end.on,
        found=end.found,
        confirmed=END_CONFIRMS[end.end],
        sample=case["sample"] or "",
        hours_down=end.hours_down,
        cost=end.cost,
        saved=end.saved,
        note=end.note,
        piece=end.piece,
    )


def close_case(
    connection: Connection, case: UUID, end: NewEnd, who: str, at: datetime | None = None
) -> None:
    """Close a case: what was found becomes an outcome, which teaches the samples before it; one
    opened by mistake leaves none. Sent twice it is closed once.

    Raises NotThere, CannotRecord, and Conflict where another closed or opened it meanwhile.
    """
    found = _case(connection, case)
    if row(connection, "case_entry_there", id=end.id) is not None:
        return
    if end.end not in CASE_ENDS:
        raise CannotRecord("unknown_word", f"{end.end!r} is no end of a case")
    if end.end == "unresolved" and not end.piece.strip():
        raise CannotRecord("where_it_lies", "say where the piece lies, so that it is found again")
    _check_standing(found, "close", end.follows)
    teaches = end.end in END_CONFIRMS
    if teaches:
        record_outcome(connection, _outcome(found, end), who)
    closing = NewCaseEntry(
        id=end.id, kind="close", on=end.on, said=end.end, words=end.note, follows=end.follows
    )
    put_entry(connection, case, closing, who, at, outcome=end.id if teaches else None)
    if end.lesson.strip() and found["model"]:
        lesson = f"{end.lesson.strip()} ({found['engine']}, {end.on:%Y-%m})"
        learn_of_model(connection, found["model"], lesson, who)
