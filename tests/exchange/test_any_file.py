"""Whatever lies in a file: it is read, or it is said what is wrong, where, and what to do."""

import io
import tempfile
import zipfile
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st

from keen_tracer.exchange.archive import members
from keen_tracer.exchange.csvfile import OpenFile, Problems, Row
from keen_tracer.exchange.tables import TABLES

NAMES = st.sampled_from([f"{t}.csv" for t in TABLES])
WHOLE = (
    "sample,engine,drawn_on,meter,laboratory,Fe_ppm,Pb_ppm,Water_pct\n"
    'S-1,E-1,2026-02-10,1125,"Lab, north",20,<1,<0.05\n'
    "S-2,E-1,2026-03-10,1250,Lab,2 400,>5,0.2%\n"
    "S-3,E-2,10/02/2026,,Lab,n/a,trace,–\n"
).encode()


def read(name: str, content: bytes) -> tuple[list[Row], Problems]:
    problems = Problems()
    rows = list(OpenFile(name, io.BytesIO(content), problems).rows())
    return rows, problems


def is_said(problems: Problems) -> None:
    assert len(problems.shown) <= problems.total
    for p in problems.shown:
        assert p.file
        assert p.what
        assert p.fix
        assert p.row is None or p.row >= 1


@given(NAMES, st.binary(max_size=300))
def test_any_bytes_are_read_or_refused_in_words(name: str, content: bytes) -> None:
    rows, problems = read(name, content)
    is_said(problems)
    if not rows and content.strip():
        assert problems.total or content.count(b"\n") <= 1 or not content.split(b"\n", 1)[1].strip()


@given(NAMES, st.data())
def test_any_cells_under_the_right_columns_are_read_or_named(
    name: str, data: st.DataObject
) -> None:
    """Every row is either read whole or has a problem that names it and a column of the table."""
    table = TABLES[name.removesuffix(".csv")]
    columns = [*table.columns]
    cells = st.text(st.characters(codec="utf-8", exclude_characters='\0"\r\n,'), max_size=12)
    lines = data.draw(
        st.lists(st.lists(cells, min_size=len(columns), max_size=len(columns)), max_size=5)
    )
    text = "\n".join(",".join(one) for one in [columns, *lines])
    rows, problems = read(name, text.encode())
    is_said(problems)
    if problems.total or table.export_only:
        named = {p.row for p in problems.shown}
        assert not named & {r.number for r in rows}
    else:
        assert len(rows) == sum(any(one) for one in lines)


@given(st.data())
@settings(max_examples=200)
def test_a_damaged_file_never_becomes_another_reading_unsaid(data: st.DataObject) -> None:
    """One byte is lost, doubled or changed: every row read keeps its number in the file."""
    at = data.draw(st.integers(0, len(WHOLE) - 1))
    put = data.draw(st.binary(max_size=2))
    rows, problems = read("samples.csv", WHOLE[:at] + put + WHOLE[at + 1 :])
    is_said(problems)
    numbers = [r.number for r in rows]
    assert numbers == sorted(set(numbers))
    assert not set(numbers) & {p.row for p in problems.shown}


@given(st.binary(max_size=200), st.integers(0, 400), st.binary(max_size=3))
@settings(max_examples=200)
def test_any_archive_is_opened_or_refused_in_words(tail: bytes, at: int, put: bytes) -> None:
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as z:
        z.writestr("samples.csv", WHOLE)
    whole = packed.getvalue()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "given.zip"
        for content in (tail, whole[:at] + put + whole[at + len(put) :], whole[: len(tail)]):
            path.write_bytes(content)
            problems = Problems()
            with members([(path.name, path)], problems) as opened:
                tables = [OpenFile(name, stream, problems) for name, stream in opened]
                for table in tables:
                    list(table.rows())
            is_said(problems)
