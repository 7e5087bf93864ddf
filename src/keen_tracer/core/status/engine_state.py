"""One state of an engine, derived here and nowhere else from all its open reasons; shown alike on
every place."""

from bisect import bisect_right
from collections.abc import Mapping, Sequence
from datetime import date

from ..causes import Ranking
from ..diagnosis import Advice, Known, Since, advice, since_known
from ..record import (
    WORK,
    Engine,
    Fact,
    History,
    Moment,
    TimeLine,
    barred_by,
    barred_now,
    check_kinds,
    fact_kinds,
    fact_of,
    steady_look,
)
from ..terms import CHANNELS, MayRun
from ..verdict import Action, EngineState, Level, Reason, RunDecision, Verdict
from .composite import made_of
from .keys import mark_in, mark_of_row
from .on_its_way import on_its_way, still_asked
from .reasons import OnRecord, open_reasons, permitted

CHECKS_SHOWN = 5
ASKED_FIRST = 2  # checks the worst facts ask for, before those that tell most per hour; our choice
LIFTS = ("release", "restrict")


def _places(line: TimeLine) -> dict[tuple[str, str], int]:
    """The place of each row and each sample, by the mark of the row and the name of the sample."""
    out = {("", mark_of_row(m.row.id)): n for n, m in enumerate(line.moments)}
    return out | {
        (m.row.sample.code, ""): n
        for n, m in reversed(list(enumerate(line.moments)))
        if m.row.sample is not None
    }


def _at(
    places: Mapping[tuple[str, str], int], reason: Reason, reasons: Sequence[Reason]
) -> int | None:
    """The place of a reason among the moments; what is made of others stands at the last of them.
    None where its record was changed since."""
    if parts := made_of(reason, reasons):
        return max((at for r in parts if (at := _at(places, r, ())) is not None), default=None)
    return places.get((reason.sample, "") if reason.sample else ("", mark_in(reason.key)))


def _known(line: TimeLine, at: int | None, works: Sequence[int], reason: Reason) -> Known:
    """A reason with the moment from which its permission counts: the first work after it, else the
    day it was known. Only the first: one repair after another is no way to run on. One that has no
    place counts from its day."""
    if at is None:
        return Known(finding=reason.finding, since=Since(dial=None, on=reason.on))
    after = bisect_right(works, at)
    worked = line.moments[works[after]] if after < len(works) else None
    moment = worked or line.moments[at]
    on = worked.row.on if worked else reason.on
    since = since_known(line, moment, on)
    return Known(finding=reason.finding, since=since, worked_since=worked is not None)


def looked_on(facts: Sequence[Fact], line: TimeLine) -> dict[str, date]:
    """Channel → the last day somebody looked into it at the engine, in this life: a look, a check,
    a test, a symptom, how a bottle looked."""
    life = line.moments[-1].life if line.moments else 1
    out = {w.channel: f.moment.row.on for f in facts if f.moment.life == life for w in f.words}
    for m, sample in line.samples():
        channel = steady_look(sample)
        if channel and m.life == life:
            out[channel] = max(m.row.on, out.get(channel, m.row.on))
    return out


def _measured(line: TimeLine, judged: Sequence[tuple[Verdict, Moment]]) -> set[str]:
    """Channels a laboratory measured in this life."""
    life = line.moments[-1].life if line.moments else 1
    return {
        name
        for v, m in judged
        if m.life == life
        for name, level in zip(CHANNELS, v.channels, strict=True)
        if level is not None
    }


def _run(
    reasons: Sequence[Reason], advised: Advice, decision: RunDecision | None, looked: bool
) -> tuple[MayRun, float | None, date | None]:
    """(may_run, until, until_on) before today is looked at. `advised`: from the reasons no
    restriction permits."""
    held = decision is not None and decision.state == "hold"
    if held or any(r.level >= Level.STOP and not permitted(decision, r) for r in reasons):
        return "do_not_run", None, None
    restricted = decision if decision is not None and decision.state == "restrict" else None
    dials = [advised.until, restricted.until if restricted else None]
    days = [advised.until_on, restricted.until_on if restricted else None]
    if restricted or advised.may_run == "run_until":
        return (
            "run_until",
            min((x for x in dials if x is not None), default=None),
            min((x for x in days if x is not None), default=None),
        )
    return ("runs" if decision is not None or looked else "unknown"), None, None


def _since(reasons: Sequence[Reason], decision: RunDecision | None) -> date | None:
    """Since when this is its state: the oldest reason at the worst level, or the decision."""
    worst = max((r.level for r in reasons), default=0)
    days = [r.on for r in reasons if r.level == worst]
    if decision is not None and (decision.state == "hold" or not days):
        days = [decision.on, *(days if worst >= Level.STOP else [])]
    return min(days, default=None)


def next_checks(
    engine: Engine,
    reasons: Sequence[Reason],
    causes: Ranking,
    barred: frozenset[str],
    done: frozenset[str],
    laboratory: bool,
) -> tuple[str, ...]:
    """Codes of the next best checks, from four questions in this order: can it hurt, can it be done
    here, what does it tell per hour with the wait for its answer, was it answered already.

    What the worst facts themselves ask for comes first: after a chunk one looks for its place.

    laboratory : the engine's samples go to one; else nothing is asked of one
    """
    kinds = check_kinds()
    worst = max((r.level for r in reasons), default=0)
    facts = [fact_of(r.finding) for r in reasons if r.level == worst] if worst else []
    # An agreement is of its members: what the facts in it ask for.
    facts += [fact_of(r.finding) for r in reasons if r.level < worst]
    asked = [code for fact in facts if fact for code in fact_kinds()[fact].next]
    ranked = [c.check for c in causes.checks(barred, done)]
    if not asked and not ranked and reasons:
        # Where no failure mode may lead: the first look into the channel of the worst reason.
        ranked = [k.code for k in kinds.values() if reasons[0].channel in k.first_look]
    first_looks = [
        k.code
        for r in reasons
        if r.level == worst and not fact_of(r.finding)
        for k in kinds.values()
        if r.channel in k.first_look and not k.wait
    ]
    half = (asked or first_looks)[:ASKED_FIRST]
    wanted = dict.fromkeys(half + ranked + asked)
    # What was mended on the spot is checked again, whatever the check said before.
    again = {
        c for fact in facts if fact and fact_kinds()[fact].mend for c in fact_kinds()[fact].next
    }
    fitting = [
        c
        for c in wanted
        if (c not in done or c in again)
        and kinds[c].fits(engine, barred)
        and (laboratory or not kinds[c].bottle)
    ]
    return tuple(fitting[:CHECKS_SHOWN])


def engine_state(
    history: History,
    line: TimeLine,
    judged: Sequence[tuple[Verdict, Moment]],
    record: OnRecord,
    causes: Ranking,
    facts: Sequence[Fact],
    done: frozenset[str] = frozenset(),
    confirmed: bool = False,
) -> EngineState:
    """The state of an engine. Pure: the same facts in any order give the same state.

    judged : verdicts of its samples with their moments, in order
    causes : its failure modes today · facts : everything its log says
    done : checks on record that are not asked again
    confirmed : what is raised was raised before
    """
    decision = record.decisions[-1] if record.decisions else None
    reasons = open_reasons(facts, line, judged, record)
    worst = max((r.level for r in reasons), default=None)
    looked = {*looked_on(facts, line), *_measured(line, judged)}
    level = worst if worst is not None else 0 if looked else None
    # Judged, and yet nothing cleared: what was reported is too little to call anything steady.
    known = bool(looked) or any(v.level is not None for v, _ in judged)
    places = _places(line)
    works = [n for n, m in enumerate(line.moments) if m.row.kind in WORK]
    told = {r.key: _known(line, _at(places, r, reasons), works, r) for r in reasons}
    advised = advice(history.engine, level, list(told.values()), confirmed)
    free = [told[r.key] for r in reasons if not permitted(decision, r)]
    loose = max((k.finding.level for k in free), default=0)
    may_run, until, until_on = _run(
        reasons, advice(history.engine, loose, free, confirmed), decision, known
    )
    raised = {r.channel: r.level for r in reversed(reasons)}
    held = may_run == "do_not_run"
    since = _since(reasons, decision)
    bottle = on_its_way(line, judged, since)
    actions = still_asked(advised.actions, line, since, bottle)
    ask = bool(reasons) or held
    barred = barred_by(history.engine, {fact_of(r.finding) for r in reasons})
    return EngineState(
        level=level,
        may_run=may_run,
        since=since,
        until=until,
        until_on=until_on,
        reasons=tuple(reasons),
        channels=tuple(raised.get(c, 0 if c in looked else None) for c in CHANNELS),
        actions=actions or ((Action("inspect_before_start"),) if held else ()),
        awaited=bottle if len(actions) < len(advised.actions) else "",
        checks=next_checks(
            history.engine, reasons, causes, barred_now(barred, may_run), done, bool(judged)
        )
        if ask
        else (),
        barred=tuple(sorted(barred)),
        lead=causes.lead() if reasons else "",
        second=causes.lead(1) if reasons else "",
        decision=decision,
        undecided=held and not (decision and decision.state == "hold"),
    )


def may_run_now(
    may_run: MayRun, until: float | None, until_on: date | None, dial: float | None, today: date
) -> MayRun:
    """A state's `may_run` at today's meter and day: a permission that has run out is over.

    >>> may_run_now("run_until", 3120, None, 3121, date(2026, 1, 5))
    'past_its_time'
    """
    over = (until is not None and dial is not None and dial >= until) or (
        until_on is not None and today > until_on
    )
    ends = may_run in ("run_until", "not_judged")
    return "past_its_time" if ends and over else may_run
