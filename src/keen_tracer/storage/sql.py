"""Named queries from queries/*.sql. A query starts at `-- name: some_name` and a line that says
what it does."""

import re
from functools import cache
from importlib.resources import files
from typing import LiteralString

_HEAD = re.compile(r"^-- name: (\w+)\n-- (.+)\n", re.MULTILINE)


@cache
def _all() -> dict[str, str]:
    out: dict[str, str] = {}
    for file in sorted(files(__package__).joinpath("queries").iterdir(), key=lambda f: f.name):
        text = file.read_text(encoding="utf-8")
        heads = list(_HEAD.finditer(text))
        if len(heads) != text.count("-- name:"):
            raise ValueError(f"{file.name}: every query needs a name line and a description line")
        for head, following in zip(heads, [*heads[1:], None], strict=True):
            name = head[1]
            if name in out:
                raise ValueError(f"{file.name}: the query name {name} is taken")
            out[name] = (
                text[head.end() : following.start() if following else None].strip().rstrip(";")
            )
    return out


def query(name: str) -> LiteralString:
    """The text of a named query. It comes from a file of the program, never from a user."""
    return _all()[name]


def names() -> list[str]:
    """Every query there is, for the test that each one is used."""
    return sorted(_all())
