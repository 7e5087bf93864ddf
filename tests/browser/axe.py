"""What axe finds wrong with a page."""

from playwright.sync_api import Page

from launcher.paths import WEB

AXE = (WEB / "node_modules" / "axe-core" / "axe.min.js").read_text(encoding="utf-8")
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa"]


def violations(page: Page) -> list[tuple[str, list[str]]]:
    """(rule, the first elements that break it) of a page as it stands."""
    page.evaluate(AXE)
    found = page.evaluate("rules => axe.run(document, {runOnly: rules})", RULES)
    return [(v["id"], [n["html"][:120] for n in v["nodes"][:3]]) for v in found["violations"]]
