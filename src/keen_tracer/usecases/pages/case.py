"""A case as people work on it: the balance, the next check, the job that grows, the flush, what
follows the work, its line of time."""

from dataclasses import asdict
from datetime import date
from typing import Final
from uuid import UUID

from ...core.cases import (
    SHOWN,
    Aside,
    Explanation,
    Fill,
    Past,
    Piece,
    Pull,
    Said,
    Unknown,
    balance,
    flush,
    flush_waits,
    last_drained,
    similar,
)
from ...core.causes import Check, evidence_words
from ...core.diagnosis import done_in, work_before
from ...core.errors import CoreError
from ...core.inspection import work_proposed
from ...core.planning import Drawn, early, followed
from ...core.record import (
    SPEAKS_AGAINST,
    SPEAKS_FOR,
    WORK,
    Engine,
    LogRow,
    TimeLine,
    facts_of,
    findings_of,
    leak_answer,
    leak_steps,
    next_leak_step,
)
from ...core.terms import CASE_ENDS, CASE_FROM, FOLLOWED
from ...core.words import OWN_UNITS, Units, pulls, row_words
from ...storage.db import Connection
from ...storage.records import Row, row, rows
from ..answers.case import (
    Before,
    CaseCheck,
    CaseHead,
    CaseLine,
    CaseOut,
    DrawnOut,
    ExplanationOut,
    FlushOut,
    FollowedOut,
    IsolationOut,
    PieceOut,
    SimilarOut,
    UnknownOut,
    WayOut,
)
from ..answers.from_rows import answer, answers
from ..answers.inspect import AskedWork, WorkList
from ..answers.standing import StateOut
from ..days import day_of_engine
from ..errors import NotThere
from ..recording.case_evidence import Known, ranked
from ..recording.cases import START, own_of
from ..recording.log_rows import engine_id
from ..recording.outcomes import found_words
from ..recording.work import work_of, work_out
from .case_line import line_of
from .opened import root_mode
from .standing import check_out, faults_out, standing, state_in

ENDED = 200  # past cases that are looked through for those alike; our choice
ALIKE = 3  # of them shown; our choice
FELT = 0.1  # log-odds under which a check does not pull the first two apart; our choice


def listed(connection: Connection, engine: str | None, most: int) -> list[CaseLine]:
    """Cases of the fleet or of one engine, the open ones first; how they ended in words."""
    key = None if engine is None else engine_id(connection, engine)
    return [
        answer(CaseLine, r, ended=CASE_ENDS.get(r["ended"] or "", "") if r["closed"] else "")
        for r in rows(connection, "cases", engine=key, n=most)
    ]


def _head(found: Row, today: date) -> CaseHead:
    """Which case it is, where and by whom it was opened, whether it is closed."""
    return answer(
        CaseHead,
        {
            **found,
            "opened_from": CASE_FROM[found["opened_from"]],
            "ended": CASE_ENDS.get(found["ended"] or "", "") if found["closed"] else "",
            "known_faults": faults_out(found["faults_of_model"], found["serial_number"]),
        },
        today=today,
    )


def _stands(connection: Connection, found: Row, today: date, units: Units) -> StateOut:
    """The state of the engine today."""
    wall = row(connection, "wall_row", engine=found["engine_id"])
    picture = wall["picture"] if wall else None
    dial = picture["dial"] if picture else None
    return standing(state_in(picture), dial, found["unit"], today, False, units)


def _work(connection: Connection, found: Row, known: Known) -> tuple[WorkList, list[AskedWork]]:
    """Work of the case and of the engine's own, and what findings ask for beside it."""
    listed = [
        w for w in work_of(connection, found["engine_id"]) if w["case_id"] in (found["id"], None)
    ]
    asked = work_proposed(findings_of(known.line), {w["finding"] for w in listed})
    return work_out(listed), [answer(AskedWork, asdict(p)) for p in asked]


def case(connection: Connection, key: UUID, units: Units = OWN_UNITS) -> CaseOut:
    """Everything of one case; its line of time in `units`. Raises NotThere."""
    found = row(connection, "case_of", id=key)
    if found is None:
        raise NotThere("there is no such case")
    engine, since = found["engine_id"], found["since"]
    entries = rows(connection, "case_entries", id=key)
    live = [e for e in entries if not e["withdrawn"] and e["kind"] != "withdraw"]
    today = day_of_engine(connection, found["engine"])
    known, stands = ranked(connection, engine, since), _stands(connection, found, today, units)
    weighed = balance(
        known.ranking,
        own_of(entries),
        _said(live),
        _asides(live),
        barred=frozenset(stands["barred"]),
        done=done_in(facts_of(known.history.engine, known.line), known.line),
    )
    leading = [r.words for r in weighed.rows[:2]]
    ways = [e for e in live if e["kind"] == "way_out"]
    work, asked = _work(connection, found, known)
    return {
        **_head(found, today),
        "state": stands,
        "rows": [_row(r, n) for n, r in enumerate(weighed.rows)],
        "checks": [_check(check, pull, leading) for check, pull in weighed.checks],
        "before": [_before(m.row, since, units) for m in work_before(known.line, since)],
        "line": line_of(connection, engine, known.line, since, entries, work["items"], units),
        "work": work,
        "asked": asked,
        "ways_out": answers(WayOut, ways),
        "flush": _flush(live),
        "looked_after_at": list(early(known.history.engine)),
        "flush_waits": flush_waits(stands["may_run"], _is_mended(known.line, since)),
        "isolation": _isolation(live),
        "run_in": known.run_in,
        "drained": last_drained(known.line, known.history.engine.sump_l, since),
        "followed": _followed(known.history.engine, known.line, since, connection, engine, units),
        "similar": _similar(
            connection, found, [x for x, seen in known.ranking.known.items() if seen]
        ),
        "found": root_mode(known.history),
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
            result = leak_answer(e["said"], e["words"])
            words = f"{leak_steps()[e['said']].words}: {result.words}"
            out += [Said(key, mode, words, SPEAKS_AGAINST, by) for mode in result.clears]
            out += [Said(key, mode, words, SPEAKS_FOR, by) for mode in result.points]
    return out


def _asides(live: list[Row]) -> list[Aside]:
    return [
        Aside(str(e["id"]), e["hypothesis"], e["words"], e["by"])
        for e in live
        if e["kind"] == "set_aside"
    ]


def _piece(p: Piece) -> PieceOut:
    return {
        "words": p.words,
        "weight": round(p.weight, 2),
        "origin": p.origin,
        "key": p.key or None,
    }


def _row(r: Explanation, place: int) -> ExplanationOut:
    return {
        "code": r.code,
        "words": r.words,
        "score": r.score,
        "own": r.own,
        "shown": place < SHOWN or r.own or r.aside is not None,
        "speaks_for": [_piece(p) for p in r.for_],
        "against": [_piece(p) for p in r.against],
        "aside": {"key": r.aside.key, "why": r.aside.why, "by": r.aside.by} if r.aside else None,
        "unknown": None if r.unknown is None or r.aside else _unknown(r.unknown),
    }


def _unknown(u: Unknown) -> UnknownOut:
    return {
        "words": evidence_words(u.evidence),
        "check": u.check,
        "found": round(u.found, 2),
        "absent": round(u.absent, 2),
    }


def _check(check: Check, pull: Pull | None, leading: list[str]) -> CaseCheck:
    """A check, and which of the two explanations that lead each of its answers would speak for."""
    told = pull is not None and abs(pull.found - pull.absent) >= FELT and len(leading) > 1
    said = (
        pulls(evidence_words(pull.evidence), pull.found, pull.absent, leading[0], leading[1])
        if pull and told
        else ""
    )
    return {**check_out(check.check), "pulls": said}


def _before(row: LogRow, since: date, units: Units) -> Before:
    """What was done shortly before the trouble, and how long before."""
    days = (since - row.on).days
    return {
        "on": row.on,
        "words": row_words(row, units),
        "ago": {0: "the same day", 1: "the day before"}.get(days, f"{days} days before"),
        "work": row.kind in WORK,
    }


def _fill(e: Row) -> Fill:
    return Fill(
        new_l=e["litres_new"],
        trapped_l=e["litres_trapped"],
        measured=e["measured"],
        filter_changed=bool(e["filter_changed"]),
    )


# A flush that cannot be computed says why, and nothing else.
_NO_FLUSH: Final = {
    "what": "",
    "start": 0.0,
    "target": 0.0,
    "planned_l": 0.0,
    "trapped_l": 0.0,
    "stages": (),
    "left": 0.0,
    "more": None,
    "share": 0.0,
    "litres": 0.0,
    "litres_more": 0.0,
    "filters": 0,
    "word": "",
}


def _flush(live: list[Row]) -> FlushOut | None:
    """The progress of the flush; None where none was begun."""
    start = next((e for e in live if e["kind"] == "fill" and e["said"] == START), None)
    if start is None:
        return None
    fills = [e for e in live if e["kind"] == "fill" and e["said"] != START]
    try:
        found = flush(start["measured"], start["target"], _fill(start), [_fill(e) for e in fills])
    except CoreError as error:
        return answer(FlushOut, _NO_FLUSH, wrong=str(error), key=start["id"])
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
        "left": found.left,
        "more": found.more,
        "share": found.share,
        "litres": found.litres,
        "litres_more": found.litres_more,
        "filters": found.filters,
        "word": found.word,
    }


def _is_mended(line: TimeLine, since: date) -> bool:
    """Whether work on the engine is on record since the trouble began."""
    return any(m.row.kind in WORK and m.row.on >= since for m in line.moments)


def _isolation(live: list[Row]) -> IsolationOut:
    """How far the leak isolation came, and the step that follows."""
    done = [(e["said"], e["words"]) for e in live if e["kind"] == "step"]
    step = leak_steps().get(next_leak_step(done))
    return {
        "done": [
            {"words": leak_steps()[s].words, "answer": leak_answer(s, a).words} for s, a in done
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


def _followed(
    engine_kind: Engine,
    line: TimeLine,
    since: date,
    connection: Connection,
    engine: int,
    units: Units,
) -> FollowedOut | None:
    """How far the last repair of the case was followed; None where nothing was repaired."""
    moments = line.moments
    worked = [n for n, m in enumerate(moments) if m.row.kind in WORK and m.row.on >= since]
    at = worked[-1] if worked else None
    if at is None:
        return None
    work = moments[at]
    levels = {
        v["sample"]: v["level"] for v in rows(connection, "verdicts_of_engine", engine=engine)
    }
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
    found = followed(drawn, early(engine_kind))
    return {
        "on": work.row.on,
        "words": row_words(work.row, units),
        "drawn": [answer(DrawnOut, asdict(d)) for d in found.drawn],
        "next_at": found.next_at,
        "word": found.word,
        "said": FOLLOWED[found.word],
    }


def _similar(connection: Connection, found: Row, known: list[str]) -> list[SimilarOut]:
    """Cases of the fleet that were like this one, and what they were."""
    ended = rows(connection, "ended_cases", id=found["id"], n=ENDED)
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
