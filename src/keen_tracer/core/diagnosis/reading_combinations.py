"""Findings that need more than one reading: reserve against acid, large iron, glycol, thickness."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..certainty import SURE
from ..findings import Finding, n_digits, payloads
from ..laboratory import (
    ABOVE,
    ANALYTES,
    BELOW,
    EXACT,
    POSITIVE,
    columns,
    idx,
    standard_deviation,
)
from ..limits import ADDITIVES, BATCH, LOWEST_EARLY, SAME_OIL, Evaluation
from ..oil import allowed_range, grades_of
from ..verdict import Level
from .thresholds import (
    ADDITIVES_LEFT,
    LARGE_IRON,
    MUCH_ADDED,
    MUCH_IRON,
    TWO_OF_THEM,
    WATER_STOP,
)

REFERENCE_WORDS = ("batch", "same_oil", "lowest_early", "none")
BN, AN, PQ, FE, GLYCOL, WATER, KV100 = (
    idx(x) for x in ("BN", "AN", "PQ", "Fe", "Glycol", "Water", "KV100")
)
BEARING_METALS = columns("bearing_metal")
ADDED = [idx(s) for s in ADDITIVES]
GLYCOL_BY_CHROMATOGRAPHY = ("gc", "chromatography", "astm d7922")  # methods that prove glycol
PRACTICE = "common practice, from memory"


def _rises(evaluation: Evaluation, i: int, a: int) -> bool:
    """Whether a metal comes in faster than at the sample before, beyond noise, or is at a limit
    already.

    Every metal rises within a charge; what counts is the rate.
    """
    if evaluation.level[i, a] >= Level.WATCH:
        return True
    before = evaluation.contexts[i].before
    if before < 0 or evaluation.rate_withheld[i, a] or evaluation.rate_withheld[before, a]:
        return False
    noise = SURE * float(np.hypot(evaluation.rate_sigma[i, a], evaluation.rate_sigma[before, a]))
    return bool(evaluation.rate[i, a] - evaluation.rate[before, a] > noise)


def thickness(evaluation: Evaluation, i: int) -> Iterator[Finding]:
    """KV100 outside every grade the maker allows: grades are of new oil, so that a used one just
    outside is Watch; Act where it is outside beyond the test's noise and past its Watch percentage
    as well (the-trade 3.7, 3.8)."""
    kv, context = evaluation.fleet.value[i, KV100], evaluation.contexts[i]
    held = allowed_range(context.engine.allowed_grades)
    if held is None or not 1.0 <= kv <= 100.0 or evaluation.fleet.censor[i, KV100] != EXACT:
        return
    if not held[0] <= kv < held[1]:
        sd = float(standard_deviation(evaluation.middle[i])[KV100])
        surely = max(held[0] - kv, kv - held[1]) > SURE * sd
        yield Finding(
            code="out_of_grade",
            channel="thickness",
            level=Level.ACT
            if surely and evaluation.level[i, KV100] >= Level.WATCH
            else Level.WATCH,
            analyte="KV100_mm2_s",
            origin="SAE J300",
            numbers=payloads.Grade(
                value=n_digits(kv),
                low=held[0],
                high=held[1] if np.isfinite(held[1]) else None,
                allowed=list(context.engine.allowed_grades),
                grades=grades_of(float(kv)),
            ),
        )


@dataclass(frozen=True, slots=True)
class Marks:
    """What is cheap to know of all samples at once, so that a rule is only run where it can speak.

    combination : (samples,) some rule of `combinations` fires
    by_rule     : (samples, analytes) readings a rule of `combinations` was held against
    reference   : (samples,) place in REFERENCE_WORDS of the best fresh-oil figure that was used
    """

    combination: NDArray[np.bool_]
    by_rule: NDArray[np.bool_]
    reference: NDArray[np.int8]


def fallen(evaluation: Evaluation) -> NDArray[np.bool_]:
    """(samples, ADDITIVES) additives far under what the oil holds; a non-detect as far as its limit
    goes."""
    read, censor = evaluation.fleet.value[:, ADDED], evaluation.fleet.censor[:, ADDED]
    with np.errstate(invalid="ignore"):
        low = (evaluation.additives >= MUCH_ADDED) & (read < ADDITIVES_LEFT * evaluation.additives)
    out: NDArray[np.bool_] = low & np.isin(censor, (EXACT, BELOW))
    return out


def marks(evaluation: Evaluation) -> Marks:
    """The marks of an evaluation."""
    v, censor = evaluation.fleet.value, evaluation.fleet.censor
    exact, above = censor == EXACT, censor == ABOVE
    with np.errstate(invalid="ignore"):
        spent = exact[:, BN] & exact[:, AN] & (v[:, BN] < v[:, AN])
        large = exact[:, PQ] & exact[:, FE] & (v[:, PQ] > np.maximum(v[:, FE], LARGE_IRON))
        glycol = (censor[:, GLYCOL] == POSITIVE) | ((exact | above)[:, GLYCOL] & (v[:, GLYCOL] > 0))
        water = (exact | above)[:, WATER] & (v[:, WATER] >= WATER_STOP)
        by_rule = np.zeros(v.shape, dtype=np.bool_)
        # "<L" speaks as long as L itself would not be above iron.
        by_rule[:, PQ] = exact[:, FE] & (
            exact[:, PQ] | ((censor[:, PQ] == BELOW) & (v[:, PQ] <= v[:, FE]))
        )
    by_rule[:, GLYCOL] = censor[:, GLYCOL] >= 0
    # Held against the grades the maker allows, fresh oil or not (`thickness`).
    graded = [allowed_range(x.engine.allowed_grades) is not None for x in evaluation.contexts]
    with np.errstate(invalid="ignore"):
        plausible = exact[:, KV100] & (v[:, KV100] >= 1.0) & (v[:, KV100] <= 100.0)
    for context, known in zip(evaluation.contexts, graded, strict=True):
        by_rule[context.row, KV100] = known and plausible[context.row]
    measured = censor >= 0
    best = np.full(len(v), len(REFERENCE_WORDS) - 1, dtype=np.int8)
    for n, source in reversed(list(enumerate((BATCH, SAME_OIL, LOWEST_EARLY)))):
        best[(measured & (evaluation.fresh_source == source)).any(axis=1)] = n
    other = fallen(evaluation).sum(axis=1) >= TWO_OF_THEM
    return Marks(spent | large | glycol | water | other, by_rule, best)


def combinations(evaluation: Evaluation, i: int) -> Iterator[Finding]:
    """Findings that need more than one reading."""
    v, censor = evaluation.fleet.value[i], evaluation.fleet.censor[i]
    exact = censor == EXACT
    if exact[BN] and exact[AN] and v[BN] < v[AN]:
        yield Finding(
            code="bn_below_an",
            channel="oil_life",
            level=Level.ACT if _surely_below(evaluation, i) else Level.WATCH,
            analyte="BN_mgKOH_g",
            origin=PRACTICE,
            numbers=payloads.Reserve(bn=n_digits(v[BN]), an=n_digits(v[AN])),
        )
    if exact[PQ] and exact[FE] and v[PQ] > max(v[FE], LARGE_IRON):
        yield Finding(
            code="large_iron",
            channel="debris",
            level=Level.ACT if v[PQ] >= MUCH_IRON else Level.WATCH,
            analyte="PQ_index",
            origin=PRACTICE,
            numbers=payloads.LargeIron(pq=n_digits(v[PQ]), fe=n_digits(v[FE])),
        )
    low = fallen_of(evaluation, i)
    if len(low) >= TWO_OF_THEM:
        yield _additives_fell(evaluation, i, low)
    if censor[GLYCOL] == POSITIVE or (censor[GLYCOL] in (EXACT, ABOVE) and v[GLYCOL] > 0):
        yield _glycol(evaluation, i)
    if censor[WATER] in (EXACT, ABOVE) and v[WATER] >= WATER_STOP:
        yield Finding(
            code="water_stop",
            channel="coolant",
            level=Level.STOP,
            analyte="water_pct",
            origin="common practice",
            numbers=payloads.WaterStop(value=n_digits(v[WATER]), limit=WATER_STOP),
        )


def fallen_of(evaluation: Evaluation, i: int) -> list[int]:
    """Places in ADDITIVES of what fell at one sample."""
    return [
        n
        for n, a in enumerate(ADDED)
        if evaluation.fleet.censor[i, a] in (EXACT, BELOW)
        and evaluation.additives[i, n] >= MUCH_ADDED
        and evaluation.fleet.value[i, a] < ADDITIVES_LEFT * evaluation.additives[i, n]
    ]


def _additives_fell(evaluation: Evaluation, i: int, low: list[int]) -> Finding:
    """Two additives together far under what the oil holds: another oil, or one that is spent."""
    by_fresh = all(evaluation.fresh_source[i, ADDED[n]] in (BATCH, SAME_OIL) for n in low)
    return Finding(
        code="additives_fell",
        channel="oil_life",
        level=Level.WATCH,
        analyte=ANALYTES[ADDED[low[0]]].column,
        origin=PRACTICE,
        numbers=payloads.AdditivesFell(
            symbols=[ADDITIVES[n] for n in low],
            values=[n_digits(evaluation.fleet.value[i, ADDED[n]]) or 0.0 for n in low],
            usual=[n_digits(evaluation.additives[i, n]) or 0.0 for n in low],
            fresh=by_fresh,
            least=bool(evaluation.least_added[i, low].all()),
        ),
    )


def _surely_below(evaluation: Evaluation, i: int) -> bool:
    """Whether base number lies under acid number beyond what the two tests scatter."""
    sd = standard_deviation(evaluation.middle[i])
    gap = evaluation.fleet.value[i, AN] - evaluation.fleet.value[i, BN]
    return bool(gap > SURE * np.hypot(sd[AN], sd[BN]))


def _glycol(evaluation: Evaluation, i: int) -> Finding:
    """Glycol by chromatography is Act; by strip Watch until sodium, potassium or boron agree; with
    bearing metal rising it is Stop."""
    proven = evaluation.contexts[i].sample.glycol_method.lower() in GLYCOL_BY_CHROMATOGRAPHY
    agree = any(evaluation.level[i, idx(s)] >= Level.WATCH for s in ("Na", "K"))
    level = Level.ACT if proven or agree else Level.WATCH
    wears = level == Level.ACT and any(_rises(evaluation, i, a) for a in BEARING_METALS)
    return Finding(
        code="glycol_with_bearing_metal" if wears else "glycol",
        channel="coolant",
        level=Level.STOP if wears else level,
        analyte="glycol_pct",
        origin="common practice" if wears else PRACTICE,
        numbers=payloads.Glycol(proven=proven, agree=agree),
    )
