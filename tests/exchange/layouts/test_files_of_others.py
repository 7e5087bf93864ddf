"""Files written by hand before any rule that reads them: what is in them is read, or what is not
read is said. First run and last are told in docs/formats.md."""

import tomllib
from pathlib import Path
from typing import Any

import pytest

from tests.exchange.layouts.test_by_hand import plainly, read_all

FILES: list[dict[str, Any]] = tomllib.loads(
    Path(__file__).with_name("files_of_others.toml").read_text(encoding="utf-8")
)["file"]


@pytest.mark.parametrize("file", FILES, ids=lambda f: f["name"])
def test_a_file_says_what_a_person_sees_in_it(file: dict[str, Any], tmp_path: Path) -> None:
    told, reader, asked = read_all(file["text"].lstrip("\n"), tmp_path, **file.get("given", {}))
    assert set(asked) == set(file.get("asks", ()))
    assert plainly(told) == [(e, d, f) for e, d, f in file["samples"]]
    for one, facts in zip(told, file.get("facts", ()), strict=False):
        assert one.facts.items() >= facts.items()
    if word := file.get("says"):
        headings = [c.heading for c in reader.layout.columns if not c.target]
        said = " | ".join([*headings, *(f"{u.heading}: {u.what}" for u in reader.unread)])
        assert word in said
