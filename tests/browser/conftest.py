"""Pages of a server in headless Chromium, that fail their test on any error in the console."""

from collections.abc import Callable, Generator, Iterator
from dataclasses import dataclass, field
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from keen_tracer.storage.migrate import drop_database
from tests.conftest import copy_of
from tests.server import Served, Server

# Generous, so that a busy machine only makes the tests slower.
expect.set_options(timeout=60_000)
PATIENT_MS = 120_000
FORGET = "localStorage.clear(); sessionStorage.clear()"


FAILED = pytest.StashKey[bool]()


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(
    item: pytest.Item, call: pytest.CallInfo[None]
) -> Generator[None, pytest.TestReport, pytest.TestReport]:
    """Remember that a test failed, so that what its pages showed is told beside it."""
    report = yield
    if report.when == "call" and report.failed:
        item.stash[FAILED] = True
    return report


@dataclass
class Contexts:
    """Browsers of persons: one for each server, person and screen, with what it has fetched.

    What a person changes in the browser itself is forgotten after each test.
    """

    browser: Browser
    kept: dict[tuple[object, ...], BrowserContext] = field(default_factory=dict)

    def of(self, server: Served, who: str | None, **screen: Any) -> BrowserContext:
        key = (server.address, who, *sorted((k, str(v)) for k, v in screen.items()))
        if key not in self.kept:
            self.kept[key] = self._made(server, who, screen)
        return self.kept[key]

    def _made(self, server: Served, who: str | None, screen: dict[str, Any]) -> BrowserContext:
        context = self.browser.new_context(accept_downloads=True, **screen)
        context.set_default_timeout(PATIENT_MS)
        if who:
            people = context.request.get(f"{server.address}/api/people").json()
            person = next(p["id"] for p in people if p["name"] == who)
            said = context.request.post(f"{server.address}/api/session", data={"person": person})
            assert said.ok, said.text()
        return context

    def close(self) -> None:
        for context in self.kept.values():
            context.close()


@pytest.fixture(scope="module")
def still(demo_template: str) -> Iterator[Server]:
    """A server on a demo that the tests of a module leave as it is."""
    mine = copy_of(demo_template, "still")
    running = Server(mine)
    yield running
    running.stop()
    drop_database(mine)


@pytest.fixture(scope="module")
def at_still(browser: Browser) -> Iterator[Contexts]:
    """The browsers at that server, kept for the tests of a module."""
    found = Contexts(browser)
    yield found
    found.close()


@pytest.fixture
def changing(demo_copy: str, serve: Callable[[str], Server]) -> Server:
    return serve(demo_copy)


Visit = Callable[..., Page]


@pytest.fixture
def visit(browser: Browser, at_still: Contexts, request: pytest.FixtureRequest) -> Iterator[Visit]:
    """Opens a place as somebody; `width`, `height` and `dark` as wanted. At a server that tests
    share, nobody can be chosen anew: who it is stays."""
    mine, opened, errors = Contexts(browser), [], []
    shared = request.getfixturevalue("still") if "still" in request.fixturenames else None

    def go(
        server: Served,
        path: str,
        who: str | None = "Mira Ostrand",
        width: int = 1280,
        height: int = 800,
        dark: bool = False,
    ) -> Page:
        contexts = at_still if server is shared and who else mine
        page = contexts.of(
            server,
            who,
            viewport={"width": width, "height": height},
            color_scheme="dark" if dark else "light",
        ).new_page()
        page.on("pageerror", lambda e: errors.append(str(e)))
        opened.append(page)
        page.goto(server.address + path)
        if who:
            expect(page.get_by_role("button", name=f"{who} ·")).to_be_visible()
        # A person presses a key when the page is there.
        expect(page.get_by_role("main")).not_to_contain_text("Reading")
        return page

    yield go
    for page in opened:
        if request.node.stash.get(FAILED, False):
            print(f"{page.url} showed:\n{page.locator('body').inner_text()[:3000]}")
        page.evaluate(FORGET)
        page.close()
    mine.close()
    assert not errors, errors
