"""How often to sample, and what to ask the laboratory for."""

from dataclasses import dataclass
from functools import cache

from .. import tables
from ..record import Engine

THIRD = 3.0  # samples between the first sign and a failure: one to see, one to confirm, one in hand


@dataclass(frozen=True, slots=True)
class IntervalAdvice:
    """The longest interval between samples that leaves three of them before a failure. Meter units;
    `drains`: how many nominal drains a fault of the class takes."""

    most: float
    takes: float
    drains: float
    drain: float


@dataclass(frozen=True, slots=True)
class Asked:
    """A test to ask the laboratory for, and why."""

    test: str
    words: str
    why: str


@cache
def _drains() -> dict[str, float]:
    """Source: `tables/fault_times.csv`."""
    return {r["class"]: float(r["drains"]) for r in tables.read("fault_times")}


def interval_advice(engine: Engine) -> IntervalAdvice:
    """No longer than a third of the time the class's faults take from first sign to failure.

    >>> interval_advice(Engine("E", "heavy_diesel", nominal_drain=250.0)).most
    125.0
    """
    drains = _drains()[engine.engine_class]
    takes = drains * engine.nominal_drain
    return IntervalAdvice(takes / THIRD, takes, drains, engine.nominal_drain)


def _in_season(months: str, month: int) -> bool:
    if not months:
        return True
    first, last = (int(x) for x in months.split("-"))
    return first <= month <= last if first <= last else month >= first or month <= last


def slate_of(engine: Engine, month: int) -> list[Asked]:
    """What to ask the laboratory for, for an engine in a month (1 to 12).

    >>> [a.test for a in slate_of(Engine("E", "gas", fuel="natural_gas"), 6)]
    ['bn_an', 'nitration', 'dust']
    """
    traits = engine.traits
    out = []
    for r in tables.read("test_slate"):
        where, not_where = (set(r[k].split("|")) - {""} for k in ("where", "not_where"))
        fits = (not where or traits & where) and not traits & not_where
        if fits and _in_season(r["months"], month):
            out.append(Asked(r["test"], r["words"], r["why"]))
    return out
