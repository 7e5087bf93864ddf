"""Workbooks of ours: any table to look at, and blank ones to fill in, with the choices in the
cells."""

from collections.abc import Iterable, Sequence
from datetime import date, datetime
from io import BytesIO
from typing import IO

from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.styles import Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet.datavalidation import DataValidation

from ..core.laboratory import ANALYTES, with_role
from .cells import OneOf, written
from .table import Table

MOST_ROWS = 1_000_000  # of a sheet; a spreadsheet takes 1 048 576
FILLED = 1000  # rows of a blank table whose cells offer their choices; our choice
LISTS = "choices"  # the sheet that holds them

Cells = Iterable[Iterable[object]]


def _cell(sheet: object, value: object, font: Font | None = None) -> WriteOnlyCell:
    """A value as a spreadsheet holds it: figures and days as such, everything else as text, so that
    no text is taken for a formula."""
    plain = isinstance(value, int | float | date) and not isinstance(value, bool)
    if isinstance(value, datetime):
        plain = False
    cell = WriteOnlyCell(sheet, value if plain else written(value))
    if not plain:
        cell.data_type = "s"
    if isinstance(value, date):
        cell.number_format = "yyyy-mm-dd"
    if font is not None:
        cell.font = font
    return cell


def _sheet(book: Workbook, name: str, columns: Sequence[str]) -> object:
    sheet = book.create_sheet(name[:31])
    sheet.freeze_panes = "A2"
    sheet.append([_cell(sheet, c, Font(bold=True)) for c in columns])
    return sheet


def write_workbook(
    out: IO[bytes], tables: Iterable[tuple[str, Sequence[str], Cells]]
) -> dict[str, int]:
    """Tables as sheets of one workbook, row by row; how many rows each has. A table longer than a
    sheet goes on on the next."""
    book, counts = Workbook(write_only=True), dict[str, int]()
    for name, columns, rows in tables:
        sheet, count, page = _sheet(book, name, columns), 0, 1
        for row in rows:
            if count and count % MOST_ROWS == 0:
                page += 1
                sheet = _sheet(book, f"{name} {page}", columns)
            sheet.append([_cell(sheet, v) for v in row])  # type: ignore[attr-defined]
            count += 1
        counts[name] = count
    book.save(out)
    return counts


def blank(tables: Sequence[Table]) -> bytes:
    """Blank tables as a workbook: columns that must be there are bold, cells offer their
    choices."""
    book = Workbook()
    book.remove(book.active)
    lists = book.create_sheet(LISTS)
    lists.sheet_state = "hidden"
    for table in tables:
        sheet = book.create_sheet(table.name)
        sheet.freeze_panes = "A2"
        for n, name in enumerate(columns_of(table), 1):
            cell = sheet.cell(1, n, name)
            cell.font = Font(bold=name in table.required)
            letter = get_column_letter(n)
            sheet.column_dimensions[letter].width = max(12, len(name) + 2)
            parser = table.columns.get(name)
            if isinstance(parser, OneOf):
                _offer(lists, sheet, letter, parser.known)
    out = BytesIO()
    book.save(out)
    return out.getvalue()


def columns_of(table: Table) -> list[str]:
    """The columns somebody fills in: the table's own, and the usual analytes."""
    of = (a for a in ANALYTES if a in with_role("usual_sheet")) if table.analytes else ()
    return [*table.columns, *(a.column for a in of)]


def _offer(lists: object, sheet: object, letter: str, known: Sequence[str]) -> None:
    """Offer `known` in the cells of a column; other words are still the import's to judge."""
    column = lists.max_column + 1  # type: ignore[attr-defined]
    for n, word in enumerate(known, 1):
        lists.cell(n, column, word)  # type: ignore[attr-defined]
    at = get_column_letter(column)
    rule = DataValidation(
        type="list", formula1=f"{LISTS}!${at}$1:${at}${len(known)}", allow_blank=True
    )
    rule.add(f"{letter}2:{letter}{FILLED + 1}")
    sheet.add_data_validation(rule)  # type: ignore[attr-defined]
