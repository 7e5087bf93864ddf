"""Dirt, coolant and fuel by the figures (the-trade 3.8, 3.9): pure functions, each with its
interval or its bound."""

import math
from dataclasses import dataclass

from ..certainty import SURE
from ..errors import OutOfRange
from .viscosity import walther

# Test dust of ISO 12103-1 (SiO2 68-76 %, Al2O3 10-15 %): Si is 0.4674 of SiO2, Al 0.5293 of Al2O3
# by mass.
SILICON_IN_SILICA, ALUMINIUM_IN_ALUMINA = 0.46744, 0.52925
DUST, CLAY, CASTING, SEALANT = (4.0, 7.0), (2.0, 4.0), 1.0, 10.0  # Si : Al by mass, the-trade 3.9
LEAST_SILICON, LEAST_ALUMINIUM = 5.0, 3.0  # ppm above fresh before a ratio is read; the-trade 3.9
# What 50 ppm of silicon as dust brings along, ppm (low, high); the-trade 3.9.
WITH_DUST = {"K": (2.0, 6.0), "Na": (2.0, 5.0), "Fe": (2.0, 6.0)}
OIL_DENSITY, COOLANT_DENSITY = 0.87, 1.07  # kg/L, the-trade 3.9
FUEL_KV100 = {"diesel": 1.1, "biodiesel": 1.7, "petrol": 0.45}  # mm²/s; our choice (the-trade 3.8)
SHEAR = 0.10  # of KV100 that polymer shear may take; common practice (5-15 %)


@dataclass(frozen=True, slots=True)
class DustRatio:
    """Silicon over aluminium, both above fresh oil [mass ratio], 95 %. `high` infinite: aluminium
    may be nothing.

    word : "dust", "clay" (or dust with piston wear), "casting", "sealant" (sealant, antifoam,
        siloxane, silicated
    coolant), "unclear" where the interval covers more than one of them, "too little" where there is
    nothing to divide
    """

    ratio: float | None
    low: float
    high: float
    word: str


def dust_of_iso_12103() -> tuple[float, float]:
    """The Si : Al mass ratio that test dust of ISO 12103-1 can have.

    Source: composition ranges of ISO 12103-1; stoichiometry.

    >>> [round(x, 1) for x in dust_of_iso_12103()]
    [4.0, 6.7]
    """
    low = 0.68 * SILICON_IN_SILICA / (0.15 * ALUMINIUM_IN_ALUMINA)
    return low, 0.76 * SILICON_IN_SILICA / (0.10 * ALUMINIUM_IN_ALUMINA)


def dust_ratio(
    silicon: float, silicon_sd: float, aluminium: float, aluminium_sd: float
) -> DustRatio:
    """The dust ratio of two rises above fresh oil [ppm] with their standard deviations, both above
    0.

    The interval is Fieller's (E. C. Fieller, 1954, "Some problems in interval estimation"). Raises
    OutOfRange for a rise that is no number, or a standard deviation not above 0. Zero aluminium:
    the ratio has no upper end.

    >>> dust_ratio(40, 1.5, 8, 0.8).word, dust_ratio(40, 1.5, 0.5, 0.8).word
    ('dust', 'sealant')
    >>> dust_ratio(3, 1, 1, 1).word
    'too little'
    """
    if not (silicon_sd > 0 and aluminium_sd > 0):
        raise OutOfRange("standard deviation", min(silicon_sd, aluminium_sd), 0, math.inf, "ppm")
    if not (math.isfinite(silicon) and math.isfinite(aluminium)):
        raise OutOfRange(
            "rise", silicon if math.isfinite(aluminium) else aluminium, -math.inf, math.inf, "ppm"
        )
    if not silicon >= LEAST_SILICON:
        return DustRatio(None, 0.0, math.inf, "too little")
    low, high = _fieller(silicon, silicon_sd, aluminium, aluminium_sd)
    ratio = silicon / aluminium if aluminium >= LEAST_ALUMINIUM else None
    return DustRatio(ratio, low, high, _dust_word(ratio, low, high))


def _fieller(a: float, sa: float, b: float, sb: float) -> tuple[float, float]:
    """95 % interval of a/b for a, b from 0 on."""
    z2 = SURE**2
    denominator = b * b - z2 * sb * sb
    root = math.sqrt(max(a * a * b * b - denominator * (a * a - z2 * sa * sa), 0.0))
    if (
        b <= 0 or denominator <= 0
    ):  # aluminium is not proven above zero: only the lower end is known
        return max(a - SURE * sa, 0.0) / max(b + SURE * sb, 1e-9), math.inf
    return max((a * b - root) / denominator, 0.0), (a * b + root) / denominator


def _dust_word(ratio: float | None, low: float, high: float) -> str:
    if low >= SEALANT:
        return "sealant"
    if ratio is None:
        return "unclear"
    if DUST[0] <= ratio <= DUST[1]:
        return "dust"
    if high < CASTING:
        return "casting"
    if CLAY[0] <= ratio < CLAY[1]:
        return "clay"
    return "sealant" if ratio > SEALANT else "unclear"


def coolant_litres(
    rise_mg_kg: float,
    oil_l: float,
    in_coolant_mg_kg: float,
    oil_density: float = OIL_DENSITY,
    coolant_density: float = COOLANT_DENSITY,
) -> float:
    """Litres of coolant that a rise of sodium or potassium means; a lower bound, since markers
    also plate out.

    rise_mg_kg : above fresh oil, from 0; oil_l : oil in the engine [L], above 0; in_coolant_mg_kg :
        of that element in
    the coolant, above 0. Raises OutOfRange. Source: mass balance (the-trade 3.9).

    >>> round(coolant_litres(50, 20, 4000), 3)
    0.203
    """
    for name, x in (
        ("oil", oil_l),
        ("marker in the coolant", in_coolant_mg_kg),
        ("density", oil_density),
        ("density", coolant_density),
    ):
        if not x > 0:
            raise OutOfRange(name, x, 0, math.inf, "")
    if not rise_mg_kg >= 0:
        raise OutOfRange("rise", rise_mg_kg, 0, math.inf, "mg/kg")
    return rise_mg_kg * oil_l * oil_density / (in_coolant_mg_kg * coolant_density)


def with_dust(silicon_rise: float, element: str) -> tuple[float, float]:
    """How much of an element (K, Na, Fe) dust of this silicon brings along itself [ppm] (low,
    high).

    >>> with_dust(25, "K")
    (1.0, 3.0)
    """
    low, high = WITH_DUST[element]
    part = max(silicon_rise, 0.0) / 50.0
    return low * part, high * part


def fuel_from_viscosity(kv100_mm2_s: float, kv100_oil_mm2_s: float, fuel: str = "diesel") -> float:
    """Mass fraction of fuel (0 to 1) that would thin the oil this far; an upper bound, since shear
    thins too.

    Both viscosities from 1 to 100 mm²/s, the oil's above the fuel's; OutOfRange otherwise. Thicker
    than the oil: 0. Source: blending rule of ASTM D7152 on the double logarithm of ASTM D341; fuel
    viscosities our choice.

    >>> round(100 * fuel_from_viscosity(11.76, 14.5), 1)
    5.0
    """
    for x in (kv100_mm2_s, kv100_oil_mm2_s):
        if not 1.0 <= x <= 100.0:
            raise OutOfRange("KV100", x, 1, 100, "mm²/s")
    thin = walther(FUEL_KV100[fuel])
    whole = walther(kv100_oil_mm2_s)
    return min(max((walther(kv100_mm2_s) - whole) / (thin - whole), 0.0), 1.0)


def fuel_kind(engine_fuel: str) -> str:
    """The fuel of the register as one of FUEL_KV100; what is not said is taken as diesel.

    >>> fuel_kind("petrol_leaded"), fuel_kind("biodiesel_blend"), fuel_kind("")
    ('petrol', 'biodiesel', 'diesel')
    """
    return (
        "petrol"
        if engine_fuel.startswith("petrol")
        else "biodiesel"
        if engine_fuel.startswith("bio")
        else "diesel"
    )
