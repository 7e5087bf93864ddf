"""How high the expectation alone may reach: a habit of next to nothing is soon tripled, and still
nothing. What fixed limits say of the scale bounds it.

Wear metals, silicon, sodium and potassium are not bounded: their rises matter by themselves.
"""

import numpy as np
from numpy.typing import NDArray

from ..limits import WATCH, Evaluation
from .expectation import Expectation
from .peers import ELEMENTS, EXPECTED, element_place

BOUNDED = np.array([a.precision != "icp" for a in EXPECTED])
# share of the way from fresh oil to the fixed Watch limit, from which a reading above its habit is
# Watch, and Act; our choice
WATCH_FROM, ACT_FROM = 0.5, 0.75
# "Fuel under 2 % is good", whatever the habit: common practice; thinner oil beside it speaks.
FUEL_FROM = 1.0
# magnetic index: floor, what is Act whatever the habit, and how many times the habit; common
# practice
PQ_FLOOR, PQ_ACT, PQ_TIMES = 25.0, 100.0, 3.0


def reach_of(evaluation: Evaluation, expectation: Expectation) -> NDArray[np.int8]:
    """(samples, elements) the highest level an element may be given by the expectation alone."""
    out = np.full(expectation.y.shape, 2, dtype=np.int8)
    read = evaluation.middle[:, ELEMENTS]
    origin = np.where(
        [a.in_fresh for a in EXPECTED], np.nan_to_num(evaluation.fresh[:, ELEMENTS]), 0.0
    )
    with np.errstate(invalid="ignore", divide="ignore"):
        ways = [
            (read - origin) / (bound[WATCH][:, ELEMENTS] - origin)
            for bound in (evaluation.upper, evaluation.lower)
        ]
        way = np.fmax(*ways)
        level = np.where(way >= ACT_FROM, 2, np.where(way >= WATCH_FROM, 1, 0))
    out[:, BOUNDED] = level[:, BOUNDED]
    fuel = element_place("Fuel")
    out[way[:, fuel] < FUEL_FROM, fuel] = 0
    k = element_place("PQ")
    pq, usual = read[:, k], expectation.expected[:, k]
    with np.errstate(invalid="ignore"):
        act = (pq >= PQ_ACT) | (pq >= np.fmax(PQ_TIMES * usual, PQ_FLOOR))
        out[:, k] = np.where(act, 2, np.where(pq >= PQ_FLOOR, 1, 0))
    return out
