"""Every screen: accessible in both themes, usable by keyboard, clear when something is away."""

import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import Page, Route, expect

from keen_tracer.demo.cases import OPEN_CASE
from tests.browser.axe import violations
from tests.browser.conftest import FORGET

pytestmark = pytest.mark.browser

PLACES = [
    "/wall",
    "/collect",
    "/collect/G-03",
    "/inspect",
    "/inspect/G-07",
    "/inspect/G-07/opened",
    "/inspect/G-07/sheet",
    "/plan",
    f"/case/{OPEN_CASE}",
    "/collect/G-03?log=field_check&check=compression",
    "/judge",
    "/engine/G-07",
    "/run?engine=G-07",
    "/exchange",
    "/run/tag/G-07",
    "/bottles",
    "/bottles/1672",
    "/queries",
    "/fleet?place=engines&entry=G-03",
    "/fleet?place=oils",
    "/engine/G-08/log",
    "/library",
    "/library/expectation",
    "/library/causes",
    "/library/averages",
    "/report",
    "/report?sample=1650",
    "/exchange/formats",
]


@pytest.fixture(scope="module", params=PLACES)
def screen(request, still, at_still) -> Iterator[Page]:
    """A place as an analyst sees it at a desk; opened once for the tests that only look at it."""
    page = at_still.of(still, "Mira Ostrand", viewport={"width": 1280, "height": 800}).new_page()
    page.goto(still.address + request.param)
    expect(page.get_by_role("button", name="Mira Ostrand ·")).to_be_visible()
    expect(page.get_by_role("main")).not_to_contain_text("Reading")
    yield page
    page.evaluate(FORGET)
    page.close()


@pytest.mark.parametrize("mode", ["light", "dark"], ids=["day", "night"])
def test_axe_finds_nothing(screen, mode: str) -> None:
    html = screen.locator("html")
    if html.get_attribute("data-mode") != mode:
        screen.get_by_role("button", name="Day / night").click()
    expect(html).to_have_attribute("data-mode", mode)
    assert violations(screen) == []


def test_nothing_runs_out_of_the_page_at_1280(screen) -> None:
    assert screen.evaluate("document.documentElement.scrollWidth") <= 1280


def test_night_is_what_the_machine_prefers_until_somebody_chooses(still, visit) -> None:
    page = visit(still, "/wall", dark=True)
    expect(page.locator("html")).to_have_attribute("data-mode", "dark")
    page.get_by_role("button", name="Day / night").click()
    page.reload()
    expect(page.locator("html")).to_have_attribute("data-mode", "light")


def test_run_fits_a_phone(still, visit) -> None:
    page = visit(still, "/run", width=390, height=844)
    expect(page.get_by_role("button", name="G-07")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_the_places_of_a_phone_are_at_the_thumb(still, visit) -> None:
    """One row at the top; five places in a bar that stays, and the others under More."""
    page = visit(still, "/engine/P-03", width=390, height=844)
    places = page.get_by_role("navigation", name="Places")
    expect(places.get_by_role("link", name="Wall")).to_be_visible()
    box, bar = page.locator("header").bounding_box(), places.bounding_box()
    assert box is not None and box["height"] <= 50
    assert bar is not None and bar["y"] + bar["height"] == 844
    expect(places.get_by_role("link", name="Exchange")).to_be_hidden()
    places.get_by_text("More").click()
    assert violations(page) == []
    places.get_by_role("link", name="Exchange").click()
    page.wait_for_url("**/exchange")
    expect(places.get_by_role("link", name="Exchange")).to_be_hidden()


def test_enter_chooses_of_what_is_typed_not_of_fewer_letters(still, visit) -> None:
    """Somebody types faster than the server answers."""
    page = visit(still, "/wall")
    held: list[Route] = []

    def hold_the_first(route: Route) -> None:
        if held:
            route.continue_()
        else:
            held.append(route)

    page.route("**/api/find?q=P-03", hold_the_first)
    finder = page.get_by_role("combobox", name=re.compile("Find an engine"))
    finder.press_sequentially("P-0")
    expect(page.get_by_role("option").first).to_be_visible()
    with page.expect_request("**/api/find?q=P-03"):
        finder.press("3")
    finder.press("Enter")
    held[0].continue_()
    page.wait_for_url("**/engine/P-03")


def test_nothing_is_fetched_from_elsewhere(still, visit) -> None:
    page = visit(still, "/wall")
    asked: list[str] = []
    page.on("request", lambda r: asked.append(r.url))
    for path in PLACES:
        page.goto(still.address + path)
        expect(page.get_by_role("main")).not_to_contain_text("Reading")
    assert asked
    assert {u for u in asked if not u.startswith((still.address, "data:"))} == set()


def test_fonts_ship_with_the_program(still, visit) -> None:
    page = visit(still, "/wall")
    page.wait_for_function("document.fonts.status === 'loaded'")
    assert page.evaluate("document.fonts.check('14px \"Atkinson Hyperlegible Next Variable\"')")
    loaded = page.evaluate(
        "[...document.fonts].filter(f => f.status === 'loaded').map(f => f.family)"
    )
    assert any("Next" in f for f in loaded)


def test_the_wall_by_keyboard(still, visit) -> None:
    page = visit(still, "/wall")
    selected = page.locator(".row.selected")
    expect(selected).to_contain_text("G-07")
    page.keyboard.press("n")
    expect(selected).not_to_contain_text("G-07")
    first = selected.locator(".code").inner_text()
    assert first != "G-07"
    page.keyboard.press("p")
    expect(selected).to_contain_text("G-07")
    page.keyboard.press("ArrowDown")
    expect(selected).to_contain_text(first)
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile(r"/judge/\d+$"))
    page.go_back()
    expect(selected).to_contain_text("G-07")
    page.keyboard.press("Enter")
    expect(page).to_have_url(still.address + "/engine/G-07")


def test_filters_live_in_the_address_and_groups_fold(still, visit) -> None:
    page = visit(still, "/wall?depot=summit")
    expect(page.get_by_role("heading", level=1)).to_have_text(
        re.compile("^[5-9] engines|1\\d engines")
    )
    page.get_by_label("Name contains").fill("snow")
    expect(page).to_have_url(re.compile("find=snow"))
    expect(page.get_by_role("heading", name="2 engines")).to_be_visible()
    page.goto(still.address + "/wall?by=depot")
    expect(page.locator(".head").first).to_contain_text("mid")
    page.goto(still.address + "/wall")
    quiet = page.get_by_role("button", name="Quiet")
    expect(quiet).to_have_attribute("aria-expanded", "true")
    rows = page.locator(".row").count()
    quiet.click()
    expect(quiet).to_have_attribute("aria-expanded", "false")
    assert page.locator(".row").count() < rows


def test_keys_are_listed_and_can_be_switched_off(still, visit) -> None:
    page = visit(still, "/wall")
    page.keyboard.press("?")
    box = page.get_by_role("dialog")
    expect(box).to_contain_text("next or previous raised engine")
    box.get_by_role("checkbox").check()
    box.get_by_role("button", name="Close").click()
    page.keyboard.press("g")
    page.keyboard.press("j")
    expect(page).to_have_url(still.address + "/wall")


def test_a_press_counts_when_the_page_moves_under_it(still, visit) -> None:
    """An answer that comes in between down and up may push the page from under the pointer."""
    page = visit(still, "/wall")
    who = page.get_by_role("button", name="Mira Ostrand ·")
    box = who.bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.evaluate(
        """const late = document.createElement('p');
        late.style.height = '200px';
        document.body.prepend(late);"""
    )
    page.mouse.up()
    expect(who).to_have_attribute("aria-expanded", "true")


def test_typing_is_never_taken_for_a_key(still, visit) -> None:
    page = visit(still, "/wall")
    page.get_by_label("Name contains").press_sequentially("g-0")
    expect(page).to_have_url(re.compile(r"/wall\?find=g-0"))


def test_the_engine_by_keyboard(still, visit) -> None:
    page = visit(still, "/engine/G-07")
    side = page.get_by_role("complementary", name="Readout and facts")
    newest = side.get_by_role("heading").first.inner_text()
    page.keyboard.press("ArrowLeft")
    expect(side.get_by_role("heading").first).not_to_have_text(newest)
    page.keyboard.press("m")
    expect(page.get_by_role("group", name="History of G-07 along the date")).to_be_visible()
    page.keyboard.press("r")
    expect(page.get_by_role("button", name="as read")).to_have_attribute("aria-pressed", "true")
    sticks = page.get_by_role("link", name=re.compile("^Sample"))
    everything = page.locator("svg [role=link]").count()
    page.keyboard.press("+")
    page.keyboard.press("+")
    assert page.locator("svg [role=link]").count() < everything
    page.keyboard.press("0")
    expect(page.locator("svg [role=link]")).to_have_count(everything)
    assert sticks.count() >= 1
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile(r"/judge/\d+$"))


def test_two_engines_stand_side_by_side_on_the_same_axes(still, visit) -> None:
    page = visit(still, "/engine/G-03")
    field = page.get_by_label("Beside")
    field.fill("G-0")
    # What is typed is completed from the engines there are.
    expect(page.locator("#beside-engines option[value='G-04']")).to_have_count(1)
    field.fill("G-04")
    field.press("Enter")
    two = [page.get_by_role("region", name=f"{code} strips") for code in ("G-03", "G-04")]
    expect(two[1].get_by_role("link", name="G-04 Winch groomer")).to_be_visible()
    # The same stretch of days, and the same height of every strip.
    ends = [one.locator("svg text.small").all_text_contents() for one in two]
    assert ends[0].count("0") == ends[1].count("0")
    assert [x for x in ends[0] if "26" in x] == [x for x in ends[1] if "26" in x]
    expect(page.get_by_role("button", name="date")).to_have_attribute("aria-pressed", "true")
    field.fill("X-99")
    field.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("X-99")
    field.fill("")
    field.press("Enter")
    expect(two[1]).to_have_count(0)
    expect(page).to_have_url(still.address + "/engine/G-03")


def test_an_evidence_chip_lights_its_ladder_and_a_figure_opens(still, visit) -> None:
    page = visit(still, "/judge")
    verdict = page.get_by_role("complementary", name="Verdict")
    chip = verdict.locator(".chip").first
    chip.click()
    expect(chip).to_have_attribute("aria-pressed", "true")
    expect(page.locator(".ladder.lit")).to_have_count(1)
    page.locator(".ladder.lit").get_by_role("button").click()
    box = page.get_by_role("dialog")
    expect(box).to_contain_text("Start of charge")
    expect(box).to_contain_text("common practice")


def test_a_school_that_cannot_speak_says_so(still, visit) -> None:
    page = visit(still, "/judge")
    expect(page.get_by_role("main")).to_contain_text("P peers · O own, each by itself")


def test_the_program_is_of_no_use_without_a_name_but_shows_everything(still, visit) -> None:
    page = visit(still, "/wall", who=None)
    expect(page.get_by_role("region", name="Who are you?")).to_be_visible()
    expect(page.get_by_role("heading", name="26 engines")).to_be_visible()


def test_a_new_person_is_added_and_is_somebody_at_once(changing, visit) -> None:
    page = visit(changing, "/wall", who=None)
    box = page.get_by_role("region", name="Who are you?")
    expect(box).to_contain_text("Somebody who is can add you")
    expect(box.get_by_label("Somebody else")).to_have_count(0)
    box.get_by_role("button", name="Runa Skarsel releaser").click()
    page.get_by_role("button", name="Runa Skarsel · releaser").click()
    box.get_by_label("Somebody else").fill("Nils Brekka")
    box.get_by_label("Role").select_option("technician")
    box.get_by_role("button", name="Add and continue").click()
    expect(page.get_by_role("button", name="Nils Brekka · technician")).to_be_visible()
    page.get_by_role("button", name="Nils Brekka · technician").click()
    box.get_by_role("button", name="Leave: nobody is here").click()
    expect(page.get_by_role("button", name="Who are you?")).to_be_visible()


def test_an_empty_program_says_what_to_do_first(url, serve, visit) -> None:
    page = visit(serve(url), "/wall", who="Test Analyst")
    expect(page.get_by_role("heading", name="No engines yet")).to_be_visible()
    page.get_by_role("main").get_by_role("link", name="I have a file").click()
    expect(page.get_by_role("heading", name="Bring in")).to_be_visible()
    page.goto(page.url.replace("exchange", "judge"))
    expect(page.get_by_role("heading", name="Nothing waits for a verdict")).to_be_visible()


def test_what_is_not_there_is_said(still, visit) -> None:
    page = visit(still, "/engine/NOPE")
    expect(page.get_by_role("alert")).to_contain_text("There is no engine NOPE")
    page.goto(still.address + "/judge/NOPE")
    expect(page.get_by_role("alert")).to_contain_text("There is no sample NOPE")


def test_a_database_that_stops_is_said_and_the_page_recovers(
    demo_url, serve, visit, tmp_path
) -> None:
    from keen_tracer.storage.backup import backup, restore
    from keen_tracer.storage.migrate import ensure_database
    from launcher.cluster import Cluster

    backup(demo_url, tmp_path / "b.keen")
    own = Cluster.temporary()
    try:
        own.start()
        url = own.url("keen_away")
        ensure_database(url)
        restore(url, tmp_path / "b.keen")
        page = visit(serve(url), "/wall", who=None)
        expect(page.get_by_role("heading", name="26 engines")).to_be_visible()
        own.pause()
        notice = page.get_by_role("alert").filter(has_text="Waiting.")
        expect(notice).to_contain_text("does not answer just now", timeout=90_000)
        expect(page.get_by_role("heading", name="26 engines")).to_be_visible()
        own.resume()
        expect(notice).to_have_count(0, timeout=90_000)
    finally:
        own.stop()
