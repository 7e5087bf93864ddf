"""What a laboratory can report, and which channel of the verdict each analyte speaks to."""

from dataclasses import dataclass

from .. import tables
from ..errors import UnknownName


@dataclass(frozen=True, slots=True, kw_only=True)
class Analyte:
    """One line of `tables/analytes.csv`: everything the program knows of an analyte.

    index : its place in every array of the core · code : its number in the database
    precision : "icp", or a law of `precision_laws.csv` · in_fresh : fresh oil holds some of itself,
        so that an early reading may stand in for it · falls : falls in service
    expected : on which scale peers and own history make an expectation of it: "rise", "fall",
        "level" or "share"; "" where they make none
    started, spread, guess : constant of that scale's logarithm, sd of one engine on it, what is
        expected of an engine nobody knows; 0 where the rule of metals holds
    run_in : share by which a new life's rate is higher at first · brand_sd : sd of y at a change of
        oil brand · ageing : form in which the oil ages by it, "" where it does not
    drift : share by which it may move in service and from batch to batch beside the test's noise;
        above 0 it is part of an oil's fingerprint
    lane : "always" or "never" drawn on the Engine page, "" once it was seen
    roles : the sets it belongs to, see `with_role`
    """

    index: int
    code: int
    column: str
    symbol: str
    name: str
    unit: str
    channel: str
    kind: str
    precision: str
    in_fresh: bool
    falls: bool
    expected: str
    started: float
    spread: float
    guess: float
    run_in: float
    brand_sd: float
    drift: float
    ageing: str
    lane: str
    roles: frozenset[str]


# What a role means stands where it is used; a row of the table may name no other.
ROLES = frozenset(
    {
        "run_in_excused",  # high in the first charges of a life, and has to fall
        "bearing_metal",  # its rise beside glycol stops the engine
        "clears_wear",  # without it wear is never called steady
        "anchored",  # fixed by the fresh oil: a power of ten off it is a slip
        "both_sides",  # a habit it lies under is a finding as one it lies over
        "share",  # in %, and over half of the oil is a slip
        "falls_when_drained",  # falls together with its like where the oil was changed
        "spends_oil",  # past its Act limit the oil is done
        "evidence",  # up or as usual, it speaks for or against failure modes
        "usual_sheet",  # asked for on a sheet of figures when nobody knows what the laboratory has
        "fresh_sheet",  # asked for of a fresh oil
    }
)


def _analyte(index: int, r: dict[str, str]) -> Analyte:
    roles = frozenset(r["roles"].split(";")) - {""}
    if roles - ROLES:
        raise UnknownName("role of an analyte", sorted(roles - ROLES)[0], sorted(ROLES))
    return Analyte(
        index=index,
        code=int(r["code"]),
        column=r["column"],
        symbol=r["symbol"],
        name=r["name"],
        unit=r["unit"],
        channel=r["channel"],
        kind=r["kind"],
        precision=r["precision"],
        in_fresh=r["in_fresh"] == "yes",
        falls=r["falls"] == "yes",
        expected=r["expected"],
        started=float(r["started"] or 0),
        spread=float(r["spread"] or 0),
        guess=float(r["guess"] or 0),
        run_in=float(r["run_in"] or 0),
        brand_sd=float(r["brand_sd"] or 0),
        drift=float(r["drift"] or 0),
        ageing=r["ageing"],
        lane=r["lane"],
        roles=roles,
    )


ANALYTES: tuple[Analyte, ...] = tuple(_analyte(i, r) for i, r in enumerate(tables.read("analytes")))
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


def with_role(role: str) -> list[Analyte]:
    """The analytes of a role, in the order of the table.

    >>> [a.symbol for a in with_role("bearing_metal")]
    ['Pb', 'Cu', 'Sn']
    """
    if role not in ROLES:
        raise UnknownName("role of an analyte", role, sorted(ROLES))
    return [a for a in ANALYTES if role in a.roles]


def columns(role: str) -> list[int]:
    """Array places of the analytes of a role."""
    return [a.index for a in with_role(role)]
