"""Whose a figure is, is a property: every figure of these files says in itself whose it is and of
which sample, and whatever a file looks like, none is ever read as another's.

Built otherwise than `laboratories.py`: tables below one another, a sheet an engine, samples across,
engines named above their table by known and unknown words, sums and pages between, columns in
another order, gearboxes among engines, cells left empty under the engine's name.
"""

import csv
import io
from dataclasses import replace
from pathlib import Path
from tempfile import TemporaryDirectory

from hypothesis import given, note, settings
from hypothesis import strategies as st
from openpyxl import Workbook

from keen_tracer.exchange.layouts import Layout, Reader, Told, propose, read, settle, sheets_in

METALS = {"Fe_ppm": "Iron", "Cr_ppm": "Chromium", "Pb_ppm": "Lead", "Cu_ppm": "Copper",
          "Al_ppm": "Aluminium", "Si_ppm": "Silicon"}  # fmt: skip
KNOWN_LABELS = ("Unit ID", "Asset No.", "Equipment:", "Machine")
UNKNOWN_LABELS = ("Plant item", "Which one:", "Inventory", "")
SUMS = ("Average", "Limit", "Mean of all", "Maximum")
BETWEEN = ([], [""], ["Page 2 of 3"], ["Printed by the laboratory"], ["", "continued"])


def figure(engine: int, sample: int, metal: int) -> str:
    """A figure that says whose it is."""
    return str(1000 * engine + 100 * sample + metal + 1)


def day(engine: int, sample: int) -> str:
    return f"2026-{engine:02}-{sample + 1:02}"


@st.composite
def block(draw: st.DrawFn, engine: int, heads: list[str], way: str, named: str) -> list[list[str]]:
    """The samples of one engine as a table of its own, named above, beside or in its first row."""
    count = draw(st.integers(1, 3))
    by_name = {name: n for n, name in enumerate(METALS.values())}
    engine_at = {"column": [f"U-{engine}"] * count,
                 "merged": [f"U-{engine}", *[""] * (count - 1)]}.get(named)  # fmt: skip
    table = [["Unit ID", *engine_at]] if engine_at else []
    table.append(["Date sampled", *(day(engine, s) for s in range(count))])
    for name in heads:
        table.append([name, *(figure(engine, s, by_name[name]) for s in range(count))])
    if draw(st.booleans()):
        for row in table:
            row.append(draw(st.sampled_from(SUMS)) if row[0] == "Date sampled" else "")
            if row[0] in by_name:
                row[-1] = "77777"  # nobody's
    if named == "column" and draw(st.booleans()):
        table.append(["Component", *["Engine" for _ in table[0][1:]]])
        others = {"Unit ID": f"U-{engine}", "Date sampled": day(engine, 0), "Component": "Gearbox"}
        for row in table:
            row.append(others.get(row[0], "66666"))
    grid = table if way == "columns" else [list(r) for r in zip(*table, strict=True)]
    if named == "above":
        known = draw(st.sampled_from((*KNOWN_LABELS, *UNKNOWN_LABELS)))
        together = draw(st.booleans()) and ":" in known
        grid.insert(0, [f"{known} U-{engine}"] if together else [known, f"U-{engine}"])
    return [*grid, *(draw(st.sampled_from(BETWEEN)) for _ in range(draw(st.integers(0, 2))))]


@st.composite
def files(draw: st.DrawFn) -> list[list[list[str]]]:
    """Sheets, each of one or several tables."""
    way = draw(st.sampled_from(["rows", "columns"]))
    named = draw(st.sampled_from(["column", "merged", "above", "sheet"]))
    every = list(METALS.values())
    heads = draw(st.permutations(every))[: draw(st.integers(3, 6))]
    engines = range(1, draw(st.integers(2, 4)) + 1)
    tables = []
    for engine in engines:
        if draw(st.integers(0, 4)) == 0:  # a table of its own order, or of other figures
            heads = draw(st.permutations(every))[: draw(st.integers(3, 6))]
        tables.append(draw(block(engine, list(heads), way, named)))
    if named == "sheet" or draw(st.booleans()):
        return tables
    return [[row for table in tables for row in table]]


def written(sheets: list[list[list[str]]], folder: Path) -> Path:
    if len(sheets) == 1:
        text = io.StringIO()
        csv.writer(text).writerows(sheets[0])
        path = folder / "report.csv"
        path.write_text(text.getvalue())
        return path
    book = Workbook()
    book.remove(book.active)
    for n, rows in enumerate(sheets, 1):
        sheet = book.create_sheet(f"U-{n}")
        for row in rows:
            sheet.append([c if not c.isdigit() else int(c) for c in row])
    path = folder / "report.xlsx"
    book.save(path)
    return path


def whose(told: Told) -> None:
    """Every figure of a sample is of its engine and its day."""
    for column, said, _ in told.figures:
        engine, sample, metal = int(said) // 1000, int(said) // 100 % 10, int(said) % 100 - 1
        assert list(METALS)[metal] == column
        assert told.facts.get("drawn_on") == day(engine, sample)
        assert told.facts.get("engine", f"U-{engine}") == f"U-{engine}"


def open_answered(layout: Layout, grid: list[list[str]], blank: str) -> Layout:
    for q in settle(layout, grid).questions:
        assert q.about in ("blank", "parts")
        said = {"blank": blank, "parts": ("Engine",)}
        layout = replace(layout, **{q.about: said[q.about]})
    return settle(layout, grid).layout


@settings(max_examples=150, deadline=None)
@given(files(), st.data())
def test_no_figure_is_read_as_anothers(sheets: list[list[list[str]]], data: st.DataObject) -> None:
    with TemporaryDirectory() as folder:
        path = written(sheets, Path(folder))
        for sheet in sheets_in(path.name, path, path.with_suffix(".made")):
            grid = list(read(sheet))
            found = propose(grid)
            note("\n".join([sheet.name, *(str(r) for r in grid)]))
            # Who has cells left empty says that they are of the engine above; nobody else does.
            merged = any(r[:1] == [""] and any(c.isdigit() for c in r) for r in grid)
            layout = open_answered(found.layout, grid, "above" if merged else "out")
            note(str(layout))
            for told in Reader(layout).samples(grid):
                whose(told)
