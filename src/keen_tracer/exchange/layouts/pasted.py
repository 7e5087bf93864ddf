"""One report from pasted text: a column of names and figures, or a table of one sample."""

import csv
import re
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from ...core.terms import REPORT_FIELDS, DecimalMark
from ..cells import BadCell
from .arranged import pairs
from .layout import DAYS, Column, Layout, Question
from .names import meaning, unit_of
from .proposing import propose
from .reader import Reader
from .settling import settle
from .values import day

_SPLIT = re.compile(r"\t+|\s{2,}|\s*[;|]\s*|:\s+|\s*=\s*")
_LAST = re.compile(
    r"^(?P<name>.*?[^\s<>≤≥\d.,-])\s+"
    r"(?P<said>[<>≤≥]?\s*\d\S*(?:\s+\S+)?|trace|nd|neg|pos|negative|positive)$",
    re.IGNORECASE,
)


@dataclass(slots=True)
class Pasted:
    """What was found: figures by column, each with its unit, facts by target, lines nothing was
    made of, and what is asked first."""

    figures: dict[str, str] = field(default_factory=dict)
    facts: dict[str, str] = field(default_factory=dict)
    unread: list[str] = field(default_factory=list)
    questions: tuple[Question, ...] = ()


def _cells(line: str) -> list[str]:
    """A line as its cells: as it is split, or the name before the figure that ends it.

    >>> _cells("Iron (Fe)   14 ppm"), _cells("Viscosity @ 100 C 14.1 cSt")
    (['Iron (Fe)', '14 ppm'], ['Viscosity @ 100 C', '14.1 cSt'])
    >>> _cells("Unit ID G-03"), _cells("Sample Date 2026-03-02")
    (['Unit ID', 'G-03'], ['Sample Date', '2026-03-02'])
    """
    cells = [c.strip() for c in _SPLIT.split(line.strip()) if c.strip()]
    if len(cells) > 1:
        return cells
    found = _LAST.match(line.strip())
    if found and meaning(found["name"])[0]:
        return [found["name"], found["said"]]
    # A fact in words stands behind its name: "Unit ID G-03".
    words = line.split()
    for n in range(len(words) - 1, 0, -1):
        if meaning(" ".join(words[:n]))[0] in REPORT_FIELDS:
            return [" ".join(words[:n]), " ".join(words[n:])]
    return [found["name"], found["said"]] if found else cells


def _grid(text: str) -> list[list[str]]:
    """The text as rows: a table where tabs, semicolons or commas split every line alike."""
    lines = [line for line in text.splitlines() if line.strip()]
    for mark in "\t;,":
        rows = [[c.strip() for c in r] for r in csv.reader(lines, delimiter=mark)]
        if len(rows) > 1 and len(rows[0]) > 2 and {len(r) for r in rows} == {len(rows[0])}:
            return rows
    return [_cells(line) for line in lines]


def from_text(text: str, decimal: DecimalMark = "") -> Pasted:
    """One report from pasted text. Of a table with several samples the newest, which stands last or
    first by its day.

    >>> found = from_text("Iron\\t14\\nChromium\\t<1\\nViscosity 100 cSt: 14.1")
    >>> found.figures["Fe_ppm"], found.figures["Cr_ppm"], found.figures["KV100_mm2_s"]
    ('14', '<1', '14.1 cSt')
    """
    grid = _grid(text)
    if grid and sum(bool(meaning(c)[0]) for c in grid[0]) > 2:
        return _table(grid, decimal)
    return _lines(grid, decimal)


def _table(grid: Sequence[Sequence[str]], decimal: DecimalMark) -> Pasted:
    rows = [list(r) for r in grid]
    found = propose(rows)
    layout = found.layout
    if decimal:
        found = settle(replace(layout, decimal=decimal), rows)
    # A day that could be two stays as it is written: the person sees it beside its field.
    asked = tuple(q for q in found.questions if q.about == "decimal")
    if asked:
        return Pasted(questions=asked)
    reader = Reader(found.layout)
    told = max(reader.samples(rows), key=lambda t: t.facts.get("drawn_on", ""), default=None)
    if told is None:
        return Pasted(unread=[" ".join(r) for r in rows[:5]])
    figures = {c: f"{said} {unit}".strip() for c, said, unit in told.figures}
    unread = [c.heading for c in found.layout.columns if c.heading and not c.target]
    return _sure(Pasted(figures, dict(told.facts), unread), found.questions)


def _sure(found: Pasted, asked: Sequence[Question]) -> Pasted:
    """Without the days that could be two: the person chooses them."""
    for q in asked:
        if q.about == "days":
            for day in DAYS:
                found.facts.pop(day, None)
            found.unread.append(f"{q.seen[0]} could be two days: choose it")
    return found


_FIGURE = re.compile(r"^[<>≤≥]?\s*\d[\d.,]*$")
_MANY = 3  # rows with several figures that make a table of several samples; our choice


def _one_day(cell: str) -> str:
    """A cell that is a day and can be no other, as ISO; "" for any other cell.

    >>> _one_day("2026-03-04"), _one_day("4 March 2026"), _one_day("03/04/2026"), _one_day("14")
    ('2026-03-04', '2026-03-04', '', '')
    """
    if not re.search(r"\d{4}|\d\d$", cell) or not re.search(r"[\s/.\-]", cell.strip()):
        return ""
    said = set()
    for order in ("day_first", "month_first"):
        try:
            said.add(day(cell, order))
        except BadCell:
            continue
    return said.pop() if len(said) == 1 else ""


def _newest(grid: Sequence[Sequence[str]]) -> list[list[str]]:
    """Lines with several figures behind a name, of several samples, as lines of the newest: only
    where a line of as many days above says which that is."""
    out: list[list[str]] = []
    days: list[str] = []
    for row in grid:
        found = [d for cell in row if (d := _one_day(cell))]
        if len(found) > 1:
            days = found
            out.append([f"{row[0]} {' '.join(row[1:])}"])
            continue
        figures = [cell for cell in row[1:] if _FIGURE.match(cell)]
        if days and len(figures) == len(days):
            out.append([row[0], figures[days.index(max(days))]])
        else:
            out.append(list(row))
    return out + ([["drawn on", max(days)]] if days else [])


def _lines(grid: Sequence[Sequence[str]], decimal: DecimalMark) -> Pasted:
    """A name and a figure a line, with its unit behind or beside."""
    apart = [one for row in _newest(grid) for one in pairs(row)]
    several = [r for r in apart if sum(bool(_FIGURE.match(c)) for c in r[1:]) > 1]
    # Which of several figures is this sample's only the sheet can say.
    doubtful = [" ".join(r) for r in several if meaning(r[0])[0]]
    grid = [r for r in apart if r not in several]
    known = [(row, *meaning(row[0])) for row in grid if len(row) > 1]
    heads = [target for _, target, _ in known]
    values = [row[1] for row, _, _ in known]
    units = [unit or _beside(row) for row, _, unit in known]
    body = [[row[0] for row, _, _ in known], values]
    columns = tuple(
        Column(h, t if heads.index(t) == n else "", u)
        for n, (h, t, u) in enumerate(zip(body[0], heads, units, strict=True))
    )
    settled = settle(Layout(columns=columns, decimal=decimal), body)
    asked = tuple(q for q in settled.questions if q.about == "decimal")
    if asked:
        return Pasted(questions=asked)
    out = Pasted(unread=[" ".join(row) for row in grid if len(row) < 2 or not meaning(row[0])[0]])
    reader = Reader(settled.layout)
    told = reader.row(2, values)
    out.figures = {c: f"{said} {unit}".strip() for c, said, unit in told.figures}
    out.facts = told.facts
    out.unread[:0] = [f"{said} (which of these figures?)" for said in doubtful]
    out.unread += [f"{u.heading}: {u.what}" for u in reader.unread]
    return _sure(out, settled.questions)


def _beside(row: Sequence[str]) -> str:
    """The unit that stands in a cell of its own."""
    return next((u for c in row[2:] if (u := unit_of(c))), "")
