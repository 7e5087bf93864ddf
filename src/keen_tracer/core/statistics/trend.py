"""Is there a trend at all: Theil–Sen slope with Kendall's test (the-trade 3.6)."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

import numpy as np

from ..certainty import BY_CHANCE

FEWEST = 5  # Kendall's test says nothing below, the-trade 3.6


@dataclass(frozen=True, slots=True)
class Trend:
    """A robust slope [y per x], Kendall's tau-b and its p (normal approximation with ties), and a
    word for it.

    word : "rising", "falling", "no trend" or "too few"
    """

    slope: float
    tau: float
    p: float
    n: int
    word: str


def _ties(values: Sequence[float]) -> list[int]:
    return [n for v in set(values) if (n := values.count(v)) > 1]


def trend(x: Sequence[float], y: Sequence[float]) -> Trend:
    """The trend of y over x. Raises ValueError when they differ in length or an x stands alone for
    all.

    Source: Theil–Sen median of slopes; Kendall's tau-b with the variance under ties (asymptotic).

    >>> trend([1, 2, 3, 4, 5, 6], [1, 2, 2.5, 4, 5.5, 6]).word
    'rising'
    """
    if len(x) != len(y):
        raise ValueError(f"{len(x)} places but {len(y)} values")
    n = len(x)
    first, second = np.triu_indices(n, 1)
    places, values = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    dx, dy = places[second] - places[first], values[second] - values[first]
    slopes = (dy[dx != 0] / dx[dx != 0]).tolist()
    if not slopes:
        if n < 2:
            return Trend(math.nan, math.nan, math.nan, n, "too few")
        raise ValueError("all values stand at one place")
    s = float((np.sign(dx) * np.sign(dy)).sum())
    tx, ty, all_pairs = _ties(list(x)), _ties(list(y)), n * (n - 1) / 2
    left, right = (
        all_pairs - sum(t * (t - 1) / 2 for t in tx),
        all_pairs - sum(t * (t - 1) / 2 for t in ty),
    )
    tau = s / math.sqrt(left * right) if left and right else math.nan
    p = _p(s, n, tx, ty) if left and right else math.nan
    word = (
        "too few"
        if n < FEWEST
        else "no trend"
        if not p < BY_CHANCE
        else "rising"
        if s > 0
        else "falling"
    )
    return Trend(median(slopes), tau, p, n, word)


def _p(s: float, n: int, tx: list[int], ty: list[int]) -> float:
    """Two-sided p of Kendall's S."""

    def sums(ties: list[int]) -> tuple[float, float, float]:
        return (
            sum(t * (t - 1) / 2 for t in ties),
            sum(t * (t - 1) * (t - 2) for t in ties),
            sum(t * (t - 1) * (2 * t + 5) for t in ties),
        )

    (x1, x0, x2), (y1, y0, y2) = sums(tx), sums(ty)
    m = n * (n - 1)
    variance = (m * (2 * n + 5) - x2 - y2) / 18 + 2 * x1 * y1 / m
    if n > 2:
        variance += x0 * y0 / (9 * m * (n - 2))
    return math.erfc(abs(s) / math.sqrt(2 * variance)) if variance > 0 else math.nan
