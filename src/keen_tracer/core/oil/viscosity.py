"""Viscosity grades and the temperature law (the-trade 3.8)."""

import math
from functools import cache

import numpy as np

from .. import tables
from ..errors import OutOfRange, UnknownName
from ..record import Floats


@cache
def grade_table() -> dict[str, tuple[float, float]]:
    """KV100 range [mm²/s] of every grade of SAE J300: lower limit included, upper excluded."""
    return {
        r["grade"]: (float(r["kv100_min"]), float(r["kv100_max"] or "inf"))
        for r in tables.read("sae_j300_kv100")
    }


@cache
def grade_range(grade: str) -> tuple[float, float]:
    """KV100 range [mm²/s] an oil of `grade` ("40", "10W-40", "15W") must lie in.

    A multigrade must meet the range of its hot grade and the minimum of its winter grade.

    >>> grade_range("10W-40")
    (12.5, 16.3)
    """
    table = grade_table()
    low, high = 0.0, math.inf
    for part in grade.replace(" ", "").upper().removeprefix("SAE").split("-"):
        if part not in table:
            raise UnknownName("viscosity grade", grade, list(table))
        low, high = max(low, table[part][0]), min(high, table[part][1])
    return low, high


def grades_of(kv100_mm2_s: float) -> list[str]:
    """Every single grade (8 to 60) that `kv100_mm2_s` lies in; the low ones overlap, so it is a
    list.

    Source: SAE J300. Raises OutOfRange outside 1 to 100 mm²/s.

    >>> grades_of(6.95)
    ['12', '16', '20']
    """
    if not 1.0 <= kv100_mm2_s <= 100.0:
        raise OutOfRange("KV100", kv100_mm2_s, 1, 100, "mm²/s")
    return [
        g
        for g, (low, high) in grade_table().items()
        if not g.endswith("W") and low <= kv100_mm2_s < high
    ]


@cache
def allowed_range(grades: tuple[str, ...]) -> tuple[float, float] | None:
    """The lowest and highest KV100 [mm²/s] that some allowed grade accepts; None without a list."""
    if not grades:
        return None
    ranges = [grade_range(g) for g in grades]
    return min(r[0] for r in ranges), max(r[1] for r in ranges)


def _z(nu: float) -> float:
    return nu + 0.7 + math.exp(-1.47 - 1.84 * nu - 0.51 * nu * nu)


def walther(nu: float) -> float:
    """log10 log10 Z of a kinematic viscosity [mm²/s], above 0: the scale on which oils blend and
    cool in straight lines.

    Source: ASTM D341, Z = nu + 0.7 + exp(-1.47 - 1.84 nu - 0.51 nu²).

    >>> round(walther(14.5), 4)
    0.0726
    """
    return math.log10(math.log10(_z(nu)))


def viscosity_at(t_c: float, kv40_mm2_s: float, kv100_mm2_s: float) -> float:
    """Kinematic viscosity [mm²/s] at `t_c` [°C] of an oil known at 40 °C and 100 °C.

    Source: ASTM D341, log log Z = A - B log T, with the inverse of Z given there. Valid from 2
    mm²/s. Raises OutOfRange for a kv100 below 2 or not below kv40, or a temperature outside -40 to
    150 °C.

    >>> round(viscosity_at(100, 95.0, 14.0), 2)
    14.0
    """
    if not 2 <= kv100_mm2_s < kv40_mm2_s:
        raise OutOfRange("KV100", kv100_mm2_s, 2, kv40_mm2_s, "mm²/s")
    if not -40 <= t_c <= 150:
        raise OutOfRange("temperature", t_c, -40, 150, "°C")
    w40, w100 = walther(kv40_mm2_s), walther(kv100_mm2_s)
    l40, l100, lt = (math.log10(t + 273.15) for t in (40.0, 100.0, t_c))
    z = 10**10 ** (w40 + (w100 - w40) * (lt - l40) / (l100 - l40))
    y = z - 0.7
    return y - math.exp(-0.7487 - 3.295 * y + 0.6119 * y * y - 0.3193 * y**3)


@cache
def _l_and_h_table() -> tuple[Floats, Floats, Floats]:
    found = tables.read("astm_d2270_2010_table_1")
    kv100, low, high = (np.array([float(r[k]) for r in found]) for k in ("kv100", "l", "h"))
    return kv100, low, high


def viscosity_indices(kv40_mm2_s: Floats, kv100_mm2_s: Floats) -> Floats:
    """Viscosity index of many lubricants [-], NaN where `viscosity_index` would refuse."""
    table, lows, highs = _l_and_h_table()
    with np.errstate(invalid="ignore", divide="ignore", over="ignore"):
        known = (
            (kv100_mm2_s >= 2)
            & (kv100_mm2_s <= 500)
            & (kv40_mm2_s > kv100_mm2_s)
            & np.isfinite(kv40_mm2_s)
        )
        tabled = kv100_mm2_s <= 70
        low = np.where(
            tabled,
            np.interp(kv100_mm2_s, table, lows),
            (0.8353 * kv100_mm2_s + 14.67) * kv100_mm2_s - 216,
        )
        high = np.where(
            tabled,
            np.interp(kv100_mm2_s, table, highs),
            (0.1684 * kv100_mm2_s + 11.85) * kv100_mm2_s - 97,
        )
        n = np.log10(high / kv40_mm2_s) / np.log10(kv100_mm2_s)
        index = np.where(
            kv40_mm2_s >= high, 100 * (low - kv40_mm2_s) / (low - high), (10**n - 1) / 0.00715 + 100
        )
    out: Floats = np.where(known, index, np.nan)
    return out


def viscosity_index(kv40_mm2_s: float, kv100_mm2_s: float) -> float:
    """Viscosity index of a lubricant [-].

    kv40_mm2_s, kv100_mm2_s : kinematic viscosity at 40 °C and 100 °C [mm²/s]; kv100 from 2 to 500,
    and below kv40. Raises OutOfRange outside that. Source: ASTM D2270-10, table 1 interpolated to
    70 mm²/s, its equations above.

    >>> round(viscosity_index(73.30, 8.86))   # worked example of the standard
    92
    """
    if not 2 <= kv100_mm2_s <= 500:
        raise OutOfRange("KV100", kv100_mm2_s, 2, 500, "mm²/s")
    if not kv100_mm2_s < kv40_mm2_s < math.inf:
        raise OutOfRange("KV40", kv40_mm2_s, kv100_mm2_s, math.inf, "mm²/s")
    return float(viscosity_indices(np.array([kv40_mm2_s]), np.array([kv100_mm2_s]))[0])
