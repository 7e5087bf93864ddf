"""A laboratory's file as it lies there: CSV of whatever encoding and delimiter, or the sheets of a
workbook, each written down as a plain grid of texts. Nothing is interpreted here.

A workbook is read cell by cell as it streams; one that could do anything but hold values (macros,
links to elsewhere, formulas, archives within) is refused in words.
"""

import csv
import json
import re
import warnings
import zipfile
from collections.abc import Iterator, Sequence
from dataclasses import asdict, dataclass, replace
from datetime import date, datetime, time
from itertools import islice
from pathlib import Path

from openpyxl import load_workbook

from ..cells import BadCell
from .hiding import Hides, hides_of
from .spaced import in_columns

MOST_ROWS = 200_000
MOST_COLUMNS = 400  # a laboratory's widest sheet has under a hundred; our choice
MOST_SHEETS = 40
MOST_UNPACKED = 600_000_000  # bytes of a workbook unpacked; 200 000 rows take half; our choice
MOST_RATIO = 300  # unpacked to packed, of a part over a megabyte; XML of a sheet packs 1 : 20
LONGEST_CELL = 2000
TOO_FAR = f"keep the rows of the report; a sheet may have {MOST_ROWS}"
SHEET_PARTS = re.compile(r"xl/worksheets/[^/]+\.xml")


@dataclass(frozen=True, slots=True)
class Sheet:
    """One grid: its name, where its rows lie as plain CSV, how many there are, how wide; `hidden`:
    whether its workbook hides it; `hidden_parts`: rows and columns its workbook hides and that are
    left out, each with its row (1 of a column) and its words."""

    name: str
    path: Path
    rows: int
    columns: int
    hidden: bool = False
    hidden_parts: tuple[tuple[int, str], ...] = ()


def written_down(sheets: Sequence[Sheet]) -> str:
    """The sheets as text; `taken_up` makes sheets of it again."""
    return json.dumps([{**asdict(s), "path": str(s.path)} for s in sheets])


def taken_up(text: str) -> list[Sheet]:
    """The sheets that `written_down` wrote."""
    return [
        Sheet(
            **{
                **s,
                "path": Path(s["path"]),
                "hidden_parts": tuple((int(row), str(words)) for row, words in s["hidden_parts"]),
            }
        )
        for s in json.loads(text)
    ]


def sheets_of(name: str, path: Path, into: Path) -> list[Sheet]:
    """The sheets of a file that hold anything, written down beside `into` (a path without its
    ending), so that a large one is read once.

    Raises BadCell for a file that is no table, is too large, or holds more than values.
    """
    with path.open("rb") as file:
        head = file.read(8)
    if head.startswith(b"PK"):
        found = list(_workbook(path, into))
    elif head.startswith(b"%PDF"):
        raise BadCell(
            "this is a PDF", "take the laboratory's CSV or XLSX, or copy its table and paste it"
        )
    elif head.startswith(b"\xd0\xcf\x11\xe0"):
        raise BadCell("this is a workbook of the old kind", "save it as XLSX or CSV")
    else:
        found = [_text(name, path, into)]
    found = [s for s in found if s.rows]
    if not found:
        raise BadCell("there is nothing in this file", "choose another one")
    return found


def read(sheet: Sheet) -> Iterator[list[str]]:
    """The rows of a sheet, each as wide as the sheet."""
    with sheet.path.open(newline="", encoding="utf-8") as text:
        for row in csv.reader(text):
            yield row + [""] * (sheet.columns - len(row))


def _write(name: str, rows: Iterator[list[str]], target: Path) -> Sheet:
    count = width = last = 0
    with target.open("w", newline="", encoding="utf-8") as out:
        writer = csv.writer(out, lineterminator="\n")
        for row in rows:
            while row and not row[-1]:
                row.pop()
            count += 1
            if count > MOST_ROWS:
                raise BadCell(f"{name}: more than {MOST_ROWS} rows", "split the file")
            if len(row) > MOST_COLUMNS:
                raise BadCell(
                    f"{name}: more than {MOST_COLUMNS} columns", "keep the columns of the report"
                )
            width = max(width, len(row))
            last = count if row else last
            writer.writerow(row or [""])
    return Sheet(name, target, last, width)


def _decoded(path: Path) -> str:
    """The file's encoding: what its mark says, else UTF-8, else that of western Windows."""
    with path.open("rb") as file:
        head = file.read(4)
        if head.startswith((b"\xff\xfe", b"\xfe\xff")):
            return "utf-16"
        file.seek(0)
        try:
            while part := file.read(1 << 20):
                part.decode("utf-8") if part.isascii() else (part + file.readline()).decode("utf-8")
        except UnicodeDecodeError:
            return "cp1252"
    return "utf-8-sig"


def _delimiter(head: list[str]) -> str:
    """What splits most lines into the same number of cells, more than one."""

    def fit(mark: str) -> tuple[int, int]:
        # Lines it does not split are a letterhead, however many they are.
        counts = [n for row in csv.reader(head, delimiter=mark) if (n := len(row)) > 1]
        usual = max(set(counts), key=counts.count, default=1)
        return (counts.count(usual), usual)

    return max(("\t", ";", "|", ","), key=fit)


def _text(name: str, path: Path, into: Path) -> Sheet:
    encoding = _decoded(path)
    try:
        with path.open(newline="", encoding=encoding) as text:
            head = [line for _, line in zip(range(60), text, strict=False)]
            if any("\x00" in line for line in head):
                raise BadCell("this is not a table", "choose a CSV or XLSX file")
            mark = _delimiter(head)
            text.seek(0)
            if not any(mark in line for line in head) and in_columns(head):
                # One line more than is taken, so that a longer list is refused and not cut.
                lines = [line.rstrip("\n") for line in islice(text, MOST_ROWS + 1)]
                table = in_columns(lines) or []
                clean = ([_clean(c) for c in row] for row in table)
                return _write(name, clean, into.with_suffix(".0.csv"))
            rows = ([_clean(c) for c in row] for row in csv.reader(text, delimiter=mark))
            return _write(name, rows, into.with_suffix(".0.csv"))
    except (UnicodeError, csv.Error) as error:
        raise BadCell(
            f"the file cannot be read as text ({error})", "save it as CSV (UTF-8) or XLSX"
        ) from error


def _clean(cell: str) -> str:
    if len(cell) > LONGEST_CELL:
        raise BadCell(f"a cell holds {len(cell)} letters", "take the laboratory's table alone")
    return " ".join(cell.replace("\u00a0", " ").replace("\u202f", " ").split())


def _refuse(parts: zipfile.ZipFile) -> None:
    """Refuse a workbook that does more than hold values, or unpacks into too much."""
    infos = parts.infolist()
    names = [i.filename for i in infos]
    if "xl/workbook.xml" not in names:
        raise BadCell(
            "this archive is no workbook", "choose an XLSX file, or give an export to Bring in"
        )
    if any(i.flag_bits & 1 for i in infos):
        raise BadCell("the workbook is locked with a password", "save it without one")
    if any(n.endswith("vbaProject.bin") or "/macrosheets/" in n for n in names):
        raise BadCell("the workbook has macros", "save it as XLSX without them")
    if any(n.startswith("xl/externalLinks/") for n in names):
        raise BadCell("the workbook takes figures from other files", "save the values alone")
    if any(n.lower().endswith((".zip", ".xlsx", ".xlsm", ".docx", ".jar")) for n in names):
        raise BadCell("there are archives within the workbook", "take them out")
    if sum(i.file_size for i in infos) > MOST_UNPACKED:
        raise BadCell("the workbook unpacks into too much", "split it")
    if any(
        i.file_size > 1_000_000 and i.file_size > MOST_RATIO * max(i.compress_size, 1)
        for i in infos
    ):
        raise BadCell("the workbook unpacks into far more than it holds", "save it anew")
    for info in _sheet_parts(parts):
        if _has_formula(parts, info):
            raise BadCell("the workbook has formulas", "copy the sheet and paste its values alone")


def _sheet_parts(parts: zipfile.ZipFile) -> list[zipfile.ZipInfo]:
    return [i for i in parts.infolist() if SHEET_PARTS.fullmatch(i.filename)]


def _has_formula(parts: zipfile.ZipFile, info: zipfile.ZipInfo) -> bool:
    with parts.open(info) as stream:
        tail = b""
        while part := stream.read(1 << 20):
            seen = tail + part
            if b"<f>" in seen or b"<f " in seen or b"<f/" in seen:
                return True
            tail = part[-3:]
    return False


def _workbook(path: Path, into: Path) -> Iterator[Sheet]:
    try:
        with zipfile.ZipFile(path) as parts:
            _refuse(parts)
            hides = {i.filename: hides_of(parts, i) for i in _sheet_parts(parts)}
        # Opened here, so that it is closed whatever its reader makes of it.
        with path.open("rb") as stream, warnings.catch_warnings():
            warnings.simplefilter("ignore")  # styles and validations it does not know
            book = load_workbook(stream, read_only=True, data_only=True, keep_links=False)
            if len(book.worksheets) > MOST_SHEETS:
                raise BadCell(f"more than {MOST_SHEETS} sheets", "keep those with reports")
            for n, sheet in enumerate(book.worksheets):
                sheet.reset_dimensions()
                hides_here = hides.get(sheet._worksheet_path.lstrip("/"), Hides())
                # Told before it is read: what stands far below would be filled up with empty rows.
                if hides_here.last > MOST_ROWS:
                    raise BadCell(f"{sheet.title}: a cell stands in row {hides_here.last}", TOO_FAR)
                rows = sheet.iter_rows()
                texts = (
                    hides_here.shown(at, [_said(x.value, x.number_format) for x in row])
                    for at, row in enumerate(rows, 1)
                )
                made = _write(sheet.title, texts, into.with_suffix(f".{n}.csv"))
                yield replace(
                    made,
                    hidden=sheet.sheet_state != "visible",
                    hidden_parts=hides_here.in_words(sheet.title),
                )
    except BadCell:
        raise
    except Exception as error:  # whatever a broken or hostile workbook makes of its reader
        raise BadCell(
            f"the workbook cannot be read ({type(error).__name__})", "save it anew as XLSX or CSV"
        ) from error


# A format that sets "<" ahead of what the cell holds.
_BELOW = re.compile(r'^(\\?<|"<\s*")')


def _said(value: object, shown: str = "General") -> str:
    """A value of a workbook as text: days as ISO, figures as they were typed, parts of a hundred
    and "less than" as the sheet shows them.

    >>> _said(0.0012, "0.00%"), _said(1, '"<"0'), _said(14.0)
    ('0.12 %', '<1', '14')
    """
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, datetime):
        return (
            value.date().isoformat() if value.time() == time() else value.isoformat(" ", "minutes")
        )
    if isinstance(value, date | time):
        return value.isoformat()
    if isinstance(value, int | float):
        if shown != "General" and "%" in shown:
            return f"{value * 100:.12g} %"
        sign = "<" if shown != "General" and _BELOW.match(shown) else ""
        return f"{sign}{value:.15g}"
    return _clean(str(value))
