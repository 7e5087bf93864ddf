"""Pages of a server in headless Chromium, that fail their test on any error in the console."""

from collections.abc import Callable, Iterator

import pytest
from playwright.sync_api import Browser, Page, expect

from keen_tracer.storage.migrate import drop_database
from tests.conftest import Server, copy_of

# Generous, so that a busy machine only makes the tests slower.
expect.set_options(timeout=60_000)


@pytest.fixture(scope="module")
def still(demo_template: str, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    """A server on a demo that the tests of a module leave as it is."""
    mine = copy_of(demo_template, "still")
    folder = tmp_path_factory.mktemp("still")
    running = Server(mine, folder / "address", folder / "log")
    yield running
    running.stop()
    drop_database(mine)


@pytest.fixture
def changing(demo_copy: str, serve: Callable[[str], Server]) -> Server:
    return serve(demo_copy)


Visit = Callable[..., Page]


@pytest.fixture
def visit(browser: Browser) -> Iterator[Visit]:
    """Opens a place as somebody; `width`, `height` and `dark` as wanted."""
    opened: list[Page] = []
    errors: list[str] = []

    def go(
        server: Server,
        path: str,
        who: str | None = "Mira Ostrand",
        width: int = 1280,
        height: int = 800,
        dark: bool = False,
    ) -> Page:
        context = browser.new_context(
            viewport={"width": width, "height": height},
            accept_downloads=True,
            color_scheme="dark" if dark else "light",
        )
        context.set_default_timeout(120_000)
        page = context.new_page()
        page.on("pageerror", lambda e: errors.append(str(e)))
        opened.append(page)
        page.goto(server.address + path)
        if who:
            page.get_by_role("region", name="Who are you?").get_by_role("button", name=who).click()
            expect(page.get_by_role("button", name=f"{who} ·")).to_be_visible()
        return page

    yield go
    for page in opened:
        page.context.close()
    assert not errors, errors
