"""What the server says is read: a field of an answer that no page reads is work for nobody."""

import json
import re
from collections.abc import Iterator
from typing import Any

from keen_tracer.api.contract import openapi
from launcher.paths import WEB

MADE = {"schema.d.ts", "terms.ts"}
# Health is for whoever runs the server; the terms are written into the pages whole.
NOT_FOR_PAGES = {"Health", "Terms"}


def references(part: Any) -> Iterator[str]:
    if isinstance(part, dict):
        for key, inner in part.items():
            if key == "$ref":
                yield str(inner).rsplit("/", 1)[-1]
            else:
                yield from references(inner)
    elif isinstance(part, list):
        for inner in part:
            yield from references(inner)


def answered(contract: dict[str, Any]) -> set[str]:
    """Every schema an answer is made of."""
    schemas = contract["components"]["schemas"]
    waiting = {
        name
        for path in contract["paths"].values()
        for operation in path.values()
        for status, answer in operation["responses"].items()
        if status.startswith("2")
        for name in references(answer)
    }
    found: set[str] = set()
    while waiting:
        name = waiting.pop()
        found.add(name)
        waiting |= set(references(schemas[name])) - found
    return found


def test_every_field_of_an_answer_is_read_by_a_page() -> None:
    contract = json.loads(openapi())
    pages = "\n".join(
        f.read_text(encoding="utf-8")
        for f in (WEB / "src").rglob("*")
        if f.suffix in (".ts", ".svelte") and f.name not in MADE and ".test." not in f.name
    )
    words = set(re.findall(r"[A-Za-z_]\w*", pages))
    unread = {
        f"{name}.{field}"
        for name in answered(contract) - NOT_FOR_PAGES
        for field in contract["components"]["schemas"][name].get("properties", {})
        if field not in words
    }
    assert not unread
