"""One entry for one engine or many: `judge(fleet, limits)`."""

from collections.abc import Iterable, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .baseline import NOTHING_PUBLISHED, Assessment, PeerSet, assess
from .diagnosis import (
    GLYCOL,
    Advice,
    Known,
    Marks,
    SampleFacts,
    advice,
    causes_of,
    combinations,
    confirmed,
    done_at,
    explanations,
    hard_stops,
    marks,
    of_expectation,
    of_readings,
    remarks,
    run_in,
    since_known,
    thickness,
    worth_explaining,
)
from .findings import Finding
from .input_hash import expected_bytes, input_hash, row_bytes
from .laboratory import ANALYTES
from .limits import NOTHING_CHOSEN, LimitSet, Policies
from .record import Fleet, SampleContext, barred_now
from .terms import CHANNELS, rank
from .verdict import Level, Verdict

CHECKS_KEPT = 5  # next best checks that are written down with a verdict
# (analytes, channels) which channel each analyte speaks to
_CHANNEL_COLUMNS = np.array([[a.channel == c for c in CHANNELS] for a in ANALYTES])


def channel_levels(
    measured: NDArray[np.bool_], findings: Iterable[Finding]
) -> tuple[int | None, ...]:
    """Level per channel. None where nothing was measured that a limit could be held against."""
    raised: dict[str, int] = {}
    for f in findings:
        if f.level > raised.get(f.channel, 0):
            raised[f.channel] = int(f.level)
    return tuple(
        raised.get(c) or (0 if there else None)
        for c, there in zip(CHANNELS, measured.tolist(), strict=True)
    )


def findings_of(facts: SampleFacts, known: Marks, explain: bool) -> list[Finding]:
    """Every finding of a sample, worst first, each cause once."""
    e, i = facts.evaluation, facts.row
    out = [run_in(e, i, found, n) for n, found in of_readings(facts) if n != GLYCOL]
    out += of_expectation(facts)
    if explain:
        out += explanations(facts)
    out += thickness(e, i)
    if known.combination[i]:
        out += combinations(e, i)
    out += hard_stops(e, i)
    out += remarks(e, i, int(known.reference[i]))
    return sorted(out, key=lambda f: -f.level)


def _steady_by_facts(contexts: Sequence[SampleContext]) -> NDArray[np.bool_]:
    """(samples, channels) channels somebody looked into at the engine, whatever came of it."""
    out = np.zeros((len(contexts), len(CHANNELS)), dtype=np.bool_)
    places = {channel: n for n, channel in enumerate(CHANNELS)}
    for i, context in enumerate(contexts):
        for fact in context.facts:
            for word in fact.words:
                out[i, places[word.channel]] = True
    return out


# Remarks with which a channel is not cleared, however quiet its figures are.
UNCLEARED = ("not_reported", "hours_unknown")


def _nothing_cleared(facts: SampleFacts) -> set[str]:
    """Channels of which every test with a limit is a non-detect that clears nothing."""
    if not facts.evaluation.leaves_open[facts.row]:
        return set()
    judged = np.flatnonzero(facts.evaluation.level[facts.row] >= 0)
    clear = {ANALYTES[n].channel for n in judged if not facts.evaluation.unproven[facts.row, n]}
    return {ANALYTES[n].channel for n in judged} - clear


def _cleared(
    facts: SampleFacts, channels: tuple[int | None, ...], findings: Iterable[Finding]
) -> tuple[int | None, ...]:
    """The channels as they are said: what was not reported is never steady."""
    open_ = {f.channel for f in findings if f.code in UNCLEARED} | _nothing_cleared(facts)
    return tuple(
        None if level == 0 and name in open_ else level
        for name, level in zip(CHANNELS, channels, strict=True)
    )


def _advice(facts: SampleFacts, level: int | None, findings: Sequence[Finding]) -> Advice:
    """What to do about a sample, counted from the day its figures were known."""
    row, line = facts.context.moment.row, facts.context.time_line
    raised = [f for f in findings if f.level]
    if not raised:
        return advice(facts.context.engine, level, [])
    known_on = max(row.on, facts.context.sample.analysed_on or row.on)
    since = since_known(line, facts.context.moment, known_on)
    known = [Known(finding=f, since=since) for f in raised]
    return advice(facts.context.engine, level, known, confirmed(facts))


def _readings(facts: SampleFacts) -> dict[str, str]:
    """Column → the figure as it was judged, of everything measured."""
    value, censor = (
        facts.evaluation.fleet.value[facts.row],
        facts.evaluation.fleet.censor[facts.row],
    )
    there = map(int, np.flatnonzero(censor >= 0))
    return {ANALYTES[n].column: f"{value[n]:.6g} {censor[n]}" for n in there}


def _verdict(facts: SampleFacts, i: int, channels: tuple[int | None, ...], **made: Any) -> Verdict:
    """One sample's verdict with its advice; which part, and what to check, where it is raised."""
    level = max((c for c in channels if c is not None), default=None)
    findings, context = made.pop("findings"), facts.context
    advised = _advice(facts, level, findings)
    causes = causes_of(facts) if level else None
    done = done_at(facts) if causes else frozenset[str]()
    barred = barred_now((), "do_not_run" if level == Level.STOP else "")
    offered = causes.checks(barred, done)[:CHECKS_KEPT] if causes else []
    return Verdict(
        sample=context.sample.code,
        level=level,
        channels=_cleared(facts, channels, findings),
        findings=tuple(findings),
        actions=advised.actions,
        may_run=advised.may_run,
        may_run_until=advised.until,
        may_run_until_on=advised.until_on,
        policy=facts.assessment.policies[i],
        lead=causes.lead() if causes else "",
        second=causes.lead(1) if causes else "",
        checks=tuple(c.check for c in offered),
        readings=_readings(facts) if level else {},
        **made,
    )


def verdicts(assessment: Assessment, rows: Iterable[int] | None = None) -> list[Verdict]:
    """Verdicts of the chosen rows of an assessment (all by default)."""
    e, known, explain = (
        assessment.evaluation,
        marks(assessment.evaluation),
        worth_explaining(assessment),
    )
    prints, expected = row_bytes(e), expected_bytes(assessment)
    measured = (
        (e.level >= 0) | (assessment.level >= 0) | assessment.compared | known.by_rule
    ) @ _CHANNEL_COLUMNS
    by_figures = measured.copy()
    # What was looked into at the engine makes no verdict of a bottle whose figures are out.
    told = np.asarray((e.fleet.censor >= 0).any(axis=1))
    measured |= _steady_by_facts(e.contexts) & told[:, None]
    looked = np.array([p.looked for p in e.contexts], dtype=np.bool_)
    measured[looked & told, rank(CHANNELS, "debris")] = True
    out = []
    for i in range(len(e.contexts)) if rows is None else rows:
        s = SampleFacts(assessment, i)
        findings = findings_of(s, known, bool(explain[i]))
        channels = channel_levels(measured[i], findings)
        out.append(
            _verdict(
                s,
                i,
                channels,
                findings=findings,
                input_hash=input_hash(assessment, i, prints, expected),
                figures=frozenset(
                    c for c, there in zip(CHANNELS, by_figures[i].tolist(), strict=True) if there
                ),
            )
        )
    return out


def judge(
    fleet: Fleet,
    limits: LimitSet,
    peers: PeerSet = NOTHING_PUBLISHED,
    policies: Policies = NOTHING_CHOSEN,
) -> list[Verdict]:
    """A verdict for every sample of the fleet.

    Pure: the same fleet, limits, peers and policies give the same verdicts, whatever the order of
    rows or engines.
    """
    return verdicts(assess(fleet, limits, peers, policies))
