"""Unit conversions against scipy.constants, which takes them from CODATA and NIST."""

import pytest
from scipy import constants

from keen_tracer.core.laboratory import UnitMismatch, convert, mass_of_volume

CASES = [
    ("US gal", "L", constants.gallon * 1000),
    ("US qt", "L", constants.gallon * 1000 / 4),
    ("imp gal", "L", constants.gallon_imp * 1000),
    ("fl oz", "L", constants.fluid_ounce_US * 1000),
    ("mi", "km", constants.mile / 1000),
    ("psi", "kPa", constants.psi / 1000),
    ("psi", "bar", constants.psi / constants.bar),
    ("%", "ppm", 1e4),
    ("%", "mg/kg", 1e4),
    ("ppm", "mg/kg", 1.0),
    ("cSt", "mm²/s", 1.0),
]


@pytest.mark.parametrize(("a", "b", "factor"), CASES)
def test_factors(a: str, b: str, factor: float) -> None:
    assert convert(1.0, a, b) == pytest.approx(factor, rel=1e-9)
    assert convert(3.7, b, a) == pytest.approx(3.7 / factor, rel=1e-9)


@pytest.mark.parametrize("t", [-40.0, 0.0, 98.6, 212.0])
def test_temperatures(t: float) -> None:
    celsius = float(constants.convert_temperature(t, "Fahrenheit", "Celsius"))
    assert convert(t, "°F", "°C") == pytest.approx(celsius, abs=1e-9)
    assert convert(t, "°F", "K") == pytest.approx(
        float(constants.convert_temperature(t, "F", "K")), abs=1e-9
    )


@pytest.mark.parametrize(
    ("column", "fuel", "millilitres", "grams_a_litre"),
    [
        ("water_pct", "diesel", 2.0, 999.1),
        ("fuel_pct", "diesel", 25.0, 835.0),
        ("fuel_pct", "petrol", 40.0, 747.0),
        ("fuel_pct", "petrol_leaded", 40.0, 747.0),
        ("glycol_pct", "petrol", 5.0, 1113.0),
    ],
)
def test_a_volume_weighed_is_the_mass_we_say(
    column: str, fuel: str, millilitres: float, grams_a_litre: float
) -> None:
    """A litre put together and weighed, by densities of handbooks at 15 to 20 °C (water 999.1, CRC
    Handbook of Chemistry and Physics; ethylene glycol 1113, the same; diesel 835, the middle of EN
    590; petrol 747, the middle of EN 228), all from memory, in an oil of 870 g a litre: within one
    part in fifty of ours."""
    grams = millilitres / 1000 * grams_a_litre
    weighed = 100 * grams / (grams + (1000 - millilitres) / 1000 * 870.0)
    assert mass_of_volume(column, millilitres / 10, fuel) == pytest.approx(weighed, rel=0.02)
    with pytest.raises(UnitMismatch):
        mass_of_volume("Fe_ppm", millilitres)
