"""What a laboratory writes in a cell, read without losing what it means (the-trade 3.1)."""

import math
import re
from dataclasses import dataclass
from enum import IntEnum

from ..errors import Unreadable


class Censor(IntEnum):
    """What kind of statement a reading makes. Stored: never renumber."""

    EXACT = 0
    BELOW = 1  # below `value`, the detection limit
    ABOVE = 2  # above `value`
    ND = 3  # not detected, limit not given
    TRACE = 4  # seen, too little to put a number on
    POSITIVE = 5
    NEGATIVE = 6


# The same as plain numbers, for arrays.
EXACT, BELOW, ABOVE, POSITIVE = (
    int(c) for c in (Censor.EXACT, Censor.BELOW, Censor.ABOVE, Censor.POSITIVE)
)


@dataclass(frozen=True, slots=True)
class Reading:
    """One reading as reported. `value` is None where the laboratory gave no number.

    `unit` is the unit written in the cell, or None when the column's unit holds.
    """

    value: float | None
    censor: Censor
    unit: str | None = None


# As laboratories write them in the languages whose headings are read: common practice, from memory.
_WORDS = {
    Censor.ND: (
        "nd; n.d.; n.d; n/d; not detected; none detected; non-detect; bdl; <bdl; <dl; lod; <lod;"
        " < lod; blq; <loq; n.n.; nn; nicht nachweisbar; nicht nachgewiesen; non détecté; nd.;"
        " no detectado; non rilevato; non rilevabile; nie wykryto; não detectado; ej påvisat"
    ),
    Censor.TRACE: (
        "trace; traces; tr; tr.; spur; spuren; traza; trazas; tracce; traccia; śladowe; ślad;"
        " traços; sporen; spår"
    ),
    Censor.POSITIVE: "pos; pos.; positive; positiv; positif; positivo; positief; dodatni",
    Censor.NEGATIVE: ("neg; neg.; negative; negativ; négatif; negatif; negativo; negatief; ujemny"),
}
WORDS = {word.strip(): sense for sense, said in _WORDS.items() for word in said.split(";")}
_CELL = re.compile(
    r"^(?P<sign>[<>]?)\s*(?P<number>[+-]?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?)\s*(?P<unit>[%°A-Za-z].*)?$"
)
_COMMA = re.compile(r"^[<>]?\s*\d{1,3}(,\d+)+(\.\d+)?\s*\S*$")


def parse_reading(text: str) -> Reading | None:
    """A cell as a Reading, or None when it is empty. A non-detect never becomes 0.

    Raises Unreadable, with what to write instead. A comma is refused rather than guessed at:
    `1,250` is 1250 to one laboratory and 1.250 to another.

    >>> parse_reading("< 0.1 %")
    Reading(value=0.1, censor=<Censor.BELOW: 1>, unit='%')
    >>> parse_reading("ND").value is None
    True
    >>> parse_reading("1,250")  # doctest: +ELLIPSIS
    Traceback (most recent call last):
    ...
    keen_tracer.core.errors.Unreadable: '1,250' cannot be read: a comma can mean ... or 1.250
    """
    cell = text.strip()
    if not cell:
        return None
    if word := WORDS.get(cell.lower()):
        return Reading(None, word)
    match = _CELL.match(cell)
    if not match:
        if _COMMA.match(cell):
            bare = cell.lstrip("<> ")
            raise Unreadable(
                cell,
                "a comma can mean thousands or a decimal; "
                f"write {bare.replace(',', '')} or {bare.replace(',', '.', 1)}",
            )
        raise Unreadable(
            cell, "write a number, <limit, >limit, ND, trace, pos, neg, or leave it empty"
        )
    value = float(match["number"])
    if not math.isfinite(value):
        raise Unreadable(cell, "the number is too large")
    censor = {"": Censor.EXACT, "<": Censor.BELOW, ">": Censor.ABOVE}[match["sign"]]
    return Reading(value, censor, match["unit"].strip() if match["unit"] else None)


def number_text(value: float) -> str:
    """The shortest text that reads back as the same number; whole numbers without a point.

    >>> number_text(12.0), number_text(0.1)
    ('12', '0.1')
    """
    return str(int(value)) if value == int(value) and abs(value) < 1e15 else repr(value)


def plain_text(value: float, digits: int = 3) -> str:
    """A number of so many significant digits for people: never with an exponent, and 0 where it is
    less than the trillionth part of anything.

    >>> plain_text(1234.5), plain_text(0.01254), plain_text(1e-300)
    ('1230', '0.0125', '0')
    """
    return f"{float(f'{value:.{digits}g}'):.12f}".rstrip("0").rstrip(".")


def reading_text(value: float | None, censor: int) -> str:
    """A reading in the words of the open files.

    >>> reading_text(0.1, Censor.BELOW), reading_text(None, Censor.ND)
    ('<0.1', 'ND')
    """
    if value is None:
        return {
            Censor.ND: "ND",
            Censor.TRACE: "trace",
            Censor.POSITIVE: "pos",
            Censor.NEGATIVE: "neg",
        }[Censor(censor)]
    return {Censor.EXACT: "", Censor.BELOW: "<", Censor.ABOVE: ">"}[Censor(censor)] + number_text(
        value
    )
