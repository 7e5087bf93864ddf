"""A case as people work on it: the balance, the next check, the job that grows, the flush, what
follows the work, its line of time."""

from dataclasses import asdict
from datetime import date
from typing import Any
from uuid import UUID

from ...core.cases import (
    AGAINST,
    FOR,
    SHOWN,
    Aside,
    Explanation,
    Fill,
    Past,
    Piece,
    Pull,
    Said,
    balance,
    flush,
    last_drained,
    leak_steps,
    next_step,
    result_of,
    similar,
)
from ...core.causes import Check, evidence_table
from ...core.diagnosis import done_in, work_before
from ...core.errors import CoreError
from ...core.inspection import work_proposed
from ...core.planning import Drawn, followed
from ...core.record import WORK, LogRow, TimeLine
from ...core.terms import CASE_ENDS, CASE_FROM, HALTED
from ...core.words import event_words
from ...storage.db import Connection
from ...storage.records import Row, row, rows
from ..errors import NotThere
from ..recording.case_evidence import Known, ranked
from ..recording.cases import START, own_of
from ..recording.log_rows import engine_id
from ..recording.outcomes import found_words
from ..recording.work import work_of, work_out
from .case_line import line_of
from .opened import findings_of, root_mode
from .standing import check_out, standing, state_in

ENDED = 200  # past cases that are looked through for those alike; our choice
ALIKE = 3  # of them shown; our choice
CHECKS = 4
FELT = 0.1  # log-odds under which a check does not pull the first two apart; our choice


def listed(c: Connection, engine: str | None, most: int) -> list[Row]:
    """Cases of the fleet or of one engine, the open ones first; how they ended in words."""
    key = None if engine is None else engine_id(c, engine)
    return [
        {**r, "ended": CASE_ENDS.get(r["ended"] or "", "") if r["closed"] else ""}
        for r in rows(c, "cases", engine=key, n=most)
    ]


# What a case says of itself, as it stands.
_HEAD = ("id", "engine", "engine_name", "unit", "name", "since", "sample", "known_faults")


def _head(found: Row) -> dict[str, Any]:
    """Which case it is, where and by whom it was opened, whether it is closed."""
    return {
        **{k: found[k] for k in (*_HEAD, "opened_by", "standing", "closed")},
        "opened_on": found["opened_at"].date(),
        "opened_from": CASE_FROM[found["opened_from"]],
        "today": date.today(),
        "ended": CASE_ENDS.get(found["ended"] or "", "") if found["closed"] else "",
    }


def _stands(c: Connection, found: Row) -> dict[str, Any]:
    """Where the engine stands today."""
    wall = row(c, "wall_row", engine=found["engine_id"])
    picture = wall["picture"] if wall else None
    dial = picture["dial"] if picture else None
    return standing(state_in(picture), dial, found["unit"], date.today(), False)


def _work(c: Connection, found: Row, known: Known) -> dict[str, Any]:
    """Work of the case and of the engine's own, and what findings ask for beside it."""
    listed = [w for w in work_of(c, found["engine_id"]) if w["case_id"] in (found["id"], None)]
    asked = work_proposed(findings_of(known.history), {w["finding"] for w in listed})
    return {"work": work_out(listed), "asked": [asdict(p) for p in asked]}


def case(c: Connection, key: UUID) -> dict[str, Any]:
    """Everything of one case. Raises NotThere."""
    found = row(c, "case_of", id=key)
    if found is None:
        raise NotThere("there is no such case")
    engine, since = found["engine_id"], found["since"]
    entries = rows(c, "case_entries", id=key)
    live = [e for e in entries if not e["withdrawn"] and e["kind"] != "withdraw"]
    known, stands = ranked(c, engine, since), _stands(c, found)
    weighed = balance(
        known.ranking,
        own_of(entries),
        _said(live),
        _asides(live),
        at_rest=stands["may_run"] in HALTED,
        done=done_in(known.history.engine, known.line),
    )
    ways = [e for e in live if e["kind"] == "way_out"]
    return {
        **_head(found),
        "state": stands,
        "rows": [_row(r, n) for n, r in enumerate(weighed.rows)],
        "checks": [_check(check, pull) for check, pull in weighed.checks[:CHECKS]],
        "before": [_before(m.row, since) for m in work_before(known.line, since)],
        "line": line_of(c, engine, since, entries),
        **_work(c, found, known),
        "ways_out": [{k: e[k] for k in ("id", "words", "amount", "by")} for e in ways],
        "flush": _flush(live),
        "isolation": _isolation(live),
        "run_in": known.run_in,
        "drained": last_drained(known.line, known.history.engine.sump_l, since),
        "followed": _followed(known.line, since, c, engine),
        "similar": _similar(c, found, [x for x, seen in known.ranking.known.items() if seen]),
        "found": root_mode(c, engine, known.history),
    }


def _said(live: list[Row]) -> list[Said]:
    """What people brought to the balance: evidence of their own, and results of the leak
    isolation."""
    out = []
    for e in live:
        key, by = str(e["id"]), e["by"]
        if e["kind"] == "evidence":
            out.append(Said(key, e["hypothesis"], e["words"], e["weight"], by))
        if e["kind"] == "step":
            result = result_of(e["said"], e["words"])
            words = f"{leak_steps()[e['said']].words}: {result.words}"
            out += [Said(key, mode, words, AGAINST, by) for mode in result.clears]
            out += [Said(key, mode, words, FOR, by) for mode in result.points]
    return out


def _asides(live: list[Row]) -> list[Aside]:
    return [
        Aside(str(e["id"]), e["hypothesis"], e["words"], e["by"])
        for e in live
        if e["kind"] == "set_aside"
    ]


def _piece(p: Piece) -> dict[str, Any]:
    return {
        "words": p.words,
        "weight": round(p.weight, 2),
        "origin": p.origin,
        "key": p.key or None,
    }


def _row(r: Explanation, place: int) -> dict[str, Any]:
    return {
        "code": r.code,
        "words": r.words,
        "score": r.score,
        "own": r.own,
        "shown": place < SHOWN or r.own or r.aside is not None,
        "speaks_for": [_piece(p) for p in r.for_],
        "against": [_piece(p) for p in r.against],
        "aside": {"key": r.aside.key, "why": r.aside.why, "by": r.aside.by} if r.aside else None,
    }


def _check(check: Check, pull: Pull | None) -> dict[str, Any]:
    """A check with how far it would pull the first two apart, in words."""
    said = ""
    if pull is not None and abs(pull.found - pull.absent) >= FELT:
        what = evidence_table()[pull.evidence].words
        said = f"{what}: {pull.found:+.1f} for the first over the second, else {pull.absent:+.1f}"
    return {**check_out(check.check), "pulls": said.replace("-", "−")}


def _before(r: LogRow, since: date) -> dict[str, Any]:
    """What was done shortly before the trouble, and how long before."""
    days = (since - r.on).days
    return {
        "on": r.on,
        "words": event_words(r.kind, r.part, r.note, r.details),
        "ago": {0: "the same day", 1: "the day before"}.get(days, f"{days} days before"),
        "work": r.kind in WORK,
    }


def _fill(e: Row) -> Fill:
    return Fill(
        new_l=e["litres_new"],
        trapped_l=e["litres_trapped"],
        measured=e["measured"],
        filter_changed=bool(e["filter_changed"]),
    )


def _flush(live: list[Row]) -> dict[str, Any] | None:
    """Where the flush stands; None where none was begun."""
    start = next((e for e in live if e["kind"] == "fill" and e["said"] == START), None)
    if start is None:
        return None
    fills = [e for e in live if e["kind"] == "fill" and e["said"] != START]
    try:
        found = flush(start["measured"], start["target"], _fill(start), [_fill(e) for e in fills])
    except CoreError as error:
        return {"wrong": str(error), "key": start["id"], "stages": []}
    return {
        "wrong": "",
        "key": start["id"],
        "what": start["words"],
        "start": start["measured"],
        "target": start["target"],
        "planned_l": start["litres_new"],
        "trapped_l": start["litres_trapped"],
        "stages": [
            {"key": e["id"], "computed": s.computed, "measured": s.measured}
            for e, s in zip(fills, found.stages, strict=True)
        ],
        **{k: getattr(found, k) for k in ("left", "more", "share", "litres", "litres_more")},
        "filters": found.filters,
        "word": found.word,
    }


def _isolation(live: list[Row]) -> dict[str, Any]:
    """How far the leak isolation came, and the step that follows."""
    done = [(e["said"], e["words"]) for e in live if e["kind"] == "step"]
    step = leak_steps().get(next_step(done))
    return {
        "done": [
            {"words": leak_steps()[s].words, "answer": result_of(s, a).words} for s, a in done
        ],
        "step": None
        if step is None
        else {
            "code": step.code,
            "words": step.words,
            "how": step.how,
            "caution": step.caution,
            "results": [{"code": r.code, "words": r.words} for r in step.results],
        },
    }


def _followed(line: TimeLine, since: date, c: Connection, engine: int) -> dict[str, Any] | None:
    """How far the last repair of the case was followed; None where nothing was repaired."""
    moments = line.moments
    worked = [n for n, m in enumerate(moments) if m.row.kind in WORK and m.row.on >= since]
    at = worked[-1] if worked else None
    if at is None:
        return None
    work = moments[at]
    levels = {v["sample"]: v["level"] for v in rows(c, "verdicts_of_engine", engine=engine)}
    drawn = [
        Drawn(
            m.row.sample.code,
            m.row.on,
            None if m.total is None or work.total is None else m.total - work.total,
            levels.get(m.row.sample.code),
        )
        for m in moments[at + 1 :]
        if m.row.sample is not None
    ]
    found = followed(drawn)
    return {
        "on": work.row.on,
        "words": event_words(work.row.kind, work.row.part, work.row.note, work.row.details),
        "drawn": [asdict(d) for d in found.drawn],
        "next_at": found.next_at,
        "word": found.word,
    }


def _similar(c: Connection, found: Row, known: list[str]) -> list[dict[str, Any]]:
    """Cases of the fleet that were like this one, and what they were."""
    ended = rows(c, "ended_cases", id=found["id"], n=ENDED)
    past = [
        Past(
            str(r["id"]),
            frozenset(r["carried"]),
            bool(r["model"]) and r["model"] == found["model"],
        )
        for r in ended
    ]
    by_key, words = {str(r["id"]): r for r in ended}, found_words()
    return [
        {
            "id": by_key[key]["id"],
            "engine": by_key[key]["engine"],
            "name": by_key[key]["name"],
            "ended": CASE_ENDS.get(by_key[key]["ended"], ""),
            "found": words.get(by_key[key]["found"], ""),
        }
        for key in similar(known, past)[:ALIKE]
    ]
