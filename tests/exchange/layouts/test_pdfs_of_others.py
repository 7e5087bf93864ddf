"""Reports in PDF drawn up by hand before any rule that reads them: the figures a person reads off
them are read, or nothing is guessed and it is said."""

import tomllib
from pathlib import Path
from typing import Any

import pytest

from keen_tracer.exchange.layouts import from_text, pdf_text
from keen_tracer.exchange.layouts.pdf_text import Word, lines_of
from keen_tracer.exchange.printing import printed

PDFS: list[dict[str, Any]] = tomllib.loads(
    Path(__file__).with_name("pdfs_of_others.toml").read_text(encoding="utf-8")
)["pdf"]
STYLE = "table{width:100%}td,th{text-align:left;padding:2px 6px}"


@pytest.mark.parametrize("pdf", PDFS, ids=lambda p: p["name"])
def test_a_pdf_says_what_a_person_reads_off_it(pdf: dict[str, Any], tmp_path: Path) -> None:
    path = tmp_path / "report.pdf"
    path.write_bytes(printed(f"<html><style>{STYLE}</style>{pdf['html']}</html>", None))
    found = from_text(pdf_text(path))
    figures = {column: said.split()[0] for column, said in found.figures.items()}
    assert figures in (pdf.get("any_of") or [pdf["figures"]])
    assert found.facts.items() >= pdf.get("facts", {}).items()
    assert [q.about for q in found.questions] == pdf.get("asks", [])


def word(text: str, left: float, line: int = 0) -> Word:
    return Word(text, left, left + 5 * len(text), 14 * line, 14 * line + 10)


def test_cells_that_nearly_touch_are_still_two() -> None:
    """A tight table stands its cells half a letter apart: its unit is no part of the name."""
    line = [word("Viscosity", 0), word("at", 48), word("100", 61), word("°C", 79)]
    assert lines_of([*line, word("mm²/s", 95)]) == ["Viscosity at 100 °C  mm²/s"]


def test_lines_come_from_the_top_and_cells_from_the_left() -> None:
    words = [word("14", 60, 1), word("Copper", 0, 2), word("Iron", 0, 1), word("Test", 0)]
    assert [line.split()[0] for line in lines_of(words)] == ["Test", "Iron", "Copper"]
    assert lines_of(words)[1] == "Iron        14"
