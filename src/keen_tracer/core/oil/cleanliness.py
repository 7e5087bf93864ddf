"""ISO 4406 code from particle counts, for users who have a counter (the-trade 3.14)."""

from functools import cache

from .. import tables
from ..errors import OutOfRange


@cache
def _scale() -> tuple[tuple[int, float], ...]:
    return tuple(
        (int(r["scale_number"]), float(r["up_to"])) for r in tables.read("iso_4406_2017_table_1")
    )


def scale_number(per_ml: float) -> int:
    """The scale number of a count of particles per mL, 0 to 28; 29 stands for "over 28".

    Raises OutOfRange for a negative count or no number. Source: ISO 4406:2017, table 1, recalled.

    >>> [scale_number(x) for x in (2500, 2501, 320, 13)]
    [18, 19, 15, 11]
    """
    if not per_ml >= 0:
        raise OutOfRange("particles", per_ml, 0, float("inf"), "per mL")
    return next((n for n, up_to in _scale() if per_ml <= up_to), 29)


def iso_4406(over_4: float, over_6: float, over_14: float) -> str:
    """The three-part code of counts over 4, 6 and 14 µm(c), each per mL and each no more than the
    one before.

    Raises OutOfRange where a larger size is counted more often than a smaller one.

    >>> iso_4406(2000, 500, 60)
    '18/16/13'
    """
    if not over_4 >= over_6 >= over_14:
        raise OutOfRange("particles of the larger size", max(over_6, over_14), 0, over_4, "per mL")
    numbers = [scale_number(x) for x in (over_4, over_6, over_14)]
    return "/".join(">28" if n > 28 else str(n) for n in numbers)
