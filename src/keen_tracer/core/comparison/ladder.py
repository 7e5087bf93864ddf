"""One sample opened up: per analyte what was read and what it is held against."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..baseline import Assessment, Expected, School, expected, schools
from ..certainty import SURE
from ..diagnosis import SOURCES
from ..laboratory import (
    ANALYTES,
    Censor,
    Change,
    reading_text,
    significant_change,
    standard_deviation,
)
from ..limits import ACT, BASIS_NAMES, CONC, WATCH, Evaluation, LimitRow
from ..record import Floats
from ..verdict import Level


@dataclass(frozen=True, slots=True, kw_only=True)
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


def _withheld(evaluation: Evaluation, i: int, a: int) -> str | None:
    if not evaluation.rate_withheld[i, a] and evaluation.fleet.censor[i, a] == Censor.EXACT:
        return None
    context = evaluation.contexts[i]
    if evaluation.fleet.censor[i, a] != Censor.EXACT:
        return "no exact figure"
    if np.isnan(context.hours_on_oil):
        return "hours on the oil not known"
    if context.hours_on_oil <= 0:
        return "no time on the oil"
    if context.hours_on_oil < 0.1 * context.engine.nominal_drain:
        return f"only {context.hours_on_oil:g} on the oil, under a tenth of the drain"
    return (
        "the test's noise is over a third of the Watch rate"
        if np.isfinite(evaluation.middle[i, a])
        else "no figure"
    )


def _limit(row: LimitRow) -> dict[str, Any]:
    return {
        "watch": row.watch,
        "act": row.act,
        "basis": row.basis,
        "unit": row.unit,
        "origin": row.origin,
        "scope": row.scope_name,
    }


def _fixed(evaluation: Evaluation, i: int, a: int) -> dict[str, Any]:
    """What the fixed school contributes: where Watch and Act begin, by which limit, and the
    level."""
    up, low = evaluation.upper[:, i, a], evaluation.lower[:, i, a]
    mark = ACT if evaluation.level[i, a] == Level.ACT else WATCH
    above = bool(np.isfinite(up).any())
    basis = int((evaluation.upper_basis if above else evaluation.lower_basis)[mark, i, a])
    rows, limited = evaluation.limits[i].rows, above or bool(np.isfinite(low).any())
    row = rows.get((basis, a)) or rows.get((CONC, a))
    return {
        "watch": _or_none(up[WATCH]),
        "act": _or_none(up[ACT]),
        "watch_low": _or_none(low[WATCH]),
        "act_low": _or_none(low[ACT]),
        "basis": BASIS_NAMES[basis] if limited else None,
        "limit": _limit(row) if row and limited else None,
        "level": int(evaluation.level[i, a]) if evaluation.level[i, a] >= 0 else None,
        "at_limit": bool(evaluation.at_limit[i, a]),
    }


def _axis_end(evaluation: Evaluation, i: int, a: int, old: float) -> float:
    """A quarter past the highest limit of the upper side, else past everything shown."""
    up, low = evaluation.upper[:, i, a], evaluation.lower[:, i, a]
    act = up[ACT] if np.isfinite(up[ACT]) else up[WATCH]
    if np.isfinite(act):
        return float(1.25 * act)
    shown = (*up, *low, evaluation.fleet.value[i, a], evaluation.fresh[i, a], old)
    return float(1.25 * max((x for x in shown if np.isfinite(x)), default=1.0) or 1.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class _Pair:
    """A sample beside the one before it; what compares their readings."""

    before: int
    same_laboratory: bool
    comparable: bool
    same_charge: bool
    sd: Floats

    def change(self, evaluation: Evaluation, i: int, a: int) -> Change | None:
        """The change of a reading, None where the two cannot be compared. Across an oil change two
        concentrations are not comparable, whatever the laboratory."""
        if not (self.comparable and self.same_charge and self.sd[a] > 0):
            return None
        now, old = evaluation.fleet.value[i, a], evaluation.middle[self.before, a]
        exact = evaluation.fleet.censor[[i, self.before], a] == Censor.EXACT
        if not exact.all() or not np.isfinite(old):
            return None
        return significant_change(float(now), float(old), float(self.sd[a]))


def _pair(evaluation: Evaluation, i: int, detection: Floats) -> _Pair:
    now = evaluation.contexts[i]
    if now.before < 0:
        alone = standard_deviation(evaluation.middle[i], detection, False)
        return _Pair(
            before=-1, same_laboratory=False, comparable=False, same_charge=False, sd=alone
        )
    then = evaluation.contexts[now.before].sample
    same = then.laboratory == now.sample.laboratory
    return _Pair(
        before=now.before,
        same_laboratory=same,
        comparable=then.test_method == now.sample.test_method,
        same_charge=now.before_here,
        sd=standard_deviation(
            (evaluation.middle[i] + evaluation.middle[now.before]) / 2, detection, same
        ),
    )


def ladders(assessed: Assessment, i: int) -> list[Ladder]:
    """A ladder for every analyte measured in sample `i`, in the order of ANALYTES."""
    e = assessed.evaluation
    context, value, censor = e.contexts[i], e.fleet.value[i], e.fleet.censor[i]
    detection = np.where(censor == Censor.BELOW, value, 0.0)
    half, pair = SURE * standard_deviation(e.middle[i], detection), _pair(e, i, detection)
    hours = context.hours_on_oil
    out = []
    for a in map(int, np.flatnonzero(censor >= 0)):
        exact = censor[a] == Censor.EXACT
        old = e.middle[pair.before, a] if pair.before >= 0 else np.nan
        without = _or_none(e.start[i, a] + e.rate[i, a] * hours) if context.top_ups else None
        out.append(
            Ladder(
                column=ANALYTES[a].column,
                text=reading_text(_or_none(value[a]), int(censor[a])),
                value=_or_none(value[a]),
                censor=int(censor[a]),
                low=_or_none(max(value[a] - half[a], 0)) if exact else None,
                high=_or_none(value[a] + half[a]) if exact else None,
                fresh=_or_none(e.fresh[i, a]),
                fresh_from=SOURCES[int(e.fresh_source[i, a])],
                previous=_or_none(old),
                same_laboratory=pair.same_laboratory,
                comparable=pair.comparable,
                same_charge=context.before_here,
                change=pair.change(e, i, a),
                rate_per_100=_or_none(100 * e.rate[i, a]),
                rate_sigma=_or_none(100 * e.rate_sigma[i, a]),
                rate_withheld=_withheld(e, i, a),
                without_top_up=without,
                start=_or_none(e.start[i, a]),
                **_fixed(e, i, a),
                axis_end=_axis_end(e, i, a, old),
                schools=schools(assessed, i, a),
                expected=expected(assessed, i, a),
            )
        )
    return out
