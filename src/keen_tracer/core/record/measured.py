"""Test results as figures: what a gauge reads against the maker's figure, or a general one
(the-trade 3.14, 3.19).

The typed criterion comes first, then the model's own, then the general one, whose origin stands
here.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from statistics import median

from ..laboratory import convert, plain_text
from ..terms import DETAIL
from .event_details import detail_number, detail_numbers
from .fact_kinds import fact_kinds
from .ladders import BAR_PER_1000_RPM, CLEARS, IDLE_FLOOR_BAR, KEPT, pressure, rated_rpm
from .meanings import told

FALL_BAR, HELD_MIN = 0.05, 5.0  # what a gauge can tell, and minutes to hold; our choice
ONE_LOW, VERY_LOW = 0.15, 0.25  # below the best cylinder; common practice, from memory
LEAKS_PCT, GROSS_PCT = 20.0, 40.0  # leak-down; common practice, from memory
TIMES_OTHERS = 2.0  # leak-off of one injector over the median of all; common practice
CRANKCASE_MBAR, CRANKCASE_ACT_MBAR = 10.0, 25.0  # our choice; the maker's figure comes first


@dataclass(frozen=True, slots=True, kw_only=True)
class Measured:
    """What the figures of a test come to: the code of its result, and the figures in words.

    limit_from : "typed", "model" or "general"
    evidence : what they show beside the result, evidence → seen
    blunt : a good result that is too near the mark to speak against anything
    """

    result: str
    said: str
    limit_from: str = "general"
    evidence: tuple[tuple[str, bool], ...] = ()
    blunt: bool = False


@dataclass(frozen=True, slots=True)
class _Figures:
    """The details of one check, as numbers."""

    details: Mapping[str, str]
    limits: Mapping[str, float]

    def has(self, *names: str) -> bool:
        return any(self.details.get(n, "").strip() for n in names)

    def text(self, name: str) -> str:
        """A figure as it was written, with its unit."""
        return f"{self.details[name].strip()} {self.unit(name)}"

    def unit(self, name: str) -> str:
        detail = DETAIL[name]
        return (
            (self.details.get("pressure_unit") or detail.unit) if detail.pressure else detail.unit
        )

    def number(self, name: str) -> float | None:
        """In the detail's own unit."""
        return detail_number(self.details, name)

    def numbers(self, name: str) -> list[float]:
        return detail_numbers(self.details, name)

    def criterion(self, name: str, general: float) -> tuple[float, str]:
        """(limit, where it comes from)."""
        typed = self.number(name)
        if typed is not None:
            return typed, "typed"
        return (self.limits[name], "model") if name in self.limits else (general, "general")


_PRESSURES = {"hot_idle": "at idle", "hot_rated": "at speed"}
_BY_LEVEL = ("enough", "lower", "much_lower", "low")


def _floor(f: _Figures, name: str) -> tuple[float, str]:
    """(lowest hot pressure [bar], where it comes from): the figure given, the model's, else about
    0.7 bar per 1 000 rpm and 0.5 bar at idle."""
    if name == "hot_idle":
        return f.criterion("minimum_hot", IDLE_FLOOR_BAR)
    rpm = f.number("speed_rpm") or f.limits.get("rated_rpm", rated_rpm("other"))
    return f.criterion("minimum_rated", BAR_PER_1000_RPM * rpm / 1000)


@dataclass(frozen=True, slots=True)
class _Pressure:
    """One hot reading: its level, in words, where its floor comes from, and whether it clears."""

    level: int
    said: str
    origin: str
    clears: bool


def _one_pressure(f: _Figures, name: str) -> _Pressure | None:
    """One hot reading against its floor and its habit; None where it was not read."""
    bar = f.number(name)
    if bar is None:
        return None
    limit, origin = _floor(f, name)
    habit = f.limits.get(f"habit_{name}")
    level = pressure(bar, limit, origin != "general", habit)
    shown = limit if f.unit(name) == "bar" else convert(limit, "bar", f.unit(name))
    said = (
        f"{f.text(name)} hot {_PRESSURES[name]} against at least {plain_text(shown)} {f.unit(name)}"
    )
    if habit is not None and level:
        own = habit if f.unit(name) == "bar" else convert(habit, "bar", f.unit(name))
        said += f" and {plain_text(own)} {f.unit(name)} before"
    own_kept = habit is not None and bar >= KEPT * habit
    return _Pressure(level, said, origin, own_kept or bar >= CLEARS[origin != "general"] * limit)


def _oil_pressure(f: _Figures) -> Measured | None:
    """Every hot reading counts; the worst one decides."""
    if not f.has("hot_idle", "hot_rated", "cold"):
        return None
    read = [x for x in (_one_pressure(f, name) for name in _PRESSURES) if x is not None]
    if not read:
        return Measured(result="cold_only", said=f"{f.text('cold')} cold")
    level = max(x.level for x in read)
    worst = [x for x in read if x.level == level]
    return Measured(
        result=_BY_LEVEL[level],
        said=" and ".join(x.said for x in worst),
        limit_from=worst[0].origin,
        blunt=not all(x.clears for x in read),
    )


def _pressure_test(f: _Figures) -> Measured | None:
    if not f.has("drop"):
        return None
    limit, origin = f.criterion("allowed_drop", FALL_BAR)
    held, drop = f.number("minutes"), f.number("drop") or 0.0
    long = f" in {f.details['minutes']} min" if held is not None else ""
    said = f"fell by {f.text('drop')}{long}"
    if drop > limit:
        return Measured(result="falls", said=said, limit_from=origin)
    short = held is None or held < HELD_MIN
    return Measured(result="short" if short else "holds", said=said, limit_from=origin)


def _cylinder(values: list[float], worst: float) -> str:
    return f"cylinder {values.index(worst) + 1}"


def _compression(f: _Figures) -> Measured | None:
    values = f.numbers("cylinders")
    if not values:
        return None
    best, worst = max(values), min(values)
    limit, origin = f.criterion("allowed_spread", 100 * ONE_LOW)
    below = 1 - worst / best if best > 0 else 1.0
    said = f"{_cylinder(values, worst)} {100 * below:.0f} % below the best ({f.text('cylinders')})"
    if 100 * below <= limit:
        return Measured(result="even", said=f.text("cylinders"), limit_from=origin)
    return Measured(
        result="very_low" if below >= VERY_LOW else "one_low", said=said, limit_from=origin
    )


def ways_out(heard: str, leaks: bool) -> tuple[tuple[str, bool], ...]:
    """Where the air of a leak-down comes out, as evidence: one that comes out nowhere clears every
    way, and only a leak shows one. "" where nobody listened.

    >>> ways_out("coolant", True)[-1]
    ('air_in_coolant', True)
    """
    ways = {word: fact_kinds()[fact].evidence for word, fact in told("air_heard").items()}
    shown = ways.get(heard)
    return tuple(
        (code, code == shown)
        for code in dict.fromkeys(ways.values())
        if heard and (code != shown or leaks)
    )


def _leak_down(f: _Figures) -> Measured | None:
    values = f.numbers("leaks")
    if not values:
        return None
    worst = max(values)
    limit, origin = f.criterion("allowed_leak", LEAKS_PCT)
    evidence = ways_out(f.details.get("air_heard", ""), worst > limit)
    said = f"{_cylinder(values, worst)} {worst:g} %"
    if worst <= limit:
        return Measured(result="even", said=f.text("leaks"), limit_from=origin, evidence=evidence)
    gross = worst > max(GROSS_PCT, limit)
    return Measured(
        result="gross" if gross else "leaks", said=said, limit_from=origin, evidence=evidence
    )


def _leak_off(f: _Figures) -> Measured | None:
    values = f.numbers("returned")
    if not values:
        return None
    worst = max(values)
    others = sorted(values)[:-1] or [worst]
    limit, origin = f.criterion("allowed_ml", TIMES_OTHERS * median(others))
    if worst <= limit:
        return Measured(result="even", said=f.text("returned"), limit_from=origin)
    said = f"injector {values.index(worst) + 1} {worst:g} mL, the others {median(others):g} mL"
    return Measured(result="one_leaks", said=said, limit_from=origin)


def _crankcase(f: _Figures) -> Measured | None:
    value = f.number("crankcase_pressure")
    if value is None:
        return None
    limit, origin = f.criterion("allowed_crankcase", CRANKCASE_MBAR)
    act = limit * CRANKCASE_ACT_MBAR / CRANKCASE_MBAR
    result = "very_high" if value > act else "high" if value > limit else "usual"
    return Measured(result=result, said=f.text("crankcase_pressure"), limit_from=origin)


def _level(f: _Figures) -> Measured | None:
    over, marks = f.number("above_full_mm"), f.number("between_marks_mm")
    if over is None:
        return None
    said = f"{f.details['above_full_mm'].strip()} mm above full"
    litres = f.number("between_marks_l")
    if litres is None:
        litres = f.limits.get("between_marks_l")
    if over > 0 and marks and litres:
        said += f", about {over / marks * litres:.2g} L too much"
    low = over < 0 and marks is not None and -over > marks
    return Measured(
        result="above_full" if over > 0 else "below_low" if low else "between", said=said
    )


def _layers(f: _Figures) -> Measured | None:
    coolant = f.number("coolant_drained_l")
    if coolant is None:
        return None
    said = f"{f.details['coolant_drained_l'].strip()} L came first"
    if f.has("oil_drained_l"):
        said += f", then {f.details['oil_drained_l'].strip()} L of oil"
    return Measured(result="coolant" if coolant > 0 else "oil_only", said=said)


_RULES: Mapping[str, Callable[[_Figures], Measured | None]] = {
    "oil_pressure": _oil_pressure,
    "cooling": _pressure_test,
    "cooler": _pressure_test,
    "compression": _compression,
    "leak_down": _leak_down,
    "leak_off": _leak_off,
    "crankcase": _crankcase,
    "level": _level,
    "layers": _layers,
}


def measured(
    check: str, details: Mapping[str, str], limits: Mapping[str, float]
) -> Measured | None:
    """What the figures of a check come to; None where it has none. Raises OutOfRange for a figure
    that cannot be meant.

    >>> measured("compression", {"cylinders": "28 27 19 28"}, {}).result
    'very_low'
    """
    rule = _RULES.get(check)
    return rule(_Figures(details, limits)) if rule else None
