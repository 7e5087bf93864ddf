"""Findings of the expectation, and of peers or own history where the policy lets one of them speak
by itself."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..baseline import ELEMENTS, SYMBOLS, Assessment, element_ppm, lenses
from ..laboratory import ANALYTES, BY_SYMBOL
from ..limits import DEFAULT, Evaluation
from ..verdict import Finding, Level
from .explanations import Seen, is_sealant
from .findings import RUN_IN_METALS, falling, limit_finding, n_digits

LOOKS = ("sample", "two", "three", "rise")
STANDS_OUT = 1.0  # sd above expectation from which an element of a pattern is named; our choice
COPPER = BY_SYMBOL["Cu"]
ORIGIN = "peers and own history merged, our choice of thresholds"
SCHOOL_ORIGIN = "three standard deviations above the school's mean, our choice"


def expected_numbers(a: Assessment, i: int, element: int) -> dict[str, object]:
    """What the sentence of one element needs: value, expected value with interval, whose history
    that is."""
    x, analyte = a.x, int(ELEMENTS[element])
    return {
        "value": n_digits(a.e.fleet.value[i, analyte]),
        "censor": int(a.e.fleet.censor[i, analyte]),
        "expected": n_digits(x.expected[i, element], 3),
        "low": n_digits(x.low[i, element], 3),
        "high": n_digits(x.high[i, element], 3),
        "own_share": n_digits(x.own_share[i, element], 2),
        "own_n": int(x.own_n[i, element]),
        "peers": int(x.peers[i, element]),
        "z": n_digits(x.z[0, i, element], 3),
    }


def _run_in_explains(a: Assessment, i: int, at: int) -> bool:
    """Whether run-in accounts for a lens: only iron, copper, silicon and aluminium stand out, and
    they are falling from charge to charge, or this is the first charge of a life. Judged by decay,
    not by what steady engines show (3.12)."""
    if not a.e.contexts[i].run_in:
        return False
    out = [n for n, _ in lenses()[at].weights if a.x.z[0, i, n] >= STANDS_OUT]
    return all(
        int(ELEMENTS[n]) in RUN_IN_METALS and falling(a.e, i, int(ELEMENTS[n])) is not False
        for n in out
    )


@dataclass(frozen=True, slots=True)
class _Spoken:
    """A lens that speaks up, with what run-in and sealant leave of its level."""

    at: int
    level: int
    why: str
    score: float


def _spoken(a: Assessment, i: int, at: int) -> _Spoken:
    levels = a.lens_levels
    level, why = int(levels.level[i, at]), str(levels.why[i, at])
    if level > Level.WATCH and _run_in_explains(a, i, at):
        level, why = int(Level.WATCH), "run_in"
    elif level > Level.WATCH and lenses()[at].name in ("Si", "dirt") and is_sealant(a, i):
        level, why = int(Level.WATCH), "sealant"
    return _Spoken(at, level, why, float(levels.score[i, at]))


def _lens_finding(a: Assessment, i: int, said: _Spoken) -> Finding:
    one, levels = lenses()[said.at], a.lens_levels
    numbers: dict[str, object] = {
        "sd": n_digits(said.score, 3),
        "look": LOOKS[int(levels.look[i, said.at])],
        "why": said.why,
        "held": bool(levels.held[i, said.at]),
    }
    if not one.is_pattern:
        element = one.weights[0][0]
        return Finding(
            "above_expected",
            one.channel,
            said.level,
            ANALYTES[ELEMENTS[element]].column,
            "PO",
            ORIGIN,
            numbers | expected_numbers(a, i, element),
        )
    elements = {
        SYMBOLS[n]: expected_numbers(a, i, n)
        for n, _ in one.weights
        if not np.isnan(a.x.z[0, i, n])
    }
    return Finding(
        "pattern",
        one.channel,
        said.level,
        None,
        "PO",
        ORIGIN,
        numbers | {"pattern": one.name, "elements": elements},
    )


def of_expectation(a: Assessment, i: int) -> Iterator[Finding]:
    """One finding a lens that speaks up, but no element beside a pattern that already says as much
    of it."""
    known = lenses()
    raised = [_spoken(a, i, int(n)) for n in np.flatnonzero(a.raised[i])]
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


def _school_finding(a: Assessment, i: int, analyte: int) -> Finding:
    """The finding of a reading that peers or the engine's own history raise by themselves."""
    level = int(a.level[i, analyte])
    own = a.own[1][i, analyte] >= level
    z, mean, variance, n = (
        (a.own[0], a.x.own_mean, a.x.own_variance, a.x.own_n)
        if own
        else (a.of_peers[0], a.x.peer_mean, a.x.peer_variance, a.x.peers)
    )
    element = int(np.flatnonzero(analyte == ELEMENTS)[0])
    half = 1.96 * np.sqrt(variance[i, element])
    at = [
        n_digits(element_ppm(a.x, i, element, mean[i, element] + step), 3)
        for step in (0.0, -half, half)
    ]
    kind = ANALYTES[analyte]
    return Finding(
        "above_own" if own else "above_peers",
        kind.channel,
        level,
        kind.column,
        "O" if own else "P",
        SCHOOL_ORIGIN,
        {
            "value": n_digits(a.e.fleet.value[i, analyte]),
            "expected": at[0],
            "low": at[1],
            "high": at[2],
            "n": int(n[i, element]),
            "sd": n_digits(z[i, analyte], 3),
        },
    )


def _leaching(a: Assessment, i: int, found: Finding) -> Finding:
    """Copper past its fixed Act limit, but alone and slower than in the charge before: no bush
    wears like that, so Watch (DOMAIN 3.13, copper leaching from a cooler). In its first charge it
    keeps its level."""
    if found.analyte != COPPER.column or found.level < Level.ACT or not Seen(a, i).copper_alone():
        return found
    if not falling(a.e, i, COPPER.index):
        return found
    return Finding(
        "copper_falling",
        found.channel,
        int(Level.WATCH),
        found.analyte,
        found.school,
        found.origin,
        found.numbers,
    )


def of_readings(a: Assessment, i: int) -> Iterator[Finding]:
    """The findings of single readings, by the school that the policy lets speak."""
    e: Evaluation = a.e
    if a.policies[i] in (DEFAULT, "fixed_only"):
        for n in np.flatnonzero(e.level[i] > 0):
            found = limit_finding(e, i, int(n))
            yield found if a.policies[i] == "fixed_only" else _leaching(a, i, found)
        return
    for n in np.flatnonzero(a.level[i] > 0):
        if e.level[i, n] >= a.level[i, n]:
            found = limit_finding(e, i, int(n))
            yield Finding(
                found.code,
                found.channel,
                min(found.level, int(a.level[i, n])),
                found.analyte,
                found.school,
                found.origin,
                found.numbers,
            )
        else:
            yield _school_finding(a, i, int(n))
