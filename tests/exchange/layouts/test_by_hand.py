"""Files as they lie about: each written by hand before the rule that reads it, each figure checked.

None comes out of the generators beside; what is asked for is what a person sees in the file.
"""

from dataclasses import replace
from pathlib import Path

import pytest
from openpyxl import Workbook

from keen_tracer.exchange.layouts import Reader, Told, propose, read, settle, sheets_in

# (engine, day, {column: figure}) of each sample; "" where the file does not say.
Expected = list[tuple[str, str, dict[str, str]]]


def read_all(text: str, folder: Path, **said: object) -> tuple[list[Told], Reader, tuple[str, ...]]:
    """The samples of a file, its reader, and what was asked."""
    path = folder / "report.csv"
    path.write_text(text, encoding="utf-8")
    return read_path(path, **said)


def read_path(path: Path, **said: object) -> tuple[list[Told], Reader, tuple[str, ...]]:
    sheet = sheets_in(path.name, path, path.with_suffix(".made"))[0]
    grid = list(read(sheet))
    found = propose(grid)
    layout = settle(replace(found.layout, **said), grid).layout
    reader = Reader(layout)
    return list(reader.samples(grid)), reader, tuple(q.about for q in found.questions)


def plainly(told: list[Told]) -> Expected:
    return [
        (
            t.facts.get("engine", ""),
            t.facts.get("drawn_on", ""),
            {column: f"{said} {unit}".strip() for column, said, unit in t.figures},
        )
        for t in told
    ]


def test_one_unit_above_a_trend_that_runs_across(tmp_path: Path) -> None:
    text = (
        "Customer:,Northfall Haulage,,,\n"
        "Unit ID:,U-1,,,\n"
        "Lab No,70001,70002,70003,\n"
        "Date Sampled,04-Jan-26,15-Jan-26,26-Jan-26,Average\n"
        "Hrs on Unit,1200,1330,1460,\n"
        "Iron,14,22,9,15\n"
        "Chromium,<1,2,1,1\n"
        "Water %,<0.1,<0.1,0.2,\n"
    )
    told, reader, asked = read_all(text, tmp_path)
    assert plainly(told) == [
        ("U-1", "2026-01-04", {"Fe_ppm": "14", "Cr_ppm": "<1", "water_pct": "<0.1 %"}),
        ("U-1", "2026-01-15", {"Fe_ppm": "22", "Cr_ppm": "2", "water_pct": "<0.1 %"}),
        ("U-1", "2026-01-26", {"Fe_ppm": "9", "Cr_ppm": "1", "water_pct": "0.2 %"}),
    ]
    assert (reader.unread, asked) == ([], ())


def test_what_stands_above_the_table_holds_and_sums_below_are_none(tmp_path: Path) -> None:
    text = (
        "Northfall Oil Laboratory;;;;;\n"
        "Unit No:;U-1;;Depot:;Northfall;\n"
        ";;;;;\n"
        "Sampled;Lab no.;Hours;Fe;Cu;V100\n"
        "2026-01-04;70001;1200;14;5;14,1\n"
        "2026-01-15;70002;1330;22;6;13,9\n"
        "Average;;;18;5,5;14,0\n"
        "Limit;;;100;25;\n"
    )
    told, reader, _ = read_all(text, tmp_path)
    assert plainly(told) == [
        ("U-1", "2026-01-04", {"Fe_ppm": "14", "Cu_ppm": "5", "KV100_mm2_s": "14.1"}),
        ("U-1", "2026-01-15", {"Fe_ppm": "22", "Cu_ppm": "6", "KV100_mm2_s": "13.9"}),
    ]
    assert told[0].facts["depot"] == "Northfall"
    assert (reader.unread, reader.left) == ([], 2)


BLOCKS = (
    "Unit,U-1\n"
    "Date,Hours,Fe,Cu\n"
    "2026-01-04,1200,14,5\n"
    "\n"
    "{label},U-2\n"
    "Date,Hours,Fe,Cu\n"
    "2026-01-05,5200,44,9\n"
)
FIRST, SECOND = (
    ("U-1", "2026-01-04", {"Fe_ppm": "14", "Cu_ppm": "5"}),
    ("U-2", "2026-01-05", {"Fe_ppm": "44", "Cu_ppm": "9"}),
)


def test_each_table_is_of_the_engine_named_above_it(tmp_path: Path) -> None:
    told, reader, asked = read_all(BLOCKS.format(label="Unit"), tmp_path)
    assert plainly(told) == [FIRST, SECOND]
    assert (reader.unread, asked) == ([], ())


@pytest.mark.parametrize("label", ["Asset", "Which engine it was", ""])
def test_a_table_under_a_word_that_is_not_known_is_nobodys(label: str, tmp_path: Path) -> None:
    told, reader, _ = read_all(BLOCKS.format(label=label), tmp_path)
    assert plainly(told) == [FIRST]
    assert reader.unread[-1].what == "there are figures without it"


def test_a_heading_that_comes_again_on_the_next_page_is_asked_about(tmp_path: Path) -> None:
    text = BLOCKS.replace("{label},U-2\n", "Page 2\n")
    assert read_all(text, tmp_path)[2] == ("blank",)
    told, _, _ = read_all(text, tmp_path, blank="above")
    assert [t.facts["engine"] for t in told] == ["U-1", "U-1"]


def test_tables_below_one_another_run_across_each_with_figures_of_its_own(tmp_path: Path) -> None:
    text = (
        "Unit ID: U-1,,\nMake,X,\nLab No,70001,70002\nSampled,2026-01-04,2026-01-15\n"
        "Iron,14,22\nCopper,5,6\n,,\n"
        "Unit ID: U-2,,\nMake,X,\nLab No,70011,\nSampled,2026-01-05,\n"
        "Copper,15,\nIron,34,\nLead,3,\n"
    )
    assert plainly(read_all(text, tmp_path)[0]) == [
        ("U-1", "2026-01-04", {"Fe_ppm": "14", "Cu_ppm": "5"}),
        ("U-1", "2026-01-15", {"Fe_ppm": "22", "Cu_ppm": "6"}),
        ("U-2", "2026-01-05", {"Fe_ppm": "34", "Cu_ppm": "15", "Pb_ppm": "3"}),
    ]


MERGED = "Unit,Date,Hours,Fe\nU-1,2026-01-04,1200,14\n,2026-01-15,1330,22\nU-2,2026-01-05,2200,24\n"


@pytest.mark.parametrize(
    ("blank", "whose", "left"), [("above", ["U-1", "U-1", "U-2"], 0), ("out", ["U-1", "U-2"], 1)]
)
def test_cells_left_empty_under_an_engine_are_asked_about(
    blank: str, whose: list[str], left: int, tmp_path: Path
) -> None:
    assert read_all(MERGED, tmp_path)[2] == ("blank",)
    told, reader, _ = read_all(MERGED, tmp_path, blank=blank)
    assert ([t.facts["engine"] for t in told], reader.left) == (whose, left)


def test_a_figure_a_row_with_its_sample_said_once(tmp_path: Path) -> None:
    text = (
        "Lab No,Asset,Sample Date,Parameter,Result\n"
        "70001,U-1,2026-01-04,Fe,14\n,,,Cu,5\n,,,Pb,*3\n"
        "70002,U-2,2026-01-05,Fe,24\n,,,Cu,7 H\n"
    )
    told, reader, _ = read_all(text, tmp_path, blank="above")
    assert plainly(told) == [
        ("U-1", "2026-01-04", {"Fe_ppm": "14", "Cu_ppm": "5", "Pb_ppm": "3"}),
        ("U-2", "2026-01-05", {"Fe_ppm": "24", "Cu_ppm": "7"}),
    ]
    assert dict(reader.marks) == {"*": 1, "H": 1}


def test_a_form_with_names_and_figures_in_pairs(tmp_path: Path) -> None:
    text = (
        "Northfall Oil Laboratory,,,,,\nUnit ID,U-1,,Lab No,70001,\n"
        "Sample Date,04-Jan-2026,,Hours on unit,1200,\nWear metals,,,Contaminants,,\n"
        "Iron,14,ppm,Silicon,8,ppm\nChromium,<1,ppm,Water,<0.05,%\n"
        "Viscosity @100C,14.1,cSt,Soot,0.5,%\n"
    )
    [told] = read_all(text, tmp_path)[0]
    assert plainly([told]) == [
        (
            "U-1",
            "2026-01-04",
            {"Fe_ppm": "14 ppm", "Si_ppm": "8 ppm", "Cr_ppm": "<1 ppm", "water_pct": "<0.05 %",
             "KV100_mm2_s": "14.1 cSt", "soot_pct": "0.5 %"},
        )
    ]  # fmt: skip
    assert (told.facts["meter"], told.facts["report"]) == ("1200", "70001")


def test_figures_of_a_sample_before_are_nobodys_where_no_day_stands_over_them(
    tmp_path: Path,
) -> None:
    text = (
        "Unit ID,U-1,,Lab No,70001,\nSample Date,04-Jan-2026,,Hours on unit,1200,\n"
        "Iron,14,12,Silicon,8,7\nChromium,1,1,Water,0.05,0.05\n"
    )
    told, reader, _ = read_all(text, tmp_path)
    assert plainly(told) == [("U-1", "2026-01-04", {"Fe_ppm": "14", "Cr_ppm": "1"})]
    assert reader.unread[0].what == "there are figures without it"


PARTS = (
    "Unit,Component,Date,Hours,Fe\nU-1,Engine,2026-01-04,1200,14\nU-1,{other},2026-01-04,1200,114\n"
)


def test_parts_of_a_machine_that_are_no_engines_are_left_out_and_counted(tmp_path: Path) -> None:
    told, reader, asked = read_all(PARTS.format(other="Hydraulic motor"), tmp_path)
    assert plainly(told) == [("U-1", "2026-01-04", {"Fe_ppm": "14"})]
    assert (dict(reader.others), asked) == ({"Hydraulic motor": 1}, ())


def test_a_bottle_of_another_part_is_none_of_the_engine_whatever_it_says(tmp_path: Path) -> None:
    """A word for a figure, a row a figure; a bottle that has no figures yet."""
    long = (
        "Unit,Component,Date,Test,Result\nU-1,Engine,2026-01-04,Iron,14\n"
        "U-1,Gearbox,2026-01-04,Glycol,Positive\n"
    )
    told, reader, _ = read_all(long, tmp_path)
    assert plainly(told) == [("U-1", "2026-01-04", {"Fe_ppm": "14"})]
    assert dict(reader.others) == {"Gearbox": 1}
    empty = PARTS.format(other="Gearbox").replace(",114", ",")
    assert plainly(read_all(empty, tmp_path)[0]) == [("U-1", "2026-01-04", {"Fe_ppm": "14"})]


def test_a_part_nobody_knows_is_asked_about(tmp_path: Path) -> None:
    text = PARTS.format(other="Main unit")
    told, reader, asked = read_all(text, tmp_path)
    # What its word says is proposed beside; the other one is in none of it.
    assert (plainly(told), asked) == ([("U-1", "2026-01-04", {"Fe_ppm": "14"})], ("parts",))
    assert [u.heading for u in reader.unread] == ["part of the machine"]
    told, _, _ = read_all(text, tmp_path, parts=("Engine", "Main unit"))
    assert [f for t in told for _, f, _ in t.figures] == ["14", "114"]


def test_a_part_that_first_comes_far_down_is_named_and_left_out(tmp_path: Path) -> None:
    rows = "".join(f"U-1,Engine,2026-01-04,{n},14\n" for n in range(500))
    text = PARTS.format(other="Gearbox").splitlines()[0] + f"\n{rows}U-1,Main unit,2026-01-04,1,9\n"
    told, reader, asked = read_all(text, tmp_path)
    assert (len(told), asked) == (500, ())
    assert [u.what for u in reader.unread] == ["nobody said whether 'Main unit' is an engine"]


def test_what_was_said_of_parts_is_not_asked_again(tmp_path: Path) -> None:
    text = PARTS.format(other="Main unit")
    told, reader, _ = read_all(text, tmp_path, parts=("Engine",), others=("Main unit",))
    assert (len(told), reader.unread, dict(reader.others)) == (1, [], {"Main unit": 1})


def test_several_samples_in_a_row_each_with_its_day(tmp_path: Path) -> None:
    text = (
        "Unit,Date 1,Hours 1,Fe 1,Cu 1,Date 2,Hours 2,Fe 2,Cu 2\n"
        "U-1,2026-01-04,1200,14,5,2026-02-04,1300,16,6\nU-2,2026-01-05,2200,24,7,,,,\n"
    )
    assert plainly(read_all(text, tmp_path)[0]) == [
        ("U-1", "2026-01-04", {"Fe_ppm": "14", "Cu_ppm": "5"}),
        ("U-1", "2026-02-04", {"Fe_ppm": "16", "Cu_ppm": "6"}),
        ("U-2", "2026-01-05", {"Fe_ppm": "24", "Cu_ppm": "7"}),
    ]


def test_a_word_is_a_figure_too_and_an_engine_may_be_called_max(tmp_path: Path) -> None:
    long = "Sample,Test,Result\nB-1,Glycol,Negative\nB-1,Iron,14\n"
    [told] = read_all(long, tmp_path)[0]
    assert told.figures == [("glycol_pct", "Negative", ""), ("Fe_ppm", "14", "")]
    named = "Unit,Sample Date,Glycol\nMax-12,2026-01-04,neg\nMax-13,,3\nMax,,4\n"
    told_of, reader, _ = read_all(named, tmp_path)
    assert plainly(told_of) == [("Max-12", "2026-01-04", {"glycol_pct": "neg"})]
    assert ([u.row for u in reader.unread], reader.left) == ([3], 1)


def test_limits_and_averages_beside_figures_are_not_read(tmp_path: Path) -> None:
    text = "Unit,Date,Fe,Fe limit,Si average,Si\nU-1,2026-01-04,14,100,10,8\n"
    assert plainly(read_all(text, tmp_path)[0]) == [
        ("U-1", "2026-01-04", {"Fe_ppm": "14", "Si_ppm": "8"})
    ]


def test_headings_over_two_rows(tmp_path: Path) -> None:
    text = (
        ",,,Wear metals (ppm),,Physical,\n"
        "Unit,Lab ref,Sampled,Fe,Cr,Visc (cSt),TBN\n"
        ",,,,,@ 100°C,\n"
        "U-1,70001,04/01/2026,14,1,14.1,7.5\nU-2,70002,15/01/2026,24,2,13.1,6.5\n"
    )
    told, _, asked = read_all(text, tmp_path)
    assert plainly(told)[0] == (
        "U-1",
        "2026-01-04",
        {"Fe_ppm": "14", "Cr_ppm": "1", "KV100_mm2_s": "14.1 cSt", "BN_mgKOH_g": "7.5"},
    )
    assert asked == ()


@pytest.mark.parametrize("said", ["2026/01/04", "46026", "2026-01-04T08:30:00Z", "Jan 4, 2026"])
def test_a_day_however_it_is_written(said: str, tmp_path: Path) -> None:
    text = f'Unit;Sample Date (UTC);Hours;Fe\nU-1;"{said}";1200;14\n'
    assert plainly(read_all(text, tmp_path)[0]) == [("U-1", "2026-01-04", {"Fe_ppm": "14"})]


def test_a_viscosity_without_its_temperature_is_told_by_its_figures_or_left(tmp_path: Path) -> None:
    hot = "Unit,Date,Fe,Viscosity (cSt)\nU-1,2026-01-04,14,14.1\nU-2,2026-01-05,24,13.2\n"
    assert plainly(read_all(hot, tmp_path)[0])[0][2]["KV100_mm2_s"] == "14.1 cSt"
    # A thick oil at 100 °C and a thin one at 40 °C look alike; so do two temperatures in one
    # column.
    for other in ("98", "19.5"):
        mixed = hot.replace("13.2", other)
        assert plainly(read_all(mixed, tmp_path)[0])[0][2] == {"Fe_ppm": "14"}


@pytest.mark.parametrize(
    ("head", "column"),
    [
        ("Iron ASTM D5185 (mg/kg)", "Fe_ppm"), ("Viscosity @ 100 °C ASTM D445", "KV100_mm2_s"),
        ("SOOT (% by FTIR)", "soot_pct"), ("V100C", "KV100_mm2_s"), (">4um", "particles_4um_mL"),
        ("Hierro", "Fe_ppm"), ("Cuivre", "Cu_ppm"), ("Rame (Cu)", "Cu_ppm"), ("Lood", "Pb_ppm"),
        ("Lube Miles", "hours_on_oil"), ("Fe limit", ""), ("Iron (max)", ""), ("Viscosity", ""),
        ("Viscosity index", ""), ("Prev. Fe", ""),
    ],
)  # fmt: skip
def test_what_a_heading_stands_for(head: str, column: str) -> None:
    grid = [["Unit ID", "Sample Date", "Silver", head], ["U-1", "2026-01-04", "1", ""]]
    assert propose(grid).layout.columns[3].target == column


def workbook(folder: Path, **sheets: list[list[object]]) -> Path:
    book = Workbook()
    book.remove(book.active)
    for name, rows in sheets.items():
        sheet = book.create_sheet(name)
        for row in rows:
            sheet.append(row)
    path = folder / "report.xlsx"
    book.save(path)
    return path


def test_a_sheet_an_engine_is_one_file(tmp_path: Path) -> None:
    heads = ["Date", "Hours", "Fe", "Cu"]
    path = workbook(
        tmp_path,
        Cover=[["see the sheets"]],
        U1=[heads, ["2026-01-04", 1200, 14, 5]],
        U2=[
            ["Printed today"],
            heads,
            ["2026-01-05", 2200, 24, 7],
            ["2026-01-06", "?", "x", "1,2,3"],
        ],
    )
    told, reader, _ = read_path(path)
    assert [(e, d) for e, d, _ in plainly(told)] == [
        ("U1", "2026-01-04"), ("U2", "2026-01-05"), ("U2", "2026-01-06"),
    ]  # fmt: skip
    # A row is counted in its own sheet, so that it can be found.
    assert [(u.row, u.heading) for u in reader.unread] == [
        (4, "U2, Hours"), (4, "U2, Fe"), (4, "U2, Cu"),
    ]  # fmt: skip


def test_a_sheet_a_form(tmp_path: Path) -> None:
    def form(unit: str, iron: int) -> list[list[object]]:
        return [["Unit ID", unit, "Sample Date", "2026-01-04"], ["Iron", iron, "Lead", 3],
                ["Copper", 5, "Tin", 1]]  # fmt: skip

    told, _, _ = read_path(workbook(tmp_path, first=form("U-1", 14), second=form("U-2", 24)))
    assert [(t.facts["engine"], t.figures[0][1]) for t in told] == [("U-1", "14"), ("U-2", "24")]


def test_a_workbooks_parts_of_a_hundred_and_less_than_are_read_as_shown(tmp_path: Path) -> None:
    path = workbook(
        tmp_path, one=[["Unit", "Date", "Water", "Chromium"], ["U-1", "2026-01-04", 0.0012, 1]]
    )
    from openpyxl import load_workbook

    book = load_workbook(path)
    book["one"]["C2"].number_format, book["one"]["D2"].number_format = "0.00%", '"<"0'
    book.save(path)
    assert plainly(read_path(path)[0])[0][2] == {"water_pct": "0.12 %", "Cr_ppm": "<1"}
