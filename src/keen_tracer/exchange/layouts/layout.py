"""How a grid is read: which row heads it, which way its samples run, what each column stands for,
how figures and days are written. Proposed from the grid, changed by a person, kept by its heads.
"""

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

from ...core.laboratory import BY_COLUMN
from ...core.terms import (
    REPORT_FIELDS,
    BlankEngine,
    DaysWritten,
    DecimalMark,
    LayoutWay,
    WaterUnit,
)
from .names import LONG, plain

HEAD = 40  # rows in which a heading is looked for; our choice
HEADS = 3  # known headings in a row that make it one of a table; our choice
LOOKED = 400  # rows in which figures and days are looked at; our choice
DAYS = ("drawn_on", "received_on", "analysed_on")
KEYS = ("sample", "report", "engine")  # what says whose a figure is
FIGURES = ("meter", "hours_on_oil", "oil_change_meter", "top_up_l", "reading")
SHEET_NAME = "name of the sheet"  # what stands ahead of each sheet where several are read as one


@dataclass(frozen=True, slots=True)
class Column:
    """A column: its heading as it stands, what it stands for ("" for nothing), its unit; `turn`:
    which of several samples in a row it is of, from 1; 0 where it is every one's."""

    heading: str
    target: str = ""
    unit: str = ""
    turn: int = 0


@dataclass(frozen=True, slots=True)
class Line:
    """A name outside the table with its value beside it, as "Unit ID: U-1" above it: it holds for
    every sample that has no such thing of its own, until the next such line."""

    label: str
    target: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Layout:
    """A way to read a grid. `header`: row of the headings, from 0; `body`: first row of samples;
    `width`: how many of the columns the first table has, 0 for all: those behind it are of tables
    further down; `way`: a sample a row, a column or a sheet; `blank`: whose a row without an engine
    is; `parts`: what stands for an engine where the file tells parts of machines apart, None before
    that is settled, `others` what was said to be none; `engine`: whose every sample of a file is
    that names none, said for this file alone."""

    way: LayoutWay = "rows"
    header: int = 0
    body: int = 1
    width: int = 0
    columns: tuple[Column, ...] = ()
    lines: tuple[Line, ...] = ()
    laboratory: str = ""
    engine: str = ""
    decimal: DecimalMark = ""
    days: DaysWritten = ""
    water: WaterUnit = ""
    blank: BlankEngine = ""
    parts: tuple[str, ...] | None = None
    others: tuple[str, ...] = ()

    def at(self, target: str) -> int | None:
        """The column with a meaning, the first of several."""
        return next((n for n, c in enumerate(self.columns) if c.target == target), None)

    def tells(self, target: str) -> bool:
        """Whether a column or a line says something."""
        return self.at(target) is not None or any(x.target == target for x in self.lines)

    @property
    def long(self) -> bool:
        """A figure a row."""
        return all(self.at(t) is not None for t in LONG)


@dataclass(frozen=True, slots=True)
class Question:
    """What the grid does not settle; `about` a field of the layout, `seen` the cells in doubt."""

    about: Literal["decimal", "days", "water", "blank", "parts", "sample"]
    seen: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Proposal:
    layout: Layout
    questions: tuple[Question, ...] = field(default=())


def fingerprint(headings: Sequence[str]) -> str:
    """What a laboratory's file is known again by: its headings, in their order."""
    line = "\x1f".join(plain(h) for h in headings if h.strip())
    return hashlib.blake2b(line.encode(), digest_size=12).hexdigest()


def targets() -> list[str]:
    """Everything that a column can hold: first the facts of a sample, then its figures."""
    return [*REPORT_FIELDS, *BY_COLUMN]
