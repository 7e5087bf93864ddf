"""The Library as an analyst uses it: change a limit, see what it would do, publish, see it done."""

import re

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.browser


def test_a_limit_is_tried_and_published(changing, visit) -> None:
    page = visit(changing, "/wall")
    page.get_by_role("link", name="Library").click()
    page.get_by_label("Watch of Iron").fill("20")
    page.get_by_label("Act of Iron").fill("30")
    page.get_by_label("Origin of Iron").fill("tried in a test")
    page.get_by_label("Origin of Iron").press("Tab")
    publish = page.get_by_role("button", name="Publish")
    page.get_by_label("Name of the new version").fill("strict iron")
    expect(publish).to_be_disabled()  # not before it was tried
    page.get_by_role("button", name="See what would change").click()
    tried = page.get_by_role("region", name="What would change")
    expect(tried.get_by_role("heading")).to_have_text(
        re.compile(r"^[1-9]\d* verdicts? would rise, 0 would fall")
    )
    publish.click()
    expect(page.get_by_role("status").filter(has_text="Published.")).to_be_visible()
    expect(page.get_by_role("heading", level=1)).to_contain_text("strict iron")
    expect(page.get_by_label("Watch of Iron")).to_have_value("20")
    expect(page.get_by_role("region", name="Versions")).to_contain_text("Mira Ostrand")


def test_a_limit_that_cannot_be_read_is_named_and_nothing_is_sent(still, visit) -> None:
    page = visit(still, "/library")
    page.get_by_label("Act of Iron").fill("about 90")
    page.get_by_label("Act of Iron").press("Tab")
    expect(page.get_by_role("alert")).to_contain_text("Not a number: Iron")
    expect(page.get_by_role("button", name="See what would change")).to_be_disabled()


def test_a_narrower_limit_is_added_for_one_engine(changing, visit) -> None:
    page = visit(changing, "/library")
    page.get_by_label("Scope").select_option("engine")
    page.get_by_label("Which").select_option("G-08")
    expect(page.get_by_role("main")).to_contain_text("None of its own")
    page.get_by_label("Analyte to add").select_option("Cu_ppm")
    page.get_by_role("button", name="Add a limit").click()
    page.get_by_label("Act of Copper").fill("3")
    page.get_by_label("Origin of Copper").fill("maker's sheet")
    page.get_by_label("Origin of Copper").press("Tab")
    page.get_by_role("button", name="See what would change").click()
    changes = page.get_by_role("region", name="What would change")
    expect(changes.get_by_role("cell", name="G-08").first).to_be_visible()
    expect(changes.get_by_role("cell", name="G-01")).to_have_count(0)


def test_a_rate_of_false_alarms_is_counted_kept_and_taken_back(changing, visit) -> None:
    page = visit(changing, "/library/expectation")
    alarms = page.get_by_role("region", name="False alarms")
    expect(alarms).to_contain_text("As shipped.")
    alarms.get_by_label("False Acts in 100").fill("nothing")
    count = alarms.get_by_role("button", name="Count it on this fleet")
    expect(count).to_be_disabled()
    alarms.get_by_label("False Acts in 100").fill("0.5")
    count.click()
    expect(alarms.get_by_role("row")).to_have_count(14)
    expect(alarms.get_by_role("table")).to_contain_text("quiet samples")
    expect(alarms.get_by_role("row", name=re.compile("this one"))).to_have_count(1)
    alarms.get_by_role("button", name=re.compile("^Keep ×")).click()
    expect(alarms.get_by_role("status")).to_contain_text("judged again")
    expect(alarms).to_contain_text(
        re.compile(r"0.5 in 100: every threshold × [\d.]+, counted on \d+")
    )
    alarms.get_by_role("button", name="Back to as shipped").click()
    expect(alarms).to_contain_text("As shipped.")


def test_a_weight_is_tried_and_published_with_its_origin(changing, visit) -> None:
    page = visit(changing, "/library/causes")
    page.get_by_label("Cause").select_option("injector_leak")
    page.get_by_label("Seen: fuel up").fill("-6")
    page.get_by_label("Seen: fuel up").press("Tab")
    page.get_by_label("Origin: fuel up").fill("")
    page.get_by_label("Origin: fuel up").press("Tab")
    tried = page.get_by_role("button", name="See what would change")
    expect(tried).to_be_disabled()
    expect(page.get_by_role("alert")).to_contain_text("where it comes from")
    page.get_by_label("Origin: fuel up").fill("tried in a test")
    page.get_by_label("Origin: fuel up").press("Tab")
    tried.click()
    found = page.get_by_role("region", name="What would change")
    expect(found.get_by_role("heading")).to_have_text(re.compile("Another cause would lead in"))
    page.get_by_label("Name of the new version").fill("no fuel")
    page.get_by_role("button", name="Publish").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("no fuel")
    page.get_by_label("Cause").select_option("injector_leak")
    expect(page.get_by_label("Seen: fuel up")).to_have_value("-6")
    expect(page.get_by_role("region", name="Versions")).to_contain_text("Mira Ostrand")
