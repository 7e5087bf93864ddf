"""A straight line through figures with its prediction interval, and where it reaches a limit
(the-trade 3.6)."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import stdtrit

LEVEL = 0.95
FEWEST = 3  # a line through two points has no spread


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """Least squares y = intercept + slope * x with the spread of single values about it.

    slope_low, slope_high : 95 % interval of the slope · s : residual standard deviation with n - 2
        degrees
    """

    intercept: float
    slope: float
    slope_se: float
    slope_low: float
    slope_high: float
    s: float
    n: int
    x_mean: float
    sxx: float

    def at(self, x: float) -> tuple[float, float, float]:
        """(expected, low, high) of one further value at `x`: the 95 % prediction interval."""
        y = self.intercept + self.slope * x
        half = self._t() * self.s * math.sqrt(1 + 1 / self.n + (x - self.x_mean) ** 2 / self.sxx)
        return y, y - half, y + half

    def _t(self) -> float:
        return float(stdtrit(self.n - 2, 0.5 + LEVEL / 2))


def fit_line(x: Sequence[float], y: Sequence[float]) -> Line | None:
    """The line through at least three points, None with fewer or when all have the same x.

    Raises ValueError for lengths that differ or values that are no numbers. Source: ordinary least
    squares.

    >>> round(fit_line([0, 1, 2, 3], [1.0, 2.1, 2.9, 4.0]).slope, 2)
    0.98
    """
    if len(x) != len(y):
        raise ValueError(f"{len(x)} places but {len(y)} values")
    a, b = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    if not (np.isfinite(a).all() and np.isfinite(b).all()):
        raise ValueError("every place and value must be a number")
    n = len(a)
    if n < FEWEST:
        return None
    x_mean, y_mean = float(a.mean()), float(b.mean())
    sxx = float(((a - x_mean) ** 2).sum())
    if not sxx > 0:
        return None
    slope = float(((a - x_mean) * (b - y_mean)).sum()) / sxx
    intercept = y_mean - slope * x_mean
    s = math.sqrt(float(((b - intercept - slope * a) ** 2).sum()) / (n - 2))
    se = s / math.sqrt(sxx)
    half = float(stdtrit(n - 2, 0.5 + LEVEL / 2)) * se
    return Line(
        intercept=intercept,
        slope=slope,
        slope_se=se,
        slope_low=slope - half,
        slope_high=slope + half,
        s=s,
        n=n,
        x_mean=x_mean,
        sxx=sxx,
    )


@dataclass(frozen=True, slots=True)
class Crossing:
    """Where a line reaches a limit. `word`: "reached", "crosses", "no trend", "away", "too few" or
    "no limit".

    at : x of the crossing · earliest, latest : where the prediction band does; `latest` is None
        when one edge never does
    """

    word: str
    at: float | None = None
    earliest: float | None = None
    latest: float | None = None


def _first(line: Line, limit: float, x_now: float, edge: int, rising: bool) -> float | None:
    """The first x from `x_now` on at which an edge of the band (1 low, 2 high; 0 the line) reaches
    the limit."""

    def gap(x: float) -> float:
        return (line.at(x)[edge] - limit) * (1 if rising else -1)

    if gap(x_now) >= 0:
        return x_now
    reach = max(abs(x_now - line.x_mean), math.sqrt(line.sxx / line.n), 1e-9)
    low, high = x_now, x_now + reach
    for _ in range(60):
        if gap(high) >= 0:
            break
        low, high = high, high + 2 * (high - x_now)
    else:
        return None
    for _ in range(80):
        middle = (low + high) / 2
        low, high = (low, middle) if gap(middle) >= 0 else (middle, high)
    return high


def crossing(line: Line | None, limit: float, x_now: float, rising: bool = True) -> Crossing:
    """Where the limit is reached from `x_now` on, said only when the slope's interval excludes
    zero.

    rising : the limit lies above (True) or below (False)

    >>> crossing(fit_line([0, 100, 200, 300], [10, 20.5, 29.5, 40]), 60, 300).word
    'crosses'
    """
    if line is None:
        return Crossing("too few")
    if not math.isfinite(limit) or not math.isfinite(x_now):
        raise ValueError("limit and place must be numbers")
    if (line.at(x_now)[0] - limit) * (1 if rising else -1) >= 0:
        return Crossing("reached", x_now, x_now, x_now)
    if line.slope_low <= 0 <= line.slope_high:
        return Crossing("no trend")
    if (line.slope > 0) != rising:
        return Crossing("away")
    near, far = (2, 1) if rising else (1, 2)
    return Crossing(
        "crosses",
        _first(line, limit, x_now, 0, rising),
        _first(line, limit, x_now, near, rising),
        _first(line, limit, x_now, far, rising),
    )
