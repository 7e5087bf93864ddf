"""What a laboratory can report, and which channel of the verdict each analyte speaks to."""

from dataclasses import dataclass

from .. import tables
from ..errors import UnknownName


@dataclass(frozen=True, slots=True)
class Analyte:
    """One line of `tables/analytes.csv`. `index` is its place in every array of the core."""

    index: int
    code: int
    column: str
    symbol: str
    name: str
    unit: str
    channel: str
    kind: str
    precision: str


ANALYTES: tuple[Analyte, ...] = tuple(
    Analyte(
        i,
        int(r["code"]),
        r["column"],
        r["symbol"],
        r["name"],
        r["unit"],
        r["channel"],
        r["kind"],
        r["precision"],
    )
    for i, r in enumerate(tables.read("analytes"))
)
N = len(ANALYTES)
BY_COLUMN = {a.column: a for a in ANALYTES}
BY_SYMBOL = {a.symbol: a for a in ANALYTES}
BY_CODE = {a.code: a for a in ANALYTES}


def analyte(column: str) -> Analyte:
    """The analyte of a column name.

    >>> analyte("Fe_ppm").name
    'Iron'
    """
    try:
        return BY_COLUMN[column]
    except KeyError:
        raise UnknownName("analyte", column, list(BY_COLUMN)) from None


def idx(symbol: str) -> int:
    """Array place of a symbol; for naming columns of an array in the code.

    >>> idx("Fe")
    0
    """
    return BY_SYMBOL[symbol].index
