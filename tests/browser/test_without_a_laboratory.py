"""Without a bottle: symptoms, looks and test results judge an engine at once, with thumbs and at
the desk."""

import re

import pytest
from playwright.sync_api import Page, expect

PHONE = {"width": 390, "height": 844}
DESK = {"width": 1280, "height": 800}


class Taps:
    """Counts what a person has to press."""

    def __init__(self, page: Page):
        self.page, self.count = page, 0

    def tap(self, name: str) -> None:
        self.page.get_by_role("button", name=name, exact=True).click()
        self.count += 1


def log_of(page: Page):
    return page.get_by_role("region", name="Log something else")


@pytest.mark.parametrize("size", [PHONE, DESK], ids=["phone", "desk"])
def test_a_symptom_stops_an_engine_in_five_taps(changing, visit, size) -> None:
    page = visit(changing, "/collect/U-03", **size)
    taps = Taps(page)
    taps.tap("Symptom")
    taps.tap("knock")
    expect(log_of(page)).to_contain_text("This raises the engine to Stop by itself.")
    taps.tap("Log symptom")
    assert taps.count <= 5
    expect(page.locator(".what").first).to_contain_text("Do not run")
    expect(page.locator(".what").first).to_contain_text("A knock was reported")
    expect(page.locator(".next").first).to_contain_text("Next check: ")
    expect(page.locator(".next").first).to_contain_text("Lifted only by a release")


def test_a_failed_compression_test_is_heard_before_it_is_logged(changing, visit) -> None:
    page = visit(changing, "/collect/U-05", **PHONE)
    log = log_of(page)
    log.get_by_role("button", name="Field check").click()
    log.get_by_role("button", name="Compression", exact=True).click()
    expect(log).to_contain_text("Never crank with coolant suspected")
    log.get_by_label("Gauge reads in").select_option("psi")
    log.get_by_label(re.compile("^Cylinder by cylinder")).fill("160 155 108 158")
    expect(log).to_contain_text("cylinder 3 32 % below the best")
    expect(log).to_contain_text("This raises the engine to Act by itself.")
    log.get_by_role("button", name="Log field check").click()
    expect(page.locator(".what").first).to_contain_text("cylinder 3")
    page.goto(f"{changing.address}/engine/U-05")
    page.get_by_text("Why, what to do, and the next checks").click()
    expect(page.locator(".fold")).not_to_contain_text("Compression 2 h")


def test_a_figure_that_cannot_be_meant_is_said_at_once(changing, visit) -> None:
    page = visit(changing, "/collect/U-06", **PHONE)
    log = log_of(page)
    log.get_by_role("button", name="Field check").click()
    log.get_by_role("button", name="Oil pressure by gauge").click()
    log.get_by_label(re.compile("^Hot, at idle")).fill("35")
    expect(log.get_by_role("alert")).to_contain_text("20 bar")
    log.get_by_label("Gauge reads in").select_option("psi")
    expect(log).to_contain_text("This raises nothing.")


def test_everything_in_a_filter_speaks(changing, visit) -> None:
    page = visit(changing, "/collect/P-04", **PHONE)
    log_of(page).get_by_role("link", name="Look at filter, plug, pan").click()
    for _ in range(2):
        page.get_by_role("button", name=re.compile("^Plastic, 1 to 3 mm")).click()
    page.get_by_role("radio", name="Ten more").click()
    for _ in range(4):
        page.get_by_role("button", name=re.compile("^Copper-coloured flakes, 0.5 to 1 mm")).click()
    says = page.get_by_role("region", name="What this look says")
    expect(says).to_contain_text("Stop: Copper-coloured flakes in the filter: 40")
    page.get_by_role("button", name="Save the look", exact=True).click()
    expect(page.get_by_role("table", name="Counted")).to_contain_text("40")
    page.goto(f"{changing.address}/run?engine=P-04")
    page.get_by_text("Why, what to do, and the next checks").click()
    expect(page.locator(".fold")).to_contain_text("Plastic in the filter: 2")
    expect(page.locator(".fold")).to_contain_text("Nobody starts or bars it")


def test_a_clean_filter_is_steady(changing, visit) -> None:
    page = visit(changing, "/inspect/P-05", **PHONE)
    page.get_by_role("button", name="Save: nothing found").click()
    expect(page.get_by_role("table", name="Counted")).to_contain_text("Nothing in it.")
    page.goto(f"{changing.address}/engine/P-05")
    expect(page.get_by_role("img", name=re.compile("Debris Steady")).first).to_be_visible()


def test_a_next_check_leads_to_its_form(still, visit) -> None:
    page = visit(still, "/run?engine=P-03")
    page.get_by_text("Why, what to do, and the next checks").click()
    check = page.locator(".fold").get_by_role("link", name="Cooling system, rated pressure")
    check.click()
    log = log_of(page)
    expect(log).to_contain_text("never open a hot radiator cap")
    expect(log.get_by_label(re.compile("^It fell by"))).to_be_visible()


@pytest.mark.parametrize("path", ["/engine/W-01", "/run?engine=W-01", "/judge/"])
def test_what_was_found_is_written_down_where_the_alarm_is(changing, visit, path: str) -> None:
    if path == "/judge/":
        with changing.client("Mira Ostrand") as c:
            path += c.get("/api/engines/W-01").json()["samples"][-1]["sample"]
    page = visit(changing, path)
    page.locator(".outcome summary").click()
    form = page.get_by_role("form", name="What was found on W-01")
    form.get_by_label("Found").select_option("filter_bypass")
    form.get_by_role("button", name="the alarm was right").click()
    form.get_by_label("Down, h").fill("6")
    form.get_by_label("Where the piece is kept").fill("drawer 4")
    form.get_by_role("button", name="Write down what was found").click()
    expect(form.get_by_role("status")).to_have_text("Written down.")
    expect(page.locator(".outcome li").first).to_contain_text("drawer 4")
