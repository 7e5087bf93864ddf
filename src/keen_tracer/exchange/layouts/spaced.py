"""Tables set in columns by spaces, as printed lists and the text of a PDF are: which column a cell
stands in is told by where it stands under the heading, so that an empty cell moves no other."""

import re
from collections.abc import Sequence
from typing import NamedTuple

from .names import meaning

HEADS = 3  # known headings that make a line the head of such a table; our choice
_CELL = re.compile(r"\S+(?: \S+)*")


class Spot(NamedTuple):
    """A text of a line with where it begins and ends."""

    begin: int
    end: int
    text: str


def spots(line: str) -> list[Spot]:
    """The texts of a line that are two spaces or more apart.

    >>> [s.text for s in spots("Unit No   Fe    V100")]
    ['Unit No', 'Fe', 'V100']
    """
    return [Spot(m.start(), m.end(), m[0]) for m in _CELL.finditer(line)]


def _columns(head: Sequence[Spot], cells: Sequence[Spot]) -> list[str] | None:
    """The cells of a line under the headings; None where two stand under one heading or one under
    none, so that nobody could say whose they are."""
    out = [""] * len(head)
    for cell in cells:
        over = [(min(h.end, cell.end) - max(h.begin, cell.begin), n) for n, h in enumerate(head)]
        common, at = max(over)
        # A cell a little beside its heading is its own; one between two could be of either.
        if common < -1 or out[at]:
            return None
        out[at] = cell.text
    return out


def in_columns(lines: Sequence[str]) -> list[list[str]] | None:
    """The lines as rows of one width, where one of them heads a table set by spaces; None where
    none does. Lines that are no rows of it stand as one cell, or as they are set apart.

    >>> in_columns(["Unit   Fe   Cu   Pb", "U-1    14        2"])
    [['Unit', 'Fe', 'Cu', 'Pb'], ['U-1', '14', '', '2']]
    """
    apart = [spots(line.expandtabs()) for line in lines]
    known = [sum(bool(meaning(s.text)[0]) for s in found) for found in apart]
    if max(known, default=0) < HEADS:
        return None
    at = known.index(max(known))
    head, out = apart[at], []
    for n, found in enumerate(apart):
        row = _columns(head, found) if n > at and len(found) > 1 else None
        out.append(row or [s.text for s in found])
    rows = [r for r, found in zip(out[at + 1 :], apart[at + 1 :], strict=True) if len(found) > 1]
    # Lines below that do not stand under the headings: then it is no table of this kind.
    fitting = sum(len(r) == len(head) for r in rows)
    return out if rows and fitting >= len(rows) / 2 else None
