"""From nothing to a verdict: an empty installation, a report on paper or a laboratory's file, by
mouse and by keyboard alone, with every click counted."""

import re
from datetime import date, timedelta

import pytest
from playwright.sync_api import Page, expect

from keen_tracer.exchange.printing import printed
from tests.browser.axe import violations
from tests.day import TODAY

pytestmark = pytest.mark.browser
MOST_CLICKS = 15
DRAWN = (TODAY - timedelta(days=7)).isoformat()
PAPER = f"""Iron 148
Chromium 6
Lead 31
Tin 6
Viscosity @ 100 °C 12.9 cSt
Water <0.05 %
Unit hours 8344
Hours on oil 212
Sample date {DRAWN}
Diagnosis severe wear"""


class Clicks:
    """Clicks and choices of a person, counted; typing is not."""

    def __init__(self, page: Page):
        self.page, self.count = page, 0

    def on(self, role: str, name: str | re.Pattern[str]) -> None:
        self.page.get_by_role(role, name=name, exact=isinstance(name, str)).click()  # type: ignore[arg-type]
        self.count += 1

    def choose(self, label: str, what: str) -> None:
        self.page.get_by_role("combobox", name=label).first.select_option(label=what)
        self.count += 1

    def into(self, label: str, text: str) -> None:
        self.page.get_by_label(label, exact=True).fill(text)
        self.count += 1


def test_an_empty_installation_has_a_verdict_within_fifteen_clicks(url, serve, visit) -> None:
    page = visit(serve(url), "/wall", who="Test Analyst")
    clicks = Clicks(page)
    clicks.count = 2  # to say who one is
    clicks.on("link", "I have a report")
    clicks.into("Figures as they were copied", PAPER)
    clicks.on("button", "Read what I pasted")
    expect(page.get_by_role("status")).to_contain_text("6 figures read; not read: Diagnosis")
    clicks.into("Engine", "Boat, port")
    clicks.into("Laboratory", "Northfall")
    clicks.choose("Class", "heavy diesel")
    clicks.on("button", "Judge it")
    page.wait_for_url(re.compile("/judge/"))
    expect(page.get_by_text("Proposed")).to_be_visible()
    expect(page.locator("body")).to_contain_text("past the Act rate")
    expect(page.get_by_role("main")).to_contain_text(re.compile(r"212\s+h on oil"))
    assert clicks.count <= MOST_CLICKS


def test_which_of_several_figures_is_this_samples_is_asked_and_pressed(url, serve, visit) -> None:
    page = visit(serve(url), "/report", who="Test Analyst")
    page.get_by_label("Figures as they were copied").fill("Iron  31  22\nCopper  9  8\nTin  2")
    page.get_by_role("button", name="Read what I pasted").click()
    expect(page.get_by_text("Which of these figures are this sample's?")).to_be_visible()
    page.get_by_role("button", name="Iron 22, Copper 8").click()
    expect(page.get_by_role("status")).to_contain_text("3 figures read")
    expect(page.get_by_role("textbox", name="Iron")).to_have_value("22")
    expect(page.get_by_text("Which of these figures are this sample's?")).to_be_hidden()


def test_an_empty_installation_has_a_verdict_from_a_file_within_fifteen_clicks(
    url, serve, visit, tmp_path
) -> None:
    file = tmp_path / "laboratory.csv"
    heads = "Unit ID;Sample Date;Hour Meter;Hours on Oil;Iron (Fe);Lead;Water %"
    file.write_text(f"Northfall Oil Laboratory\n\n{heads}\nU-1;{DRAWN};8344;212;148;31;<0,05\n")
    page = visit(serve(url), "/wall", who="Test Analyst")
    clicks = Clicks(page)
    clicks.count = 2  # to say who one is
    clicks.on("link", "I have a file")
    page.get_by_label("Choose a file", exact=True).set_input_files(file)
    clicks.count += 2  # the press, and the file in the system's own list
    page.wait_for_url(re.compile("/exchange/read"))
    clicks.into("Laboratory", "Northfall")
    page.get_by_label("Laboratory", exact=True).press("Tab")
    page.get_by_role("combobox", name="They are").select_option(label="heavy diesel")
    clicks.count += 1
    clicks.on("button", "Bring in 1 sample")
    expect(page.get_by_text("Brought in.")).to_be_visible()
    clicks.on("link", "judge")
    expect(page.get_by_role("button", name="Iron")).to_be_visible()
    expect(page.get_by_role("complementary", name="Verdict")).to_contain_text("Act")
    assert clicks.count <= MOST_CLICKS


def test_by_keyboard_alone(url, serve, visit) -> None:
    page = visit(serve(url), "/report", who="Test Analyst")
    page.get_by_label("Engine", exact=True).focus()
    keys = page.keyboard
    keys.type("Boat, port")
    keys.press("Tab")
    expect(page.get_by_role("group", name=re.compile("is new"))).to_be_visible()
    page.get_by_role("combobox", name="Class").focus()
    keys.type("heavy")
    for _ in range(5):  # meter, fuel, sump, grades, then the day
        keys.press("Tab")
    keys.type(date.fromisoformat(DRAWN).strftime("%m%d%Y"))
    keys.press("Tab")
    keys.press("Tab")  # past the button of the calendar
    keys.type("8344")
    keys.press("Tab")
    keys.type("212")
    page.get_by_label("Laboratory", exact=True).focus()
    keys.type("Northfall")
    page.get_by_label("Iron, ppm").focus()
    keys.type("14")
    keys.press("Tab")
    keys.type("<1")
    keys.press("Enter")
    page.wait_for_url(re.compile("/judge/"))
    expect(page.get_by_text("Proposed")).to_be_visible()
    expect(page.get_by_role("button", name="Iron")).to_be_visible()


def test_what_is_wrong_stands_beside_its_field_and_nothing_typed_is_lost(changing, visit) -> None:
    with changing.client("Mira Ostrand") as c:
        dial = c.get("/api/stops/G-03").json()["dial"]
    page = visit(changing, "/report")
    page.get_by_label("Engine", exact=True).fill("G-03")
    page.get_by_label("Drawn on").fill(DRAWN)
    # No week has so many hours: the meter stood higher before.
    page.get_by_label("Meter, h", exact=True).fill(f"{dial - 500:.0f}")
    page.get_by_label("Laboratory", exact=True).fill("Northfall")
    page.get_by_label("Iron, ppm").fill("a lot")
    page.get_by_role("button", name="Judge it").click()
    # Everything that is wrong at once, each beside its field.
    expect(page.locator(".why").filter(has_text="cannot be read")).to_be_visible()
    expect(page.locator(".why").filter(has_text="is below")).to_be_visible()
    expect(page.get_by_label("Iron, ppm")).to_have_value("a lot")
    expect(page.get_by_label("Laboratory", exact=True)).to_have_value("Northfall")


def test_a_laboratorys_table_is_pasted_looked_at_and_brought_in(changing, visit) -> None:
    page = visit(changing, "/exchange")
    section = page.get_by_role("region", name="A laboratory's report")
    table = f"Unit ID\tSample Date\tHours\tIron\tWater\nU-77\t{DRAWN}\t1200\t14\t0.04\n"
    section.get_by_label("A table, pasted with its headings").fill(table)
    section.get_by_role("button", name="Read it").click()
    page.wait_for_url(re.compile("/exchange/read"))
    # Water without a unit is asked, and what is lacking is named.
    question = page.get_by_role("group", name="Water has no unit: % or ppm?")
    question.get_by_role("button", name="%", exact=True).click()
    expect(page.get_by_role("status")).to_contain_text("Not chosen yet: laboratory")
    page.get_by_label("Laboratory", exact=True).fill("Northfall")
    page.get_by_label("Laboratory", exact=True).press("Tab")
    expect(page.get_by_role("region", name="As it will be read")).to_contain_text("Water 0.04")
    page.get_by_label("They are").select_option(label="heavy diesel")
    page.get_by_role("button", name="Bring in 1 sample").click()
    expect(page.get_by_text("Brought in.")).to_be_visible()
    page.goto(f"{changing.address}/engine/U-77")
    expect(page.get_by_role("heading", name=re.compile("U-77")).first).to_be_visible()


def test_whose_the_samples_of_a_file_are_is_asked_and_said(changing, visit) -> None:
    """A table that names no engine, with parts of a machine, marks and a sum."""
    page = visit(changing, "/exchange")
    section = page.get_by_role("region", name="A laboratory's report")
    table = (
        f"Component\tSample Date\tHours\tIron\n"
        f"Engine\t{DRAWN}\t1200\t14 H\nMain unit\t{DRAWN}\t1200\t140\nAverage\t\t\t77\n"
    )
    section.get_by_label("A table, pasted with its headings").fill(table)
    section.get_by_role("button", name="Read it").click()
    page.wait_for_url(re.compile("/exchange/read"))
    page.get_by_label("Laboratory", exact=True).fill("Northfall")
    whose = page.get_by_label(re.compile("This file names no engine"))
    whose.fill("U-78")
    whose.press("Tab")
    parts = page.get_by_role("group", name="Which of these parts are engines?")
    expect(parts.get_by_label("Engine")).to_be_checked()
    expect(parts.get_by_label("Main unit")).not_to_be_checked()
    parts.get_by_role("button", name="These are engines").click()
    read = page.get_by_role("region", name="As it will be read")
    expect(read.get_by_role("row", name=re.compile("U-78.*Fe 14$"))).to_be_visible()
    expect(page.get_by_text("Left out, of parts that are no engines: Main unit 1")).to_be_visible()
    expect(page.get_by_text("Marks the laboratory set beside figures")).to_be_visible()
    assert violations(page) == []
    page.get_by_label("They are").select_option(label="heavy diesel")
    page.get_by_role("button", name="Bring in 1 sample").click()
    expect(page.get_by_text("Brought in.")).to_be_visible()


def test_a_report_is_opened_again_next_week_and_put_right(changing, visit) -> None:
    page = visit(changing, "/engine/G-03")
    with changing.client("Mira Ostrand") as c:
        samples = c.get("/api/engines/G-03").json()["samples"]
    newest = [s["sample"] for s in samples if s["arrived"]][-1]
    page.goto(f"{changing.address}/judge/{newest}")
    page.get_by_role("link", name="Correct the report").click()
    iron = page.get_by_label("Iron, ppm")
    expect(iron).not_to_have_value("")
    expect(page.get_by_label("Engine", exact=True)).to_have_value("G-03")
    expect(page.get_by_label("Report number")).not_to_be_editable()
    iron.fill("480")
    page.get_by_label("Topped up, L").fill("2 qt")
    expect(page.get_by_text("= 1.893 L")).to_be_visible()
    page.get_by_role("button", name="Save the correction").click()
    page.wait_for_url(re.compile(f"/judge/{newest}"))
    expect(page.locator("#ladder-Fe_ppm .value")).to_have_text("480")
    page.goto(f"{changing.address}/engine/G-03/log")
    expect(page.get_by_role("main")).to_contain_text("corrected on the report's page")


def test_figures_come_out_of_a_pdf_and_a_scan_is_said_to_be_one(changing, visit, tmp_path) -> None:
    sheet = "".join(f"<p>{line}</p>" for line in PAPER.splitlines())
    pdf, scan = tmp_path / "report.pdf", tmp_path / "scan.pdf"
    pdf.write_bytes(printed(f"<html><body>{sheet}</body></html>", None))
    scan.write_bytes(printed("<html><body><hr></body></html>", None))
    page = visit(changing, "/report")
    page.get_by_label("A report as PDF, with text in it").set_input_files(scan)
    expect(page.get_by_role("alert")).to_contain_text("picture of a report")
    page.get_by_label("A report as PDF, with text in it").set_input_files(pdf)
    expect(page.get_by_role("status")).to_contain_text("hold each figure against the sheet")
    expect(page.get_by_label("Iron, ppm")).to_have_value("148")
    expect(page.get_by_label("On the oil, h")).to_have_value("212")


def test_amounts_are_in_the_units_somebody_has(changing, visit) -> None:
    page = visit(changing, "/collect/G-03?log=top_up")
    page.get_by_role("button", name="Mira Ostrand ·").click()
    page.get_by_text("My units").click()
    page.get_by_role("combobox", name="Volume").select_option(label="US quarts")
    page.get_by_role("button", name="Stay Mira Ostrand").click()
    form = page.get_by_label("Put in, US qt")
    form.fill("1,250")
    expect(page.get_by_text("could be two figures")).to_be_visible()
    form.fill("2 gal")
    expect(page.get_by_text("is none of L, mL, US qt")).to_be_visible()
    form.fill("2")
    expect(page.get_by_text("= 1.893 L")).to_be_visible()
    page.get_by_role("button", name="Log top-up").click()
    expect(page.get_by_text("Top-up of G-03 logged")).to_be_visible()
    page.goto(f"{changing.address}/engine/G-03/log")
    expect(page.get_by_role("main")).to_contain_text("2 US qt put in")
    expect(page.get_by_role("columnheader", name="Topped up, US qt")).to_be_visible()


def test_what_a_page_shows_is_taken_along(still, visit) -> None:
    page = visit(still, "/engine/G-03")
    expect(page.locator(".lanes svg").first).to_be_visible()
    page.get_by_role("button", name="Download or copy").click()
    box = page.get_by_role("dialog")
    part = box.locator(".part").filter(has_text="G-03 strips")
    names = {}
    for form in ("CSV", "XLSX", "SVG", "PNG"):
        with page.expect_download() as got:
            part.get_by_role("button", name=form).click()
        names[form] = got.value
    heads, *lines = names["CSV"].path().read_text().splitlines()
    assert heads.startswith("sample,drawn on,")
    with still.client(None) as c:
        assert len(lines) == len(c.get("/api/engines/G-03").json()["samples"])
    assert names["PNG"].path().read_bytes()[:4] == b"\x89PNG"
    assert "<metadata>sample,drawn on" in names["SVG"].path().read_text()
    assert names["XLSX"].path().read_bytes()[:2] == b"PK"
    # A table of any page leaves the same way.
    page.goto(f"{still.address}/exchange")
    expect(page.get_by_role("heading", name="Brought in so far")).to_be_visible()
    page.get_by_role("button", name="Download or copy").click()
    expect(page.get_by_role("dialog").locator(".part")).to_contain_text("Brought in so far")


def test_the_strips_show_what_was_expected_and_lay_charges_over_one_another(still, visit) -> None:
    page = visit(still, "/engine/G-03")
    strips = page.get_by_role("group", name="History of G-03 along the meter")
    expect(strips).to_contain_text("shaded: expected, 95 %")
    page.keyboard.press("s")
    expect(strips).to_contain_text("its sisters at the same hours")
    page.keyboard.press("m")
    page.keyboard.press("m")
    over = page.get_by_role("group", name="History of G-03 along the oil")
    expect(over).to_contain_text("charges laid over one another")
    low = over.bounding_box()
    over.get_by_role("button", name="Iron larger").click()
    expect(over.get_by_role("button", name="Iron as the others")).to_be_visible()
    assert over.bounding_box()["height"] > low["height"]


def test_the_tour_is_offered_in_the_demo_until_it_is_declined(changing, visit) -> None:
    page = visit(changing, "/wall")
    page.get_by_role("button", name="Tour").click()
    tour = page.get_by_role("complementary", name="Tour")
    for n in range(1, 5):
        expect(tour).to_contain_text(f"{n} of 5")
        tour.get_by_role("button", name="Next").click()
    page.wait_for_url(re.compile("/report"))
    tour.get_by_role("button", name="Do not offer it again").click()
    expect(page.get_by_role("button", name="Tour")).to_have_count(0)
    page.goto(f"{changing.address}/wall")
    expect(page.get_by_role("button", name="Mira Ostrand ·")).to_be_visible()
    expect(page.get_by_role("button", name="Tour")).to_have_count(0)


def test_an_import_that_was_wrong_is_taken_back_with_one_press(url, serve, visit, tmp_path) -> None:
    page = visit(serve(url), "/exchange", who="Test Analyst")
    engines = tmp_path / "engines.csv"
    engines.write_text("engine,class,meter_unit\nE-1,heavy_diesel,h\n")
    samples = tmp_path / "samples.csv"
    samples.write_text(f"sample,engine,drawn_on,meter,Fe_ppm\nS-1,E-1,{DRAWN},1125,900\n")
    page.get_by_label("Choose files, or drop them here").set_input_files([engines, samples])
    page.get_by_role("button", name="Import 2 new rows").click()
    there = page.get_by_role("region", name="Brought in so far")
    there.get_by_role("button", name="Take back…").click()
    expect(there).to_contain_text("Takes back 1 sample, 1 figure of 1 engine (E-1)")
    expect(there).to_contain_text("What stays: the engines.")
    press = there.get_by_role("button", name="Take it back")
    expect(press).to_be_disabled()
    there.get_by_label("Why").fill("iron was read as the wrong column")
    press.click()
    expect(there.get_by_role("status")).to_contain_text("The same files can come in again.")
    expect(there).to_contain_text("Taken back by Test Analyst")
    page.goto(page.url.replace("/exchange", "/engine/E-1"))
    expect(page.get_by_role("main")).not_to_contain_text("S-1")
