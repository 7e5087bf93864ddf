"""Everything of a case along one line of time: the log, decisions, and what people added."""

from collections import Counter
from collections.abc import Iterator
from datetime import date
from uuid import UUID

from ...core.causes import failure_modes
from ...core.record import TimeLine, leak_answer, leak_steps
from ...core.terms import CASE_ENDS, CASE_ENTRIES, LEVELS, RUN_STATES, WORK_KINDS, WORK_STATES
from ...core.words import Units
from ...storage.db import Connection
from ...storage.records import Row, rows
from ..answers.case import OnLine
from ..answers.inspect import WorkOut
from ..recording.cases import START
from .log import looks_in_words, words_of_row

LOG = 400  # rows of the log on the line; older ones are in the engine's own log


def line_of(
    connection: Connection,
    engine: int,
    known: TimeLine,
    since: date,
    entries: list[Row],
    work: list[WorkOut],
    units: Units,
) -> list[OnLine]:
    """The line of a case, the newest first; within a day the log, then decisions, entries, work.

    known : the engine's own log, for what its looks found · units : those the person reads
    """
    told = [
        *_log(connection, engine, since, looks_in_words(known), units),
        *_decisions(connection, engine, since),
        *_entries(entries, units),
        *_work(work, since),
    ]
    order = {id(x): n for n, x in enumerate(told)}
    return sorted(told, key=lambda x: (x.on, order[id(x)]), reverse=True)


def _log(
    connection: Connection, engine: int, since: date, looks: dict[str, str], units: Units
) -> Iterator[OnLine]:
    listed = rows(connection, "log_rows_of_engine", engine=engine, limit=LOG)
    logged = [r for r in reversed(listed) if r["on_date"] >= since]
    photos = rows(connection, "photos_of_logs", logs=[UUID(r["id"]) for r in logged])
    pictures = Counter(str(p["log_id"]) for p in photos)
    for r in logged:
        if r["kind"] != "meter_reading":
            yield OnLine(
                id=UUID(r["id"]),
                on=r["on_date"],
                kind=r["kind"],
                words=words_of_row(r, looks, units),
                by=r["recorded_by"],
                sample=r["sample"] or "",
                pictures=pictures[r["id"]],
            )


def _decisions(connection: Connection, engine: int, since: date) -> Iterator[OnLine]:
    for d in rows(connection, "run_decisions_since", engine=engine, since=since):
        said = RUN_STATES.get(d["run_state"] or "", "")
        if d["kind"] == "sign_off":
            said = f"signed as {LEVELS[d['level']]}"
        if said:
            reason = f": {d['reason']}" if d["reason"] else ""
            yield OnLine(
                id=None,
                on=d["on_date"],
                kind=d["kind"],
                words=said + reason,
                by=d["by"],
                sample=d["sample"] or "",
            )


def _entries(entries: list[Row], units: Units) -> Iterator[OnLine]:
    for e in entries:
        if e["kind"] != "withdraw":
            yield OnLine(
                id=e["id"],
                on=e["on_date"],
                kind=e["kind"],
                words=_entry_words(e, units),
                by=e["by"],
                own=e["kind"] not in ("close", "reopen"),
                gone=e["withdrawn"],
            )


def _work(items: list[WorkOut], since: date) -> Iterator[OnLine]:
    """Work with what it is estimated at and what it came to, on the day it was last decided."""
    for w in items:
        if w["decided_on"] < since:
            continue
        sums = [
            f"{word} {x:g}"
            for word, x in (("estimated at", w["estimate"]), ("came to", w["cost"]))
            if x is not None
        ]
        told = [f"{WORK_KINDS[w['kind']]}: {w['words']}", WORK_STATES[w["state"]], *sums]
        yield OnLine(id=None, on=w["decided_on"], kind="work", words=", ".join(told), by=w["by"])


def _entry_words(e: Row, units: Units) -> str:
    """An entry in one line."""
    kind = e["kind"]
    if kind == "step":
        return f"{leak_steps()[e['said']].words}: {leak_answer(e['said'], e['words']).words}"
    if kind == "fill" and e["said"] == START:
        return f"flush begun at {e['measured']:g}, target {e['target']:g}"
    if kind == "fill":
        measured = "" if e["measured"] is None else f", {e['measured']:g} measured"
        return f"fill of {units.litres(e['litres_new'])}{measured}"
    if kind in ("set_aside", "evidence"):
        of = {m.code: m.words for m in failure_modes()}.get(e["hypothesis"], "")
        return f"{CASE_ENTRIES[kind]}{', ' if of else ''}{of}: {e['words']}"
    if kind == "way_out":
        return f"{e['words']}: {e['amount']:g}"
    if kind == "close":
        return f"closed, {CASE_ENDS.get(e['said'], e['said'])}. {e['words']}".strip()
    return f"{CASE_ENTRIES[kind]}: {e['words']}"
