"""What oil does by itself: viscosity, contamination, mass balance with top-ups, identity,
cleanliness."""

from .cleanliness import iso_4406
from .contamination import (
    SHEAR,
    DustRatio,
    coolant_litres,
    dust_ratio,
    fuel_from_viscosity,
    fuel_kind,
    with_dust,
)
from .mass_balance import Mixing, mixing, start_of_charge
from .oil_identity import ADDITIVE_OFF, by_oil, mixture, other_oil
from .sources import Fit, Source, fingerprints, lead_element, sources_of
from .viscosity import allowed_range, grade_range, grades_of, viscosity_indices

__all__ = [
    "ADDITIVE_OFF",
    "SHEAR",
    "DustRatio",
    "Fit",
    "Mixing",
    "Source",
    "allowed_range",
    "by_oil",
    "coolant_litres",
    "dust_ratio",
    "fingerprints",
    "fuel_from_viscosity",
    "fuel_kind",
    "grade_range",
    "grades_of",
    "iso_4406",
    "lead_element",
    "mixing",
    "mixture",
    "other_oil",
    "sources_of",
    "start_of_charge",
    "viscosity_indices",
    "with_dust",
]
