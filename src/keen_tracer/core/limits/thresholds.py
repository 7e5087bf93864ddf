"""Every limit as the concentration at which it is reached at a sample's hours and top-ups, and the
level of each reading against it (the-trade 3.7)."""

import numpy as np
from numpy.typing import NDArray

from ..certainty import SURE
from ..laboratory import ANALYTES, Censor
from ..oil import Mixing
from ..record import Floats
from .fresh_oil import FRESH_SD, WEAR
from .limit_set import ACT, CONC, PCT, PCT_LOW, RATE, RISE, RISE_LOW, WATCH

# share of R by which a reading must clear a limit to have passed it, after ASTM D3244
PASSED = 0.59
ELEMENTS_READ = np.array([a.precision == "icp" for a in ANALYTES])


def thresholds(
    limits: Floats,
    fresh: Floats,
    start: Floats,
    mix: Mixing,
    nominal: Floats,
    rate_ok: NDArray[np.bool_],
    room: Floats | float = 0.0,
) -> tuple[Floats, NDArray[np.int8], Floats, NDArray[np.int8]]:
    """Every limit as a concentration at this sample, the tightest on each side, and which one it
    is.

    `limits` is (samples, 6, 2, analytes). A metal's concentration limit holds at the nominal drain,
    so it also stands for the rate (limit - fresh) / nominal drain; an explicit rate limit replaces
    that. `room`: (samples, 2, analytes) concentration above the start below which no rate is read
    into a reading, however low its limit.
    """
    conc = limits[:, CONC]
    derived = np.where(WEAR, (conc - fresh[:, None, :]) / nominal[:, None, None], np.nan)
    rate = np.where(np.isnan(limits[:, RATE]), derived, limits[:, RATE] / 100.0)
    without = mix.end(start, fresh, np.zeros_like(fresh))[:, None, :]
    by_rate = np.where(
        rate_ok[:, None, :] & (rate > 0),
        without + np.maximum(mix.gain[:, None, None] * rate, room),
        np.nan,
    )
    f = fresh[:, None, :]
    # What a large fresh figure may be off is no rise: 95 %, where a laboratory reads elements.
    off = np.where(ELEMENTS_READ, SURE * FRESH_SD * f, 0.0)
    above = np.stack([conc, f + limits[:, RISE] + off, f * limits[:, PCT] / 100.0, by_rate])
    below = np.stack([f + limits[:, RISE_LOW], f * limits[:, PCT_LOW] / 100.0])
    upper = np.fmin.reduce(above, axis=0)
    lower = np.fmax.reduce(below, axis=0)
    place_up = np.array([CONC, RISE, PCT, RATE], dtype=np.int8)
    place_low = np.array([RISE_LOW, PCT_LOW], dtype=np.int8)
    up = place_up[np.argmin(np.where(np.isnan(above), np.inf, above), axis=0)]
    low = place_low[np.argmax(np.where(np.isnan(below), -np.inf, below), axis=0)]
    return (
        np.moveaxis(upper, 1, 0),
        np.moveaxis(up, 1, 0),
        np.moveaxis(lower, 1, 0),
        np.moveaxis(low, 1, 0),
    )


def levels(
    value: Floats, censor: NDArray[np.int8], upper: Floats, lower: Floats, R: Floats
) -> tuple[NDArray[np.int8], NDArray[np.bool_], NDArray[np.bool_]]:
    """Level of each reading, whether it is only at the limit, whether a non-detect leaves it
    unproven.

    A limit is reached at value ≥ limit and passed at value - 0.59 R ≥ limit. `<L` is somewhere in
    [0, L]: it has the level that all of these have, and is unproven where one of them has a higher
    one: a test that cannot see down to Watch cannot clear, and has not found anything either.
    """
    below = censor == Censor.BELOW
    least, most = np.where(below, 0.0, value), value
    level = np.zeros(value.shape, dtype=np.int8)
    passed = np.zeros(value.shape, dtype=np.int8)
    with np.errstate(invalid="ignore"):
        for n, mark in ((1, WATCH), (2, ACT)):
            level[(least >= upper[mark]) | (most <= lower[mark])] = n
            passed[(least - PASSED * R >= upper[mark]) | (most + PASSED * R <= lower[mark])] = n
        unproven = below & (level == 0) & ((most >= upper[WATCH]) | (least <= lower[WATCH]))
    level[(censor == Censor.POSITIVE) & ~np.isnan(upper[WATCH])] = 1
    limited = ~np.isnan(upper).all(axis=0) | ~np.isnan(lower).all(axis=0)
    level[(censor < 0) | ~limited] = -1
    return level, (level > passed) & (level > 0) & (censor == Censor.EXACT), unproven
