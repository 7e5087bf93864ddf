"""How far apart two results may lie by chance alone (the-trade 3.2).

r and R are 95 % limits for the difference of two results, so s = r / 2.77. Source: the power laws
of ASTM D5185 and D445 and the percentage of D2896, all recalled from memory; other tests 10 %, our
choice.
"""

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from .. import tables
from .analytes import ANALYTES, N

Floats = NDArray[np.float64]
LIMIT_FACTOR = 2.77  # 1.96 * sqrt(2): a 95 % limit for the difference of two results


@dataclass(frozen=True, slots=True, kw_only=True)
class PowerLaw:
    """r = r_factor * X**r_power and R likewise, for X between scope_low and scope_high."""

    r_factor: float
    r_power: float
    R_factor: float
    R_power: float
    scope_low: float
    scope_high: float
    origin: str


def _law(row: dict[str, str], origin: str) -> PowerLaw:
    return PowerLaw(
        r_factor=float(row["r_factor"]),
        r_power=float(row["r_power"]),
        R_factor=float(row["R_factor"]),
        R_power=float(row["R_power"]),
        scope_low=float(row["scope_low"] or 0),
        scope_high=float(row["scope_high"] or "inf"),
        origin=origin,
    )


@cache
def precision_laws() -> tuple[PowerLaw, ...]:
    """The precision of each analyte, in the order of ANALYTES; a metal without a law of its own
    takes 10 %."""
    laws = {r["law"]: _law(r, r["origin"]) for r in tables.read("precision_laws")}
    icp = {
        r["symbol"]: _law(r, "ASTM D5185, from memory")
        for r in tables.read("astm_d5185_precision_recalled")
    }
    return tuple(
        icp.get(a.symbol, laws["ten_percent"]) if a.precision == "icp" else laws[a.precision]
        for a in ANALYTES
    )


@cache
def _arrays() -> tuple[Floats, Floats, Floats, Floats, Floats]:
    law = precision_laws()
    # X is never taken below 1 for metals in ppm; for tests on other scales that floor would be
    # wrong.
    floor = np.array([1.0 if a.precision == "icp" else 0.0 for a in ANALYTES])
    return (
        np.array([p.r_factor for p in law]),
        np.array([p.r_power for p in law]),
        np.array([p.R_factor for p in law]),
        np.array([p.R_power for p in law]),
        floor,
    )


def limits_of_difference(x: Floats, detection: Floats | float = 0.0) -> tuple[Floats, Floats]:
    """(r, R) at results `x`, one column an analyte in the order of ANALYTES, unit of each analyte.

    Evaluated at max(x, 1) for metals, floored at half the detection limit, and R is never below r.
    NaN stays NaN.

    >>> from .analytes import idx
    >>> x = np.full((1, N), np.nan); x[0, idx("Fe")] = 50.0
    >>> r, R = limits_of_difference(x)
    >>> round(float(r[0, idx("Fe")]), 2), round(float(R[0, idx("Fe")]), 2)
    (2.97, 11.89)
    """
    if x.shape[-1] != N:
        raise ValueError(f"the last axis must hold the {N} analytes, not {x.shape[-1]}")
    rf, rp, Rf, Rp, floor = _arrays()
    at = np.maximum(np.abs(x), floor)
    r = np.maximum(rf * at**rp, np.asarray(detection) / 2)
    R = np.maximum(np.maximum(Rf * at**Rp, np.asarray(detection) / 2), r)
    return r, R


def standard_deviation(
    x: Floats, detection: Floats | float = 0.0, same_laboratory: bool = True
) -> Floats:
    """s of one result: s_site = sqrt(r R) / 2.77 in one laboratory over days (our choice), else R /
    2.77."""
    r, R = limits_of_difference(x, detection)
    s: Floats = (np.sqrt(r * R) if same_laboratory else R) / LIMIT_FACTOR
    return s
