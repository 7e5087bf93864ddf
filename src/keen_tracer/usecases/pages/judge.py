"""Everything the analyst's desk shows of one sample, and how its figures were reached. Reads
only."""

import hashlib
from collections.abc import Mapping
from dataclasses import asdict

import numpy as np

from ... import clock
from ...core.baseline import Assessment
from ...core.causes import Check, Hypothesis, evidence_words
from ...core.comparison import Average, Ladder, against, best, how_reached, ladders
from ...core.diagnosis import SampleFacts, causes_of, done_in
from ...core.findings import stored
from ...core.laboratory import BY_COLUMN
from ...core.limits import POLICY_WORDS, Evaluation
from ...core.record import SampleContext, oil_words
from ...core.terms import CHANNELS, LEVELS
from ...core.words import OWN_UNITS, Units, chip, helps, sentence, short_day, summary, would_change
from ...storage.db import Connection
from ...storage.records import Row, row, rows
from ..answers.from_rows import answer
from ..answers.judge import (
    AverageOut,
    ExpectedOut,
    How,
    LadderOut,
    NextCheck,
    PartOut,
    PointedTo,
    SaidFinding,
    SampleHead,
    SampleOut,
    VerdictAction,
    VerdictOut,
    Weighed,
)
from ..answers.standing import SignedOff
from ..errors import NotThere
from ..judging.stored_state import action_of
from ..judging.wall_row import repaired_after
from ..recording.answering import open_queries
from .assessed import assessed
from .standing import action_out, check_out
from .wall import lines

PARTS_SHOWN, CHECKS_SHOWN = 4, 3


def _change_words(one: Ladder) -> str:
    """The change since the last reading in plain words, or why there is none to state."""
    change, same = one.change, one.same_laboratory
    if one.previous is None:
        return "first reading"
    if not one.comparable:
        return "another test method, not comparable"
    if not one.same_charge:
        return f"new oil, was {one.previous:.3g}"
    if change is None:
        return "no figure to compare"
    sign = "+" if change.absolute > 0 else "−"
    size = f"{abs(change.absolute):.3g}"
    lab = "" if same else ", other laboratory"
    if not change.distinguishable:
        return f"not distinguishable{lab}"
    if change.relative_pct is None:
        return f"{sign}{size} since last{lab}"
    return (
        f"{sign}{size} since last, {change.relative_pct:+.0f} % ± "
        f"{change.relative_half_width_pct:.0f}{lab}"
    )


def _average(one: Ladder, of: Average | None, context: SampleContext) -> AverageOut | None:
    """A reading beside the laboratory's average for the model, where there is one."""
    found = against(one, of, context) if of else None
    if of is None or found is None:
        return None
    said = found.words(context.engine.meter_unit)
    return {
        "average": of.average,
        "laboratory": of.laboratory,
        "words": said,
        "side": found.side,
        "origin": of.origin,
    }


def _ladder(one: Ladder, evaluation: Evaluation, i: int, of: Average | None) -> LadderOut:
    a = BY_COLUMN[one.column]
    life = evaluation.contexts[i].moment.life
    trace = [
        p.row
        for p in evaluation.contexts
        if p.moment.life == life and p.moment.row.on <= evaluation.contexts[i].moment.row.on
    ]
    ordered = [q.row for _, q in evaluation.contexts[i].time_line.samples() if q.row in set(trace)][
        -12:
    ]
    change = one.change
    return {
        "column": one.column,
        "text": one.text,
        "value": one.value,
        "censor": one.censor,
        "low": one.low,
        "high": one.high,
        "fresh": one.fresh,
        "fresh_from": one.fresh_from,
        "previous": one.previous,
        "same_laboratory": one.same_laboratory,
        "comparable": one.comparable,
        "rate_per_100": one.rate_per_100,
        "rate_withheld": one.rate_withheld,
        "watch": one.watch,
        "act": one.act,
        "watch_low": one.watch_low,
        "act_low": one.act_low,
        "limit": one.limit,
        "level": one.level,
        "axis_end": one.axis_end,
        "schools": list(one.schools),
        "average": _average(one, of, evaluation.contexts[i]),
        "expected": answer(ExpectedOut, asdict(one.expected)) if one.expected else None,
        "symbol": a.symbol,
        "name": a.name,
        "unit": a.unit,
        "channel": a.channel,
        "change": {
            "absolute": change.absolute if change else 0.0,
            "words": _change_words(one),
        },
        "trace": [
            float(x) if np.isfinite(x := evaluation.middle[r, a.index]) else None for r in ordered
        ],
    }


def verdict_out(v: Row, unit: str, units: Units) -> VerdictOut:
    """A stored verdict as sentences; meters in `unit`, amounts in `units`."""
    findings = [stored(f) for f in v["findings"]]
    said: list[SaidFinding] = [
        {
            "code": f.code,
            "channel": f.channel,
            "level": f.level,
            "analyte": f.analyte,
            "sentence": sentence(f, units),
            "chip": chip(f) if f.level else "",
            "origin": f.origin,
        }
        for f in findings
    ]
    return {
        "level": v["level"],
        "channels": dict(zip(CHANNELS, v["channels"], strict=True)),
        "summary": summary(v["channels"]),
        "said": said,
        "actions": [{**action_out(action_of(a), unit), "became": ""} for a in v["actions"]],
        "would_change": would_change(v["level"], findings),
        "policy": POLICY_WORDS.get(v["policy"]) or str(v["policy"] or ""),
        "peers": v["peers_version"],
        "rules": v["rules"],
        "limits": v["limits_version"],
        "basis": v["input_hash"],
    }


def _changed_since(verdict: Row | None, standing: Row | None) -> str | None:
    """That a signed verdict would be another one now, in words.

    Peers published anew move every basis a little; what matters is whether the program would say
    otherwise.
    """
    if not verdict or not standing or standing["kind"] != "sign_off":
        return None
    if standing["basis"] == verdict["input_hash"] or standing["proposed"] == verdict["level"]:
        return None
    return (
        "What it rests on (figures, limits or peers) changed after the sign-off; the program "
        f"would now say {LEVELS[verdict['level'] or 0]}."
    )


def basis(connection: Connection, code: str) -> str | None:
    """What the desk's page of a sample rests on, for its ETag; None for a sample without a draw."""
    found = row(connection, "basis_of_sample", code=code, today=clock.quarter())
    return hashlib.blake2b(found["basis"].encode(), digest_size=12).hexdigest() if found else None


def _head(context: SampleContext, engine: Row) -> SampleHead:
    """Which sample it is, of which engine, on which oil."""
    return {
        "engine": engine["code"],
        "engine_name": engine["name"],
        "depot": engine["depot"],
        "unit": engine["meter_unit"],
        "drawn_on": context.moment.row.on,
        "dial": context.moment.row.dial,
        "hours_on_oil": None if np.isnan(context.hours_on_oil) else context.hours_on_oil,
        "topped_l": sum(q for _, q in context.top_ups),
        "oil": oil_words(context.oil),
        "laboratory": context.sample.laboratory,
        "purpose": context.sample.purpose,
        "appearance": context.sample.appearance,
    }


def _row_of(assessment: Assessment | None, code: str) -> int:
    """The row of a sample. Raises NotThere for a bottle that is lost or broken: it has none."""
    found = (
        [p.row for p in assessment.evaluation.contexts if p.sample.code == code]
        if assessment
        else []
    )
    if not found:
        raise NotThere(f"bottle {code} has nothing to judge: it was lost or broken")
    return found[0]


def sample(connection: Connection, code: str, units: Units = OWN_UNITS) -> SampleOut:
    """Everything the desk shows of one sample, amounts in `units`."""
    owner = row(connection, "engine_of_sample", code=code)
    if owner is None:
        raise NotThere(f"there is no sample {code}")
    loaded, a = assessed(connection, owner["engine_id"])
    i = _row_of(a, code)
    assert a is not None
    context, engine = a.evaluation.contexts[i], loaded.engines[0]
    verdict = row(connection, "verdict_of_sample", sample=owner["sample_id"])
    standing = row(connection, "decision_of_sample", sample=owner["sample_id"])
    found = ladders(a, i)
    printed = [Average(**r) for r in rows(connection, "averages_of_model", model=engine["model"])]
    usual = best(printed, context.sample.laboratory)
    stands = lines(connection, [owner["engine_id"]], units)[owner["engine_id"]]["state"]
    out = verdict_out(verdict, engine["meter_unit"], units) if verdict else None
    if out:
        _note_resample(out["actions"], context)
    return {
        "sample": code,
        **_head(context, engine),
        "same_laboratory": bool(found and found[0].same_laboratory),
        "ladders": [_ladder(x, a.evaluation, i, usual.get(x.column)) for x in found],
        "verdict": out,
        **_pointed_to(a, i, bool(verdict and verdict["level"]), frozenset(stands["barred"])),
        "decision": answer(SignedOff, standing) if standing else None,
        "basis_changed": _changed_since(verdict, standing),
        "queries": [q for q in open_queries(connection, engine["code"]) if q["sample"] == code],
        "state": stands,
    }


def _weighed(known: Mapping[str, bool], found: tuple[tuple[str, float], ...]) -> list[Weighed]:
    """Pieces of evidence as they are known: what is as usual is never called up."""
    return [
        {"words": evidence_words(code, known.get(code, True)), "weight": weight}
        for code, weight in found
    ]


def _pointed_to(assessment: Assessment, i: int, raised: bool, barred: frozenset[str]) -> PointedTo:
    """Which part a raised sample points to, with what speaks for and against it, and what to check
    next; nothing that may not be done to the engine today."""
    if not raised:
        return {"parts": [], "checks": []}
    s = SampleFacts(assessment, i)
    found, done = causes_of(s), done_in(s.context.log_facts, s.context.time_line)
    return {
        "parts": _parts(found.known, found.hypotheses()[:PARTS_SHOWN]),
        "checks": [_check(x) for x in found.checks(barred, done)[:CHECKS_SHOWN]],
    }


def _parts(known: Mapping[str, bool], found: list[Hypothesis]) -> list[PartOut]:
    return [
        {
            "mode": h.mode.code,
            "words": h.mode.words,
            "channel": h.mode.channel,
            "score": h.score,
            "prior": h.mode.prior,
            "speaks_for": _weighed(known, h.for_),
            "against": _weighed(known, h.against),
        }
        for h in found
    ]


def _check(one: Check) -> NextCheck:
    return {**check_out(one.check), "helps": helps(one.bits)}


def _note_resample(actions: list[VerdictAction], context: SampleContext) -> None:
    """Say beside the resample what became of it: drawn, or pointless since a repair."""
    again = [
        (s.code, m.row.on)
        for m, s in context.time_line.samples()
        if s.resample_of == context.sample.code
    ]
    repaired = repaired_after(context.time_line, context.moment)
    for a in actions:
        if a["code"] == "resample" and again:
            a["became"] = f"drawn {short_day(again[-1][1])}, bottle {again[-1][0]}"
        elif a["code"] in ("resample", "sample_sooner") and repaired:
            a["became"] = f"withdrawn: {repaired.row.kind} on {short_day(repaired.row.on)}"


def how(connection: Connection, code: str, column: str) -> How:
    """How one figure was reached."""
    owner = row(connection, "engine_of_sample", code=code)
    if owner is None or column not in BY_COLUMN:
        raise NotThere(f"there is no {column} of a sample {code}")
    _, a = assessed(connection, owner["engine_id"])
    i = _row_of(a, code)
    assert a is not None
    return {
        "analyte": column,
        "name": BY_COLUMN[column].name,
        "steps": how_reached(a, i, column),
    }
