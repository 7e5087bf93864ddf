"""How much fuel is in the oil, biodiesel with it."""

import math

from ..laboratory import ABOVE, EXACT, idx
from ..record import Fleet

_FUEL, _BIODIESEL = idx("Fuel"), idx("FAME")


def _measured(fleet: Fleet, i: int, n: int) -> float:
    known = fleet.censor[i, n] in (EXACT, ABOVE)
    return float(fleet.value[i, n]) if known else math.nan


def biodiesel(fleet: Fleet, i: int) -> float:
    """% of biodiesel in the i-th sample; 0 where none was found or nobody measured it."""
    fame = _measured(fleet, i, _BIODIESEL)
    return fame if fame > 0 else 0.0


def fuel_in_all(fleet: Fleet, i: int) -> float:
    """% of fuel and biodiesel together in the i-th sample; NaN where neither was measured. The
    vapour that fuel is measured by holds hardly any biodiesel, so the two are added (the-trade
    3.9)."""
    fuel, fame = _measured(fleet, i, _FUEL), biodiesel(fleet, i)
    return fame + (0.0 if math.isnan(fuel) else fuel) if fame else fuel
