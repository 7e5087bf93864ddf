"""The Wall's row of an engine: comb, trace, what is due, what a person allowed. Made when it is
judged."""

from collections.abc import Mapping
from dataclasses import asdict
from datetime import date, timedelta
from typing import Any

from ...core.planning import TIGHTENED, Due, Plan, in_storage, next_due
from ...core.record import History, Moment, TimeLine, build_time_line, telling
from ...core.status import comb, run_state_now, waits
from ...core.verdict import Level, Verdict
from ...core.words import ACTION_SHORT, due_words, sentence, summary
from ...storage.db import Connection
from ...storage.fleet import Loaded
from ...storage.records import Row, json, rows, run

TRACE_BACK = timedelta(
    days=400
)  # the Wall shows nine months; the rest is slack for a row not refreshed
MARKS = {
    "oil_change": "oil",
    "repair": "work",
    "rebuild": "work",
    "symptom": "symptom",
    "failure": "symptom",
    "filter_change": "work",
    "meter_replaced": "work",
    "storage_start": "stored",
    "storage_end": "out",
    "field_check": "symptom",
    "bottle_lost": "symptom",
    "bottle_broken": "symptom",
}


def _trace(
    line: TimeLine, found: dict[str, Verdict], signed: dict[str, Row], since: date
) -> list[dict[str, Any]]:
    """The marks of an engine's trace, in time order."""
    out: list[dict[str, Any]] = []
    for m in line.moments:
        # A storage period may have begun long before the trace does.
        if m.row.on < since and m.row.kind not in ("storage_start", "storage_end"):
            continue
        if m.row.sample is not None:
            code = m.row.sample.code
            verdict, decision = found.get(code), signed.get(code)
            is_signed = bool(decision and decision["kind"] == "sign_off")
            arrived = verdict is not None and verdict.level is not None
            kind = "sample" if arrived or is_signed else "bottle"
            out.append(
                {
                    "kind": kind,
                    "on": m.row.on.isoformat(),
                    "dial": m.row.dial,
                    "sample": code,
                    "level": decision["level"]
                    if decision and is_signed
                    else verdict.level
                    if verdict
                    else None,
                    "signed": is_signed,
                }
            )
        elif m.row.kind in MARKS:
            out.append(
                {
                    "kind": MARKS[m.row.kind],
                    "on": m.row.on.isoformat(),
                    "dial": m.row.dial,
                    "what": m.row.kind,
                    "part": m.row.part or m.row.note,
                }
            )
    return out


def _standing_stops(line: TimeLine) -> list[str]:
    """Hard stops reported and not yet followed by a repair, for engines without any sample."""
    out: list[str] = []
    for m in line.moments:
        if m.row.kind in ("repair", "rebuild"):
            out = []
        elif (word := telling(m.row)) and word.level == Level.STOP:
            out.append(m.row.part)
    return out


def _reason(verdict: Verdict | None) -> str:
    """One line for the selected row: the worst finding, or what is quiet."""
    if verdict is None:
        return "No sample has been judged yet."
    raised = [f for f in verdict.findings if f.level > 0]
    if raised:
        return " ".join(sentence(f.as_dict()) for f in raised[:2])
    return summary([f.as_dict() for f in verdict.findings], list(verdict.channels))


def repaired_after(line: TimeLine, moment: Moment) -> Moment | None:
    """The newest repair after a moment: what a resample would ask about has been taken out of the
    engine."""
    later = line.moments[line.moments.index(moment) + 1 :]
    return next((m for m in reversed(later) if m.row.kind in ("repair", "rebuild")), None)


def _next_code(line: TimeLine, newest: tuple[Verdict, Moment] | None, settled: bool) -> str:
    """The first action of the newest verdict; a repair withdraws a resample and asks for a sample
    after it instead. An engine that was never sampled asks for its first one."""
    if not line.samples():
        return "" if in_storage(line) else "first_sample"
    if newest is None or settled or not newest[0].actions:
        return ""
    first = newest[0].actions[0].code
    return (
        "post_repair"
        if first in ("resample", "sample_sooner") and repaired_after(line, newest[1])
        else first
    )


def due_out(due: Due, unit: str) -> dict[str, Any]:
    """A due sample as the screens get it, with its reason in words."""
    return {
        **asdict(due),
        "on": due.on.isoformat(),
        "earliest": due.earliest.isoformat(),
        "latest": due.latest.isoformat(),
        "words": due_words(asdict(due), unit),
    }


def wall_row(
    history: History,
    found: dict[str, Verdict],
    signed: dict[str, Row],
    run_decision: Row | None,
    today: date,
    plans: tuple[Plan, ...] = (),
    tightened: Mapping[int, float] = TIGHTENED,
) -> dict[str, Any]:
    """Everything the Wall keeps of one engine; `today` only bounds the trace."""
    line = build_time_line(history)
    samples = line.samples()
    judged: list[tuple[Verdict, Moment]] = [
        (found[s.code], m) for m, s in samples if s.code in found
    ]
    dials = [m for m in line.moments if m.total is not None]
    teeth = comb(history.engine, judged, dials[-1].total if dials else None)
    newest = next(((v, m) for v, m in reversed(judged) if v.level is not None), None)
    verdict = newest[0] if newest else None
    decision = signed.get(verdict.sample) if verdict else None
    is_signed = bool(decision and decision["kind"] == "sign_off")
    level = verdict.level if verdict else int(Level.STOP) if _standing_stops(line) else None
    state = run_decision["run_state"] if run_decision and run_decision["kind"] == "run" else None
    spoken = decision["level"] if decision and is_signed else level
    due = next_due(history.engine, line, today, plans, spoken, tightened)
    decided = run_decision["decided_at"].date() if run_decision else None
    # A run decision made before the sample was drawn cannot have known of its Stop.
    newer = bool(decided and (newest is None or decided >= newest[1].row.on))
    next_code = _next_code(line, newest, is_signed and spoken == 0)
    picture = {
        "comb": [
            {
                "channel": t.channel,
                "level": t.level,
                "sample": t.sample,
                "stale_on": t.stale_on.isoformat() if t.stale_on else None,
            }
            for t in teeth
        ],
        "trace": _trace(line, found, signed, today - TRACE_BACK),
        "due": due_out(due, history.engine.meter_unit) if due else None,
        "dial": dials[-1].row.dial if dials else None,
        "dial_on": dials[-1].row.on.isoformat() if dials else None,
        "advice": verdict.may_run if verdict else "unknown",
        "advice_until": verdict.may_run_until if verdict else None,
        "run": {
            "state": state,
            "until": run_decision["until_dial"],
            "by": run_decision["decided_by"],
            "on": run_decision["decided_at"].date().isoformat(),
            "reason": run_decision["reason"],
        }
        if run_decision and state
        else None,
        "reason": _reason(verdict),
        "sample": verdict.sample if verdict else None,
        "next": ACTION_SHORT.get(next_code, ""),
        "next_code": next_code,
        "samples": len(samples),
    }
    now = run_state_now(
        state,
        run_decision["until_dial"] if run_decision else None,
        dials[-1].row.dial if dials else None,
    )
    return {
        "level": level,
        "signed": decision["level"] if decision and is_signed else None,
        "run": now,
        "due": due.on if due else None,
        "open_stop": spoken == Level.STOP and not newer,
        "waiting": sum(waits(v.level, v.input_hash, signed.get(v.sample)) for v, _ in judged),
        "picture": json(picture),
    }


def wall_rows(c: Connection, loaded: Loaded, found: list[Verdict]) -> None:
    """Refresh the Wall's rows of the loaded engines."""
    by_code = {v.sample: v for v in found}
    signed = {r["sample"]: r for r in rows(c, "decisions_of_samples", samples=loaded.sample_ids)}
    running = {
        r["engine_id"]: r
        for r in rows(c, "run_decisions", engines=[e["id"] for e in loaded.engines])
    }
    today = date.today()
    for e, history in zip(loaded.engines, loaded.fleet.histories, strict=True):
        run(
            c,
            "wall_put",
            engine=e["id"],
            **wall_row(
                history,
                by_code,
                signed,
                running.get(e["id"]),
                today,
                loaded.plans.get(e["id"], ()),
                loaded.tightened,
            ),
        )
