"""The Wall's row of an engine: comb, trace, what is due, what a person allowed. Made when it is
judged."""

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from datetime import date, timedelta
from typing import Any

from ...core.planning import TIGHTENED, Due, Plan, in_storage, next_due
from ...core.record import History, Moment, TimeLine, telling
from ...core.status import Tooth, comb, group_of, run_state_now, waits
from ...core.terms import GROUPS, rank
from ...core.verdict import Level, Verdict
from ...storage.bulk import copy_rows
from ...storage.db import Connection
from ...storage.fleet import Loaded
from ...storage.records import Row, json, rows, run

# The Wall shows nine months; the rest is slack for a row not refreshed.
TRACE_BACK = timedelta(days=400)
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


def _said(verdict: Verdict | None) -> dict[str, Any]:
    """What the line under an engine is made of when it is read: its worst findings and channels."""
    if verdict is None:
        return {"findings": [], "channels": None}
    raised = [f.as_dict() for f in verdict.findings if f.level > 0]
    return {"findings": raised[:2], "channels": list(verdict.channels)}


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


def due_stored(due: Due) -> dict[str, Any]:
    """A due sample as codes and dates; `words.due_words` says it when it is read."""
    dates = {k: getattr(due, k).isoformat() for k in ("on", "earliest", "latest")}
    return {**asdict(due), **dates}


@dataclass(frozen=True, slots=True, kw_only=True)
class _Now:
    """Where an engine stands: its newest verdict with what people decided, and its meter.

    spoken : the level that counts, a signed one before a proposed one
    """

    verdict: Verdict | None
    moment: Moment | None
    level: int | None
    signed_level: int | None
    dial: Moment | None
    decision: Row | None

    @property
    def spoken(self) -> int | None:
        return self.level if self.signed_level is None else self.signed_level

    @property
    def state(self) -> str | None:
        held = self.decision
        return held["run_state"] if held and held["kind"] == "run" else None

    @property
    def until(self) -> float | None:
        return self.decision["until_dial"] if self.decision else None

    @property
    def run_state(self) -> str | None:
        """The run decision at today's meter."""
        return run_state_now(self.state, self.until, self.dial.row.dial if self.dial else None)

    @property
    def open_stop(self) -> bool:
        """A Stop nobody has decided on: a decision made before the sample was drawn cannot have
        known of it."""
        if self.spoken != Level.STOP:
            return False
        if self.decision is None:
            return True
        decided = self.decision["decided_at"].date()
        return bool(self.moment is not None and decided < self.moment.row.on)

    def allowed(self) -> dict[str, Any] | None:
        """What a person allows, None where nobody decided."""
        held = self.decision
        if held is None or not self.state:
            return None
        return {
            "state": self.state,
            "until": self.until,
            "by": held["decided_by"],
            "on": held["decided_at"].date().isoformat(),
            "reason": held["reason"],
        }


def _now(
    line: TimeLine,
    judged: list[tuple[Verdict, Moment]],
    signed: dict[str, Row],
    decision: Row | None,
) -> _Now:
    newest = next(((v, m) for v, m in reversed(judged) if v.level is not None), None)
    verdict, moment = newest or (None, None)
    sign_off = signed.get(verdict.sample) if verdict else None
    is_signed = sign_off is not None and sign_off["kind"] == "sign_off"
    level = verdict.level if verdict else int(Level.STOP) if _standing_stops(line) else None
    return _Now(
        verdict=verdict,
        moment=moment,
        level=level,
        signed_level=sign_off["level"] if sign_off and is_signed else None,
        dial=next((m for m in reversed(line.moments) if m.total is not None), None),
        decision=decision,
    )


def _picture(
    line: TimeLine, now: _Now, teeth: list[Tooth], trace: list[dict[str, Any]], due: Due | None
) -> dict[str, Any]:
    """What the Wall draws of an engine, as codes and figures."""
    newest = (now.verdict, now.moment) if now.verdict and now.moment else None
    return {
        "comb": [
            {**asdict(t), "stale_on": t.stale_on.isoformat() if t.stale_on else None} for t in teeth
        ],
        "trace": trace,
        "due": due_stored(due) if due else None,
        "dial": now.dial.row.dial if now.dial else None,
        "dial_on": now.dial.row.on.isoformat() if now.dial else None,
        "advice": now.verdict.may_run if now.verdict else "unknown",
        "advice_until": now.verdict.may_run_until if now.verdict else None,
        "run": now.allowed(),
        "said": _said(now.verdict),
        "sample": now.verdict.sample if now.verdict else None,
        "next_code": _next_code(line, newest, now.signed_level == 0),
    }


@dataclass(frozen=True, slots=True, kw_only=True)
class WallRow:
    """The Wall's row of one engine as it is stored, and the samples of it that wait."""

    level: int | None
    signed: int | None
    run: str | None
    due: date | None
    open_stop: bool
    need: int
    picture: dict[str, Any]
    waiting: list[tuple[str, int, date]]  # sample, level, day it was drawn


def wall_row(
    history: History,
    line: TimeLine,
    found: dict[str, Verdict],
    signed: dict[str, Row],
    decision: Row | None,
    today: date,
    plans: tuple[Plan, ...] = (),
    tightened: Mapping[int, float] = TIGHTENED,
) -> WallRow:
    """Everything the Wall keeps of one engine; `today` only bounds the trace."""
    judged = [(found[s.code], m) for m, s in line.samples() if s.code in found]
    now = _now(line, judged, signed, decision)
    teeth = comb(history.engine, judged, now.dial.total if now.dial else None)
    due = next_due(history.engine, line, today, plans, now.spoken, tightened)
    trace = _trace(line, found, signed, today - TRACE_BACK)
    return WallRow(
        level=now.level,
        signed=now.signed_level,
        run=now.run_state,
        due=due.on if due else None,
        open_stop=now.open_stop,
        need=rank(GROUPS, group_of(now.run_state, now.level, now.signed_level, 0)),
        picture=_picture(line, now, teeth, trace, due),
        waiting=[
            (v.sample, v.level, m.row.on)
            for v, m in judged
            if v.level is not None and waits(v.level, v.input_hash, signed.get(v.sample))
        ],
    )


def wall_rows(c: Connection, loaded: Loaded, lines: list[TimeLine], found: list[Verdict]) -> None:
    """Refresh the Wall's rows of the loaded engines, and what waits of them."""
    by_code = {v.sample: v for v in found}
    signed = {r["sample"]: r for r in rows(c, "decisions_of_samples", samples=loaded.sample_ids)}
    ids = [e["id"] for e in loaded.engines]
    running = {r["engine_id"]: r for r in rows(c, "run_decisions", engines=ids)}
    keys = dict(zip((v.sample for v in found), loaded.sample_ids, strict=True)) if found else {}
    today = date.today()
    run(c, "waiting_clear", ids=ids, samples=loaded.sample_ids)
    waiting: list[tuple[int, int, int, date]] = []
    for engine, history, line in zip(ids, loaded.fleet.histories, lines, strict=True):
        one = wall_row(
            history,
            line,
            by_code,
            signed,
            running.get(engine),
            today,
            loaded.plans.get(engine, ()),
            loaded.tightened,
        )
        waiting += [(keys[sample], engine, level, on) for sample, level, on in one.waiting]
        run(
            c,
            "wall_put",
            engine=engine,
            level=one.level,
            signed=one.signed,
            run=one.run,
            due=one.due,
            open_stop=one.open_stop,
            need=one.need,
            waiting=len(one.waiting),
            picture=json(one.picture),
        )
    copy_rows(c, "waiting_sample", ("sample_id", "engine_id", "level", "on_date"), waiting)
