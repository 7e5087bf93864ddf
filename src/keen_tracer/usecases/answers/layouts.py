"""Answers of reading anybody's report."""

from datetime import date
from uuid import UUID

from typing_extensions import TypedDict

from ...core.terms import BlankEngine, DaysWritten, DecimalMark, LayoutWay, WaterUnit


class SheetOut(TypedDict):
    name: str
    rows: int


class ColumnOut(TypedDict):
    """A column: its heading, its meaning, its unit, which of several samples in a row it is
    of (0: all), and the first cells under it."""

    heading: str
    target: str
    unit: str
    turn: int
    seen: list[str]


class BesideOut(TypedDict):
    """A name outside the table, what it means, and the text beside it."""

    label: str
    target: str
    seen: list[str]


class CountOut(TypedDict):
    what: str
    times: int


class FileLayout(TypedDict):
    """How the grid is read; rows count from 1. `width`: how many of the columns the first table
    has, 0 for all."""

    way: LayoutWay
    header: int
    body: int
    width: int
    laboratory: str
    engine: str
    decimal: DecimalMark
    days: DaysWritten
    water: WaterUnit
    blank: BlankEngine
    parts: list[str] | None
    others: list[str]
    columns: list[ColumnOut]
    lines: list[BesideOut]


class QuestionOut(TypedDict):
    """What the file itself does not settle, with cells in doubt."""

    about: str
    words: str
    seen: list[str]


class ToldOut(TypedDict):
    """A sample as it will be read: its row, who and when, what else is said of it, and its figures
    in words."""

    row: int
    sample: str
    engine: str
    drawn_on: str
    meter: str
    beside: str
    figures: str


class EngineSeen(TypedDict):
    """An engine the file names; `known`: the one on record it is read as, "" for a new one."""

    said: str
    known: str
    samples: int
    model: str
    depot: str


class UnreadOut(TypedDict):
    row: int
    heading: str
    what: str
    fix: str


class FreshSeen(TypedDict):
    """A row of fresh oil: which oil it is likely of, "" where nothing tells, and how many figures
    it has."""

    row: int
    oil: str
    figures: int


class ReadAs(TypedDict):
    """A file as it would be read. `lacking`: what must still be chosen before it can be; `unread`:
    headings nothing was made of; `left`: rows that tell no sample; `parts`: every part of a machine
    the file names; `others`: parts that are no engines, left out; `marks`: what the laboratory set
    beside figures; `fresh`: rows of fresh oil; `oils`: the oils on record, where one is asked."""

    sheets: list[SheetOut]
    sheet: int
    known_from: str
    layout: FileLayout
    parts: list[str]
    questions: list[QuestionOut]
    lacking: list[str]
    told: list[ToldOut]
    samples: int
    engines: list[EngineSeen]
    unread: list[str]
    left: int
    others: list[CountOut]
    marks: list[CountOut]
    fresh: list[FreshSeen]
    oils: list[str]
    wrong: list[UnreadOut]
    wrongs: int


class ReportRead(TypedDict):
    """Figures found in pasted text, each with its meaning, and what nothing was made of."""

    figures: dict[str, str]
    facts: dict[str, str]
    unread: list[str]
    questions: list[QuestionOut]


class PdfText(TypedDict):
    """The text of a PDF, line by line, its columns apart."""

    text: str


class ReportIn(TypedDict):
    """The sample a report became; photographs hang on `log`, its row in the log."""

    sample: str
    log: UUID


class ReportAgain(ReportIn):
    """A report as it is on record, in the fields it is typed in."""

    engine: str
    on: date
    meter: float | None
    hours_on_oil: float | None
    oil_change_meter: float | None
    oil: str
    top_up_l: float | None
    laboratory: str
    report: str
    appearance: str
    smell: str
    note: str
    figures: dict[str, str]
