"""Explicit unit conversion, through pint with a small registry of the trade's units (the-trade
3.1)."""

from functools import cache
from importlib.resources import files
from typing import Any

from ..errors import CoreError
from ..terms import PRESSURE_UNITS, VOLUME_UNITS


class UnitMismatch(CoreError):
    """Two units that do not measure the same thing, or a unit nobody knows."""

    code = "unit_mismatch"

    def __init__(self, source: str, target: str):
        self.source, self.target = source, target
        super().__init__(f"{source!r} cannot be converted to {target!r}")


_VOLUMES = (
    *("liter", "milliliter", "US_liquid_quart", "US_liquid_gallon"),
    *("imperial_gallon", "US_fluid_ounce"),
)
# How laboratories write units, against the names in units.txt.
SPELLING = {
    "%": "percent_mass",
    "% mass": "percent_mass",
    "% m/m": "percent_mass",
    "wt%": "percent_mass",
    "ppm": "ppm",
    "mg/kg": "ppm",
    "mm²/s": "mm**2/s",
    "mm2/s": "mm**2/s",
    "cst": "mm**2/s",
    "cSt": "mm**2/s",
    "mg KOH/g": "mgKOH_g",
    "mgKOH/g": "mgKOH_g",
    "A/cm": "A_per_cm",
    "A/0.1mm": "A_per_tenth_mm",
    "A/0.1 mm": "A_per_tenth_mm",
    "°C": "degC",
    "C": "degC",
    "°F": "degF",
    "F": "degF",
    "K": "kelvin",
    "mi": "mile",
    "km": "km",
    "per mL": "1/mL",
    "inH2O": "inH2O",
    "index": "dimensionless",
    **dict(zip(VOLUME_UNITS, _VOLUMES, strict=True)),
    **{name: name for name in PRESSURE_UNITS if name != "inH2O"},
    **{name: name for name in ("h", "min")},
    **{name: name for name in ("mm", "cm", "m", "inch", "mg", "g", "kg")},
}


# Kilograms a litre at 15 °C: from memory, rounded. Engine oils are 0.85 to 0.89; diesel is 0.82 to
# 0.845 by EN 590, petrol 0.72 to 0.775 by EN 228, residual fuel at most 0.991 by ISO 8217.
OIL_DENSITY = 0.87
DENSITIES = {"fuel_pct": 0.84, "water_pct": 1.0, "glycol_pct": 1.11}
FUEL_DENSITIES = {
    **dict.fromkeys(("petrol", "petrol_leaded", "petrol_ethanol"), 0.75),
    "residual": 0.97,
}
BY_VOLUME = "% vol"


def mass_of_volume(column: str, per_cent: float, fuel: str = "") -> float:
    """Per cent by volume of a liquid in the oil as per cent by mass, by `DENSITIES`; a fuel by the
    density of what the engine burns, which is taken for diesel where `fuel` is not known.

    Raises UnitMismatch for what is no liquid in an oil.

    >>> round(mass_of_volume("water_pct", 0.2), 3)
    0.23
    >>> [round(mass_of_volume("fuel_pct", 5.0, fuel), 2) for fuel in ("", "petrol")]
    [4.84, 4.34]
    """
    if column not in DENSITIES:
        raise UnitMismatch(BY_VOLUME, "%")
    density = DENSITIES[column]
    if column == "fuel_pct":
        density = FUEL_DENSITIES.get(fuel, density)
    part = per_cent * density
    return 100.0 * part / (part + (100.0 - per_cent) * OIL_DENSITY)


@cache
def _registry() -> Any:
    import pint

    registry: Any = pint.UnitRegistry(autoconvert_offset_to_baseunit=True, cache_folder=None)
    registry.load_definitions(
        files("keen_tracer.core").joinpath("tables/units.txt").read_text().splitlines()
    )
    return registry


@cache
def _line(source: str, target: str) -> tuple[float, float]:
    """Factor and offset of source → target. Every conversion here is a straight line."""
    import pint

    # Only names of the table ever reach pint: its own grammar takes powers and sums, and time.
    a, b = (SPELLING.get(u.strip()) for u in (source, target))
    if a is None or b is None:
        raise UnitMismatch(source, target)
    registry = _registry()
    try:
        zero = float(registry.Quantity(0.0, a).to(b).magnitude)
        one = float(registry.Quantity(1.0, a).to(b).magnitude)
    except (pint.errors.PintError, AttributeError, ValueError, AssertionError) as error:
        raise UnitMismatch(source, target) from error
    return one - zero, zero


def convert(value: float, source: str, target: str) -> float:
    """`value` in `source` units, expressed in `target` units.

    Raises UnitMismatch when the two do not measure the same thing. Source: pint's registry, with
    1 % (mass) = 10 000 ppm = 10 000 mg/kg by definition.

    >>> round(convert(0.2, "%", "ppm"))
    2000
    >>> round(convert(212, "°F", "°C"), 6)
    100.0
    """
    if source == target:
        return value
    factor, offset = _line(source, target)
    return factor * value + offset
