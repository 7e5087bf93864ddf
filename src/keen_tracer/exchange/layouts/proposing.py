"""A layout proposed from a grid, as far as the grid shows it.

Nothing is guessed silently: what the grid itself does not settle (1,250; 01/02; a figure of water
without a unit) is a question, and the grid is not read before it is answered.
"""

import re
from collections.abc import Sequence
from dataclasses import replace

from ...core.laboratory import BY_COLUMN
from ...core.terms import LayoutWay
from .arranged import (
    HOLDS,
    is_sheet,
    labelled,
    named_values,
    pairs,
    sheets_apart,
    turned,
    without_unit,
)
from .later import body_of, is_heading, with_later_tables
from .layout import HEAD, LOOKED, Column, Layout, Line, Proposal
from .names import LONG, meaning, plain, unit_of
from .parts import is_other
from .settling import settle

Grid = Sequence[Sequence[str]]
NEAR = 0.6  # of the most known headings, how many make a heading too; our choice
MOST_TURNS = 12  # samples side by side in a row; our choice
_FIGURE = re.compile(r"^[<>≤≥]?\s*\d[\d.,]*$")
_NUMBERED = re.compile(r"^(.*\D)[\s#_(]+(\d{1,2})\)?$")
# Viscosities of engine oils in mm²/s that can be of one temperature only. SAE J300 (2021, table 1)
# ends below 26.1 at 100 °C; the thinnest grades are about 17 to 25 at 40 °C, from memory: what lies
# between could be either and is left to the person.
_HOT, _COLD = (3.0, 16.3), (27.0, 400.0)
_BARE_VISCOSITY = {"viscosity", "visc", "vis", "kinematic viscosity", "viskosität", "kv"}


def propose(grid: Grid) -> Proposal:
    """How a grid is read, as far as it tells; `grid` its first rows (all of them where a sample a
    column is possible).

    >>> rows = [["Unit ID", "Date", "Hours", "Iron"], ["U-1", "2026-03-02", "120", "14"]]
    >>> [c.target for c in propose(rows).layout.columns]
    ['engine', 'drawn_on', 'meter', 'Fe_ppm']
    """
    begun, first = next(iter(sheets_apart(grid)))
    way, flat, header = _way(first)
    if way == "form":
        layout = _form(first)
    else:
        layout = _table(way, flat, header)
    lines = _lines(first, layout)
    if way == "columns":
        layout = _once(_without_lines(layout, lines, flat))
    told = {c.target for c in layout.columns} - {""}
    layout = replace(
        layout,
        lines=tuple(x for x in lines if x.target not in told),
        header=layout.header + (begun if way == "rows" else 0),
        body=layout.body + (begun if way == "rows" else 0),
    )
    return settle(with_later_tables(_by_range(layout, grid), grid), grid)


def _once(layout: Layout) -> Layout:
    """A layout without headings that come again: of tables one below the other, read by name."""
    seen: dict[str, Column] = {}
    for c in layout.columns:
        if c.heading:
            seen.setdefault(plain(c.heading), c)
    return replace(layout, columns=tuple(seen.values()))


def _known_in(cells: Sequence[str]) -> int:
    """How many different things of ours the cells head."""
    return len({t for c in cells if c and (t := meaning(c)[0])})


def _heading(grid: Grid) -> tuple[int, int]:
    """(row, how many headings are known) of the row that heads a grid: the first that names figures
    and is not far from the best, since of tables below one another the first is read from."""
    counts = [_known_in(r) for r in grid[:HEAD]]
    best = max(counts, default=0)
    if not best:
        return 0, 0
    heads = (n for n, r in enumerate(grid[:HEAD]) if counts[n] >= NEAR * best and _names_figures(r))
    row = next(heads, counts.index(best))
    return row, counts[row]


def _names_figures(row: Sequence[str]) -> bool:
    return any(meaning(c)[0] in (*BY_COLUMN, *LONG) for c in row if c)


def _way(first: Grid) -> tuple[LayoutWay, Grid, int]:
    """(which way samples run, the grid so that they run down, the row of its headings)."""
    header, down = _heading(first)
    across = turned(first) if len(first) <= HEAD * 4 else []
    left, found = _heading(across)
    # Names of figures that run down are the figures of a long table where its heads say so.
    if first and {meaning(x)[0] for x in first[header]} >= set(LONG):
        return "rows", first, header
    formed = _formed(first) if across else 0
    if formed > max(found, down, 3):
        return "form", first, 0
    return ("columns", across, left) if found > max(down, 2) else ("rows", first, header)


def _formed(first: Grid) -> int:
    """How many names of a form have their value beside them; 0 where they stand in one column, or
    where one has several figures: those are samples side by side."""
    places = {n for row in first for n, cell in enumerate(row) if cell and meaning(cell)[0]}
    several = any(
        meaning(row[0])[0] and sum(bool(_FIGURE.match(c)) for c in row[1:]) > 1
        for row in ([c for c in part if c] for r in first for part in pairs(r))
        if row
    )
    if len(places) < 2 or several:
        return 0
    named = [
        meaning(name)[0]
        for name, value, _ in named_values(first)
        if value and not unit_of(without_unit(value))
    ]
    return 0 if named.count("drawn_on") > 1 else len(set(named))


def _form(first: Grid) -> Layout:
    columns = [_column(name, unit) for name, _, unit in named_values(first)]
    return Layout(way="form", header=0, body=0, columns=_settled(columns, [], 0, "form"))


def _table(way: LayoutWay, grid: Grid, header: int) -> Layout:
    headings = list(grid[header]) if grid else []
    units, body = _units(grid, header)
    if body == header + 1:
        headings, body = _continued(grid, header, headings)
    headings = _grouped(grid, header, headings)
    columns = [_column(h, units[n] if n < len(units) else "") for n, h in enumerate(headings)]
    return Layout(way=way, header=header, body=body, columns=_settled(columns, grid, body, way))


def _units(grid: Grid, header: int) -> tuple[list[str], int]:
    """Units that stand in a row of their own under the headings, and where the samples begin."""
    if header + 1 >= len(grid):
        return [], header + 1
    below = grid[header + 1]
    said = [unit_of(without_unit(c)) for c in below]
    filled = sum(bool(c) for c in below)
    if filled and sum(u is not None for u in said) >= max(2, filled / 2):
        return [u or "" for u in said], header + 2
    return [], header + 1


def _continued(grid: Grid, header: int, headings: list[str]) -> tuple[list[str], int]:
    """Headings that go on in the row below, as "Visc (cSt)" over "@ 100 °C": where that makes one
    of them known and no day or engine stands in that row."""
    if header + 2 >= len(grid):
        return headings, header + 1
    below = list(grid[header + 1]) + [""] * len(headings)
    whose = [n for n, h in enumerate(headings) if meaning(h)[0] in ("engine", "drawn_on", "sample")]
    if not whose or any(below[n] for n in whose):
        return headings, header + 1
    joined = [
        f"{h} {below[n]}" if h and below[n] and not meaning(h)[0] and meaning(f"{h} {below[n]}")[0]
        else h
        for n, h in enumerate(headings)
    ]  # fmt: skip
    return (joined, header + 2) if joined != headings else (headings, header + 1)


def _grouped(grid: Grid, header: int, headings: list[str]) -> list[str]:
    """Headings nothing was made of, with their group's above, as "Viscosity" over "100 °C"; a
    group's stands over its first column."""
    if not header:
        return headings
    above, out, group = grid[header - 1], [], ""
    for n, h in enumerate(headings):
        group = above[n] if n < len(above) and above[n] else group
        both = f"{group} {h}"
        out.append(both if h and group and not meaning(h)[0] and meaning(both)[0] else h)
    return out


def _column(heading: str, unit: str) -> Column:
    target, said = meaning(heading) if heading else ("", "")
    return Column(heading, target, said or unit)


def _settled(columns: list[Column], grid: Grid, body: int, way: LayoutWay) -> tuple[Column, ...]:
    """Each thing stands in one column: a second one of the same is left to the person, unless each
    row tells several samples. "Unit" is an engine, or the unit of a figure, by what stands under
    it."""
    columns = _in_turns(columns) if way == "rows" else columns
    columns = _by_words(_by_values(_by_day(columns), grid, body), grid, body)
    seen: set[tuple[str, int]] = set()
    out: list[Column] = []
    long = {c.target for c in columns} >= set(LONG)
    for n, c in enumerate(columns):
        target = c.target
        under = [r[n] for r in grid[body : body + LOOKED] if n < len(r) and r[n]]
        if target in ("engine", "unit") and long and under:
            target = "unit" if all(unit_of(x) for x in under) else "engine"
        if (target, c.turn) in seen:
            target = ""
        seen |= {(target, c.turn)} - {("", c.turn)}
        out.append(replace(c, target=target))
    return tuple(out)


_DRAWN = re.compile(r"drawn|sampl|taken|entnahme|prélèv|prelev|toma|pobran")
# ppm past which a column of figures is no metal of an oil, and what a counted word may go to: our
# choice; the richest additive packages hold under a tenth of it.
_NO_METAL, _SMALL_WORD = 50_000.0, 12.0
# No engine oil is without these: hundreds of ppm of each are in any of them (from memory), so that
# a column of small whole numbers under S or P is a severity or a priority.
_RICH = {"S", "P"}


def _by_day(columns: list[Column]) -> list[Column]:
    """Of several days of a sample the one whose heading says when it was drawn."""
    named = [n for n, c in enumerate(columns) if c.target == "drawn_on" and not c.turn]
    says = [n for n in named if _DRAWN.search(columns[n].heading.lower())]
    if len(named) < 2 or not says:
        return columns
    return [
        replace(c, target="") if n in named and n != says[0] else c for n, c in enumerate(columns)
    ]


def _by_values(columns: list[Column], grid: Grid, body: int) -> list[Column]:
    """A column headed by a bare symbol is taken for the metal only if its values look like it:
    serial numbers are no tin, and where SN is none, Mo, S, P and V beside it may be a month, a
    severity and a priority, and are left to the person."""

    def figures(n: int) -> list[float]:
        under = [r[n] for r in grid[body : body + LOOKED] if n < len(r) and r[n]]
        return [float(x) for x in under if re.fullmatch(r"\d+(\.\d+)?", x.strip())]

    symbols = {a.symbol.lower() for a in BY_COLUMN.values() if a.unit == "ppm"}
    bare = [
        n
        for n, c in enumerate(columns)
        if c.target in BY_COLUMN and c.heading.strip().lower() in symbols and len(c.heading) <= 2
    ]
    none = {n for n in bare if any(x > _NO_METAL for x in figures(n))}
    if not none:
        none = {
            n
            for n in bare
            if columns[n].heading.strip().upper() in _RICH
            and (seen := figures(n))
            and all(x == int(x) and x <= _SMALL_WORD for x in seen)
        }
        return [replace(c, target="") if n in none else c for n, c in enumerate(columns)]
    words = {n for n in bare if all(x == int(x) and x <= _SMALL_WORD for x in figures(n))}
    return [replace(c, target="") if n in none | words else c for n, c in enumerate(columns)]


def _by_words(columns: list[Column], grid: Grid, body: int) -> list[Column]:
    """Look at what stands in a column of parts of a machine. Where it names figures ("Component:
    Iron") the column names tests. Where it is headed as the type of the sample, it is kept only if
    a sample in it is of something other than oil."""
    out = []
    for n, c in enumerate(columns):
        target = c.target
        if target == "compartment":
            under = {r[n] for r in grid[body : body + LOOKED] if n < len(r) and r[n]}
            if under and all(meaning(x)[0] in BY_COLUMN for x in under):
                target = "analyte"
            elif _KIND.search(plain(c.heading)) and not any(is_other(x) for x in under):
                target = ""
        out.append(replace(c, target=target))
    return out


_KIND = re.compile(r"\b(type of sample|sample type|probenart|type d échantillon|tipo de muestra)\b")


def _in_turns(columns: list[Column]) -> list[Column]:
    """Columns of several samples side by side, each with its turn: only where each has a day of its
    own, by numbers behind the headings or by headings that come again."""
    bare = [_NUMBERED.match(c.heading) if not c.target else None for c in columns]
    meant = [(*meaning(m[1].rstrip(" #_(")), int(m[2])) if m else ("", "", 0) for m in bare]
    days = sorted({n for target, _, n in meant if target == "drawn_on"})
    if 2 <= len(days) <= MOST_TURNS:
        return [
            replace(c, target=target, unit=c.unit or unit, turn=days.index(n) + 1)
            if target and n in days
            else c
            for c, (target, unit, n) in zip(columns, meant, strict=True)
        ]
    given = [c.target for c in columns]
    turns = given.count("drawn_on")
    again = {t for t in given if t and given.count(t) == turns}
    if not 2 <= turns <= MOST_TURNS or not again & set(BY_COLUMN):
        return columns
    return [
        replace(c, turn=given[: n + 1].count(c.target)) if c.target in again else c
        for n, c in enumerate(columns)
    ]


def _lines(first: Grid, layout: Layout) -> list[Line]:
    """Names outside the table with their values; of two that say the same thing the first is
    read, and the name of a sheet is behind what the sheet itself says."""
    outside = [r for r in first if is_sheet(r)]
    if layout.way == "rows":
        above = first[: layout.header]
        # What stands above another table is that one's.
        begin = max((n for n, r in enumerate(above, 1) if is_heading(r)), default=0)
        outside = [*above[begin:], *outside]
    elif layout.way == "columns":
        # Names with one value each fill their row; a name with several is a heading.
        outside = [*(r for r in first if sum(map(bool, r)) <= 2 * len(list(labelled(r)))), *outside]
    lines: dict[str, Line] = {}
    for row in sorted(outside, key=is_sheet):
        for label, target, _ in labelled(row):
            taken = target in {x.target for x in lines.values()}
            lines.setdefault(label, Line(label, "" if taken else target))
    return list(lines.values())


def _without_lines(layout: Layout, lines: list[Line], flat: Grid) -> Layout:
    """Of samples that run across: a heading with one value over several samples is no column of
    theirs but a line that holds for all."""
    samples = sum(
        any(r[n] for n, c in enumerate(layout.columns) if n < len(r) and c.target in BY_COLUMN)
        for r in flat[layout.body :]
    )
    labels = {x.label for x in lines}

    def held(n: int, c: Column) -> bool:
        under = [r[n] for r in flat[layout.body :] if n < len(r) and r[n]]
        one = samples > 1 and len(under) == 1 and c.target in HOLDS - {"drawn_on"}
        return one and plain(c.heading) in labels

    columns = [replace(c, target="") if held(n, c) else c for n, c in enumerate(layout.columns)]
    return replace(layout, columns=tuple(columns))


def _by_range(layout: Layout, grid: Grid) -> Layout:
    """A viscosity without its temperature stands for the one its figures can be of, where they can
    be of one only."""
    out = list(layout.columns)
    rows = body_of(grid, layout)
    for n, c in enumerate(out):
        if c.target or plain(re.sub(r"[(\[].*", "", c.heading)) not in _BARE_VISCOSITY:
            continue
        found = [re.sub(r"[^\d.]", "", r[n].replace(",", ".")) for r in rows if n < len(r) and r[n]]
        figures = [float(x) for x in found if re.fullmatch(r"\d+(\.\d+)?", x)]
        for target, (low, high) in (("KV100_mm2_s", _HOT), ("KV40_mm2_s", _COLD)):
            if figures and all(low <= x <= high for x in figures) and layout.at(target) is None:
                out[n] = replace(c, target=target)
    return replace(layout, columns=tuple(out))
