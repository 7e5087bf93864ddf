"""The main job in a browser, as the people of the resort do it."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.day import DEMO_DAY
from tests.helpers import write_csv

pytestmark = pytest.mark.browser

NEW = (
    "sample,engine,drawn_on,meter,laboratory,oil_changed_after,Fe_ppm,Cr_ppm,Pb_ppm,Cu_ppm,Si_ppm,Na_ppm,K_ppm\n"
    f"NEW-1,G-08,{DEMO_DAY},99999,Fellside Oil Laboratory,no,31,2,4,6,7,7,61\n"
)


def row_of(page: Page, engine: str):
    return page.get_by_role("region", name="Engines").locator(".row", has_text=engine)


def test_the_whole_job_by_mouse_and_keyboard(changing, visit, tmp_path: Path) -> None:
    page = visit(changing, "/")
    expect(page.get_by_role("heading", name="26 engines")).to_be_visible()
    expect(row_of(page, "G-08")).to_contain_text("Runs")

    # A file comes in: preview first, then written.
    page.keyboard.press("g")
    page.keyboard.press("x")
    expect(page.get_by_role("heading", name="Bring in")).to_be_visible()
    page.get_by_label("Choose files, or drop them here").set_input_files(
        write_csv(tmp_path, "samples.csv", NEW)
    )
    expect(page.get_by_text("Preview. Nothing is written yet.")).to_be_visible()
    page.get_by_role("button", name="Import 1 new rows").click()
    expect(page.get_by_text("Written. 1 new rows, 1 engines to judge again.")).to_be_visible()

    # The engine moves on the Wall.
    page.keyboard.press("g")
    page.keyboard.press("w")
    expect(row_of(page, "G-08")).to_contain_text("Runs until", timeout=60_000)
    # A hundred thousand hours later, what the new sample did not measure is too old, and not simply
    # steady; nor is wear, of which it reports two metals only.
    expect(row_of(page, "G-08").get_by_role("img").first).to_have_attribute(
        "aria-label",
        re.compile(
            "^Wear Steady, too old; Dirt Steady; Coolant Act; Fuel Steady, too old; "
            ".*Debris Steady, too old$"
        ),
    )

    # Judged and signed by keyboard: found, another level chosen, a reason given, signed.
    page.keyboard.press("/")
    page.keyboard.type("new-1")
    expect(page.get_by_role("option", name="NEW-1")).to_be_visible()
    page.keyboard.press("Enter")
    verdict = page.get_by_role("complementary", name="Verdict")
    expect(verdict.get_by_role("heading", name="Act")).to_be_visible()
    expect(verdict).to_contain_text("Potassium 61 ppm")
    expect(page.get_by_role("button", name="Potassium")).to_be_visible()
    page.keyboard.press("1")
    expect(verdict).to_contain_text("Watch, one notch below the proposed Act")
    expect(verdict.get_by_role("button", name="Sign Watch")).to_be_disabled()
    page.keyboard.type("cooling system was filled two days ago, spill")
    page.keyboard.press("Enter")
    expect(page).not_to_have_url(changing.address + "/judge/NEW-1")
    page.go_back()
    expect(verdict.get_by_text("Signed", exact=True)).to_be_visible()
    expect(verdict).to_contain_text("Mira Ostrand")
    expect(verdict).to_contain_text("“cooling system was filled two days ago, spill")

    # Held, and both seen on the Engine and under Run.
    page.goto(changing.address + "/engine/G-08")
    expect(page.get_by_role("heading", name="G-08 Groomer")).to_be_visible()
    page.keyboard.press("h")
    form = page.get_by_role("form", name="Decide on G-08")
    form.get_by_role("button", name="Hold: do not run").click()
    form.get_by_label("Reason, signed with your name").fill("level rising overnight")
    form.get_by_role("button", name="Sign: G-08 do not run").click()
    expect(page.get_by_text("Signed: G-08 do not run.")).to_be_visible()
    line = page.get_by_role("button", name="G-08 Groomer")
    expect(line).to_contain_text("Do not run")
    expect(line).to_contain_text("Mira Ostrand")
    page.get_by_role("link", name="History of G-08").click()
    expect(page.get_by_text("Do not run").first).to_be_visible()
    side = page.get_by_role("complementary", name="Readout and facts")
    expect(side).to_contain_text("signed NEW-1 Watch")
    expect(side).to_contain_text("held: do not run: “level rising overnight”")
    expect(side).to_contain_text("Sample NEW-1")

    # Everything out again.
    page.keyboard.press("g")
    page.keyboard.press("x")
    with page.expect_download() as download:
        page.get_by_role("link", name="Download all data").click()
    assert download.value.suggested_filename.endswith(".zip")
    assert b"level rising overnight" in __import__("zipfile").ZipFile(download.value.path()).read(
        "decisions.csv"
    )


def test_accept_undo_note_and_the_queue_by_keyboard(changing, visit) -> None:
    page = visit(changing, "/judge")
    queue = page.get_by_role("navigation", name="Waiting, worst first")
    entries = queue.get_by_role("link")
    expect(entries.nth(1)).to_be_visible()
    before, first = entries.count(), entries.nth(0).get_attribute("data-sample")
    page.keyboard.press("j")
    expect(entries.nth(1)).to_have_attribute("aria-current", "true")
    page.keyboard.press("k")
    expect(entries.nth(0)).to_have_attribute("aria-current", "true")
    page.keyboard.press("n")
    page.keyboard.type("checked twice")
    page.keyboard.press("Escape")
    page.keyboard.press("a")
    expect(entries).to_have_count(before - 1)
    page.goto(f"{changing.address}/judge/{first}")
    verdict = page.get_by_role("complementary", name="Verdict")
    expect(verdict).to_contain_text("Note: “checked twice”")
    # Who is here is known a moment after the page is: only then is there something of theirs.
    expect(page.get_by_role("button", name=re.compile(" · "))).to_be_visible()
    page.keyboard.press("u")
    expect(entries).to_have_count(before)
    expect(verdict).to_contain_text("Proposed")


def test_a_quiet_pass_signs_all_but_the_unticked(changing, visit) -> None:
    page = visit(changing, "/judge")
    queue = page.get_by_role("navigation", name="Waiting, worst first")
    expect(queue.get_by_role("link").first).to_be_visible()
    before = queue.get_by_role("link").count()
    page.keyboard.press("q")
    expect(page.get_by_role("heading", name="Quiet pass")).to_be_visible()
    boxes = page.get_by_role("checkbox")
    steady = boxes.count()
    assert steady >= 3
    for n in range(steady):
        expect(boxes.nth(n)).to_be_checked()
    boxes.first.uncheck()
    page.get_by_role("button", name=f"Sign {steady - 1} as Steady").click()
    expect(queue.get_by_role("link")).to_have_count(before - steady + 1)


def test_a_signature_of_another_closes_the_form(changing, visit) -> None:
    page = visit(changing, "/judge")
    expect(page.get_by_role("button", name="Accept")).to_be_enabled()
    sample = page.locator("[aria-current=true]").first.get_attribute("data-sample")
    page.keyboard.press("2")
    expect(page.get_by_role("button", name="Sign Act")).to_be_visible()
    with changing.client("Runa Skarsel") as c:
        first = next(q for q in c.get("/api/queue").json() if q["sample"] == sample)
        sent = {"level": first["level"], "basis": first["basis"], "supersedes": None}
        mine = c.post(f"/api/samples/{sample}/sign", json=sent).json()["decision"]
        expect(page.get_by_text("by Runa Skarsel").first).to_be_visible()
        expect(page.get_by_role("button", name="Sign Act")).to_be_hidden()
        page.keyboard.press("a")
        again = c.post(f"/api/samples/{sample}/sign", json={**sent, "supersedes": mine}).json()
        assert again["decision"] == mine, "a second press writes nothing new"
    page.get_by_role("button", name="Sign it anew").click()
    expect(page.get_by_role("button", name="Accept")).to_be_enabled()


def test_two_people_and_one_verdict(changing, visit) -> None:
    one = visit(changing, "/judge")
    expect(one.get_by_role("button", name="Accept")).to_be_enabled()
    sample = one.locator("[aria-current=true]").first.get_attribute("data-sample")
    with changing.client("Runa Skarsel") as c:
        first = next(q for q in c.get("/api/queue").json() if q["sample"] == sample)
        one.route("**/api/queue", lambda route: route.abort())
        one.route(f"**/api/samples/{sample}", lambda route: route.abort())
        c.post(
            f"/api/samples/{sample}/sign",
            json={"level": first["level"], "basis": first["basis"], "supersedes": None},
        )
    one.keyboard.press("a")
    expect(
        one.get_by_role("alert").filter(has_text="Somebody else decided this first")
    ).to_be_visible()


def test_a_file_with_problems_shows_them_and_writes_nothing(
    changing, visit, tmp_path: Path
) -> None:
    page = visit(changing, "/exchange")
    bad = NEW.replace(str(DEMO_DAY), "31/02/2026").replace(",31,", ",0.2%,")
    page.get_by_label("Choose files, or drop them here").set_input_files(
        write_csv(tmp_path, "samples.csv", bad)
    )
    expect(page.get_by_role("heading", name="2 problems; nothing will be written")).to_be_visible()
    expect(page.get_by_role("cell", name="'31/02/2026' is not a date")).to_be_visible()
    expect(
        page.get_by_role("cell", name="write 2000 if that is meant, else correct it")
    ).to_be_visible()
    expect(page.get_by_role("button", name="Import", exact=True)).to_be_disabled()
    page.get_by_role("button", name="Other files").click()
    picture = tmp_path / "picture.csv"
    picture.write_bytes(b"\x89PNG\r\n\x1a\n")
    page.get_by_label("Choose files, or drop them here").set_input_files(picture)
    expect(page.get_by_role("cell", name="this is not a CSV file")).to_be_visible()


def test_the_same_file_twice_says_nothing_new(changing, visit, tmp_path: Path) -> None:
    page = visit(changing, "/exchange")
    file = write_csv(tmp_path, "samples.csv", NEW)
    page.get_by_label("Choose files, or drop them here").set_input_files(file)
    page.get_by_role("button", name="Import 1 new rows").click()
    page.get_by_role("button", name="Bring in more").click()
    page.get_by_label("Choose files, or drop them here").set_input_files(file)
    expect(
        page.get_by_text("Nothing new: everything in these files is already on record.")
    ).to_be_visible()
    expect(page.get_by_role("button", name="Import", exact=True)).to_be_disabled()


def test_an_amended_report_is_accepted_old_to_new(changing, visit, tmp_path: Path) -> None:
    page = visit(changing, "/exchange")
    for text, button in ((NEW, "Import 1 new rows"), (NEW.replace(",61\n", ",6\n"), "Import")):
        page.get_by_label("Choose files, or drop them here").set_input_files(
            write_csv(tmp_path, "samples.csv", text)
        )
        page.get_by_role("button", name=button, exact=True).click()
        page.get_by_role("button", name="Bring in more").click()
    waiting = page.get_by_role("region", name="Amended reports")
    expect(waiting).to_contain_text("K 61 → 6")
    waiting.get_by_role("button", name="Accept the new figures").click()
    expect(waiting).to_have_count(0)
    page.goto(changing.address + "/judge/NEW-1")
    expect(
        page.get_by_role("complementary", name="Verdict").get_by_role("heading", name="Steady")
    ).to_be_visible(timeout=60_000)


def test_a_hold_on_the_phone_and_its_tag(changing, visit) -> None:
    page = visit(changing, "/run?engine=W-01", who="Jon Tveld", width=390, height=844)
    form = page.get_by_role("form", name="Decide on W-01")
    expect(form.get_by_role("button", name="Release: runs")).to_be_disabled()
    hold = form.get_by_role("button", name="Hold: do not run")
    box = hold.bounding_box()
    assert box
    assert box["height"] >= 44
    hold.click()
    form.get_by_label("Reason, signed with your name").fill("knock at idle")
    form.get_by_role("button", name="Sign: W-01 do not run").click()
    form.get_by_role("link", name="Print the tag").click()
    tag = page.get_by_role("region", name="Tag")
    expect(tag).to_contain_text("Do not run")
    expect(tag).to_contain_text("knock at idle")
    expect(tag).to_contain_text("Jon Tveld")
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def test_a_stop_nobody_decided_on_stays_on_every_screen(changing, visit, tmp_path: Path) -> None:
    page = visit(changing, "/exchange", who="Runa Skarsel")
    events = f"engine,on,meter,kind,part\nP-01,{DEMO_DAY},,symptom,knock\n"
    page.get_by_label("Choose files, or drop them here").set_input_files(
        write_csv(tmp_path, "events.csv", events)
    )
    page.get_by_role("button", name="Import 1 new rows").click()
    alert = page.get_by_role("alert").filter(has_text="P-01")
    expect(alert).to_contain_text("Stop, and nobody has decided yet", timeout=60_000)
    for key in ("w", "j", "r"):
        page.keyboard.press("g")
        page.keyboard.press(key)
        expect(alert).to_be_visible()
    alert.get_by_role("link", name="Decide whether it may run").click()
    form = page.get_by_role("form", name="Decide on P-01")
    form.get_by_role("button", name="Release: runs").click()
    expect(form).to_contain_text("the licensed person decides")
    sign = form.get_by_role("button", name="Sign: P-01 runs")
    form.get_by_label("Reason, signed with your name").fill("a loose guard")
    expect(sign).to_be_disabled()  # a Stop is lifted by naming what was found and done
    form.get_by_label("What was found").fill("gauge and stethoscope: a loose guard")
    form.get_by_label("What was done").fill("guard bolted on, test run, no knock")
    sign.click()
    expect(alert).to_have_count(0)
