"""Files that are not what they seem are refused in words; a large workbook streams."""

import io
import zipfile
from pathlib import Path

import pytest
from openpyxl import Workbook

from keen_tracer.exchange.cells import BadCell
from keen_tracer.exchange.layouts import read, sheets_of


def workbook(tmp_path: Path, rows: list[list[object]]) -> Path:
    book = Workbook()
    for row in rows:
        book.active.append(row)
    path = tmp_path / "a.xlsx"
    book.save(path)
    return path


def refused(path: Path, words: str) -> None:
    with pytest.raises(BadCell, match=words):
        sheets_of(path.name, path, path.with_suffix(".made"))


def with_part(path: Path, name: str, content: bytes) -> Path:
    """The workbook with one part more, or another in its place."""
    out = io.BytesIO()
    with zipfile.ZipFile(path) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for info in old.infolist():
            if info.filename != name:
                new.writestr(info, old.read(info))
        new.writestr(name, content)
    path.write_bytes(out.getvalue())
    return path


ENTITIES = b'<!DOCTYPE x [<!ENTITY a "b">]><worksheet>&a;</worksheet>'
PLAIN: list[list[object]] = [["Unit", "Iron"], ["U-1", 14]]


@pytest.mark.parametrize(
    ("part", "content", "words"),
    [
        ("xl/vbaProject.bin", b"\x00" * 100, "macros"),
        ("xl/externalLinks/externalLink1.xml", b"<a/>", "other files"),
        ("xl/embeddings/more.zip", b"PK", "archives within"),
        ("xl/worksheets/sheet1.xml", b" " * 5_000_000, "far more than it holds"),
        ("xl/worksheets/sheet1.xml", b"<worksheet><sheetData><broken", "cannot be read"),
        ("xl/worksheets/sheet1.xml", ENTITIES, "cannot be read"),
    ],
)  # fmt: skip
def test_a_workbook_that_does_more_than_hold_values(
    tmp_path: Path, part: str, content: bytes, words: str
) -> None:
    refused(with_part(workbook(tmp_path, PLAIN), part, content), words)


def test_formulas_are_not_run_and_not_guessed(tmp_path: Path) -> None:
    refused(workbook(tmp_path, [["Iron"], ["=1+1"]]), "formulas")


def test_a_million_columns(tmp_path: Path) -> None:
    path = tmp_path / "a.csv"
    path.write_text("," * 1_000_000)
    refused(path, "more than 400 columns|cannot be read")
    wide = workbook(tmp_path, [["x"] * 500])
    refused(wide, "more than 400 columns")


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"%PDF-1.7", "PDF"),
        (b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1", "old kind"),
        (b"", "nothing in this file"),
        (b"a\x00b,c\n", "not a table"),
        (b"PK\x03\x04 not a zip", "cannot be read"),
    ],
)
def test_what_is_no_table(tmp_path: Path, content: bytes, words: str) -> None:
    path = tmp_path / "a"
    path.write_bytes(content)
    refused(path, words)


def test_another_archive_is_no_workbook(tmp_path: Path) -> None:
    path = tmp_path / "a.zip"
    with zipfile.ZipFile(path, "w") as z:
        z.writestr("samples.csv", "a,b")
    refused(path, "no workbook")


def test_sheets_days_and_figures_come_as_they_were_typed(tmp_path: Path) -> None:
    from datetime import date, datetime

    rows: list[list[object]] = [["Day", "At", "Iron", "Cr"]]
    rows.append([date(2026, 3, 2), datetime(2026, 3, 2, 9, 30), 0.1 + 0.2, "<1"])
    sheets = sheets_of("a", workbook(tmp_path, rows), tmp_path / "made")
    assert [(s.name, s.rows, s.columns) for s in sheets] == [("Sheet", 2, 4)]
    assert list(read(sheets[0]))[1] == ["2026-03-02", "2026-03-02 09:30", "0.3", "<1"]
