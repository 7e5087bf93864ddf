"""What has to come along before one element alone is Act, and where its absence says nothing.

A bush of tin bronze brings a ninth of its copper as tin: beside 14 ppm of copper that is 1 ppm,
which many tests cannot see. Only what would have been seen, and was not, speaks against a bush.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..limits import Evaluation
from ..record import Floats, SampleContext, TimeLine, brand
from .model_inputs import drains_of_life
from .peers import ELEMENTS, element_place

# tin of a bronze and aluminium of road dust, as a share of copper and of silicon (the-trade 3.13,
# 3.9: dust is Si : Al about 3 to 10; the leanest is taken)
TIN_OF_BRONZE, ALUMINIUM_OF_DUST = 0.11, 0.15
# A new cooler leaches for so many drains, a change of oil brand for so many charges; our choice.
LEACHES, BRAND_LEACHES = 5.0, 2
SEALS = ("seal", "gasket", "silicone", "rocker cover", "valve cover")
COOLERS = ("cooler",)
FADES, HEIGHT_OF = np.log(0.75), 4  # so much slower than the highest of so many before; our choice
SODIUM_ALONE = 10.0  # Na : K of a coolant from which it carries sodium alone; our choice


@dataclass(frozen=True)
class Company:
    """(samples,) where an element must be held back without company: copper without tin or lead,
    silicon without aluminium or what it wears, sodium without potassium or water."""

    copper: NDArray[np.bool_]
    silicon: NDArray[np.bool_]
    sodium: NDArray[np.bool_]


Work = list[tuple[float, str]]  # true meter, and what was done in small letters


def _work_on(line: TimeLine) -> Work:
    return [
        (m.total, f"{m.row.part} {m.row.note}".lower())
        for m in line.moments
        if m.row.kind == "repair" and m.total is not None
    ]


def _done_lately(context: SampleContext, work: Work, words: tuple[str, ...]) -> bool:
    """Whether work of that kind is on record within `LEACHES` drains before the sample."""
    now, span = context.moment.total, LEACHES * context.engine.nominal_drain
    return now is not None and any(
        0 <= now - at <= span and any(w in said for w in words) for at, said in work
    )


def is_new(context: SampleContext) -> bool:
    """Whether the engine is new or rebuilt, and still gives off what only new parts do."""
    return drains_of_life(context) <= LEACHES


def may_leach(context: SampleContext) -> bool:
    """Whether copper (and the flux of its soldering) may come from a cooler: a new engine or
    cooler."""
    return is_new(context) or _done_lately(context, _work_on(context.time_line), COOLERS)


def _brand_changed(context: SampleContext, contexts: list[SampleContext]) -> bool:
    """Whether another brand of oil came in within the last charges."""
    at = context
    for _ in range(BRAND_LEACHES):
        if at.ended < 0:
            return False
        at = contexts[at.ended]
        if brand(at.oil) != brand(context.oil):
            return True
    return False


def _visible(expected: Floats, more: Floats, floor: Floats, high: Floats) -> NDArray[np.bool_]:
    """Whether `more` of an element would have been seen: past the detection limits in play, and a
    standard deviation past what is usual (`high` is two)."""
    with np.errstate(invalid="ignore"):
        return np.asarray(expected + more > np.maximum(floor, (expected + high) / 2))


def company_of(
    evaluation: Evaluation, expected: Floats, high: Floats, floor: Floats, y: Floats
) -> Company:
    """Where the absence of company says something.

    expected, high : what was expected of each element, and its upper end · floor : what it must
        pass to be seen at all · y : each on the scale of the expectation
    """
    value = evaluation.fleet.value

    def excess(symbol: str) -> Floats:
        k = element_place(symbol)
        return np.nan_to_num(np.maximum(value[:, ELEMENTS[k]] - expected[:, k], 0.0))

    def seen(symbol: str, more: Floats) -> NDArray[np.bool_]:
        k = element_place(symbol)
        return _visible(expected[:, k], more, floor[:, k], high[:, k])

    contexts = evaluation.contexts
    lines = {id(p.time_line): p.time_line for p in contexts}
    work = {key: _work_on(line) for key, line in lines.items()}
    done = [(p, work[id(p.time_line)]) for p in contexts]
    leaches = np.array(
        [is_new(p) or _done_lately(p, w, COOLERS) or _brand_changed(p, contexts) for p, w in done]
    )
    # A new or rebuilt engine has new sealant as well.
    sealed = np.array([is_new(p) or _done_lately(p, w, SEALS) for p, w in done])
    alone = np.array([_sodium_alone(evaluation, p) for p in contexts])
    return Company(
        leaches | _falls(evaluation, y, "Cu") | seen("Sn", TIN_OF_BRONZE * excess("Cu")),
        sealed | _falls(evaluation, y, "Si") | seen("Al", ALUMINIUM_OF_DUST * excess("Si")),
        ~alone,
    )


def _falls(evaluation: Evaluation, y: Floats, symbol: str) -> NDArray[np.bool_]:
    """Whether an element comes in a quarter slower at least than at its height of the last samples:
    what leaches or bleeds fades, what wears does not."""
    before, now = np.array([p.before for p in evaluation.contexts]), y[:, element_place(symbol)]
    height, at = np.full(len(now), -np.inf), before
    for _ in range(HEIGHT_OF):
        height = np.fmax(height, np.where(at >= 0, now[at], -np.inf))
        at = np.where(at >= 0, before[at], -1)
    with np.errstate(invalid="ignore"):
        return np.asarray(now <= height + FADES)


def _sodium_alone(evaluation: Evaluation, context: SampleContext) -> bool:
    """Whether the registered coolant brings sodium and hardly any potassium."""
    known = evaluation.fleet.coolants.get(context.engine.coolant)
    if known is None or known.na is None:
        return False
    return known.na >= SODIUM_ALONE * (known.k or 0.0)
