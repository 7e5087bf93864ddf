"""Before against after: what an additive, an oil, a filter or a driver changed, and what is not
distinguishable (3.20)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.special import stdtr, stdtrit

from ..baseline import ELEMENTS, SYMBOLS, rises, scaled, walk_order
from ..certainty import BY_CHANCE
from ..laboratory import Censor, idx
from ..limits import TAKEN_AS_ZERO, WEAR, Evaluation
from ..record import Floats, grade_of

FEWEST_CHARGES = 3  # on each side; our choice
MOSTLY = 0.5  # share of non-detects from which on a ratio is not stated; our choice


@dataclass(frozen=True, slots=True, kw_only=True)
class Effect:
    """One element before and after. Rates are medians per 100 meter units; ratio after / before
    with a 95 % interval.

    word : "better" (less wear), "worse", "not distinguishable", "below detection" or "too few"
    p : two-sided, before the correction for many elements; `sure` says whether it holds after it
    """

    symbol: str
    before: float
    after: float
    ratio: float | None
    low: float | None
    high: float | None
    p: float | None
    sure: bool
    charges_before: int
    charges_after: int
    word: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Thickness:
    """The viscosity at 100 °C [mm²/s] of two periods: mean of each, and the difference of their
    charges' means with its 95 % interval, NaN where there are too few charges for one.

    grade : the one grade on record of every sample, "" where there are several or none
    """

    before: float
    after: float
    difference: float
    low: float
    high: float
    grade: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Study:
    """What two periods differ by: every element, the viscosity (None: nobody measured it in both),
    and each engine by itself where there are several. `from_zero`: wear metals were taken to begin
    at 0, since the fresh oil is not on record."""

    effects: tuple[Effect, ...]
    thickness: Thickness | None
    engines: int
    from_zero: bool
    alone: Mapping[str, tuple[Effect, ...]]


def holm(p: Sequence[float], level: float = BY_CHANCE) -> list[bool]:
    """Which of many tests hold at `level` together.

    Source: S. Holm, 1979, "A simple sequentially rejective multiple test procedure".

    >>> holm([0.01, 0.04, 0.03, 0.005])
    [True, False, False, True]
    """
    order = np.argsort(p)
    out = [False] * len(p)
    for rank, n in enumerate(order):
        if p[int(n)] > level / (len(p) - rank):
            break
        out[int(n)] = True
    return out


def welch(x: Floats, y: Floats) -> tuple[float, float, float, float]:
    """(difference y - x, low, high, two-sided p) of two means, 95 %. At least two of each and some
    spread.

    Raises ValueError otherwise. Source: B. L. Welch, 1947; checked against scipy.stats.ttest_ind.
    """
    if len(x) < 2 or len(y) < 2:
        raise ValueError("at least two figures on each side")
    vx, vy = x.var(ddof=1) / len(x), y.var(ddof=1) / len(y)
    if not vx + vy > 0:
        raise ValueError("figures without any spread")
    se = float(np.sqrt(vx + vy))
    df = float((vx + vy) ** 2 / (vx**2 / (len(x) - 1) + vy**2 / (len(y) - 1)))
    d = float(y.mean() - x.mean())
    half = float(stdtrit(df, 0.975)) * se
    return d, d - half, d + half, float(2 * stdtr(df, -abs(d) / se))


def _charge_means(evaluation: Evaluation, y: Floats, rows: Sequence[int]) -> Floats:
    """The mean of each charge: samples of one charge share its effect, so a charge is one voice."""
    by_charge: dict[tuple[str, int, int], list[float]] = {}
    for r in rows:
        if np.isfinite(y[r]):
            m = evaluation.contexts[r].moment
            by_charge.setdefault((evaluation.contexts[r].engine.code, m.life, m.charge), []).append(
                float(y[r])
            )
    return np.array([float(np.mean(v)) for v in by_charge.values()])


def _centred(
    evaluation: Evaluation, y: Floats, before: Sequence[int], after: Sequence[int]
) -> Floats:
    """Every engine around its own level, so that engines of different habits can be taken
    together."""
    out = y.copy()
    chosen = set(before) | set(after)
    for rows in walk_order(evaluation.contexts):
        mine = [r for r in rows if r in chosen and np.isfinite(y[r])]
        one_side = not (set(mine) & set(before) and set(mine) & set(after))
        if mine:
            sides = [
                np.mean([y[r] for r in mine if r in side])
                for side in (set(before), set(after))
                if set(mine) & side
            ]
            out[rows] = np.nan if one_side else y[rows] - float(np.mean(sides))
    return out


def compare_periods(evaluation: Evaluation, before: Sequence[int], after: Sequence[int]) -> Study:
    """Compare two sets of rows of one evaluation. Only engines that have samples on both sides
    count."""

    def of(code: str, side: Sequence[int]) -> list[int]:
        return [r for r in side if evaluation.contexts[r].engine.code == code]

    seen = [{evaluation.contexts[r].engine.code for r in side} for side in (before, after)]
    both = sorted(seen[0] & seen[1])
    before, after = (
        [r for r in x if evaluation.contexts[r].engine.code in both] for x in (before, after)
    )
    source = evaluation.fresh_source[[*before, *after]][:, WEAR]
    return Study(
        effects=_effects(evaluation, before, after),
        thickness=_thickness(evaluation, before, after),
        engines=len(both),
        from_zero=bool((source == TAKEN_AS_ZERO).any()),
        alone={x: _effects(evaluation, of(x, before), of(x, after)) for x in both}
        if len(both) > 1
        else {},
    )


def _effects(
    evaluation: Evaluation, before: Sequence[int], after: Sequence[int]
) -> tuple[Effect, ...]:
    """Every element of two sets of rows, with a word where the difference holds among so many."""
    u, per = rises(evaluation), np.array([p.engine.nominal_drain for p in evaluation.contexts])
    y = scaled(u)
    censor = evaluation.fleet.censor[:, ELEMENTS]
    found: list[Effect] = []
    for k, symbol in enumerate(SYMBOLS):
        centred = _centred(evaluation, y[:, k], before, after)
        x1, x2 = (
            _charge_means(evaluation, centred, before),
            _charge_means(evaluation, centred, after),
        )
        rates = [
            float(np.nanmedian(100 * u[list(side), k] / per[list(side)]))
            if np.isfinite(u[list(side), k]).any()
            else float("nan")
            for side in (before, after)
        ]
        if np.isnan(rates).any():
            continue
        low = np.mean([censor[r, k] == Censor.BELOW for r in (*before, *after)])
        found.append(_effect(symbol, rates, x1, x2, float(low)))
    tested = [n for n, x in enumerate(found) if x.p is not None]
    for n, sure in zip(tested, holm([found[n].p or 0.0 for n in tested]), strict=True):
        x = found[n]
        word = ("better" if (x.ratio or 1) < 1 else "worse") if sure else "not distinguishable"
        found[n] = replace(x, sure=sure, word=word)
    return tuple(found)


def _effect(symbol: str, rates: list[float], x1: Floats, x2: Floats, below: float) -> Effect:
    """The ratio is of rise + a, which is the ratio of rises wherever they are well above the test's
    noise."""

    def one(word: str) -> Effect:
        return Effect(
            symbol=symbol,
            before=rates[0],
            after=rates[1],
            ratio=None,
            low=None,
            high=None,
            p=None,
            sure=False,
            charges_before=len(x1),
            charges_after=len(x2),
            word=word,
        )

    if min(len(x1), len(x2)) < FEWEST_CHARGES:
        return one("too few")
    if below > MOSTLY:
        return one("below detection")
    try:
        d, low, high, p = welch(x1, x2)
    except ValueError:
        return one("too few")
    return Effect(
        symbol=symbol,
        before=rates[0],
        after=rates[1],
        ratio=float(np.exp(d)),
        low=float(np.exp(low)),
        high=float(np.exp(high)),
        p=p,
        sure=False,
        charges_before=len(x1),
        charges_after=len(x2),
        word="",
    )


def _thickness(
    evaluation: Evaluation, before: Sequence[int], after: Sequence[int]
) -> Thickness | None:
    """The viscosity of both periods, by charge means."""
    kv = evaluation.middle[:, idx("KV100")]
    x, y = _charge_means(evaluation, kv, before), _charge_means(evaluation, kv, after)
    if not len(x) or not len(y):
        return None
    try:
        d, low, high, _ = welch(x, y)
    except ValueError:
        d, low, high = float(y.mean() - x.mean()), np.nan, np.nan
    grades = {grade_of(evaluation.contexts[r].oil) for r in (*before, *after)}
    return Thickness(
        before=float(x.mean()),
        after=float(y.mean()),
        difference=d,
        low=low,
        high=high,
        grade=grades.pop() if len(grades) == 1 else "",
    )
