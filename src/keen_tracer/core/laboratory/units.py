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
