"""What each kind of finding carries: figures and codes, never a sentence.

Figures are rounded when they are made (`n_digits`), so that the same finding is the same on any
machine. None: not known, or it does not apply; None is not stored.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np


def n_digits(x: float, digits: int = 4) -> float | None:
    """A number as it is stored: enough digits to say it again, few enough to be the same on any
    machine.

    >>> n_digits(77.61234), n_digits(float("nan"))
    (77.61, None)
    """
    return float(f"{float(x):.{digits}g}") if np.isfinite(x) else None


# Standard deviations above expectation from which an element of a pattern is named; our choice.
NAMED_FROM = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Payload:
    """Of a finding that needs no figures, and the base of all others."""


@dataclass(frozen=True, slots=True, kw_only=True)
class AtLimit(Payload):
    """A reading at or past a fixed limit, in the analyte's unit.

    censor : of the reading, values of `Censor` · threshold : the concentration at which the level
        begins at this sample's hours · basis : which kind of limit binds · limit, limit_basis,
        scope : the row it comes from · fresh, fresh_from : the fresh oil it is held against
    per_100, per, hours : the rate per 100 meter units, of a rate limit · pct_fresh, rise : against
        fresh oil, of such a limit
    """

    value: float | None = None
    censor: int = 0
    threshold: float | None = None
    basis: str = ""
    fresh: float | None = None
    fresh_from: str = ""
    limit: float | None = None
    limit_basis: str | None = None
    scope: str | None = None
    per_100: float | None = None
    per: str | None = None
    hours: float | None = None
    pct_fresh: float | None = None
    rise: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Present(Payload):
    """Reported as present, without a figure; `limit` is where Watch begins."""

    limit: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Grade(Payload):
    """Viscosity at 100 °C [mm²/s] outside every allowed grade; `grades` it would fit."""

    value: float | None = None
    low: float | None = None
    high: float | None = None
    allowed: list[str] = field(default_factory=list)
    grades: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True, kw_only=True)
class Reserve(Payload):
    """Base and acid number [mg KOH/g]."""

    bn: float | None = None
    an: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class AdditivesFell(Payload):
    """Additives far under what the oil holds: their symbols, figures and what is usual [ppm], in
    one order; whether what is usual is the fresh oil's, or of the engine's own samples, or the
    least that an oil for engines of its class holds."""

    symbols: list[str] = field(default_factory=list)
    values: list[float] = field(default_factory=list)
    usual: list[float] = field(default_factory=list)
    fresh: bool = False
    least: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class LargeIron(Payload):
    """Magnetic index above iron [ppm]."""

    pq: float | None = None
    fe: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Glycol(Payload):
    """Glycol, `proven` by chromatography, or sodium or potassium `agree`."""

    proven: bool = False
    agree: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class WaterStop(Payload):
    """Water [%] at or past the limit from which nobody runs an engine."""

    value: float | None = None
    limit: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class FuelStop(Payload):
    """Fuel [%] with a viscosity `kv` [mm²/s] below the thinnest allowed `low`."""

    value: float | None = None
    kv: float | None = None
    low: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class RingScuff(Payload):
    """How many times iron, chromium and aluminium rose in so many hours."""

    fe: float | None = None
    cr: float | None = None
    al: float | None = None
    hours: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class SeenOn(Payload):
    """Something seen, heard or smelt: on which day, at which dial figure, in whose words; which
    fact it is, and the troubles it points to; `since`: what was done since, of
    `words.fact_words.SINCE`."""

    on: str = ""
    fact: str = ""
    points: list[str] = field(default_factory=list)
    dial: float | None = None
    note: str = ""
    logged: bool = False  # a row of the log says it, not the bottle of the sample
    since: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class CheckedOn(SeenOn):
    """A field check with its result; where it was measured, its figures in words and where the
    limit comes from."""

    check: str = ""
    result: str = ""
    figures: str = ""
    limit_from: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class LookedOn(SeenOn):
    """The telling type of a look: place, count as seen, share of the place that was seen"""

    place: str = ""
    type: str = ""
    count: str = ""
    seen: str = "1"
    size: str = ""
    grown: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class OpenedOn(SeenOn):
    """A part of the opened engine: where it is and the condition it was found in, in words."""

    where: str = ""
    condition: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class SteppedOn(SeenOn):
    """A step of a leak isolation with its answer."""

    step: str = ""
    answer: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class ToppedUp(SeenOn):
    """Coolant or oil topped up: litres, in how many days, or into a fill of how many."""

    litres: str = ""
    days: str = ""
    fill: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Agreement(Payload):
    """Facts and figures of different kinds that point to the same troubles: the kinds of
    `terms.FACT_KINDS`, and what each says in a few words."""

    troubles: list[str] = field(default_factory=list)
    kinds: list[str] = field(default_factory=list)
    said: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True, kw_only=True)
class InPieces(Payload):
    """An opened engine: since which day, how many parts were looked at, and how many of them are
    not sound."""

    on: str = ""
    parts: int = 0
    bad: int = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class Signed(Payload):
    """What a person signed higher than the program proposed."""

    by: str = ""
    reason: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Unsettled(Payload):
    """A sample with an open query: which engine its oil is of, or which figure is meant."""

    sample: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class NotReported(Payload):
    """Analytes that were not reported and without which nothing is cleared, by column."""

    missing: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True, kw_only=True)
class HoursOnOil(Payload):
    """Meter units on the oil; `per`: which unit."""

    per: str = ""
    hours: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class HoursDiffer(Payload):
    """Meter units on the oil as reported with the sample, and by the record."""

    reported: float | None = None
    recorded: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Reference(Payload):
    """What stood in for the fresh oil of this batch."""

    used: str = "none"


@dataclass(frozen=True, slots=True, kw_only=True)
class Cleanliness(Payload):
    """ISO 4406 code."""

    code: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class RunInCharge(Payload):
    """Which charge of its life the engine is in."""

    charge: int = 1


@dataclass(frozen=True, slots=True, kw_only=True)
class Expected(Payload):
    """One reading beside what was expected of it [ppm], and whose history that is.

    own_share : of own history, 0 to 1 · own_n : own samples · peers : engines behind the rest
    z : standard deviations above expectation
    """

    value: float | None = None
    censor: int = 0
    expected: float | None = None
    low: float | None = None
    high: float | None = None
    own_share: float | None = None
    own_n: int = 0
    peers: int = 0
    z: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class AboveExpected(Expected):
    """The same where it speaks up: by `sd`, on which samples (`look`), why at that level, and
    whether it is held at Watch for want of company."""

    sd: float | None = None
    look: str = ""
    why: str = ""
    held: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Pattern(Payload):
    """Elements that rise together, by symbol."""

    pattern: str = ""
    sd: float | None = None
    look: str = ""
    why: str = ""
    held: bool = False
    elements: Mapping[str, Expected] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class BySchool(Payload):
    """A reading above what peers, or its own history, show by themselves; `n` stand behind it."""

    value: float | None = None
    expected: float | None = None
    low: float | None = None
    high: float | None = None
    n: int = 0
    sd: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class DustRatio(Payload):
    """Silicon to aluminium with its interval, what it is as of, and which metals it has reached."""

    word: str = ""
    ratio: float | None = None
    low: float | None = None
    high: float | None = None
    wears: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True, kw_only=True)
class CoolantIn(Payload):
    """Coolant's markers: litres by each, whether they agree, what else is there, which bearing
    metals came along. `marker`: the one that is up; `carries`: those the coolant on record would
    show, empty where it is not known."""

    litres: Mapping[str, float | None] = field(default_factory=dict)
    agree: bool = False
    water: bool = False
    glycol: bool = False
    both: bool = False
    marker: str = ""
    carries: list[str] = field(default_factory=list)
    metal: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True, kw_only=True)
class Fingerprint(Payload):
    """What the rises of dirt and coolant are made of: contaminants, how much of each came in, with
    its interval; litres of coolant where `litres`, else ppm of the lead element. `on_record`:
    whether the engine's coolant is known. `left`: elements up that no source here explains;
    `unmeasured`: those that would tell the sources apart; `coolants`: elements up in the ratio of
    the coolant on record."""

    sources: list[str] = field(default_factory=list)
    amounts: list[float] = field(default_factory=list)
    lows: list[float] = field(default_factory=list)
    highs: list[float] = field(default_factory=list)
    litres: bool = False
    on_record: bool = True
    left: list[str] = field(default_factory=list)
    coolants: list[str] = field(default_factory=list)
    unmeasured: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True, kw_only=True)
class Ratio(Payload):
    ratio: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Rise(Payload):
    rise: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Fuel(Payload):
    """Fuel [%]: measured, in the sample before, and the most and least that viscosity allows;
    `drop` of viscosity [%]; `below`: the test found less than `fuel`."""

    fuel: float | None = None
    last: float | None = None
    most: float | None = None
    least: float | None = None
    drop: float | None = None
    below: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Biodiesel(Payload):
    """Biodiesel, and fuel and biodiesel together [%]."""

    fame: float | None = None
    together: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Thick(Payload):
    """Thicker than fresh by so many per cent, explained by what."""

    rise: float | None = None
    why: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True, kw_only=True)
class CopperAlone(Payload):
    """Whether the engine is young, or the oil brand was changed before."""

    young: bool = False
    brand: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Drift(Payload):
    """A habit [ppm] at the first samples of a life, and now."""

    name: str = ""
    first: float | None = None
    now: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Amount(Payload):
    """Water or biodiesel [%]."""

    water: float | None = None
    fame: float | None = None
