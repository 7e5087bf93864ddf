"""`./keen pictures`: the kept screenshots of the README, taken from the demo as of today.

Run as a module with DATABASE_URL on a throwaway server; names on the command line choose some.
"""

import os
import shutil
import sys
import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from playwright.sync_api import Page, expect, sync_playwright

from keen_tracer import clock
from keen_tracer.cli import prepare
from keen_tracer.demo.cases import OPEN_CASE
from keen_tracer.demo.load import load
from keen_tracer.demo.resort import ZONE
from keen_tracer.storage.db import single
from keen_tracer.storage.records import set_setting
from launcher.machine import BROWSER
from launcher.paths import ROOT
from tests.conftest import CHROMIUM_FLAGS, at
from tests.server import Served, ServerProcess

KEPT = ROOT / "docs" / "screenshots"
DESK, PHONE = (1280, 800), (390, 844)


def _nothing(_: Page) -> None:
    return


def _look(page: Page) -> None:
    """A bottle on a phone with its meter typed."""
    address = page.url.split("/collect/")[0]
    dial = page.request.get(f"{address}/api/stops/G-05").json()["dial"]
    for key in str(round(dial) + 4):
        page.get_by_role("button", name=key, exact=True).first.click()


def _tray(page: Page) -> None:
    """Pieces tapped into a tray."""
    page.get_by_role("button", name="Fine magnetic fuzz, under 0.1 mm: 0").click()
    page.get_by_role("radio", name="Ten more").click()
    for size in ("0.1 to 0.5", "0.5 to 1"):
        page.get_by_role("button", name=f"Copper-coloured flakes, {size} mm: 0").click()
    page.get_by_text("This look: Act").wait_for()
    page.get_by_role("radio", name="Ten more").scroll_into_view_if_needed()


def _newest_look(page: Page) -> None:
    """The newest look of an engine, an earlier picture beside it."""
    page.get_by_role("region", name="Earlier looks").get_by_role("link").first.click()
    page.get_by_role("group", name="Pictures to lay beside").get_by_role("button").first.click()
    page.wait_for_load_state("networkidle")


def _pasted(page: Page) -> None:
    """A report pasted as it was copied, of an engine on record."""
    paper = ("Unit G-03", "Iron (Fe) 34", "Lead 3", "Viscosity @ 100 °C 13.9 cSt", "Water <0.05 %")
    page.get_by_label("Figures as they were copied").fill("\n".join((*paper, "Oil hours 120")))
    page.get_by_role("button", name="Read what I pasted").click()
    page.get_by_role("status").wait_for()
    page.get_by_label("Laboratory", exact=True).fill("Northfall")
    page.wait_for_load_state("networkidle")


@dataclass(frozen=True)
class Picture:
    path: str
    size: tuple[int, int] = DESK
    dark: bool = False
    before: Callable[[Page], None] = _nothing


PICTURES = {
    "wall": Picture("/wall"),
    "wall-night": Picture("/wall", dark=True),
    "judge": Picture("/judge"),
    "engine": Picture("/engine/G-07"),
    "run": Picture("/run?engine=G-07"),
    "exchange": Picture("/exchange"),
    "report": Picture("/report", before=_pasted),
    "collect": Picture("/collect"),
    "collect-phone": Picture("/collect/G-05", PHONE, before=_look),
    "bottles": Picture("/bottles"),
    "queries": Picture("/queries"),
    "log": Picture("/engine/G-08/log"),
    "fleet": Picture("/fleet?place=engines&entry=G-03"),
    "library": Picture("/library"),
    "inspect": Picture("/inspect/G-07", before=_newest_look),
    "tray-phone": Picture("/inspect/G-08", PHONE, before=_tray),
    "opened": Picture("/inspect/G-07/opened"),
    "case": Picture(f"/case/{OPEN_CASE}"),
    "plan": Picture("/plan"),
}


def take(server: Served, wanted: list[str]) -> None:
    """Each picture from a browser of its own, as the analyst sees it."""
    with sync_playwright() as p:
        browser = p.chromium.launch(executable_path=shutil.which(BROWSER), args=CHROMIUM_FLAGS)
        for name in wanted:
            one = PICTURES[name]
            context = browser.new_context(
                viewport={"width": one.size[0], "height": one.size[1]},
                color_scheme="dark" if one.dark else "light",
            )
            page = context.new_page()
            page.goto(server.address + one.path)
            who = page.get_by_role("region", name="Who are you?")
            who.get_by_role("button", name="Mira Ostrand").click()
            expect(page.get_by_role("main")).not_to_contain_text("Reading")
            page.wait_for_load_state("networkidle")
            one.before(page)
            page.screenshot(path=KEPT / f"{name}.png")
            print(f"  {name}.png", flush=True)
            context.close()
        browser.close()


def main(words: list[str]) -> int:
    unknown = sorted(set(words) - set(PICTURES))
    if unknown:
        print(f"keen: there is no picture {unknown[0]!r}; known: {', '.join(PICTURES)}")
        return 1
    url, day = at(os.environ["DATABASE_URL"], "keen_pictures"), clock.today(ZONE)
    prepare(url)
    load(url, day, lambda text: print(f"  {text}", flush=True))
    with single(url) as c:
        set_setting(c, "demo_loaded", day.isoformat())
    with tempfile.TemporaryDirectory() as folder:
        server = ServerProcess(url, Path(folder))
        try:
            take(server, words or list(PICTURES))
        finally:
            server.stop()
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
