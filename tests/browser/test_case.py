"""A case as people work on it: opened by a key where the trouble was seen, weighed, flushed,
closed; and the bench sheet typed by keyboard alone."""

import re
from uuid import uuid4

import pytest
from playwright.sync_api import Page, expect

from tests.day import DEMO_DAY

pytestmark = pytest.mark.browser
PHONE = {"width": 390, "height": 844}


def opened(page: Page) -> Page:
    page.keyboard.press("o")
    page.wait_for_url(re.compile("/case/"))
    expect(page.get_by_role("region", name="The balance")).to_be_visible()
    return page


def test_from_an_alarm_to_its_end(changing, visit) -> None:
    page = opened(visit(changing, "/engine/L-11"))
    balance = page.get_by_role("region", name="The balance")
    expect(balance).to_contain_text("None of these")
    first = balance.locator(".name").first.inner_text()
    # Set the first aside, with a reason; it stays on the list, struck through.
    balance.get_by_role("button", name="set aside").first.click()
    balance.get_by_label(re.compile("^Why is it not")).fill("injectors tested, none leaks")
    balance.get_by_role("button", name="Set it aside").click()
    expect(balance.locator(".name").first).not_to_have_text(first)
    expect(balance).to_contain_text("set aside by Mira Ostrand: injectors tested, none leaks")
    balance.get_by_role("button", name="take it up again").click()
    expect(balance.locator(".name").first).to_have_text(first)
    # An explanation of one's own, and evidence for it.
    balance.get_by_text("Add what I think").click()
    balance.get_by_label("An explanation that is not on the list").fill("wrong fuel in the tank")
    balance.get_by_role("button", name="Put it on the list").click()
    balance.get_by_label("Evidence about").select_option("wrong fuel in the tank")
    balance.get_by_label("What", exact=True).fill("the can smelled of petrol")
    balance.get_by_role("button", name="all but proves it").click()
    balance.get_by_role("button", name="Lay it on the balance").click()
    # The words could be of the engine: it is asked, and here they are not.
    expect(page.get_by_role("region", name="What this says")).to_contain_text(
        "says: a smell of fuel"
    )
    expect(page.get_by_role("button", name="Write it in the log too")).to_be_focused()
    page.get_by_role("button", name="It says nothing of the engine").click()
    expect(balance).to_contain_text("the can smelled of petrol, Mira Ostrand +2.5")
    # Work, its sum, another way out.
    work = page.get_by_role("region", name="Work that follows")
    work.get_by_role("button", name="Add a piece of work").click()
    work.get_by_label("What", exact=True).fill("drain the tank")
    work.get_by_label("Estimate").fill("120")
    work.get_by_role("button", name="Decide it").click()
    expect(work).to_contain_text("now 120")
    work.get_by_role("button", name="Change or done: drain the tank").click()
    work.get_by_label("It came to").fill("95")
    work.get_by_role("button", name="It is done").click()
    expect(work).to_contain_text("first estimate 120 · now 95")
    page.get_by_label("Another way out").fill("exchange engine")
    page.get_by_label("Sum", exact=True).fill("9400")
    page.get_by_role("button", name="Hold it against").click()
    expect(page.get_by_role("region", name="Other ways out")).to_contain_text("9 400")
    # The end, and the way back.
    page.get_by_text("End the case").click()
    page.get_by_role("button", name="Confirmed", exact=True).click()
    page.get_by_label("What it was").select_option(label="over-fuelling or overload")
    page.get_by_label("To be known of every").fill("its pump drifts rich past 3 000 h")
    page.get_by_role("button", name="Close it").click()
    expect(page.get_by_text("Closed: confirmed.")).to_be_visible()
    expect(page.get_by_text("Known of this model")).to_contain_text("drifts rich past 3 000 h")
    page.get_by_label("Why open it again?").fill("it came back")
    page.get_by_role("button", name="Open it again").click()
    expect(page.get_by_text("Closed: confirmed.")).to_be_hidden()
    line = page.get_by_role("region", name="Along the time")
    expect(line).to_contain_text("opened again: it came back")


def test_a_flush_is_followed_fill_by_fill(changing, visit) -> None:
    page = visit(changing, "/engine/P-03")
    page.get_by_role("link", name="Case: coolant in the oil").click()
    flush = page.get_by_role("region", name="Flush")
    expect(flush).to_contain_text("A flush waits for the repair")
    expect(flush.get_by_text("Begin a flush")).to_be_hidden()
    with changing.client("Jon Tveld") as c:
        repaired = {"kind": "repair", "on": DEMO_DAY.isoformat(), "part": "oil cooler renewed"}
        c.post("/api/engines/L-11/log", json={**repaired, "id": str(uuid4())})
    page = opened(visit(changing, "/engine/L-11"))
    flush = page.get_by_role("region", name="Flush")
    flush.get_by_text("Begin a flush").click()
    flush.get_by_label("What is to come out, by which figure").fill("potassium, ppm")
    flush.get_by_label("Measured now").fill("200")
    flush.get_by_label("Stop under").fill("10")
    flush.get_by_label("New oil of a fill").fill("18")
    flush.get_by_label("Stays in it at a drain").fill("2")
    flush.get_by_role("button", name="Begin", exact=True).click()
    expect(flush).to_contain_text("2 fills of 18 L, a filter each time.")
    flush.get_by_label("Measured in what came out").fill("61")
    flush.get_by_role("button", name="Write the fill down").click()
    expect(flush).to_contain_text("61 came out where 20 was computed")
    flush.get_by_role("button", name="Take the last one back").click()
    expect(flush).to_contain_text("2 fills of 18 L")


def test_the_case_on_a_phone_fits_and_reads(changing, visit) -> None:
    page = visit(changing, "/engine/P-03", **PHONE)
    page.get_by_role("link", name="Case: coolant in the oil").click()
    expect(page.get_by_role("region", name="The balance")).to_contain_text("Oil cooler leak")
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.get_by_text("Coolant in the oil: where it gets in").click()
    where = page.get_by_role("region", name="Where the coolant gets in")
    where.get_by_role("button", name="It holds").click()
    expect(where).to_contain_text("which cylinder gets wet")


def test_the_bench_sheet_by_keyboard_alone(changing, visit) -> None:
    page = visit(changing, "/inspect/G-08/sheet")
    page.get_by_label("Part").select_option("rings")
    page.get_by_label("Ring gap, 1", exact=True).focus()
    page.keyboard.type("0.45")
    for _ in range(5):  # over the side clearance, the note and the next condition
        page.keyboard.press("Tab")
        if page.evaluate("document.activeElement.ariaLabel") == "Ring gap, 2":
            break
    page.keyboard.type("0.90")
    page.get_by_label("ring gap, at most").fill("0.75")
    page.get_by_role("button", name="Write down 2 rows").press("Enter")
    expect(page.get_by_text("Written down, in the order of the sheet.")).to_be_visible()
    page.get_by_role("link", name="The opened engine").click()
    found = page.get_by_role("region", name="Findings")
    expect(found).to_contain_text("Ring gap 0.900 ± 0.020 mm at most 0.750 outside")
    expect(found).to_contain_text("Ring gap 0.450 ± 0.020 mm at most 0.750 within")


def test_the_two_shells_of_a_bearing_are_judged_apart_and_the_rest_by_one_mark(
    changing, visit
) -> None:
    page = visit(changing, "/inspect/G-08/sheet")
    page.get_by_label("Part").select_option("rod_bearing")
    page.get_by_label("Condition, cap side, 3").select_option("copper")
    page.get_by_label("Condition, cap side, of all rows").select_option("like_new")
    expect(page.get_by_label("Condition, cap side, 3")).to_have_value("copper")
    expect(page.get_by_label("Condition, cap side, 4")).to_have_value("like_new")
    page.get_by_role("button", name=re.compile("Write down [46] rows")).click()
    expect(page.get_by_text("Written down, in the order of the sheet.")).to_be_visible()
    page.get_by_role("link", name="The opened engine").click()
    found = page.get_by_role("region", name="Findings")
    expect(found).to_contain_text("Rod bearing 3, cap side")


def test_findings_ask_for_work_and_it_is_decided_in_one_press(changing, visit) -> None:
    page = visit(changing, "/inspect/G-07/opened")
    work = page.get_by_role("region", name="Work that follows")
    asked = work.get_by_role("listitem").filter(has_text="Pan: clean?")
    asked.get_by_role("button", name="yes").click()
    expect(asked).to_have_count(0)
    expect(work).to_contain_text("Clean: pan")
