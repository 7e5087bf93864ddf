"""Before against after: what an additive, an oil, a filter or a driver changed, and what is not
distinguishable (3.20)."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.special import stdtr, stdtrit

from ..baseline import ELEMENTS, SYMBOLS, rises, scaled, walk_order
from ..laboratory import Censor, idx
from ..limits import Evaluation
from ..record import Floats

FEWEST_CHARGES = 3  # on each side; our choice
MOSTLY = 0.5  # share of non-detects from which on a ratio is not stated; our choice
SURE = 0.05  # after Holm's correction


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


@dataclass(frozen=True, slots=True)
class Study:
    """Effects of every element, and what viscosity did (difference of means [mm²/s] with its
    interval, None: too few)."""

    effects: tuple[Effect, ...]
    thickness: tuple[float, float, float] | None
    engines: int


def holm(p: Sequence[float], level: float = SURE) -> list[bool]:
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


def _charge_means(e: Evaluation, y: Floats, rows: Sequence[int]) -> Floats:
    """The mean of each charge: samples of one charge share its effect, so a charge is one voice."""
    by_charge: dict[tuple[str, int, int], list[float]] = {}
    for r in rows:
        if np.isfinite(y[r]):
            m = e.contexts[r].moment
            by_charge.setdefault((e.contexts[r].engine.code, m.life, m.charge), []).append(
                float(y[r])
            )
    return np.array([float(np.mean(v)) for v in by_charge.values()])


def _centred(e: Evaluation, y: Floats, before: Sequence[int], after: Sequence[int]) -> Floats:
    """Every engine around its own level, so that engines of different habits can be taken
    together."""
    out = y.copy()
    chosen = set(before) | set(after)
    for rows in walk_order(e.contexts):
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


def compare_periods(e: Evaluation, before: Sequence[int], after: Sequence[int]) -> Study:
    """Compare two sets of rows of one evaluation. Only engines that have samples on both sides
    count."""
    u, per = rises(e), np.array([p.engine.nominal_drain for p in e.contexts])
    y = scaled(u)
    censor = e.fleet.censor[:, ELEMENTS]
    found: list[Effect] = []
    for k, symbol in enumerate(SYMBOLS):
        centred = _centred(e, y[:, k], before, after)
        x1, x2 = _charge_means(e, centred, before), _charge_means(e, centred, after)
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
    engines = {e.contexts[r].engine.code for r in before} & {
        e.contexts[r].engine.code for r in after
    }
    return Study(tuple(found), _thickness(e, before, after), len(engines))


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
    e: Evaluation, before: Sequence[int], after: Sequence[int]
) -> tuple[float, float, float] | None:
    """KV100 after minus before, by charge means."""
    kv = e.middle[:, idx("KV100")]
    try:
        d, low, high, _ = welch(_charge_means(e, kv, before), _charge_means(e, kv, after))
    except ValueError:
        return None
    return d, low, high
