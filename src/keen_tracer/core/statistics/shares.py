"""A share of counted cases, with its interval."""

from math import nan, sqrt

from ..certainty import SURE


def wilson(k: int, n: int) -> tuple[float, float, float]:
    """(share, low, high) in percent, 95 %; NaN of no cases. Source: Wilson's score interval,
    NIST/SEMATECH e-Handbook 7.2.4.1.

    >>> [round(x, 1) for x in wilson(4, 20)]
    [20.0, 8.1, 41.6]
    """
    if not n:
        return nan, nan, nan
    p = k / n
    middle = (p + SURE**2 / (2 * n)) / (1 + SURE**2 / n)
    half = SURE * sqrt(p * (1 - p) / n + SURE**2 / (4 * n * n)) / (1 + SURE**2 / n)
    return 100 * p, 100 * max(middle - half, 0.0), 100 * min(middle + half, 1.0)
