"""Findings of single readings against fixed limits, and what run-in leaves of them."""

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import numpy as np

from ..findings import Finding, n_digits, payloads
from ..laboratory import ANALYTES, POSITIVE, columns
from ..limits import (
    ACT,
    BASIS_NAMES,
    BATCH,
    CONC,
    LOWEST_EARLY,
    PCT,
    PCT_LOW,
    RATE,
    RISE,
    RISE_LOW,
    SAME_OIL,
    TAKEN_AS_ZERO,
    UNKNOWN,
    WATCH,
    Evaluation,
)
from ..verdict import Level
from .thresholds import FALLS

RUN_IN_METALS = set(columns("run_in_excused"))
SOURCES = {
    BATCH: "batch",
    SAME_OIL: "same_oil",
    LOWEST_EARLY: "lowest_early",
    TAKEN_AS_ZERO: "zero",
    UNKNOWN: "unknown",
}
# (on the low side, only at the limit) → code
_CODES = {
    (False, False): "high",
    (False, True): "high_at_limit",
    (True, False): "low",
    (True, True): "low_at_limit",
}


def _at_limit(
    evaluation: Evaluation, i: int, a: int, mark: int, low_side: bool
) -> tuple[payloads.AtLimit, str]:
    """What a limit finding carries, and the origin of the limit."""
    value, context = float(evaluation.fleet.value[i, a]), evaluation.contexts[i]
    basis = int((evaluation.lower_basis if low_side else evaluation.upper_basis)[mark, i, a])
    # A rate limit may come from the concentration limit at the nominal drain: then that row is its
    # origin.
    row = evaluation.limits[i].rows.get((basis, a)) or evaluation.limits[i].rows.get((CONC, a))
    by_rate = basis == RATE
    of_fresh, above_fresh = basis in (PCT, PCT_LOW), basis in (RISE, RISE_LOW)
    carried = payloads.AtLimit(
        value=n_digits(value),
        censor=int(evaluation.fleet.censor[i, a]),
        threshold=n_digits((evaluation.lower if low_side else evaluation.upper)[mark, i, a]),
        basis=BASIS_NAMES[basis],
        fresh=n_digits(evaluation.fresh[i, a]),
        fresh_from=SOURCES[int(evaluation.fresh_source[i, a])],
        limit=(row.act if mark == ACT else row.watch) if row else None,
        limit_basis=row.basis if row else None,
        scope=row.scope_name if row else None,
        per_100=n_digits(100 * evaluation.rate[i, a])
        if by_rate and not evaluation.rate_withheld[i, a]
        else None,
        per=context.engine.meter_unit if by_rate else None,
        hours=n_digits(context.hours_on_oil) if by_rate else None,
        pct_fresh=n_digits(100 * value / evaluation.fresh[i, a]) if of_fresh else None,
        rise=n_digits(value - evaluation.fresh[i, a]) if above_fresh else None,
    )
    return carried, row.origin if row else ""


def limit_finding(evaluation: Evaluation, i: int, a: int) -> Finding:
    """The finding of one reading at or past a fixed limit."""
    analyte, level = ANALYTES[a], int(evaluation.level[i, a])
    head: dict[str, Any] = {
        "channel": analyte.channel,
        "level": level,
        "analyte": analyte.column,
    }
    if int(evaluation.fleet.censor[i, a]) == POSITIVE:
        present = payloads.Present(limit=n_digits(evaluation.upper[WATCH, i, a]))
        return Finding(code="seen_without_figure", numbers=present, **head)
    mark = ACT if level == Level.ACT else WATCH
    low_side = not float(evaluation.fleet.value[i, a]) >= evaluation.upper[mark, i, a]
    carried, origin = _at_limit(evaluation, i, a, mark, low_side)
    code = (
        "unproven"
        if evaluation.unproven[i, a]
        else _CODES[low_side, bool(evaluation.at_limit[i, a])]
    )
    return Finding(code=code, origin=origin, numbers=carried, **head)


def not_cleared(evaluation: Evaluation, i: int) -> Iterator[Finding]:
    """Findings of non-detects with a detection limit above Watch; they have no level."""
    return (limit_finding(evaluation, i, int(a)) for a in np.flatnonzero(evaluation.unproven[i]))


def falling(evaluation: Evaluation, i: int, a: int) -> bool | None:
    """Whether a run-in metal came in slower than in the charge before, by a quarter at least; None
    in the first charge."""
    before = evaluation.contexts[i].ended
    if before < 0 or np.isnan(evaluation.rate[i, a]) or np.isnan(evaluation.rate[before, a]):
        return None
    return bool(evaluation.rate[i, a] <= FALLS * evaluation.rate[before, a])


_RUN_IN = {None: "run_in_first", True: "run_in_falling", False: "run_in_not_falling"}


def run_in(evaluation: Evaluation, i: int, found: Finding, a: int) -> Finding:
    """During run-in Fe, Cu, Si and Al are expected high and must fall from charge to charge.

    In the first charge, and while they fall, a raised reading gives Watch at most; a metal that
    does not fall keeps its full level. Lead, tin, sodium, potassium, fuel and water are never
    excused.
    """
    if not evaluation.contexts[i].run_in or a not in RUN_IN_METALS or found.level < Level.WATCH:
        return found
    falls = falling(evaluation, i, a)
    level = found.level if falls is False else min(found.level, int(Level.WATCH))
    passed = isinstance(found.numbers, payloads.AtLimit)
    return replace(found, code=_RUN_IN[falls] if passed else found.code, level=level)
