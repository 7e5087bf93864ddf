"""What changed since the last reading, and by how much, without a percentage that means nothing
(3.3)."""

from dataclasses import dataclass

from ..certainty import SURE
from .precision import LIMIT_FACTOR


@dataclass(frozen=True, slots=True)
class Change:
    """New against old. `relative_pct` is None where a percentage would mean nothing, and `why` says
    why."""

    new: float
    old: float
    absolute: float
    distinguishable: bool
    relative_pct: float | None
    relative_half_width_pct: float | None
    why: str


def significant_change(new: float, old: float, s: float, detection: float = 0.0) -> Change:
    """The change from `old` to `new`, both in one unit, with `s` the standard deviation of one
    result.

    Distinguishable when |new - old| > 2.77 s. The relative change is withheld when the difference
    is not distinguishable, or when the old value is not above zero and its own detection limit; its
    half width is the 95 % interval of the quotient to first order.

    >>> significant_change(88, 61, 2.9).relative_pct
    44.26
    >>> significant_change(3, 2, 1.1).why
    'not distinguishable'
    """
    if not s > 0:
        raise ValueError(f"the standard deviation of one result must be above 0, not {s}")
    d = new - old
    told_apart = abs(d) > LIMIT_FACTOR * s
    if not told_apart:
        return Change(new, old, d, False, None, None, "not distinguishable")
    if not old > max(detection, 0.0):
        return Change(
            new, old, d, True, None, None, "the old value is at or below its detection limit"
        )
    half = 100 * SURE * s * (1 + (new / old) ** 2) ** 0.5 / old
    return Change(new, old, d, True, round(100 * d / old, 2), round(half, 2), "beyond noise")
