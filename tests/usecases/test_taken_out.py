"""Everything out: a data package that an outside reader finds valid, a workbook and JSON that say
the same, blank tables that come back in."""

import csv
import io
import json
import warnings
import zipfile
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook

from keen_tracer.core.roles import Actor, at_the_machine
from keen_tracer.exchange.cells import written
from keen_tracer.exchange.layouts import Column, Layout, read, sheets_of
from keen_tracer.exchange.tables import TABLES
from keen_tracer.exchange.workbook import LISTS, blank, columns_of, write_workbook
from keen_tracer.storage.db import single
from keen_tracer.storage.records import number, row
from keen_tracer.usecases.exporting import export_folder, write_book, write_json
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.importing.kept_layouts import keep
from keen_tracer.usecases.importing.one_report import Fresh, bring_report
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.recording.averages import AverageSheet, put_sheet
from tests.usecases.importing.test_one_report import ONE


@pytest.fixture(scope="module")
def package(demo_url: str, tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("package")
    export_folder(demo_url, folder)
    return folder


def found_by_frictionless(folder: Path) -> list[str]:
    """What the outside checker of data packages finds wrong (frictionless, Open Knowledge)."""
    limit = csv.field_size_limit()
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # the checker's own
        from frictionless import Package

        report = Package(str(folder / "datapackage.json")).validate(limit_errors=50)
    csv.field_size_limit(limit)  # the checker lifts it for the whole process
    return [f"{t.name} {e.type} {e.note}" for t in report.tasks for e in t.errors] + [
        e.note for e in report.errors
    ]


def test_an_outside_checker_finds_the_data_package_valid(package: Path) -> None:
    assert found_by_frictionless(package) == []


def test_and_finds_what_is_wrong_in_one(package: Path, tmp_path: Path) -> None:
    for file in package.glob("*.*"):
        (tmp_path / file.name).write_bytes(file.read_bytes())
    samples = (tmp_path / "samples.csv").read_text().splitlines()
    cells = samples[1].split(",")
    stranger, no_day, far = ([*cells] for _ in range(3))
    stranger[:2] = ["A", "NOBODY"]
    no_day[0], no_day[2] = "B", "2026-02-30"
    far[0], far[3] = "C", "-4"
    more = [",".join(x) for x in (stranger, no_day, far)]
    (tmp_path / "samples.csv").write_text("\n".join([*samples, *more]) + "\n")
    found = " ".join(found_by_frictionless(tmp_path))
    assert "foreign-key" in found
    assert "type-error" in found
    assert "constraint-error" in found


def test_the_workbook_and_the_json_say_what_the_files_say(package: Path, demo_url: str) -> None:
    book, plain = io.BytesIO(), io.BytesIO()
    with single(demo_url) as c:
        write_book(c, book)
        write_json(c, plain)
    said = json.loads(plain.getvalue())
    sheets = load_workbook(book, read_only=True)
    assert set(said) == set(TABLES) == set(sheets.sheetnames)
    for name in ("engines", "samples", "events", "limits", "states"):
        with (package / f"{name}.csv").open(newline="", encoding="utf-8") as text:
            head, *lines = csv.reader(text)
        rows = list(sheets[name].iter_rows(values_only=True))
        assert list(rows[0]) == head
        assert [[day_of(v) for v in r] for r in rows[1:]] == lines
        assert [[written(v) for v in r.values()] for r in said[name]] == lines
        assert len(lines) > 5


def day_of(value: object) -> str:
    """A cell of a sheet as our files write it."""
    return "" if value is None else written(getattr(value, "date", lambda: value)())


@given(
    st.lists(
        st.tuples(
            st.text(st.characters(min_codepoint=32, max_codepoint=0x2FF), max_size=12).map(
                lambda s: " ".join(s.split())
            ),
            st.floats(-1e9, 1e9).map(lambda x: float(f"{x:.9g}")),
        ),
        min_size=1,
        max_size=12,
    )
)
def test_no_text_is_taken_for_a_formula(rows: list[tuple[str, float]]) -> None:
    out = io.BytesIO()
    told = [("=1+1", 0.0), *rows]
    write_workbook(out, [("t", ("said", "figure"), told)])
    cells = list(load_workbook(out).active.iter_rows(min_row=2))
    assert [(c[0].value or "", c[1].value) for c in cells] == told
    assert {c[0].data_type for c in cells} <= {"s", "n", "inlineStr"}
    parts = zipfile.ZipFile(out)
    assert not any(b"<f>" in parts.read(n) for n in parts.namelist() if "sheet" in n)


def test_a_blank_workbook_filled_in_comes_back(url: str, tmp_path: Path) -> None:
    names = ("engines", "samples")
    book = load_workbook(io.BytesIO(blank([TABLES[n] for n in names])))
    assert book[LISTS].sheet_state == "hidden"
    engines, samples = (book[n] for n in names)
    heads = [c.value for c in engines[1]]
    assert heads == columns_of(TABLES["engines"])
    assert {c.value for c in engines[1] if c.font.bold} == set(TABLES["engines"].required)
    offered = {str(v.sqref).split("2:")[0]: v for v in engines.data_validations.dataValidation}
    column = engines.cell(1, heads.index("class") + 1).column_letter
    assert offered[column].formula1.startswith(LISTS)
    given_ = {"engine": "U-1", "class": "heavy_diesel", "sump_l": 34, "in_service_on": "2024-05-01"}
    drawn = {
        "sample": "A1",
        "engine": "U-1",
        "drawn_on": "2026-03-02",
        "meter": 1200.5,
        "Fe_ppm": "<1",
    }
    for sheet, said in ((engines, given_), (samples, drawn)):
        of = [c.value for c in sheet[1]]
        sheet.append([said.get(h) for h in of])
    path = tmp_path / "filled in.xlsx"
    book.save(path)
    found = import_files(url, [(path.name, path)], at_the_machine("t"))
    assert (found.problems, found.written) == ([], True)
    with single(url) as c:
        assert number(c, "count_engines") == 1
        held = row(c, "draw_of_sample", code="A1")
        assert held
        assert held["dial"] == 1200.5


def test_a_workbook_without_our_tables_says_where_it_belongs(url: str, tmp_path: Path) -> None:
    out = io.BytesIO()
    write_workbook(out, [("Results", ("Unit", "Iron"), [("U-1", 14)])])
    (tmp_path / "lab.xlsx").write_bytes(out.getvalue())
    found = import_files(url, [("lab.xlsx", tmp_path / "lab.xlsx")], at_the_machine("t"))
    [problem] = found.problems
    assert "laboratory's report" in problem.fix
    write_workbook(out := io.BytesIO(), [("engines", ("engine", "class"), [("U-1", "rocket")])])
    (tmp_path / "lab.xlsx").write_bytes(out.getvalue())
    found = import_files(url, [("lab.xlsx", tmp_path / "lab.xlsx")], at_the_machine("t"))
    [problem] = found.problems
    assert (problem.column, problem.row) == ("class", 2)
    # Every sheet of the workbook can be looked at as a plain grid too.
    [sheet] = sheets_of("lab.xlsx", tmp_path / "lab.xlsx", tmp_path / "made")
    assert list(read(sheet)) == [["engine", "class"], ["U-1", "rocket"]]


def test_what_came_in_by_hand_goes_out_and_in_again_to_the_same_bytes(
    url: str, new_database: Callable[[], str], tmp_path: Path
) -> None:
    """A report without a meter, one typed in quarts, averages, how a file is read."""
    who = Actor("Mira Ostrand", "analyst")
    with single(url) as c:
        bring_report(c, replace(ONE, meter=None), who)
        quarts = {"top_up_l": 1.892706, "typed": {"top_up_l": "2 US qt"}}
        fresh = Fresh(grade="15W-40", typical=True)
        more = replace(ONE, meter=8350, report="N 2", new=None, oil="Ulfrin HD", fresh=fresh)
        bring_report(c, replace(more, **quarts), who)
        c.execute("insert into model (code, class) values ('M-1', 'heavy_diesel')")
        put_sheet(
            c, AverageSheet(laboratory="Northfall", model="M-1", averages={"Fe_ppm": 14.5}), who
        )
        columns = (Column("Unit", "engine"), Column("Iron", "Fe_ppm", "ppm"))
        keep(c, Layout(columns=columns, laboratory="Northfall", decimal="comma"), who.name)
    one, two, target = tmp_path / "one", tmp_path / "two", new_database()
    export_folder(url, one)
    files = [(f.name, f) for f in sorted(one.glob("*.csv"))]
    found = import_files(target, files, at_the_machine("t"), as_record=True)
    assert found.written, found.problems
    judge_stale(url, every=True)
    judge_stale(target)
    export_folder(url, one)
    export_folder(target, two)
    for file in sorted(one.iterdir()):
        assert (two / file.name).read_bytes() == file.read_bytes(), file.name
    assert "2 US qt" in (two / "samples.csv").read_text()
    assert ",212," in (two / "samples.csv").read_text()


def test_a_verdict_says_what_the_engine_might_do_on_its_day(package: Path) -> None:
    """Recounted from stops.csv and decisions.csv alone: between a Stop and the release that names
    it no sample of the engine says "runs", however quiet its own figures are."""

    def table(name: str) -> list[dict[str, str]]:
        with (package / f"{name}.csv").open(encoding="utf-8", newline="") as f:
            return list(csv.DictReader(f))

    runs = [d for d in table("decisions") if d["kind"] == "run"]
    stood = []
    for v in table("verdicts"):
        mine = [d for d in runs if d["engine"] == v["engine"] and d["at"][:10] <= v["drawn_on"]]
        named = {k for d in mine if d["run_state"] != "hold" for k in d["lifts"].split(";")}
        stops = [s for s in table("stops") if s["engine"] == v["engine"]]
        if any(s["on"] <= v["drawn_on"] and s["reason"] not in named for s in stops):
            stood.append(v)
    assert stood, "the demo has a sample drawn while a Stop stood"
    assert {v["may_run"] for v in stood} == {"do_not_run"}
