"""Tables below one another under other headings, each file written by hand before the rule: what a
person reads in it is what is read, and nothing is put under a heading it does not stand under."""

from pathlib import Path

import pytest
from openpyxl import Workbook

from .test_by_hand import plainly, read_all, read_path

ALL_FIVE = ("Fe_ppm", "Cu_ppm", "Si_ppm", "KV100_mm2_s", "BN_mgKOH_g")
METALS = "Lab No,Unit,Date,Hours,Fe,Cu,Si\n70001,U-1,2026-01-04,1200,14,5,8\n"


def test_viscosity_stands_in_a_table_of_its_own(tmp_path: Path) -> None:
    text = (
        "Wear metals\nLab No,Unit,Date,Hours,Fe,Cu,Si\n"
        "70001,U-1,2026-01-04,1200,14,5,8\n70002,U-2,2026-01-05,2200,24,7,9\n\n"
        "Condition\nLab No,Unit,Date,V100,TBN\n"
        "70001,U-1,2026-01-04,14.1,7.2\n70002,U-2,2026-01-05,13.6,5.9\n"
    )
    told, reader, asked = read_all(text, tmp_path)
    metals = [("14", "5", "8"), ("24", "7", "9")]
    oils = [("14.1", "7.2"), ("13.6", "5.9")]
    assert [(t.facts["report"], t.facts["meter"]) for t in told] == [
        ("70001", "1200"),
        ("70002", "2200"),
    ]
    assert [{c: said for c, said, _ in t.figures} for t in told] == [
        dict(zip(ALL_FIVE, (*a, *b), strict=True)) for a, b in zip(metals, oils, strict=True)
    ]
    assert (reader.unread, asked) == ([], ())


def test_the_report_alone_says_whose_the_later_figures_are(tmp_path: Path) -> None:
    text = METALS + "70002,U-2,2026-01-05,2200,24,7,9\nLab No,V100,TBN,Water\n70002,13.6,5.9,<0.1\n"
    told, reader, _ = read_all(text, tmp_path, water="%")
    assert [len(t.figures) for t in told] == [3, 6]
    assert plainly(told)[1][:2] == ("U-2", "2026-01-05")
    assert reader.unread == []


def test_the_same_columns_in_another_order(tmp_path: Path) -> None:
    text = (
        "Unit,Date,Hours,Fe,Cu,Pb\nU-1,2026-01-04,1200,14,5,8\n"
        "Unit,Date,Hours,Cu,Fe,Pb\nU-2,2026-01-05,2200,24,7,3\n"
    )
    told, reader, _ = read_all(text, tmp_path)
    assert plainly(told) == [
        ("U-1", "2026-01-04", {"Fe_ppm": "14", "Cu_ppm": "5", "Pb_ppm": "8"}),
        ("U-2", "2026-01-05", {"Fe_ppm": "7", "Cu_ppm": "24", "Pb_ppm": "3"}),
    ]
    assert reader.unread == []


def test_a_metal_under_another_of_its_names_is_the_same_column(tmp_path: Path) -> None:
    text = METALS + "Unit,Date,Hours,Iron,Copper\nU-2,2026-01-05,2200,24,7\n"
    told, reader, _ = read_all(text, tmp_path)
    assert plainly(told)[1] == ("U-2", "2026-01-05", {"Fe_ppm": "24", "Cu_ppm": "7"})
    assert reader.unread == []


@pytest.mark.parametrize(
    ("more", "what"),
    [
        # A figure that contradicts the table above, and a fact that does.
        ("Lab No,Fe,V100\n70001,140,14.1\n", "Iron is another in a table above"),
        ("Lab No,Unit,V100\n70001,U-9,14.1\n", "engine is another in a table above"),
        # A report nobody told of above.
        ("Lab No,V100,TBN\n70009,14.1,7.2\n", "no table above lists this sample"),
        # The unit stands in a row of its own, and is of the later table alone.
        ("Lab No,Fe,Cu\n,%,%\n70001,0.0014,0.0005\n", "another row of units"),
    ],
)
def test_what_a_later_table_leaves_open_is_said(more: str, what: str, tmp_path: Path) -> None:
    told, reader, _ = read_all(METALS + more, tmp_path)
    assert [u.what for u in reader.unread] == [what]
    assert plainly(told) == [("U-1", "2026-01-04", {"Fe_ppm": "14", "Cu_ppm": "5", "Si_ppm": "8"})]


def test_two_samples_of_one_engine_and_day_are_not_mixed(tmp_path: Path) -> None:
    text = (
        "Unit,Date,Hours,Fe,Cu\nU-1,2026-01-04,1200,14,5\nU-1,2026-01-04,1208,24,7\n"
        "Unit,Date,V100,TBN\nU-1,2026-01-04,14.1,7.2\n"
    )
    told, reader, _ = read_all(text, tmp_path)
    assert [len(t.figures) for t in told] == [2, 2]
    assert [u.what for u in reader.unread] == ["more than one sample above fits this row"]


def test_a_heading_of_another_unit_is_shown_and_not_read(tmp_path: Path) -> None:
    text = METALS + "Lab No,Fe %,V100,TBN\n70001,0.0014,14.1,7.2\n"
    told, reader, _ = read_all(text, tmp_path)
    assert {c for c, _, _ in told[0].figures} == set(ALL_FIVE)
    assert [c.heading for c in reader.layout.columns if not c.target] == ["Fe %"]


def test_what_is_left_open_is_said_with_its_sheet(tmp_path: Path) -> None:
    """Of several sheets read as one a row counts in its own sheet."""
    book = Workbook()
    for n, title in enumerate(("North", "South")):
        sheet = book.active if n == 0 else book.create_sheet()
        sheet.title = title
        for row in (*METALS.split("\n")[:2], "Lab No,V100,TBN", f"7000{9 - n},14.1,7.2"):
            sheet.append(row.split(","))
    path = tmp_path / "two.xlsx"
    book.save(path)
    found = read_path(path)[1]
    assert [(u.row, u.heading) for u in found.unread] == [(4, "North, row"), (4, "South, row")]
