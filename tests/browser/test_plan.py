"""The plan by keyboard and by hand: a task moved, one that needs a reason, a proposal taken over,
work said to be done; on a phone as a list."""

import re

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.browser
PHONE = {"width": 390, "height": 844}


def panel(page: Page):
    return page.get_by_role("complementary", name="What is chosen").get_by_role(
        "region", name="Chosen task"
    )


def mark(page: Page, name: str):
    chart = page.get_by_role("group", name="Tasks by engine and day")
    return chart.get_by_role("button", name=re.compile(name))


def test_by_keyboard_alone(changing, visit) -> None:
    page = visit(changing, "/wall")
    page.keyboard.press("g")
    page.keyboard.press("p")
    page.wait_for_url(re.compile("/plan$"))
    expect(panel(page)).to_contain_text("G-07")
    for _ in range(40):
        page.keyboard.press("j")
        if "Clean: oil cooler off" in panel(page).get_by_role("paragraph").first.inner_text():
            break
    before = panel(page).inner_text()
    page.keyboard.press("ArrowRight")
    expect(panel(page)).to_contain_text("Moved by Mira Ostrand")
    assert panel(page).inner_text() != before
    page.keyboard.press("d")
    expect(mark(page, "^P-03: Clean: oil cooler")).to_have_count(0)


def test_past_its_range_the_reason_is_asked_and_kept(changing, visit) -> None:
    page = visit(changing, "/plan?weeks=8")
    mark(page, "^P-03: Renew: cooler core").first.click()
    field = panel(page).get_by_label("Another day, or ← →")
    own = field.input_value()
    far = page.evaluate("d => new Date(Date.parse(d) + 20*864e5).toISOString().slice(0, 10)", own)
    field.fill(far)
    button = panel(page).get_by_role("button", name="Move it")
    expect(button).to_be_disabled()
    panel(page).get_by_label(re.compile("Why then")).fill("the core comes by ship")
    button.click()
    expect(panel(page)).to_contain_text("Moved by Mira Ostrand: the core comes by ship.")
    panel(page).get_by_role("button", name="Back to its own day").click()
    expect(panel(page)).not_to_contain_text("Moved by")
    expect(panel(page).get_by_label("Another day, or ← →")).to_have_value(own)


def test_a_mark_is_dragged_by_whole_days(changing, visit) -> None:
    page = visit(changing, "/plan?weeks=2")
    one = mark(page, "^P-03: Renew: cooler core").first
    one.click()
    own = panel(page).get_by_label("Another day, or ← →").input_value()
    box = one.bounding_box()
    assert box
    page.mouse.move(box["x"] + 12, box["y"] + 12)
    page.mouse.down()
    page.mouse.move(box["x"] + 40, box["y"] + 12, steps=3)
    page.mouse.move(box["x"] + 12 + 110, box["y"] + 12, steps=4)
    page.mouse.up()
    expect(panel(page)).to_contain_text("Moved by Mira Ostrand")
    assert panel(page).get_by_label("Another day, or ← →").input_value() > own


def test_a_hold_has_no_other_day(changing, visit) -> None:
    page = visit(changing, "/plan")
    mark(page, "^G-07: Hold or release").first.click()
    expect(panel(page)).to_contain_text("This decision stays in the plan until somebody makes it.")
    expect(panel(page).get_by_role("button", name="Move it")).to_have_count(0)
    panel(page).get_by_role("link", name=re.compile("Decide")).click()
    page.wait_for_url(re.compile("/run"))


def test_a_proposal_says_what_does_not_fit_and_is_taken_over(changing, visit) -> None:
    with changing.client("Jon Tveld") as c:
        for depot in ("summit", "mid", "valley"):
            for s in c.get("/api/plan", params={"depot": depot}).json()["seasons"]:
                c.post("/api/plan/hours", json={**s, "hours": []}).raise_for_status()
            scarce = {"depot": depot, "starts": "01-01", "hours": [1.5] * 7}
            c.post("/api/plan/hours", json=scarce)
    page = visit(changing, "/plan?weeks=1")  # a full one
    page.keyboard.press("p")
    proposal = page.get_by_role("region", name="Proposal")
    expect(proposal).to_contain_text("Does not fit")
    expect(proposal).to_contain_text(re.compile("allowed to|past its latest"))
    proposal.get_by_role("button", name=re.compile("^Take .* over$")).click()
    expect(proposal).to_have_count(0)
    page.keyboard.press("p")
    expect(proposal).to_contain_text("No better plan was found.")


def test_an_address_for_phones_is_shown_once(changing, visit) -> None:
    page = visit(changing, "/plan?depot=summit")
    page.get_by_text("Calendar for phones").click()
    page.get_by_role("button", name="Make an address for summit").click()
    expect(page.get_by_text("Secret, shown once")).to_be_visible()
    expect(page.get_by_role("button", name="revoke its address")).to_be_visible()
    page.reload()
    page.get_by_text("Calendar for phones").click()
    expect(page.get_by_text("Secret, shown once")).to_have_count(0)


def test_on_a_phone_it_is_a_list_and_done_takes_two_taps(changing, visit) -> None:
    page = visit(changing, "/plan", **PHONE)
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    task = page.get_by_role("button", name=re.compile("P-03 Clean: oil cooler"))
    task.click()
    page.get_by_role("button", name=re.compile("^Done")).click()
    expect(task).to_have_count(0)


def test_an_oil_change_is_said_in_two_taps_on_a_phone(changing, visit) -> None:
    page = visit(changing, "/plan", **PHONE)
    task = page.get_by_role("button", name=re.compile("Oil change")).first
    engine = task.inner_text().split()[0]
    task.click()
    page.get_by_role("button", name=re.compile("^Done")).click()
    page.get_by_role("button", name="Oil changed").click()
    expect(page.get_by_role("button", name=re.compile(f"{engine} Oil change"))).to_have_count(0)
    page.goto(f"{changing.address}/engine/{engine}/log")
    expect(page.get_by_text(re.compile("oil change")).first).to_be_visible()


def test_work_longer_than_a_day_says_when_it_ends(changing, visit) -> None:
    page = visit(changing, "/plan?weeks=8")
    mark(page, "Renew: rod and main shells").first.click()
    expect(panel(page)).to_contain_text(re.compile(r"34 h to \d+ \w+ \d{4}"))
