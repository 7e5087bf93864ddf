"""Pasted text as rows of cells: a name, its figure, its unit, however they are set apart."""

import csv
import re
from collections.abc import Sequence

from ...core.terms import REPORT_FIELDS
from .arranged import pairs
from .headed import from_across, under_headings
from .names import meaning, plain, unit_of
from .spaced import in_columns
from .values import FIGURE, one_days

LONGEST_LINE = 1000  # letters of a line of names and figures; our choice
_SPLIT = re.compile(r"\t+|\s{2,}|\s*[;|]\s*|:\s+|\s*=\s*")
_LISTED = re.compile(r"\s*[,;]\s+(?=[^\W\d])")  # "Fe=14, Cr=1"
# A value as it ends a line: a figure with or without a unit, or a word that is one.
_VALUE = re.compile(r"^(?:[*<>≤≥]?\s*\d|trace$|nd$|neg$|pos$|negative$|positive$)", re.IGNORECASE)
_SIGN = re.compile(r"([<>≤≥])\s+(?=\d)")
_ENDS_NAME = re.compile(r"[\w%°)\]#.]$")
# What heads the figures of this sample beside those of others. Common practice, from memory.
_THIS_ONE = {"current", "current sample", "this sample", "latest", "newest", "aktuell", "actual"}


def rows_of(text: str) -> list[list[str]]:
    """The text as rows: a table where tabs, semicolons, commas or single spaces split every line
    alike; else line by line."""
    lines = [line for line in text.splitlines() if line.strip()]
    for mark in "\t;,":
        rows = [[c.strip() for c in r] for r in csv.reader(lines, delimiter=mark)]
        if len(rows) > 1 and len(rows[0]) > 2 and {len(r) for r in rows} == {len(rows[0])}:
            return rows
    if table := in_columns(lines):
        # What stands alone on its line is no part of the table.
        return [one for r in table for one in (cells_of(r[0]) if len(r) == 1 else [r])]
    words = [line.split() for line in lines]
    heads = words[0] if words else []
    if (
        len(heads) > 2
        and all(meaning(w)[0] for w in heads)
        and {len(w) for w in words} == {len(heads)}
    ):
        return words
    return [row for line in lines for row in cells_of(line)]


def cells_of(line: str) -> list[list[str]]:
    """A line as its cells, as several rows where it sets several names in a list or with colons.

    >>> cells_of("Iron (Fe)   14 ppm"), cells_of("Viscosity @ 100 C 14.1 cSt")
    ([['Iron (Fe)', '14 ppm']], [['Viscosity @ 100 C', '14.1 cSt']])
    >>> cells_of("Hours on Unit: 1,200 Hours on Oil: 100"), cells_of("Fe=14, Cr=1")
    ([['Hours on Unit', '1,200'], ['Hours on Oil', '100']], [['Fe', '14'], ['Cr', '1']])
    >>> cells_of("Iron 14 100"), cells_of("Unit ID G-03")
    ([['Iron', '14', '100']], [['Unit ID', 'G-03']])
    >>> cells_of("Water < 0,1 %")
    [['Water', '<0,1 %']]
    """
    line = line.strip()
    if len(line) > LONGEST_LINE:
        return [[line]]
    if line.count("=") > 1 and len(parts := _LISTED.split(line)) > 1:
        return [one for part in parts for one in cells_of(part)]
    if line.count(":") > 1 and "\t" not in line and (found := _colons(line)):
        return found
    cells = [c.strip() for c in _SPLIT.split(line) if c.strip()]
    return [cells] if len(cells) > 1 else [_in_words(line)]


def _colons(line: str) -> list[list[str]]:
    """Names and values of a line in which each name ends in a colon; [] where it is none."""
    parts = [p.strip() for p in re.split(r":(?=\s|$)", line)]
    name, out = parts[0], []
    for part in parts[1:-1]:
        words = part.split()
        # The next name is the longest known one that ends here; what is ahead of it is the value.
        at = next((n for n in range(1, len(words)) if meaning(" ".join(words[n:]))[0]), None)
        if at is None:
            return []
        out.append([name, " ".join(words[:at])])
        name = " ".join(words[at:])
    return [*out, [name, parts[-1]]] if parts[-1] else []


def _in_words(line: str) -> list[str]:
    """A line of single spaces: the longest known name that begins it, and what follows."""
    # A sign belongs to its figure, or it would be lost with the marks of the name.
    words = _SIGN.sub(r"\1", line).split()
    for n in range(len(words) - 1, 0, -1):
        target = meaning(" ".join(words[:n]))[0]
        rest = words[n:]
        if not _ENDS_NAME.search(words[n - 1]):
            continue
        if target in REPORT_FIELDS or (target and _VALUE.match(rest[0])):
            numbers = [w for w in rest if FIGURE.match(w)]
            # Two figures behind one name: which of them is meant only the sheet can say.
            many = len(numbers) > 1 and target not in REPORT_FIELDS
            return [" ".join(words[:n]), *(numbers if many else [" ".join(rest)])]
    return [line]


def newest(grid: Sequence[Sequence[str]]) -> list[list[str]]:
    """Lines with several figures behind a name, of several samples, as lines of one: only where a
    line above of as many cells says by days or in words which that is.

    >>> newest([["Test", "Current", "Previous"], ["Iron", "14", "12"]])
    [['Iron', '14']]
    """
    out: list[list[str]] = []
    days: list[str] = []
    at = many = None
    for row in grid:
        found = one_days(row[1:])
        if len(found) > 1:
            days, many, at = found, len(found), found.index(max(found))
            out.append([f"{row[0]} {' '.join(row[1:])}"])
            continue
        this = [n for n, c in enumerate(row[1:]) if plain(c) in _THIS_ONE]
        if len(this) == 1 and len(row) > 2:
            many, at = len(row) - 1, this[0]
            continue
        figures = [c for c in row[1:] if FIGURE.match(c)]
        if at is not None and len(figures) > 1 and len(figures) == many:
            out.append([row[0], figures[at]])
        else:
            out.append(list(row))
    return out + ([["drawn on", max(days)]] if days else [])


def apart_by_name(grid: Sequence[Sequence[str]]) -> list[list[str]]:
    """Rows of one name each, with this sample's figure where the sheet says which it is."""
    headed = list(under_headings(list(from_across(grid))))
    return [one for row in newest(headed) for one in pairs(row)]


def unit_beside(row: Sequence[str]) -> str:
    """The unit in a cell of its own."""
    return next((u for c in row[2:] if (u := unit_of(c))), "")
