"""What a file may ask of us ends: columns, letters, lines, packing, pictures."""

import io
import zipfile
from pathlib import Path

import pytest
from openpyxl import Workbook
from PIL import Image, ImageFile

from keen_tracer.core.laboratory import convert
from keen_tracer.core.laboratory.units import UnitMismatch
from keen_tracer.exchange.archive import members
from keen_tracer.exchange.cells import BadCell
from keen_tracer.exchange.csvfile import COLUMNS, LETTERS, LINE, OpenFile, Problem, Problems
from keen_tracer.exchange.labels import Label, label_sheet
from keen_tracer.exchange.layouts import from_text, sheets_of
from keen_tracer.exchange.pictures import MOST_PIXELS, BadPicture, reencoded


class Counting(io.BytesIO):
    """Counts what is read of it."""

    taken = 0

    def read(self, n: int | None = -1) -> bytes:
        part = super().read(n)
        self.taken += len(part)
        return part

    read1 = read


def problems_of(content: bytes, name: str = "samples.csv") -> tuple[list[Problem], int]:
    found, stream = Problems(), Counting(content)
    one = OpenFile(name, stream, found)
    if one.table is not None:
        list(one.rows())
    return found.shown, stream.taken


HEAD = b"sample,engine,drawn_on,meter,note,Fe_ppm\n"


@pytest.mark.parametrize(
    ("content", "what"),
    [
        (b",".join(b"c%d" % n for n in range(COLUMNS + 1)) + b"\n", "columns"),
        (b"a," * 2_000_000 + b"\n", "a line of more than"),
        (HEAD + b"S,E,2026-01-01,1," + b"x" * (LETTERS + 1) + b",1\n", "too long"),
        (HEAD + b'S,E,2026-01-01,1,"' + b"x" * 200_000 + b'",1\n', "cannot be split"),
        (HEAD + b"S,E,2026-01-01,1,," + b"9" * 5000 + b"\n", "no reading"),
        (HEAD + b"S,E,2026-01-01,1,,15W-40\n", "not in ppm"),
        (HEAD + b"S,E,2026-01-01,1,,12 ppm^-999999\n", "not in ppm"),
        (HEAD + b"S,E,2026-01-01,1,,12 ppm*ppm\n", "not in ppm"),
    ],
    ids=lambda x: x if isinstance(x, str) else "",
)
def test_a_file_that_asks_for_too_much_is_refused_in_words(content: bytes, what: str) -> None:
    shown, _ = problems_of(content)
    assert any(what in p.what for p in shown), shown
    assert all(len(p.what) + len(p.fix) < 1000 for p in shown)


def test_an_endless_line_is_not_read_to_its_end() -> None:
    shown, taken = problems_of(b"a" * 40 * LINE)
    assert shown
    assert taken < 3 * LINE


@pytest.mark.parametrize("unit", ["W-40", "ppm^-999999", "ppm**2", "1/ppm", "m" * 5000, "(((("])
def test_only_units_of_the_table_reach_the_converter(unit: str) -> None:
    with pytest.raises(UnitMismatch):
        convert(1.0, unit, "ppm")


def test_an_archive_packed_tighter_than_any_table_is_refused(tmp_path: Path) -> None:
    bomb = tmp_path / "bomb.zip"
    with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as z:
        z.writestr("samples.csv", b"0" * 50_000_000)
    found = Problems()
    with members([("bomb.zip", bomb)], found) as opened:
        assert opened == []
    assert "packed tighter" in found.shown[0].what


def jpeg(width: int = 640, height: int = 480) -> bytes:
    out = io.BytesIO()
    Image.effect_noise((width, height), 80).convert("RGB").save(out, "JPEG")
    return out.getvalue()


@pytest.mark.parametrize("share", [0.1, 0.5, 0.9])
def test_half_a_photograph_is_no_evidence_even_after_labels_were_printed(share: float) -> None:
    label_sheet([Label("A-1", "")])
    assert not ImageFile.LOAD_TRUNCATED_IMAGES, "printing must not change how photographs are read"
    whole = jpeg()
    with pytest.raises(BadPicture):
        reencoded(whole[: int(len(whole) * share)])
    assert reencoded(whole).width == 640


def test_a_picture_of_too_many_points_is_refused_before_it_is_opened() -> None:
    out = io.BytesIO()
    Image.new("1", (MOST_PIXELS // 4000 + 1, 4000)).save(out, "PNG")
    with pytest.raises(BadPicture, match="points"):
        reencoded(out.getvalue())


@pytest.mark.parametrize(
    "text",
    ["=" * 60_000, "Fe" + "=" * 30_000 + "14", "Fe = " * 10_000, "a: " * 20_000, "1 " * 30_000,
     "Iron " * 12_000, "Fe 1" + "," * 59_000],
    ids=lambda text: text[:6],
)  # fmt: skip
def test_a_pasted_line_without_end_is_no_figure_and_is_said(text: str) -> None:
    found = from_text(text)
    assert found.figures == {}
    assert found.unread


def test_a_cell_in_the_last_corner_of_a_workbook_is_refused_before_it_is_reached(
    tmp_path: Path,
) -> None:
    book, path = Workbook(), tmp_path / "far.xlsx"
    book.active["A1"], book.active["XFD1048576"] = "Unit", 1
    book.save(path)
    with pytest.raises(BadCell, match="row 1048576"):
        sheets_of("far.xlsx", path, tmp_path / "made")
