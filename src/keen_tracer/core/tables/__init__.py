"""Published tables and editable knowledge, as data files with their origin in the first line."""

import csv
from functools import cache
from importlib.resources import files


@cache
def read(name: str) -> tuple[dict[str, str], ...]:
    """Rows of `name`.csv as dictionaries; the first line (the origin) is skipped."""
    text = files(__name__).joinpath(f"{name}.csv").read_text(encoding="utf-8")
    return tuple(csv.DictReader(text.splitlines()[1:]))


def origin(name: str) -> str:
    """The line of provenance of `name`.csv."""
    text = files(__name__).joinpath(f"{name}.csv").read_text(encoding="utf-8")
    return text.splitlines()[0].lstrip("# ")
