"""The tray as people use it: with a thumb at the engine, by keyboard at the desk, a piece measured
on its picture."""

import re

import pytest
from playwright.sync_api import Page, expect

from keen_tracer.standins.tray_pictures import TrayPicture, tray_picture

pytestmark = pytest.mark.browser
PHONE = {"width": 390, "height": 844}


def test_a_tray_of_twelve_types_is_counted_in_few_taps_on_a_phone(changing, visit) -> None:
    """A tap a piece or ten, each on a target of 44 points at least, without a dialog: twelve types
    in fifty taps, which is under two minutes at two seconds a tap."""
    page = visit(changing, "/inspect", **PHONE)
    page.get_by_label("Whose filter, plug or pan is it?").fill("G-08")
    page.get_by_role("list", name="Engines").get_by_role("button").first.click()
    tray = page.get_by_role("group", name="What was found")
    rows = tray.get_by_role("group")
    taps = 0
    for n in range(12):
        cells = rows.nth(n).get_by_role("button", name=re.compile("mm: "))
        for k in range(3):
            cell = cells.nth((n + k) % 5)
            box = cell.bounding_box()
            assert box
            assert min(box["width"], box["height"]) >= 44
            cell.click()
            taps += 1
    page.get_by_role("radio", name="Ten more").click()
    rows.nth(0).get_by_role("button", name=re.compile("under 0.1 mm")).click()
    assert taps + 2 + 1 <= 50
    says = page.get_by_role("region", name="What this look says")
    expect(says).to_contain_text("Stop")
    expect(says).to_contain_text("turn it over")
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.get_by_role("button", name="Save the look", exact=True).click()
    counted = page.get_by_role("table", name="Counted")
    expect(counted.get_by_role("row")).to_have_count(36 + 1)
    expect(counted).to_contain_text("11")


def test_the_tray_by_keyboard_alone(changing, visit) -> None:
    page = visit(changing, "/inspect/G-08")
    cell = page.get_by_role("button", name=re.compile("^Fine magnetic fuzz, under 0.1 mm"))
    cell.focus()
    for key in ("4", "1", "ArrowDown", "ArrowDown", "ArrowRight", "+", "+", "+", "-"):
        page.keyboard.press(key)
    expect(page.get_by_role("button", name="Fine magnetic fuzz, under 0.1 mm: 41")).to_be_visible()
    expect(
        page.get_by_role("button", name="Copper-coloured flakes, 0.1 to 0.5 mm: 2")
    ).to_be_focused()


def test_the_key_ends_in_a_type_and_lays_one_into_the_tray(changing, visit) -> None:
    page = visit(changing, "/inspect/G-08", **PHONE)
    page.get_by_role("button", name="What is it? A key").click()
    key = page.get_by_role("dialog", name="What is it?")
    key.get_by_role("button", name="No", exact=True).click()
    expect(key).to_contain_text("clears iron and steel only")
    key.get_by_role("button", name="Copper, brass or gold").click()
    key.get_by_role("button", name="One of these into the tray").click()
    expect(
        page.get_by_role("button", name="Copper-coloured flakes, 0.5 to 1 mm: 1")
    ).to_be_visible()


def draw(page: Page, picture: TrayPicture, n: int) -> None:
    """A line along a placed piece, as a hand draws it."""
    p, box = picture.placed[n], page.locator(".picture").bounding_box()
    assert box
    scale = box["width"] / picture.width
    page.mouse.move(box["x"] + p.x1 * scale, box["y"] + p.y1 * scale)
    page.mouse.down()
    page.mouse.move(box["x"] + p.x2 * scale, box["y"] + p.y2 * scale, steps=5)
    page.mouse.up()


def test_a_piece_is_measured_on_its_photograph(changing, visit, tmp_path) -> None:
    drawn = tray_picture(8, (("copper_flakes", 4.0),), pin_mm=25.0)
    file = tmp_path / "tray.jpg"
    file.write_bytes(drawn.jpeg)
    page = visit(changing, "/inspect/G-08")
    page.get_by_role("button", name=re.compile("^Copper-coloured flakes, over 3 mm")).click()
    page.get_by_label("Photograph").set_input_files(file)
    page.get_by_role("button", name="Save the look", exact=True).click()
    look = page.get_by_role("figure", name="This look")
    look.get_by_role("button", name="Set the scale").click()
    expect(look.get_by_role("button", name="Measure a piece")).to_be_disabled()
    look.get_by_label("Along").select_option("pin")
    look.get_by_label("mm", exact=True).fill("25")
    draw(page, drawn, 0)
    look.get_by_role("button", name="Keep the scale").click()
    expect(look).to_contain_text("scale from a pin")
    draw(page, drawn, 1)
    # An end is walked by keys, a point at a time, out and back.
    end = look.get_by_role("button", name=re.compile("^Second end"))
    end.focus()
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Shift+ArrowLeft")
    look.get_by_role("button", name="Keep the length").click()
    measured = look.get_by_role("list", name="Measured")
    expect(measured).to_contain_text("±")
    said = re.search(r"([\d.]+) ± ([\d.]+) mm", measured.inner_text())
    assert said
    length, half = (float(x) for x in said.groups())
    assert abs(length - 4.0) <= max(half, 0.08)
    measured.get_by_role("button", name="take it back").click()
    expect(measured).to_have_count(0)


def test_an_earlier_picture_is_laid_beside(still, visit) -> None:
    page = visit(still, "/inspect/G-07")
    page.get_by_role("region", name="Earlier looks").get_by_role("link").first.click()
    expect(page.get_by_role("figure")).to_have_count(1)
    page.get_by_role("group", name="Pictures to lay beside").get_by_role("button").first.click()
    expect(page.get_by_role("figure")).to_have_count(2)
    expect(page.get_by_role("link", name="Label for the bag")).to_be_visible()


@pytest.mark.parametrize("size", [{}, PHONE], ids=["desk", "phone"])
def test_an_engine_is_opened_part_by_part(changing, visit, size: dict[str, int]) -> None:
    page = visit(changing, "/inspect/G-08/opened", **size)
    map_ = page.get_by_role("group", name="The engine, part by part")
    bearing = map_.get_by_role("button", name="rod bearing 3", exact=True)
    box = bearing.bounding_box()
    assert box
    assert min(box["width"], box["height"]) >= 44
    bearing.click()
    form = page.get_by_role("form", name="How it is")
    form.get_by_role("button", name="cap side").click()
    form.get_by_role("button", name="Worn to copper").click()
    for label, said in (
        ("Housing bore", "85.020 85.022"),
        ("Shells, thickness", "2.452 2.458"),
        ("Journal, front, at 0 45 90 135°", "79.962 79.958 79.947 79.951"),
        ("oil clearance, at most", "0.110"),
    ):
        form.get_by_label(label).fill(said)
    expect(form).to_contain_text("Oil clearance 0.157")
    expect(form).to_contain_text("outside")
    form.get_by_label("Shells, thickness").fill("25")
    expect(form.get_by_role("alert")).to_contain_text("Oil clearance is")
    expect(form.get_by_role("button", name="Write it down")).to_be_disabled()
    form.get_by_label("Shells, thickness").fill("2.452 2.458")
    form.get_by_role("button", name="Write it down").click()
    findings = page.get_by_role("region", name="Findings")
    expect(findings).to_contain_text("1. Rod bearing 3, cap side: worn to copper")
    expect(
        map_.get_by_role("button", name="rod bearing 3, stop, finding 1", exact=True)
    ).to_be_visible()
    map_.get_by_role("button", name="relief valve", exact=True).click()
    form.get_by_role("button", name="Spring short or weak").click()
    form.get_by_role("button", name="Write it down").click()
    led = page.get_by_role("region", name="What led to what")
    expect(led).to_contain_text("Cause: 2 relief valve, spring short or weak.")
    page.get_by_text("What was found", exact=True).click()
    outcome = page.get_by_role("form", name="What was found on G-08")
    expect(outcome.get_by_role("combobox").first).to_have_value("oil_pump_pickup")
    led.get_by_role("button", name="remove the arrow").click()
    expect(led).to_contain_text("1 cut")
    expect(led).not_to_contain_text("Cause:")
    findings.get_by_role("button", name="Take finding 2 back").click()
    expect(findings.get_by_role("listitem")).to_have_count(1)
    expect(led).to_have_count(0)
    width = size.get("width", 1280)
    assert page.evaluate("document.documentElement.scrollWidth") <= width
