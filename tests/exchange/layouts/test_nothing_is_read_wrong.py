"""Each of these came in silently and wrong once: a number is what one cell shows, a unit is
understood or asked, a column is taken by its name only if its values look like it."""

from pathlib import Path

import pytest

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
