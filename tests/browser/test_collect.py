"""The technician's first half of the day, on a phone: round, bottle, something odd, undo."""

import re

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.browser
PHONE = {"who": "Jon Tveld", "width": 390, "height": 844}


class Thumb:
    """Counts taps. One number may take as many keys as it has figures."""

    def __init__(self, page: Page):
        self.page, self.taps = page, 0

    def tap(self, name: str | re.Pattern[str], role: str = "button") -> None:
        self.page.get_by_role(role, name=name, exact=isinstance(name, str)).first.click()  # type: ignore[arg-type]
        self.taps += 1

    def number(self, figures: str) -> None:
        for key in figures:
            self.page.get_by_role("group", name="Number pad").get_by_role(
                "button", name=key, exact=True
            ).click()


def reading(page: Page) -> str:
    """A figure inside what the page expects, as the technician would read it off the dial."""
    said = page.get_by_text(re.compile("^expected")).inner_text()
    return re.sub(r"\D", "", said.split("–")[1])


def test_an_ordinary_bottle_takes_at_most_six_taps_and_one_number(changing, visit) -> None:
    page = visit(changing, "/collect", **PHONE)
    engine = page.get_by_role("main").get_by_role("listitem").get_by_role("link").first
    code = engine.locator("b").first.inner_text()
    label = re.search(r"Labels from (\d+) on", page.get_by_text("Labels from").inner_text())
    assert label
    thumb = Thumb(page)
    engine.click()
    thumb.taps += 1
    expect(page.get_by_role("note", name="Caution")).to_contain_text("Hot oil")
    thumb.number(reading(page))
    expect(page.get_by_text("✓")).to_be_visible()
    thumb.tap("Bottle is full and capped")
    thumb.tap(re.compile("Even, dark"))
    thumb.tap(re.compile("^Done"))
    expect(page.get_by_role("status").filter(has_text="registered")).to_contain_text(
        f"Bottle {label[1]} of {code}"
    )
    assert thumb.taps <= 6
    page.goto(f"{changing.address}/wall?find={code}")
    expect(page.locator(".row").first).to_contain_text("Bottle out")
    page.goto(f"{changing.address}/collect")
    expect(
        page.get_by_role("main").get_by_role("link", name=re.compile(rf"^\S+ {code} "))
    ).to_have_count(0)


def test_keys_are_made_for_gloves(still, visit) -> None:
    page = visit(still, "/collect/G-08", **PHONE)
    for key in page.get_by_role("group", name="Number pad").get_by_role("button").all():
        box = key.bounding_box()
        assert box
        assert box["height"] >= 56
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_a_meter_that_jumps_is_asked_about_and_one_that_falls_is_not_taken(still, visit) -> None:
    page = visit(still, "/collect/G-08", **PHONE)
    thumb = Thumb(page)
    go = page.get_by_role("button", name="Bottle is full and capped")
    expect(go).to_be_disabled()
    thumb.number("3")
    expect(page.get_by_text("Below the last figure")).to_be_visible()
    expect(go).to_be_disabled()
    thumb.number("9999")
    expect(page.get_by_text("More than expected")).to_be_visible()
    expect(go).to_be_enabled()


def test_coolant_in_the_bottle_stops_the_engine_before_any_figure(changing, visit) -> None:
    page = visit(changing, "/collect/P-01", **PHONE)
    thumb = Thumb(page)
    thumb.number(reading(page))
    thumb.tap("Bottle is full and capped")
    thumb.tap(re.compile("Coolant below"))
    thumb.tap(re.compile("^Done"))
    expect(page.get_by_role("alert").filter(has_text="P-01")).to_contain_text(
        "Stop, and nobody has decided yet"
    )


def test_the_last_thing_is_taken_back(changing, visit) -> None:
    page = visit(changing, "/collect/W-01", **PHONE)
    log = page.get_by_role("region", name="Log something else")
    log.get_by_role("button", name="Oil change").click()
    expect(log).to_contain_text("Draw the sample before the oil goes")
    log.get_by_label("Oil", exact=True).fill("Ulfrin HD")
    log.get_by_label("Put in, L").fill("25")
    log.get_by_role("button", name="Log oil change").click()
    done = page.get_by_role("status").filter(has_text="Oil change of W-01 logged.")
    expect(done).to_be_visible()
    done.get_by_role("button", name="Undo").click()
    expect(
        page.get_by_role("status").filter(has_text="Taken back: Oil change of W-01 logged.")
    ).to_be_visible()


def test_a_symptom_that_stops_shows_everywhere_and_a_falling_meter_is_explained(
    changing, visit
) -> None:
    page = visit(changing, "/collect/P-02", **PHONE)
    log = page.get_by_role("region", name="Log something else")
    log.get_by_role("button", name="Symptom").click()
    log.get_by_role("button", name="knock", exact=True).click()
    log.get_by_label("Note").fill("from cylinder three, when hot")
    log.get_by_role("button", name="Log symptom").click()
    expect(page.get_by_role("alert").filter(has_text="P-02")).to_contain_text("Stop")
    log.get_by_role("button", name="Meter reading").click()
    # What cannot be read is never sent: it would be kept without its figure.
    log.get_by_label(re.compile("^Meter")).fill("12 km")
    expect(log.get_by_role("alert")).to_have_text("this field is in h")
    log.get_by_role("button", name="Log meter reading").click()
    expect(log.get_by_label(re.compile("^Meter"))).to_have_value("12 km")
    log.get_by_label(re.compile("^Meter")).fill("1")
    expect(log.get_by_role("alert")).to_have_count(0)
    log.get_by_role("button", name="Log meter reading").click()
    expect(log.get_by_role("alert")).to_contain_text("is below")
    expect(log.get_by_role("alert")).to_contain_text("Nothing was written")


def test_a_bottle_that_could_not_be_sent_stays_and_is_registered_once(changing, visit) -> None:
    page = visit(changing, "/collect/G-01", **PHONE)
    thumb = Thumb(page)
    thumb.number(reading(page))
    thumb.tap("Bottle is full and capped")
    thumb.tap(re.compile("Even, dark"))
    page.route("**/api/bottles", lambda route: route.abort(), times=1)
    thumb.tap(re.compile("^Done"))
    expect(page.get_by_role("alert").filter(has_text="does not answer")).to_be_visible()
    thumb.tap(re.compile("^Done"))
    expect(page.get_by_role("status").filter(has_text="of G-01 registered")).to_be_visible()
    with changing.client("Jon Tveld") as c:
        marks = next(r for r in c.get("/api/wall").json()["rows"] if r["code"] == "G-01")["trace"]
    assert [m["kind"] for m in marks if m["kind"] == "bottle"] == ["bottle"]
