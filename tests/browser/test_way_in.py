"""From nothing to a verdict: an empty installation, a report on paper or a laboratory's file, by
mouse and by keyboard alone, with every click counted."""

import re
from datetime import date, timedelta

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.browser
MOST_CLICKS = 15
DRAWN = (date.today() - timedelta(days=7)).isoformat()
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
    page = visit(changing, "/report")
    page.get_by_label("Engine", exact=True).fill("G-03")
    page.get_by_label("Drawn on").fill(DRAWN)
    page.get_by_label("Meter, h", exact=True).fill("9000")
    page.get_by_label("Laboratory", exact=True).fill("Northfall")
    page.get_by_label("Iron, ppm").fill("a lot")
    page.get_by_role("button", name="Judge it").click()
    expect(page.locator(".why")).to_contain_text("cannot be read")
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
