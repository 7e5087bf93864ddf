"""The facts the judgement reads: engines, their log, their samples, the oils. Frozen, no database
ids."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, time

import numpy as np
from numpy.typing import NDArray

from .. import tables
from ..errors import UnknownName
from ..terms import METER_UNITS
from .debris import DebrisLook

RUN_IN_DRAINS = 2.0  # a life counts as run-in for two nominal drains of its class; our choice
DEFAULT_CARRY_OVER = 0.10  # our choice (the-trade 3.4), editable per engine


def nominal_drain(engine_class: str, meter_unit: str) -> float:
    """The oil's nominal drain interval for a class, in the engine's meter unit.

    Source: `tables/nominal_drain.csv`, common practice from memory. A pair the table does not hold
    takes 250 h, 10 000 km, 6 000 mi or 50 outings (our choice).

    >>> nominal_drain("heavy_diesel", "h")
    250.0
    """
    if meter_unit not in METER_UNITS:
        raise UnknownName("meter unit", meter_unit, list(METER_UNITS))
    known = {row["class"]: row for row in tables.read("nominal_drain")}
    own = known.get(engine_class, {}).get(meter_unit)
    return float(own or known["other"][meter_unit])


def brand(oil: str | None) -> str:
    """The brand in an oil key "brand|grade|batch".

    >>> brand("Heavy|15W-40|7")
    'Heavy'
    """
    return (oil or "").split("|")[0]


def grade_of(oil: str | None) -> str:
    """The grade in an oil key "brand|grade|batch"; "" where none is on record.

    >>> grade_of("Heavy|15W-40|7"), grade_of(None)
    ('15W-40', '')
    """
    return (oil or "").split("|")[1] if "|" in (oil or "") else ""


def oil_words(key: str | None) -> str:
    """An oil key "oil|grade|batch" in words.

    >>> oil_words("Heavy||7")
    'Heavy 7'
    """
    return " ".join(part for part in (key or "").split("|") if part)


@dataclass(frozen=True, slots=True)
class Engine:
    """What the judgement must know of an engine. Volumes in litres, drain and interval in
    `meter_unit`."""

    code: str
    engine_class: str
    meter_unit: str = "h"
    oil_total_l: float | None = None
    sump_l: float | None = None
    carry_over: float = DEFAULT_CARRY_OVER
    allowed_grades: tuple[str, ...] = ()
    fuel: str = ""
    features: frozenset[str] = frozenset()
    nominal_drain: float = 250.0
    interval_meter: float | None = None
    interval_days: int | None = None
    in_service_on: date | None = None
    model: str = ""
    bearing_type: str = ""
    coolant: str = ""
    depot: str = ""
    # the model's own pass criteria of tests, by the name of the detail they replace
    test_limits: Mapping[str, float] = field(default_factory=dict, hash=False)
    drain_days: int | None = None  # an oil is changed after so many days at the latest
    # failure modes that were found at other engines of its model, and confirmed
    earlier: frozenset[str] = frozenset()
    # What people said led to what in the opened engine: (cause, effect, it did), oldest first.
    links: tuple[tuple[str, str, bool], ...] = ()

    @property
    def run_in(self) -> float:
        """How long a new life counts as run-in [meter units]: by class, however long this engine's
        oil stays in."""
        return RUN_IN_DRAINS * nominal_drain(self.engine_class, self.meter_unit)

    @property
    def traits(self) -> frozenset[str]:
        """What decides which faults and checks an engine can have: class, fuel, features."""
        return self.features | ({self.engine_class, self.fuel} - {""})


@dataclass(frozen=True, slots=True)
class LogRow:
    """One dated thing that happened to an engine; `dial` is what the meter showed, in the meter
    unit."""

    id: str
    on: date
    kind: str
    dial: float | None = None
    at: time | None = None
    seq: int = 0
    dial_new: float | None = None
    litres_in: float | None = None
    litres_drained: float | None = None
    oil: str | None = None
    part: str = ""
    note: str = ""
    sample: "Sample | None" = None
    details: Mapping[str, str] = field(default_factory=dict, hash=False)
    look: DebrisLook | None = None


@dataclass(frozen=True, slots=True)
class Sample:
    """A drawn sample. `row` is its place in the arrays of the Fleet."""

    code: str
    row: int
    purpose: str = "routine"
    resample_of: str | None = None
    drained_after: bool | None = None
    method: str = ""
    laboratory: str = ""
    test_method: str = ""
    glycol_method: str = ""
    oil: str | None = None
    oil_change_dial: float | None = None
    hours_on_oil: float | None = None
    top_up_l: float | None = None
    appearance: str = ""
    smell: str = ""
    level_on_stick: float | None = None
    analysed_on: date | None = None


@dataclass(frozen=True, slots=True)
class History:
    """One engine with everything in its log, in any order."""

    engine: Engine
    log: tuple[LogRow, ...]
    confirmed: tuple[date, ...] = ()  # days on which an inspection confirmed a fault


Floats = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Coolant:
    """What a coolant brings along [mg/kg]; None where it is not known."""

    na: float | None
    k: float | None
    b: float | None = None
    si: float | None = None

    @property
    def markers(self) -> dict[str, float]:
        """Element → mg/kg of what is known of it, nothing that is none."""
        known = {"Na": self.na, "K": self.k, "B": self.b, "Si": self.si}
        return {m: x for m, x in known.items() if x}


@dataclass(frozen=True)
class Fleet:
    """One engine or many, with the readings of all their samples as arrays.

    value  : (samples, analytes) readings in each analyte's unit; NaN where not measured or without
        a number
    censor : (samples, analytes) values of `Censor`; -1 where not measured
    fresh  : oil key "oil|grade|batch" → (analytes,) fresh-oil reference, NaN where not known
    coolants : name → what it brings along
    other : row → (analytes,) what another report says of the same bottle, NaN where it says nothing
    """

    histories: tuple[History, ...]
    value: Floats
    censor: NDArray[np.int8]
    fresh: dict[str, Floats] = field(default_factory=dict)
    coolants: Mapping[str, Coolant] = field(default_factory=dict)
    other: Mapping[int, Floats] = field(default_factory=dict)
