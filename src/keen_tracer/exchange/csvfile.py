"""Reading an open file row by row, whatever its size, and writing one in a fixed form."""

import csv
import io
import re
from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from typing import Any, BinaryIO

from ..core.bounds import NAME, BadReading, check_reading
from ..core.errors import CoreError
from ..core.laboratory import (
    BY_COLUMN,
    BY_VOLUME,
    Censor,
    convert,
    mass_of_volume,
    number_text,
    parse_reading,
)
from .cells import BadCell, written
from .tables import TABLES, Table, kind_of

SHOWN = 1000  # problems kept in full; the total is always counted
SAID = 300  # letters of one problem that are kept
# What a file may ask of us, our choice: wider than any table here, longer than any cell of one. A
# file that asks for more is refused by its first line that does, without reading it whole.
COLUMNS, LETTERS, LINE = 400, 5000, 1_000_000
READING = NAME  # letters of a reading
LONG = {
    "finding",
    "layout",
    "lifts",
}  # cells that hold more than one thing, as the export writes them
CACHE = 100_000  # readings repeat: "12" is parsed once


# The cells of a row as values, by the columns its table has.
Cells = dict[str, Any]


@dataclass(frozen=True, slots=True)
class Problem:
    """What is wrong, where, and what to do. `row` counts like a spreadsheet: the header is row
    1."""

    file: str
    row: int | None
    column: str | None
    what: str
    fix: str


@dataclass
class Problems:
    """The first thousand problems, and how many there are."""

    shown: list[Problem] = field(default_factory=list)
    total: int = 0

    def add(self, file: str, row: int | None, column: str | None, what: str, fix: str) -> None:
        self.total += 1
        if len(self.shown) < SHOWN:
            column = column[:SAID] if column else column
            self.shown.append(Problem(file[:SAID], row, column, what[:SAID], fix[:SAID]))


# A reading as it goes to the database: analyte code, censor, value text, and the cell where it said
# it otherwise.
ReadingCell = tuple[int, int, str | None, str | None, str | None]


@dataclass(slots=True)
class Row:
    """One row: parsed cells by column, the readings of its analyte columns, its number in the
    file."""

    number: int
    cells: Cells
    readings: list[ReadingCell]


def reading_cell(
    column: str, cell: str, unit: str | None = None, fuel: str = ""
) -> ReadingCell | None:
    """A reading's cell in `unit` (the analyte's by default), converted to the analyte's unit;
    `fuel`: what the engine burns, which decides the mass of a part by volume.

    A unit written inside a cell that is not the column's is refused: `0.2%` under ppm is either 2
    000 or a slip, and only a person knows. Raises BadCell.
    """
    analyte = BY_COLUMN[column]
    if len(cell) > READING:
        raise BadCell(f"{cell[:20]!r}... is no reading", f"write at most {READING} letters")
    try:
        found = parse_reading(cell)
    except CoreError as error:
        raise BadCell(f"{cell!r} cannot be read", getattr(error, "hint", str(error))) from error
    if found is None:
        return None
    given = unit or analyte.unit
    if given.startswith("%") and found.value is not None and found.value > 100:
        raise BadCell(f"{cell!r} is more than the whole", "check the figure and its unit")
    if found.unit is not None:
        try:
            factor = convert(1.0, found.unit, given)
        except CoreError:
            raise BadCell(
                f"{cell!r} is not in {given}", f"write the number in {given}, without a unit"
            ) from None
        if factor != 1.0 or found.unit.startswith("%") != given.startswith("%"):
            said = number_text(float(f"{convert(found.value or 0.0, found.unit, given):.6g}"))
            raise BadCell(
                f"{cell!r} stands under {given}", f"write {said} if that is meant, else correct it"
            )
    if found.value is None:
        return analyte.code, int(found.censor), None, None, None
    try:
        value = (
            mass_of_volume(column, found.value, fuel)
            if given == BY_VOLUME
            else convert(found.value, given, analyte.unit)
        )
    except CoreError as error:
        raise BadCell(
            f"unit {given!r} does not fit {analyte.name}", f"write it in {analyte.unit}"
        ) from error
    try:
        check_reading(column, value)
    except BadReading as error:
        raise BadCell(f"{analyte.name} {cell!r}: {error}", error.fix) from error
    shortest = {Censor.EXACT: "", Censor.BELOW: "<", Censor.ABOVE: ">"}[found.censor] + number_text(
        found.value
    )
    same_unit = given == analyte.unit
    return (
        analyte.code,
        int(found.censor),
        repr(value),
        None if same_unit and shortest == cell else cell,
        None if same_unit else given,
    )


def _lines(text: io.TextIOWrapper) -> Iterator[str]:
    """The lines of a file, none longer than `LINE`."""
    while line := text.readline(LINE + 1):
        if len(line) > LINE:
            raise csv.Error(f"a line of more than {LINE} letters")
        yield line


def _plain(name: str, cell: str, parse: Callable[[str], Any], required: bool) -> Any:
    """The value of a cell that is no reading; None where it is empty. Raises BadCell."""
    if len(cell) > LETTERS and name not in LONG:
        raise BadCell("the cell is too long", f"{LETTERS} letters at most")
    if cell:
        return parse(cell)
    if required:
        raise BadCell("the cell is empty", f"{name} must be given")
    return None


class OpenFile:
    """One file being read. `rows()` yields what can be read and puts the rest into `problems`."""

    def __init__(self, name: str, stream: BinaryIO, problems: Problems):
        self.name, self.problems = name, problems
        self.table: Table | None = None
        self.ignored: list[str] = []
        self._seen: dict[tuple[str, str], ReadingCell | None] = {}
        head = stream.read(4096)
        stream.seek(0)
        if head.startswith((b"PK", b"\xd0\xcf", b"%PDF", b"\x89PNG")) or b"\x00" in head:
            self._whole("this is not a CSV file", "save the table as CSV (UTF-8) and try again")
            return
        self._text = io.TextIOWrapper(stream, encoding="utf-8-sig", newline="")
        self._reader = csv.reader(_lines(self._text), strict=True)
        try:
            header = [h.strip() for h in next(self._reader, [])]
        except (UnicodeDecodeError, csv.Error) as error:
            self._broken(error)
            return
        self._set_header(header)

    def _whole(self, what: str, fix: str) -> None:
        self.problems.add(self.name, None, None, what, fix)

    def _broken(self, error: Exception) -> None:
        row = self._reader.line_num + 1
        if isinstance(error, UnicodeDecodeError):
            self.problems.add(
                self.name,
                row,
                None,
                "the file is not UTF-8 text from about this row on",
                "save it as CSV with encoding UTF-8",
            )
        else:
            self.problems.add(
                self.name,
                row,
                None,
                f"the row cannot be split into cells ({error})",
                "check the quotation marks",
            )

    def _set_header(self, header: list[str]) -> None:
        if not any(header):
            self._whole("the file is empty", "the first row must hold the names of the columns")
            return
        if len(header) > COLUMNS:
            self._whole(
                f"the file has {len(header)} columns", f"{COLUMNS} at most; split the table"
            )
            return
        if len(header) == 1 and (";" in header[0] or "\t" in header[0]):
            self._whole(
                "the columns are not separated by commas", "save it as comma-separated values"
            )
            return
        table = kind_of(self.name, header)
        if table is None:
            self._whole(
                "the columns fit none of the known tables",
                f"name the file after its table: {', '.join(TABLES)}",
            )
            return
        header = [table.aliases.get(h, h) for h in header]
        for column in table.required:
            if column not in header:
                self.problems.add(
                    self.name,
                    1,
                    column,
                    f"the column {column} is missing",
                    f"{table.name}.csv needs {', '.join(table.required)}",
                )
        for column in sorted(h for h, n in Counter(header).items() if n > 1):
            self.problems.add(
                self.name, 1, column, f"the column {column} stands twice", "keep one of them"
            )
        if set(table.required) <= set(header) and len(set(header)) == len(header):
            self.table = table
        self.ignored = [
            h for h in header if h not in table.columns and not (table.analytes and h in BY_COLUMN)
        ]
        self._header = header

    def rows(self) -> Iterator[Row]:
        """Every row of which all cells can be read."""
        if self.table is None or self.table.export_only:
            return
        plain = [
            (i, h, self.table.columns[h], h in self.table.required)
            for i, h in enumerate(self._header)
            if h in self.table.columns
        ]
        readings = [
            (i, h)
            for i, h in enumerate(self._header)
            if self.table.analytes and h in BY_COLUMN and h not in self.table.columns
        ]
        width = len(self._header)
        while True:
            try:
                cells = next(self._reader, None)
            except (UnicodeDecodeError, csv.Error) as error:
                self._broken(error)
                return
            if cells is None:
                return
            if not any(cells):
                continue
            row = self._row(cells, width, plain, readings)
            if row is not None:
                yield row

    def _row(
        self,
        cells: list[str],
        width: int,
        plain: list[tuple[int, str, Callable[[str], Any], bool]],
        readings: list[tuple[int, str]],
    ) -> Row | None:
        number = self._reader.line_num
        if len(cells) != width:
            self.problems.add(
                self.name,
                number,
                None,
                f"the row has {len(cells)} cells, the header {width}",
                "check for a missing or extra comma",
            )
            return None
        parsed: dict[str, Any] = {}
        good = True
        for i, name, parse, required in plain:
            try:
                parsed[name] = _plain(name, cells[i].strip(), parse, required)
            except BadCell as bad:
                self.problems.add(self.name, number, name, bad.what, bad.fix)
                good = False
        found: list[ReadingCell] = []
        for i, name in readings:
            cell = cells[i]
            if not cell:
                continue
            key = (name, cell)
            if key not in self._seen:
                if len(self._seen) > CACHE:
                    self._seen.clear()
                try:
                    self._seen[key] = reading_cell(name, cell.strip())
                except BadCell as bad:
                    self.problems.add(self.name, number, name, bad.what, bad.fix)
                    good = False
                    continue
            one = self._seen[key]
            if one is not None:
                found.append(one)
        return Row(number, parsed, found) if good else None


def for_spreadsheets(cell: str) -> str:
    """A cell that a spreadsheet takes for text, not for a formula. Not the open form: it does not
    come in again as it was.

    >>> for_spreadsheets("=1+1"), for_spreadsheets("-4.5"), for_spreadsheets("G-01")
    ("'=1+1", '-4.5', 'G-01')
    """
    starts = cell[:1] in ("=", "+", "-", "@", "\t", "\r")
    return f"'{cell}" if starts and not re.fullmatch(r"-\d+(\.\d+)?", cell) else cell


def write_table(
    out: BinaryIO,
    columns: Iterable[str],
    rows: Iterable[Iterable[object]],
    spreadsheet: bool = False,
) -> int:
    """Write one canonical file: UTF-8, commas, \\n line ends, numbers in their shortest form;
    with `spreadsheet` no cell is taken for a formula."""
    text = io.TextIOWrapper(out, encoding="utf-8", newline="", write_through=True)
    writer = csv.writer(text, lineterminator="\n")
    writer.writerow(list(columns))
    n = 0
    for row in rows:
        cells = [v if type(v) is str else written(v) for v in row]
        writer.writerow(map(for_spreadsheets, cells) if spreadsheet else cells)
        n += 1
    text.detach()
    return n
