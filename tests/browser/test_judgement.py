"""What was expected, whose history that is, which part it points to: as an analyst reads it at the
desk."""

import re

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.browser


def newest_of(visit, base, engine: str):
    """The desk on the newest judged sample of an engine."""
    with base.client() as c:
        samples = c.get(f"/api/engines/{engine}").json()["samples"]
    newest = next(x["sample"] for x in reversed(samples) if x["arrived"])
    page = visit(base, f"/judge/{newest}")
    expect(page.get_by_role("main")).to_contain_text(engine)
    return page


def test_a_raised_sample_says_what_was_expected_and_points_to_a_part(still, visit) -> None:
    page = newest_of(visit, still, "G-07")
    verdict = page.get_by_role("complementary", name="Verdict")
    expect(verdict).to_contain_text(re.compile(r"where [\d.]+ \([\d.]+ to [\d.]+\) was expected"))
    expect(verdict).to_contain_text("from its own history")
    part = verdict.get_by_role("button", name=re.compile("main or rod bearing"))
    expect(part).to_have_attribute("aria-expanded", "false")
    part.click()
    expect(verdict).to_contain_text("lead up")
    expect(verdict).to_contain_text("Before any evidence")
    lead = page.locator("#ladder-Pb_ppm")
    expect(lead).to_contain_text(re.compile(r"expected [\d.]+ \("))


def test_how_an_expectation_was_reached_can_be_opened(still, visit) -> None:
    page = newest_of(visit, still, "G-07")
    page.locator("#ladder-Pb_ppm").get_by_role("button", name="Lead").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("µ = w · own mean + (1 − w) · peers")
    expect(dialog).to_contain_text("own samples")
    expect(dialog).to_contain_text("standard deviations")


def test_a_next_check_is_offered_where_something_is_raised(still, visit) -> None:
    page = newest_of(visit, still, "P-03")
    verdict = page.get_by_role("complementary", name="Verdict")
    expect(verdict.get_by_role("heading", name="Next best check")).to_be_visible()
    expect(verdict).to_contain_text(re.compile(r"[\d.]+ h, engine [a-z ]+, helps"))
    expect(verdict).to_contain_text(re.compile(r"At least [\d.]+ L by potassium"))


def test_distance_from_expectation_is_drawn_for_any_element(still, visit) -> None:
    page = visit(still, "/engine/G-07")
    chart = page.get_by_role("region", name="Control charts")
    chart.get_by_label("Element").select_option("Pb")
    expect(chart.get_by_role("img", name=re.compile("^Lead, standard deviations"))).to_be_visible()
    expect(page.get_by_role("region", name="Outlook")).to_contain_text(re.compile("Drain (now|at)"))


def test_a_policy_is_chosen_and_peers_are_published(changing, visit) -> None:
    page = visit(changing, "/library")
    page.get_by_label("Scope").select_option("engine")
    page.get_by_label("Which").select_option("G-08")
    page.get_by_label("Schools that decide").select_option("fixed_only")
    # It says first what would change, and asks why.
    expect(page.get_by_role("region", name="What would change")).to_be_visible()
    page.get_by_role("button", name="Leave it as it was").click()
    expect(page.get_by_label("Schools that decide")).not_to_have_value("fixed_only")
    page.get_by_label("Schools that decide").select_option("fixed_only")
    page.get_by_label("Why these limits").fill("a new engine, without a history")
    page.get_by_role("button", name="Let them decide").click()
    expect(page.get_by_role("status").filter(has_text="Chosen.")).to_be_visible()
    page.reload()
    page.get_by_label("Scope").select_option("engine")
    page.get_by_label("Which").select_option("G-08")
    expect(page.get_by_label("Schools that decide")).to_have_value("fixed_only")
    page.get_by_role("navigation", name="Library").get_by_role("link", name="expected").click()
    peers = page.get_by_role("region", name="Peers")
    peers.get_by_role("button", name="See what today's would change").click()
    expect(
        peers.get_by_role("heading", name=re.compile("No verdict would change|would rise"))
    ).to_be_visible()
    peers.get_by_role("button", name=re.compile("Publish peers")).click()
    expect(peers.get_by_role("status")).to_contain_text("Every engine is judged again")
    expect(peers.get_by_role("listitem").filter(has_text="Mira Ostrand")).to_be_visible()


def test_the_longest_drain_is_kept(changing, visit) -> None:
    page = visit(changing, "/library")
    field = page.get_by_label("Longest drain in nominal drains")
    field.fill("1.5")
    field.press("Tab")
    expect(page.get_by_role("status").filter(has_text="Kept, for the whole site")).to_be_visible()
    page.reload()
    expect(page.get_by_label("Longest drain in nominal drains")).to_have_value("1.5")
