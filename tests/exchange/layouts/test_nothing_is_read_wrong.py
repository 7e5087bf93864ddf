"""Each of these came in silently and wrong once: a number is what one cell shows, a unit is
understood or asked, a column is taken by its name only if its values look like it."""

from collections.abc import Sequence
from pathlib import Path
from typing import Any

import pytest
from openpyxl import Workbook, load_workbook

from keen_tracer.exchange.layouts import Reader, head_of, propose, read, sheets_in
from tests.exchange.layouts.test_by_hand import plainly, read_all

HEAD = "Unit,Date,Hours,Fe\n"


def said(reader) -> str:
    return " | ".join(f"{u.heading}: {u.what}" for u in reader.unread)


@pytest.mark.parametrize("cell", ["1180 1250", "14 1000", "1 2", "7 0 0"])
def test_two_figures_in_a_cell_are_not_one(tmp_path: Path, cell: str) -> None:
    told, reader, _ = read_all(f"Unit,Date,Hours,Fe\nU-1,2026-01-04,{cell},14\n", tmp_path)
    assert "meter" not in told[0].facts
    assert "more than one figure" in said(reader)


def test_thousands_apart_are_one_figure(tmp_path: Path) -> None:
    told, reader, _ = read_all("Unit,Date,Hours,Fe\nU-1,2026-01-04,10 980,14\n", tmp_path)
    assert (told[0].facts["meter"], reader.unread) == ("10980", [])


def test_a_meter_with_its_unit_in_the_cell(tmp_path: Path) -> None:
    told, reader, _ = read_all(HEAD + "U-1,2026-01-04,10980 h,14\n", tmp_path)
    assert (told[0].facts["meter"], told[0].facts["meter_unit"]) == ("10980", "h")
    assert reader.unread == []
    told, reader, _ = read_all(HEAD + "U-1,2026-01-04,about 10980,14\n", tmp_path)
    assert "meter" not in told[0].facts
    assert "is no figure" in said(reader)


def test_a_volume_in_a_cell_is_converted(tmp_path: Path) -> None:
    """1 US gallon is 3.785411784 L, a US quart a fourth of it (NIST SP 811, appendix B)."""
    text = (
        "Unit,Date,Hours,Oil added,Fe\nU-1,2026-01-04,1200,1 gal,14\nU-1,2026-02-04,1300,2 L,15\n"
    )
    told, _, _ = read_all(text, tmp_path)
    assert [float(t.facts["top_up_l"]) for t in told] == pytest.approx([3.7854, 2.0], rel=1e-3)


@pytest.mark.parametrize("heading", ["Oil added (qt)", "Oil added qt", "Oil added [US qt]"])
def test_a_volume_in_a_heading_is_understood(tmp_path: Path, heading: str) -> None:
    from keen_tracer.exchange.layouts import volume_unit

    _, reader, _ = read_all(f"Unit,Date,Hours,{heading},Fe\nU-1,2026-01-04,1200,4,14\n", tmp_path)
    assert volume_unit(reader.layout) == "US qt"


def test_a_unit_that_is_not_of_the_test_takes_no_column(tmp_path: Path) -> None:
    head = "Unit,Date,Hours,Fe,Soot (A/cm),Oxidation (%),Nitration (%)\n"
    text = f"{head}U-1,2026-01-04,1200,9,12,15,9\n"
    told, _, _ = read_all(text, tmp_path)
    assert plainly(told) == [("U-1", "2026-01-04", {"Fe_ppm": "9"})]


def test_a_viscosity_at_its_temperature_is_still_one(tmp_path: Path) -> None:
    text = "Unit,Date,Hours,Visc (100 °C),Fe\nU-1,2026-01-04,1200,14.1,9\n"
    told, _, _ = read_all(text, tmp_path)
    assert plainly(told)[0][2] == {"KV100_mm2_s": "14.1", "Fe_ppm": "9"}


def test_three_pairs_of_figures_are_asked_which_the_year_is(tmp_path: Path) -> None:
    text = HEAD + "U-1,26-10-23,1200,14\nU-1,26-11-12,1300,15\n"
    _, _, asked = read_all(text, tmp_path)
    assert "days" in asked
    told, _, _ = read_all(text, tmp_path, days="iso")
    assert [t.facts["drawn_on"] for t in told] == ["2026-10-23", "2026-11-12"]
    told, _, _ = read_all(text, tmp_path, days="day_first")
    assert [t.facts["drawn_on"] for t in told] == ["2023-10-26", "2012-11-26"]


def test_the_day_it_was_drawn_is_the_one_that_says_so(tmp_path: Path) -> None:
    text = "Unit,Date,Drawn,Hours,Fe\nU-1,2026-01-20,2026-01-04,1200,14\n"
    told, _, _ = read_all(text, tmp_path)
    assert told[0].facts["drawn_on"] == "2026-01-04"


def test_serial_numbers_are_no_tin(tmp_path: Path) -> None:
    text = (
        "SN,Mo,S,P,V,Unit,Drawn,Hours,Iron\n"
        "448123,3,2,1,4,U-1,2026-01-04,1200,14\n448124,3,1,2,4,U-1,2026-02-04,1300,15\n"
    )
    told, _, _ = read_all(text, tmp_path)
    assert [set(t.figures) for t in told] == [{("Fe_ppm", "14", "")}, {("Fe_ppm", "15", "")}]


def test_symbols_of_metals_are_metals(tmp_path: Path) -> None:
    text = "Unit,Drawn,Hours,Fe,Sn,Mo,S,P,V\nU-1,2026-01-04,1200,14,2,45,3200,900,0.1\n"
    told, _, _ = read_all(text, tmp_path)
    assert {c for c, _, _ in told[0].figures} == {
        "Fe_ppm", "Sn_ppm", "Mo_ppm", "S_ppm", "P_ppm", "V_ppm",
    }  # fmt: skip


@pytest.mark.parametrize(
    "line", ["Unit,U-1,Hours,1200,Oil hours,250", "Unit ID:,U-1,Hours: 1200 h,,"]
)
def test_a_meter_beside_a_table_is_said(tmp_path: Path, line: str) -> None:
    _, reader, _ = read_all(f"{line}\nDate,Fe,Cu\n2026-01-04,14,5\n", tmp_path)
    assert "stands outside the table" in said(reader)


def book(folder: Path, grid: list[list[object]], **hides: Sequence[Any]) -> Path:
    """A workbook of one sheet of reports behind a cover; `hides`: its hidden rows and columns."""
    made = Workbook()
    cover = made.active
    cover.append(["Results of June", "see the sheets"])
    sheet = made.create_sheet("June")
    for row in grid:
        sheet.append(row)
    for at in hides.get("rows", ()):
        sheet.row_dimensions[at].hidden = True
    for letter in hides.get("columns", ()):
        sheet.column_dimensions[letter].hidden = True
    path = folder / "june.xlsx"
    made.save(path)
    return path


ROWS: list[list[object]] = [
    ["Unit", "Date", "Hours", "Fe", "Cu"],
    ["U-1", "2026-01-04", 1200, 14, 5],
    ["U-1", "2026-02-04", 1300, 900, 300],
    ["U-1", "2026-03-04", 1400, 16, 6],
]


def test_a_hidden_row_is_no_sample_and_is_said(tmp_path: Path) -> None:
    sheets = sheets_in("june.xlsx", book(tmp_path, ROWS, rows=[3]), tmp_path / "made")
    assert [s.name for s in sheets] == ["June", "Sheet"]  # it opens where the figures are
    told = list(Reader(propose(head_of(sheets[0])).layout).samples(read(sheets[0])))
    assert [(t.row, t.facts["drawn_on"]) for t in told] == [(2, "2026-01-04"), (4, "2026-03-04")]
    assert sheets[0].hidden_parts == ((3, "June"),)


def test_a_hidden_column_is_not_read_and_is_said(tmp_path: Path) -> None:
    sheet = sheets_in("june.xlsx", book(tmp_path, ROWS, columns=["E"]), tmp_path / "made")[0]
    told = list(Reader(propose(head_of(sheet)).layout).samples(read(sheet)))
    assert {c for t in told for c, _, _ in t.figures} == {"Fe_ppm"}
    assert sheet.hidden_parts == ((1, "June, column E"),)


def test_a_hidden_sheet_stands_last_and_joins_no_others(tmp_path: Path) -> None:
    path = book(tmp_path, ROWS)
    made = load_workbook(path)
    made.copy_worksheet(made["June"]).sheet_state = "hidden"
    made.save(path)
    found = sheets_in("june.xlsx", path, tmp_path / "made")
    assert [(s.name, s.hidden) for s in found][-1] == ("June Copy", True)
    assert not any(s.name.startswith("all") for s in found)


@pytest.mark.parametrize("cell", ["~14", "1-2", "1 - 2", "14 or 15", "x14", "-3", "12 000 000 000"])
def test_what_is_no_figure_is_not_taken_for_one(tmp_path: Path, cell: str) -> None:
    told, reader, _ = read_all(
        HEAD + f"U-1,2026-01-04,1200,{cell}\nU-1,2026-02-04,1300,9\n", tmp_path
    )
    assert [f for t in told for f in t.figures] == [("Fe_ppm", "9", "")]
    assert len(reader.unread) == 1


@pytest.mark.parametrize(
    ("heading", "cell"),
    [
        ("Status", "Rejected"),
        ("Remarks", "Sample leaked in the post"),
        ("Status", "Cancelled: the bottle was empty"),
        ("Sample type", "Coolant"),
        ("Product", "new oil"),
        ("Remark", "VOID"),
    ],
)
def test_a_row_that_says_it_is_no_sample_is_none(tmp_path: Path, heading: str, cell: str) -> None:
    text = (
        f"Unit,Date,Hours,{heading},Fe\nU-1,2026-01-04,1200,Oil,14\nU-1,2026-02-04,1300,{cell},90\n"
    )
    told, reader, _ = read_all(text, tmp_path)
    assert [t.facts["drawn_on"] for t in told] == ["2026-01-04"]
    assert reader.unread or reader.others or reader.fresh


@pytest.mark.parametrize(
    ("heading", "cell"),
    [
        ("Diagnosis", "Coolant"),
        ("Oil status", "New"),
        ("Problem", "Fuel"),
        ("Remarks", "Lost 3 L of coolant since the last change"),
        ("Comment", "Insufficient oil pressure at idle"),
        ("Note", "Leaked at the rear seal"),
    ],
)
def test_what_is_said_of_an_oil_makes_it_no_other(tmp_path: Path, heading: str, cell: str) -> None:
    text = f"Unit,Date,Hours,{heading},Fe,Na\nU-1,2026-01-04,1200,{cell},14,300\n"
    told, reader, _ = read_all(text, tmp_path)
    assert (len(told), reader.unread) == (1, [])


def test_an_empty_cell_of_a_list_set_by_spaces_moves_no_other(tmp_path: Path) -> None:
    text = (
        "Unit    Date         Hours    Fe    Cu    Pb\n"
        "U-1     2026-01-04   1200     14          3\n"
        "U-1     2026-02-04            15    6     \n"
    )
    told, _, _ = read_all(text, tmp_path)
    assert plainly(told) == [
        ("U-1", "2026-01-04", {"Fe_ppm": "14", "Pb_ppm": "3"}),
        ("U-1", "2026-02-04", {"Fe_ppm": "15", "Cu_ppm": "6"}),
    ]
    assert "meter" not in told[1].facts
