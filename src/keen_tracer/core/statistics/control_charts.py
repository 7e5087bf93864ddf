"""EWMA and CUSUM of a standardised figure: drawn for the analyst, never a source of alarms
(the-trade 3.6).

Source: NIST/SEMATECH e-Handbook of Statistical Methods, 6.3.2.4 (EWMA) and 6.3.2.3 (CUSUM), tabular
form.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Ewma:
    """The weighted average after each value, and the limits it stays within while nothing changes
    (long-run)."""

    values: tuple[float, ...]
    low: float
    high: float


def ewma(
    values: Sequence[float], target: float, s: float, weight: float = 0.3, k: float = 3.0
) -> Ewma:
    """Exponentially weighted moving average, begun at `target`.

    s : standard deviation of one value · weight : share of the newest value, above 0 to 1 · k :
        width of the limits
    Raises ValueError outside that.

    >>> [round(v, 2) for v in ewma([52, 47, 53], 50, 2).values]
    [50.6, 49.52, 50.56]
    """
    if not 0 < weight <= 1 or not s > 0:
        raise ValueError(f"weight must lie in (0, 1] and s above 0, not {weight} and {s}")
    now, out = target, []
    for v in values:
        now = weight * v + (1 - weight) * now
        out.append(now)
    half = k * s * math.sqrt(weight / (2 - weight))
    return Ewma(tuple(out), target - half, target + half)


@dataclass(frozen=True, slots=True)
class Cusum:
    """Upper and lower sums after each value, and the decision height `h` both are read against."""

    upper: tuple[float, ...]
    lower: tuple[float, ...]
    h: float


def cusum(values: Sequence[float], target: float, k: float, h: float) -> Cusum:
    """Tabular CUSUM: what lies above `target` by more than the allowance `k` adds up, likewise
    below.

    Raises ValueError for a negative allowance or a height that is not above 0.

    >>> cusum([1.0, 1.0], 0.0, 0.5, 4.0).upper
    (0.5, 1.0)
    """
    if not k >= 0 or not h > 0:
        raise ValueError(f"allowance {k} must be at least 0 and height {h} above 0")
    up = down = 0.0
    upper, lower = [], []
    for v in values:
        up, down = max(0.0, up + v - target - k), max(0.0, down + target - k - v)
        upper.append(up)
        lower.append(down)
    return Cusum(tuple(upper), tuple(lower), h)
