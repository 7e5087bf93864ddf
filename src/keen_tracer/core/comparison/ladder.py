"""One sample opened up: per analyte what was read and what it is held against."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..baseline import Assessment, Expected, School, expected, schools
from ..diagnosis import SOURCES
from ..laboratory import (
    ANALYTES,
    Censor,
    Change,
    reading_text,
    significant_change,
    standard_deviation,
)
from ..limits import ACT, BASIS_NAMES, WATCH, Evaluation


@dataclass(frozen=True, slots=True)
class Ladder:
    """Everything the desk draws for one analyte, in the analyte's unit.

    low, high : the reading's own 95 % interval, same laboratory over days
    watch, act, watch_low, act_low : concentration at which F reaches each level at this sample's
        hours
    level : what F says, None where no limit could be applied
    """

    column: str
    text: str
    value: float | None
    censor: int
    low: float | None
    high: float | None
    fresh: float | None
    fresh_from: str
    previous: float | None
    same_laboratory: bool
    comparable: bool
    same_charge: bool
    change: Change | None
    rate_per_100: float | None
    rate_sigma: float | None
    rate_withheld: str | None
    without_top_up: float | None
    start: float | None
    watch: float | None
    act: float | None
    watch_low: float | None
    act_low: float | None
    basis: str | None
    limit: dict[str, Any] | None
    level: int | None
    at_limit: bool
    axis_end: float
    schools: tuple[School, School]
    expected: Expected | None


def _or_none(x: float) -> float | None:
    return None if not np.isfinite(x) else float(x)


def _withheld(e: Evaluation, i: int, a: int) -> str | None:
    if not e.rate_withheld[i, a] and e.fleet.censor[i, a] == Censor.EXACT:
        return None
    context = e.contexts[i]
    if e.fleet.censor[i, a] != Censor.EXACT:
        return "no exact figure"
    if np.isnan(context.hours_on_oil):
        return "hours on the oil not known"
    if context.hours_on_oil <= 0:
        return "no time on the oil"
    if context.hours_on_oil < 0.1 * context.engine.nominal_drain:
        return f"only {context.hours_on_oil:g} on the oil, under a tenth of the drain"
    return (
        "the test's noise is over a third of the Watch rate"
        if np.isfinite(e.middle[i, a])
        else "no figure"
    )


def ladders(assessed: Assessment, i: int) -> list[Ladder]:
    """A ladder for every analyte measured in sample `i`, in the order of ANALYTES."""
    e = assessed.e
    context, value, censor = e.contexts[i], e.fleet.value[i], e.fleet.censor[i]
    before = context.before
    same = before >= 0 and e.contexts[before].sample.laboratory == context.sample.laboratory
    comparable = before >= 0 and e.contexts[before].sample.test_method == context.sample.test_method
    detection = np.where(censor == Censor.BELOW, value, 0.0)
    s_own = standard_deviation(e.middle[i], detection)
    both = (e.middle[i] + e.middle[before]) / 2 if before >= 0 else e.middle[i]
    s_pair = standard_deviation(both, detection, same)
    out = []
    for a in np.flatnonzero(censor >= 0):
        kind = ANALYTES[a]
        half = 1.96 * s_own[a]
        old = e.middle[before, a] if before >= 0 else np.nan
        exact = (
            censor[a] == Censor.EXACT and before >= 0 and e.fleet.censor[before, a] == Censor.EXACT
        )
        # Across an oil change two concentrations are not comparable, whatever the laboratory.
        moved = (
            significant_change(float(value[a]), float(old), float(s_pair[a]))
            if (exact and comparable and context.before_here and np.isfinite(old) and s_pair[a] > 0)
            else None
        )
        up, low = e.upper[:, i, a], e.lower[:, i, a]
        mark = ACT if e.level[i, a] == 2 else WATCH
        basis = (
            int(e.upper_basis[mark, i, a])
            if np.isfinite(up).any()
            else int(e.lower_basis[mark, i, a])
        )
        row = e.limits[i].rows.get((basis, int(a))) or e.limits[i].rows.get((0, int(a)))
        has_limit = np.isfinite(up).any() or np.isfinite(low).any()
        t = context.hours_on_oil
        shown = [x for x in (*up, *low, value[a], e.fresh[i, a], old) if np.isfinite(x)]
        act = up[ACT] if np.isfinite(up[ACT]) else up[WATCH]
        out.append(
            Ladder(
                kind.column,
                reading_text(_or_none(value[a]), int(censor[a])),
                _or_none(value[a]),
                int(censor[a]),
                _or_none(max(value[a] - half, 0)) if censor[a] == Censor.EXACT else None,
                _or_none(value[a] + half) if censor[a] == Censor.EXACT else None,
                _or_none(e.fresh[i, a]),
                SOURCES[int(e.fresh_source[i, a])],
                _or_none(old),
                same,
                comparable,
                context.before_here,
                moved,
                _or_none(100 * e.rate[i, a]),
                _or_none(100 * e.rate_sigma[i, a]),
                _withheld(e, i, int(a)),
                _or_none(e.start[i, a] + e.rate[i, a] * t) if context.top_ups else None,
                _or_none(e.start[i, a]),
                _or_none(up[WATCH]),
                _or_none(up[ACT]),
                _or_none(low[WATCH]),
                _or_none(low[ACT]),
                BASIS_NAMES[basis] if has_limit else None,
                {
                    "watch": row.watch,
                    "act": row.act,
                    "basis": row.basis,
                    "unit": row.unit,
                    "origin": row.origin,
                    "scope": row.scope_name,
                }
                if row and has_limit
                else None,
                int(e.level[i, a]) if e.level[i, a] >= 0 else None,
                bool(e.at_limit[i, a]),
                float(1.25 * act)
                if np.isfinite(act)
                else float(1.25 * max(shown, default=1.0) or 1.0),
                schools(assessed, i, int(a)),
                expected(assessed, i, int(a)),
            )
        )
    return out
