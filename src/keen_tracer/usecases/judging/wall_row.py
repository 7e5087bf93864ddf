"""The Wall's row of an engine: comb, trace, what is due, what a person allowed. Made when it is
judged."""

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from datetime import date, timedelta

from ...core.baseline import Assessment
from ...core.planning import (
    TIGHTENED,
    Due,
    OilLife,
    Plan,
    Task,
    dues,
    in_storage,
    oil_life,
    plans_of,
    tasks_of,
)
from ...core.record import WORK, History, Moment, SampleContext, TimeLine, facts_of
from ...core.status import Tooth, comb, group_of, looked_on, may_run_now, waits
from ...core.terms import GROUPS, rank
from ...core.verdict import BOTTLE_NOW, EngineState, Verdict
from ...storage.bulk import copy_rows
from ...storage.db import Connection
from ...storage.fleet import Loaded
from ...storage.records import Row, json, run, setting
from ..answers.from_rows import answer
from ..days import days_now
from .stored import NO_MARK, Picture, StoredDue, StoredMark, StoredTask
from .stored_state import kept

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
) -> list[StoredMark]:
    """The marks of an engine's trace, in time order."""
    out: list[StoredMark] = []
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
                    **NO_MARK,
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
                    **NO_MARK,
                    "kind": MARKS[m.row.kind],
                    "on": m.row.on.isoformat(),
                    "dial": m.row.dial,
                    "what": m.row.kind,
                    "part": m.row.part or m.row.note,
                }
            )
    return out


def repaired_after(line: TimeLine, moment: Moment) -> Moment | None:
    """The newest repair after a moment: what a resample would ask about has been taken out of the
    engine."""
    later = line.moments[line.moments.index(moment) + 1 :]
    return next((m for m in reversed(later) if m.row.kind in WORK), None)


def _codes(state: EngineState, line: TimeLine) -> list[str]:
    """What to do, in order. An engine nobody ever looked at asks for its first sample."""
    if state.may_run == "unknown" and not line.samples():
        return [] if in_storage(line) else ["first_sample"]
    return [a.code for a in state.actions]


def task_stored(task: Task) -> StoredTask:
    """A task as codes, figures and days; `words.task_words` says it when it is read."""
    days = {k: getattr(task, k).isoformat() for k in ("earliest", "on", "latest")}
    return answer(StoredTask, asdict(task), **days)


def due_stored(due: Due) -> StoredDue:
    """A due sample as codes and dates; `words.due_words` says it when it is read."""
    dates = {k: getattr(due, k).isoformat() for k in ("on", "earliest", "latest")}
    return answer(StoredDue, asdict(due), **dates)


@dataclass(frozen=True, slots=True, kw_only=True)
class WallRow:
    """The Wall's row of one engine as it is stored, and the samples of it that wait."""

    level: int | None
    signed: int | None
    until_on: date | None
    due: date | None
    open_stop: bool
    need: int
    picture: Picture
    waiting: list[tuple[str, int, date]]  # sample, level, day it was drawn


def _picture(
    line: TimeLine,
    state: EngineState,
    teeth: list[Tooth],
    trace: list[StoredMark],
    due: Due | None,
    tasks: list[Task],
) -> Picture:
    """What the Wall draws of an engine, as codes and figures."""
    dial = _dial(line)
    codes = _codes(state, line)
    held = state.may_run == "do_not_run"
    return {
        "comb": [
            {
                "channel": t.channel,
                "level": t.level,
                "sample": t.sample,
                "stale_on": t.stale_on.isoformat() if t.stale_on else None,
            }
            for t in teeth
        ],
        "trace": trace,
        "due": due_stored(due) if due else None,
        "dial": dial.row.dial if dial else None,
        "dial_on": dial.row.on.isoformat() if dial else None,
        "state": kept(state),
        "sample": next((r.sample for r in state.reasons if r.sample), None),
        "next_code": codes[0] if codes else "",
        # An engine that must not run is not met with a pump on a round.
        "sample_code": "" if held else next((x for x in codes if x in BOTTLE_NOW), ""),
        "tasks": [task_stored(t) for t in tasks],
    }


def _dial(line: TimeLine) -> Moment | None:
    return next((m for m in reversed(line.moments) if m.total is not None), None)


def _signed_level(judged: list[tuple[Verdict, Moment]], signed: dict[str, Row]) -> int | None:
    """The level somebody signed of the newest judged sample."""
    newest = next((v for v, _ in reversed(judged) if v.level is not None), None)
    off = signed.get(newest.sample) if newest else None
    return off["level"] if off and off["kind"] == "sign_off" else None


def wall_row(
    history: History,
    line: TimeLine,
    found: dict[str, Verdict],
    signed: dict[str, Row],
    state: EngineState,
    today: date,
    plans: tuple[Plan, ...] = (),
    tightened: Mapping[int, float] = TIGHTENED,
    life: OilLife | None = None,
) -> WallRow:
    """Everything the Wall keeps of one engine; `today` only bounds the trace and says whether a
    permission has run out by the meter, what the day does is asked when it is read."""
    judged = [(found[s.code], m) for m, s in line.samples() if s.code in found]
    dial = _dial(line)
    looked = looked_on(facts_of(history.engine, line), line)
    teeth = comb(history.engine, judged, state.channels, dial.total if dial else None, looked)
    ahead = dues(history.engine, plans, line, today, state.level, tightened)
    due = next(iter(ahead), None)
    out = [v.sample for v, _ in judged if v.level is None]
    sampled = bool(plans_of(history.engine, plans))
    tasks = tasks_of(history.engine, line, state, ahead, out, today, life, sampled)
    may_run = may_run_now(
        state.may_run, state.until, state.until_on, dial.row.dial if dial else None, today
    )
    return WallRow(
        level=state.level,
        signed=_signed_level(judged, signed),
        until_on=state.until_on,
        due=due.on if due else None,
        open_stop=state.undecided,
        need=rank(GROUPS, group_of(may_run, state.level, 0)),
        picture=_picture(
            line, state, teeth, _trace(line, found, signed, today - TRACE_BACK), due, tasks
        ),
        waiting=[
            (v.sample, v.level, m.row.on)
            for v, m in judged
            if v.level is not None and waits(v.level, v.input_hash, signed.get(v.sample))
        ],
    )


def _in_order(contexts: list[SampleContext]) -> list[SampleContext]:
    """Samples of one engine in the order of its time line."""
    by_row = {p.row: p for p in contexts}
    return [by_row[s.row] for _, s in contexts[0].time_line.samples() if s.row in by_row]


def _lives(assessment: Assessment | None, longest: float) -> dict[str, OilLife]:
    """Engine → what its oil has left, as far as its samples say."""
    if assessment is None:
        return {}
    here: dict[str, list[SampleContext]] = {}
    for context in assessment.evaluation.contexts:
        here.setdefault(context.engine.code, []).append(context)
    lives = (
        (code, oil_life(assessment.evaluation, _in_order(found), longest))
        for code, found in here.items()
    )
    return {code: life for code, life in lives if life is not None}


def wall_rows(
    connection: Connection,
    loaded: Loaded,
    lines: list[TimeLine],
    found: list[Verdict],
    states: list[EngineState],
    signed: dict[str, Row],
    assessment: Assessment | None,
) -> None:
    """Refresh the Wall's rows of the loaded engines, and what waits of them."""
    lives = _lives(assessment, float(setting(connection, "longest_drain") or 1.0))
    by_code = {v.sample: v for v in found}
    ids = [e["id"] for e in loaded.engines]
    depots = [e["depot"] for e in loaded.engines]
    keys = dict(zip((v.sample for v in found), loaded.sample_ids, strict=True)) if found else {}
    days = days_now(connection)
    run(connection, "waiting_clear", ids=ids, samples=loaded.sample_ids)
    waiting: list[tuple[int, int, int, date]] = []
    for engine, depot, history, line, state in zip(
        ids, depots, loaded.fleet.histories, lines, states, strict=True
    ):
        plans = loaded.plans.get(engine, ())
        code = history.engine.code
        one = wall_row(
            history,
            line,
            by_code,
            signed,
            state,
            days.at(depot),
            plans,
            loaded.tightened,
            lives.get(code),
        )
        waiting += [(keys[sample], engine, level, on) for sample, level, on in one.waiting]
        run(
            connection,
            "wall_put",
            engine=engine,
            level=one.level,
            signed=one.signed,
            until_on=one.until_on,
            due=one.due,
            open_stop=one.open_stop,
            need=one.need,
            waiting=len(one.waiting),
            picture=json(one.picture),
        )
    copy_rows(connection, "waiting_sample", ("sample_id", "engine_id", "level", "on_date"), waiting)
