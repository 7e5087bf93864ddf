"""Findings of the expectation, and of peers or own history where the policy lets one of them speak
by itself."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..baseline import ELEMENTS, SYMBOLS, Assessment, element_ppm, lenses
from ..certainty import SURE
from ..findings import Finding, n_digits, payloads
from ..laboratory import ANALYTES, BY_SYMBOL
from ..limits import DEFAULT
from ..verdict import Level
from .limit_findings import RUN_IN_METALS, falling, limit_finding
from .sample_facts import SampleFacts
from .thresholds import SMALL

LOOKS = ("sample", "two", "three", "rise")
COPPER = BY_SYMBOL["Cu"]
FLUX_LENSES = ("K", "Al", "coolant", "piston")  # what brazing flux lifts
FLUX_METALS = tuple(BY_SYMBOL[s].index for s in ("K", "Al"))
SILICON = BY_SYMBOL["Si"].index
ORIGIN = "peers and own history merged, our choice of thresholds"
SCHOOL_ORIGIN = "three standard deviations above the school's mean, our choice"


def expected_numbers(assessment: Assessment, i: int, element: int) -> dict[str, Any]:
    """What the sentence of one element needs: value, expected value with interval, whose history
    that is; the fields of `payloads.Expected`."""
    x, analyte = assessment.expectation, int(ELEMENTS[element])
    return {
        "value": n_digits(assessment.evaluation.fleet.value[i, analyte]),
        "censor": int(assessment.evaluation.fleet.censor[i, analyte]),
        "expected": n_digits(x.expected[i, element], 3),
        "low": n_digits(x.low[i, element], 3),
        "high": n_digits(x.high[i, element], 3),
        "own_share": n_digits(x.own_share[i, element], 2),
        "own_n": int(x.own_n[i, element]),
        "peers": int(x.peers[i, element]),
        "z": n_digits(x.z[0, i, element], 3),
    }


def _run_in_explains(assessment: Assessment, i: int, at: int) -> bool:
    """Whether run-in accounts for a lens: only iron, copper, silicon and aluminium stand out, and
    they are falling from charge to charge, or this is the first charge of a life. Judged by decay,
    not by what steady engines show (3.12)."""
    if not assessment.evaluation.contexts[i].run_in:
        return False
    out = [
        n
        for n, _ in lenses()[at].weights
        if assessment.expectation.z[0, i, n] >= payloads.NAMED_FROM
    ]
    return all(
        int(ELEMENTS[n]) in RUN_IN_METALS
        and falling(assessment.evaluation, i, int(ELEMENTS[n])) is not False
        for n in out
    )


@dataclass(frozen=True, slots=True)
class _Spoken:
    """A lens that speaks up, with what run-in and sealant leave of its level."""

    at: int
    level: int
    why: str
    score: float


def _is_small(facts: SampleFacts, at: int) -> bool:
    """Whether statistics alone raise one figure that is not half-way from fresh oil to its fixed
    Watch limit: small is not urgent (VERDICT 8.8). A pattern is a second marker and is never
    small."""
    one, e, i = lenses()[at], facts.evaluation, facts.row
    if one.is_pattern:
        return False
    n = int(ELEMENTS[one.weights[0][0]])
    value, fresh = float(e.middle[i, n]), float(e.fresh[i, n])
    begins = fresh if np.isfinite(fresh) else 0.0
    limit = float((e.upper if value >= begins else e.lower)[0, i, n])
    return bool(np.isfinite(limit) and abs(value - begins) < SMALL * abs(limit - begins))


def _spoken(facts: SampleFacts, at: int) -> _Spoken:
    a, i, levels = facts.assessment, facts.row, facts.assessment.lens_levels
    level, why = int(levels.level[i, at]), str(levels.why[i, at])
    if level > Level.WATCH and _run_in_explains(a, i, at):
        level, why = int(Level.WATCH), "run_in"
    elif level > Level.WATCH and lenses()[at].name in ("Si", "dirt") and facts.is_sealant:
        level, why = int(Level.WATCH), "sealant"
    elif level > Level.WATCH and lenses()[at].name in FLUX_LENSES and facts.brazing_flux():
        level, why = int(Level.WATCH), "flux"
    elif level > Level.WATCH and _is_small(facts, at):
        level, why = int(Level.WATCH), "small"
    if level == Level.WATCH and lenses()[at].name == "coolant" and facts.of_coolant:
        level, why = int(Level.ACT), "ratio"
    return _Spoken(at, level, why, float(levels.score[i, at]))


def _lens_finding(assessment: Assessment, i: int, said: _Spoken) -> Finding:
    one, levels = lenses()[said.at], assessment.lens_levels
    how: dict[str, Any] = {
        "sd": n_digits(said.score, 3),
        "look": LOOKS[int(levels.look[i, said.at])],
        "why": said.why,
        "held": bool(levels.held[i, said.at]),
    }
    head: dict[str, Any] = {
        "channel": one.channel,
        "level": said.level,
        "school": "PO",
        "origin": ORIGIN,
    }
    if not one.is_pattern:
        element = one.weights[0][0]
        return Finding(
            code="above_expected",
            analyte=ANALYTES[ELEMENTS[element]].column,
            numbers=payloads.AboveExpected(**how, **expected_numbers(assessment, i, element)),
            **head,
        )
    elements = {
        SYMBOLS[n]: payloads.Expected(**expected_numbers(assessment, i, n))
        for n, _ in one.weights
        if not np.isnan(assessment.expectation.z[0, i, n])
    }
    return Finding(
        code="pattern",
        numbers=payloads.Pattern(pattern=one.name, elements=elements, **how),
        **head,
    )


def of_expectation(facts: SampleFacts) -> Iterator[Finding]:
    """One finding a lens that speaks up, but no element beside a pattern that already says as much
    of it."""
    a, i, known = facts.assessment, facts.row, lenses()
    raised = [_spoken(facts, int(n)) for n in np.flatnonzero(a.raised[i])]
    # Of patterns in one channel the loudest speaks; the others would say the same of the same
    # elements.
    best: dict[str, _Spoken] = {}
    for x in (x for x in raised if known[x.at].is_pattern):
        held = best.get(known[x.at].channel)
        if held is None or (x.level, x.score) > (held.level, held.score):
            best[known[x.at].channel] = x
    told = [(n, x.level) for x in best.values() for n, _ in known[x.at].weights]
    yield from (_lens_finding(a, i, x) for x in best.values())
    for x in (x for x in raised if not known[x.at].is_pattern):
        if not any(n == known[x.at].weights[0][0] and level >= x.level for n, level in told):
            yield _lens_finding(a, i, x)


def _school_finding(assessment: Assessment, i: int, analyte: int) -> Finding:
    """The finding of a reading that peers or the engine's own history raise by themselves."""
    level = int(assessment.level[i, analyte])
    own = assessment.own[1][i, analyte] >= level
    z, mean, variance, n = (
        (
            assessment.own[0],
            assessment.expectation.own_mean,
            assessment.expectation.own_variance,
            assessment.expectation.own_n,
        )
        if own
        else (
            assessment.of_peers[0],
            assessment.expectation.peer_mean,
            assessment.expectation.peer_variance,
            assessment.expectation.peers,
        )
    )
    element = int(np.flatnonzero(analyte == ELEMENTS)[0])
    half = SURE * np.sqrt(variance[i, element])
    at = [
        n_digits(element_ppm(assessment.expectation, i, element, mean[i, element] + step), 3)
        for step in (0.0, -half, half)
    ]
    kind = ANALYTES[analyte]
    return Finding(
        code="above_own" if own else "above_peers",
        channel=kind.channel,
        level=level,
        analyte=kind.column,
        school="O" if own else "P",
        origin=SCHOOL_ORIGIN,
        numbers=payloads.BySchool(
            value=n_digits(assessment.evaluation.fleet.value[i, analyte]),
            expected=at[0],
            low=at[1],
            high=at[2],
            n=int(n[i, element]),
            sd=n_digits(z[i, analyte], 3),
        ),
    )


def _leaching(facts: SampleFacts, found: Finding) -> Finding:
    """Copper past its fixed Act limit, but alone and slower than in the charge before: no bush
    wears like that, so Watch (the-trade 3.13, copper leaching from a cooler). In its first
    charge it keeps its level."""
    if found.analyte != COPPER.column or found.level < Level.ACT or not facts.copper_alone():
        return found
    if not falling(facts.evaluation, facts.row, COPPER.index):
        return found
    return replace(found, code="copper_falling", level=int(Level.WATCH))


def _flux(facts: SampleFacts, found: Finding, n: int) -> Finding:
    """Potassium or aluminium past a fixed Act limit that the flux of a new cooler explains."""
    if found.level < Level.ACT or n not in FLUX_METALS or not facts.brazing_flux():
        return found
    return replace(found, level=int(Level.WATCH))


def _sealant(facts: SampleFacts, found: Finding, n: int) -> Finding:
    """Silicon past a fixed Act limit, alone and after sealing work: a cause on record leads and
    lowers (VERDICT 8.8)."""
    alone = facts.is_sealant or (facts.usual("Al") and not (facts.up("Fe") or facts.up("Cr")))
    after_work = facts.life.get("sealing_work", False) and alone
    if found.level < Level.ACT or n != SILICON or not after_work:
        return found
    return replace(found, level=int(Level.WATCH))


def _of_schools(facts: SampleFacts) -> Iterator[tuple[int, Finding]]:
    """Where a policy combines schools: the fixed one's finding at the combined level, else that of
    the school that raised it."""
    a, i = facts.assessment, facts.row
    for n in map(int, np.flatnonzero(a.level[i] > 0)):
        level = int(a.level[i, n])
        if facts.evaluation.level[i, n] >= level:
            found = limit_finding(facts.evaluation, i, n)
            yield n, replace(found, level=min(found.level, level))
        else:
            yield n, _school_finding(a, i, n)


def of_readings(facts: SampleFacts) -> Iterator[tuple[int, Finding]]:
    """(analyte, finding) of single readings, by the school that the policy lets speak."""
    policy = facts.assessment.policies[facts.row]
    if policy not in (DEFAULT, "fixed_only"):
        yield from _of_schools(facts)
        return
    for n in map(int, np.flatnonzero(facts.evaluation.level[facts.row] > 0)):
        found = limit_finding(facts.evaluation, facts.row, n)
        yield (
            n,
            found
            if policy == "fixed_only"
            else _sealant(facts, _flux(facts, _leaching(facts, found), n), n),
        )
