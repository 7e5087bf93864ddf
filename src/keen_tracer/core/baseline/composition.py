"""What the metals of one sample rose by together: load, cold, or hours that are wrong."""

import numpy as np
from numpy.typing import NDArray

from ..record import Floats
from .peers import element_place

# Metals of the cylinder, and of the bearings: load, cold or wrong hours move both, a fault seldom
# does. What they may share at most; our choice.
FAMILIES = tuple(
    np.array([element_place(s) for s in names])
    for names in (("Fe", "Cr", "Al"), ("Cu", "Pb", "Sn"))
)
MOST_SHARED = np.log(2.5)


def shared_rise(residual: Floats, told: NDArray[np.bool_]) -> Floats:
    """What the metals of cylinders and of bearings rose by together: by load, cold, or hours that
    are wrong; (samples,). The lesser of the two families' medians, 0 where one of them says
    nothing."""
    part = np.where(told, residual, np.nan)
    shared = np.minimum.reduce([_middle(part[:, at]) for at in FAMILIES])
    out: Floats = np.clip(np.nan_to_num(shared), 0.0, MOST_SHARED)
    return out


def _middle(x: Floats) -> Floats:
    """Median of every row of up to three figures; NaN where it holds none."""
    listed, n = np.sort(x, axis=1), np.sum(~np.isnan(x), axis=1)
    rows, last = np.arange(len(x)), np.maximum(n - 1, 0)
    out: Floats = (listed[rows, last // 2] + listed[rows, (last + 1) // 2]) / 2
    return out
