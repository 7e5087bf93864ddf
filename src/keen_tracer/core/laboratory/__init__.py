"""What a laboratory reports: analytes, units, readings, how precise they are, what counts as a
change."""

from .analytes import (
    ANALYTES,
    BY_CODE,
    BY_COLUMN,
    BY_SYMBOL,
    Analyte,
    N,
    analyte,
    columns,
    idx,
    with_role,
)
from .precision import LIMIT_FACTOR, limits_of_difference, precision_laws, standard_deviation
from .reading import (
    ABOVE,
    BELOW,
    EXACT,
    POSITIVE,
    WORDS,
    Censor,
    number_text,
    parse_reading,
    plain_text,
    reading_text,
)
from .significant_change import Change, significant_change
from .units import (
    BY_VOLUME,
    DENSITIES,
    OIL_DENSITY,
    SPELLING,
    UnitMismatch,
    convert,
    mass_of_volume,
)

__all__ = [
    "ABOVE",
    "ANALYTES",
    "BELOW",
    "BY_CODE",
    "BY_COLUMN",
    "BY_SYMBOL",
    "BY_VOLUME",
    "DENSITIES",
    "EXACT",
    "LIMIT_FACTOR",
    "OIL_DENSITY",
    "POSITIVE",
    "SPELLING",
    "WORDS",
    "Analyte",
    "Censor",
    "Change",
    "N",
    "UnitMismatch",
    "analyte",
    "columns",
    "convert",
    "idx",
    "limits_of_difference",
    "mass_of_volume",
    "number_text",
    "parse_reading",
    "plain_text",
    "precision_laws",
    "reading_text",
    "significant_change",
    "standard_deviation",
    "with_role",
]
