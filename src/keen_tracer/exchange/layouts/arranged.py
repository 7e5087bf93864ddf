"""A grid arranged as its layout says: rows of samples under the layout's columns, each block of it
with what its lines outside the table hold."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace

from ...core.laboratory import BY_COLUMN
from .layout import KEYS, SHEET_NAME, Layout, Line
from .names import meaning, plain, unit_of

# What may stand once for a whole table. A bare "Date" above a table is as often that of the report.
HOLDS = frozenset(
    ("engine", "depot", "model", "oil", "laboratory", "report", "compartment", "drawn_on", "name")
)
# Rows that sum up others: no sample. Common practice, from memory.
SUMS = re.compile(
    r"^(?:(?:universal|fleet|class|group|model|lab(?:oratory)?|industry|overall|grand)\s+)?"
    r"(averages?|avg|mean|median|max(imum)?|min(imum)?|std|standard deviation|total|sum|limits?"
    r"|caution|critical|alarm|warning|normal|typical|reference|new oil|baseline|mittelwert"
    r"|durchschnitt|grenzwerte?|warnwerte?|frischöl|moyenne|limites?|promedio|media|límites?)"
    r"\b[^\d/-]*$",
    re.IGNORECASE,
)
_BARE_DAYS = {"date", "datum", "fecha", "data", "dato"}


@dataclass(slots=True)
class Block:
    """A part of a grid: rows under the layout's columns with where each stands (from 1), and what
    holds for them."""

    rows: list[tuple[int, list[str]]] = field(default_factory=list)
    holds: dict[str, str] = field(default_factory=dict)
    sheet: str = ""
    more: tuple[str, ...] = ()  # headings of its own, which the layout does not have
    doubt: bool = False  # of tables below one another some say whose they are and some do not


def turned(grid: Sequence[Sequence[str]]) -> list[list[str]]:
    """A grid with its rows as columns."""
    width = max((len(r) for r in grid), default=0)
    return [[r[n] if n < len(r) else "" for r in grid] for n in range(width)]


def is_sheet(row: Sequence[str]) -> bool:
    """Whether a row is the name of a sheet, ahead of its rows."""
    return len(row) > 1 and row[0] == SHEET_NAME


def labelled(row: Sequence[str]) -> Iterator[tuple[str, str, str]]:
    """(label, its meaning, value) of each name in a row; the value is in the same cell or the next.

    >>> list(labelled(["Unit ID:", "", "U-1", "Depot: East", "Iron", "14"]))
    [('unit id', 'engine', 'U-1'), ('depot', 'depot', 'East')]
    >>> list(labelled(["Unit", "ppm"])), list(labelled(["Date:", "2026-02-01"]))
    ([], [])
    """
    if is_sheet(row):
        yield SHEET_NAME, "engine", row[1]
        return
    for n, cell in enumerate(row):
        left, _, right = cell.partition(":")
        label = plain(left)
        if not label or label in _BARE_DAYS:
            continue
        target = meaning(left)[0]
        if target not in HOLDS:
            continue
        beside = next((c for c in row[n + 1 :] if c), "")
        value = right.strip() or ("" if meaning(beside.rstrip(": "))[0] else beside)
        if value and not (target == "engine" and unit_of(value)):
            yield label, target, value


_METER_SAID = frozenset({"meter", "hours_on_oil"})


def loose_figures(row: Sequence[str]) -> Iterator[tuple[str, str]]:
    """(label, figure) of a meter, or of hours on the oil, in a row outside the table.

    >>> list(loose_figures(["Unit", "U-1", "Hours", "1200", "Oil hours: 250 h"]))
    [('hours', '1200'), ('oil hours', '250 h')]
    """
    for n, cell in enumerate(row):
        left, _, right = cell.partition(":")
        if meaning(left)[0] not in _METER_SAID:
            continue
        value = right.strip() or (row[n + 1] if n + 1 < len(row) else "")
        if re.match(r"\d", value):
            yield plain(left), value


def held(row: Sequence[str], lines: Sequence[Line]) -> dict[str, str]:
    """The values in a row outside the table, by their meaning; {} for any other row.

    >>> held(["Unit ID:", "U-1"], [Line("unit id", "engine")])
    {'engine': 'U-1'}
    """
    wanted = {x.label: x.target for x in lines}
    return {wanted[label]: value for label, _, value in labelled(row) if wanted.get(label)}


def strange(row: Sequence[str], layout: Layout) -> bool:
    """Whether a row names an engine by a name this layout does not know, where engines are named
    outside the table: whose the samples below are is then open."""
    known = {x.label for x in layout.lines}
    if not any(x.target == "engine" for x in layout.lines):
        return False
    return any(target == "engine" and label not in known for label, target, _ in labelled(row))


def pairs(row: Sequence[str]) -> list[list[str]]:
    """A line of several names, each with its figure, as one line each; else the line as it is.

    >>> pairs(["Iron", "14", "ppm", "Chromium", "2"]), pairs(["Iron", "14", "22"])
    ([['Iron', '14', 'ppm'], ['Chromium', '2']], [['Iron', '14', '22']])
    """
    starts = [n for n, cell in enumerate(row) if n + 1 < len(row) and meaning(cell)[0]]
    if len(starts) < 2 or starts[0] != 0:
        return [list(row)]
    return [list(row[a:b]) for a, b in zip(starts, [*starts[1:], len(row)], strict=True)]


def named_values(rows: Sequence[Sequence[str]]) -> list[tuple[str, str, str]]:
    """(name, value, unit beside it) of a form: every known name with the cell after it."""
    out = []
    for row in rows:
        filled = [c for c in row if c]
        if is_sheet(row):
            continue
        for cell in (filled[n:] for n in range(len(filled))):
            left, colon, right = cell[0].partition(":")
            label = left.strip() if colon else cell[0]
            if not meaning(label)[0]:
                continue
            value = right.strip() or next((c for c in cell[1:2] if not meaning(c)[0]), "")
            unit = next((c for c in cell[2:3] if unit_of(c.strip("()[]"))), "")
            out.append((label, value, unit.strip("()[]")))
    return out


def sheets_apart(grid: Sequence[Sequence[str]]) -> Iterator[tuple[int, Sequence[Sequence[str]]]]:
    """(row it begins at, rows) of each sheet where several are read as one."""
    starts = [n for n, r in enumerate(grid) if is_sheet(r)] or [0]
    for a, b in zip(starts, [*starts[1:], len(grid)], strict=True):
        yield a, grid[a:b]


def blocks(grid: Sequence[Sequence[str]], layout: Layout) -> Iterator[Block]:
    """A grid whose samples do not run down, block by block: a sheet each, and where a heading comes
    again a new one."""
    for _, rows in sheets_apart(grid):
        sheet = rows[0][1] if rows and is_sheet(rows[0]) else ""
        named = held(rows[0], layout.lines) if sheet else {}
        found = []
        for part in _again(rows, layout) if layout.way == "columns" else [rows]:
            holds = dict(named)
            for row in part:
                holds |= {"engine": ""} if strange(row, layout) else held(row, layout.lines)
            found.append(_block(part, layout, holds, sheet))
        # Where a table begins is seen by what comes again; if one lacks its name or its day, what
        # stands between two tables may be of either.
        doubt = len({frozenset(_told_of(b, layout)) for b in found if _measured(b, layout)}) > 1
        yield from (replace(b, doubt=doubt) for b in found)


def _measured(block: Block, layout: Layout) -> bool:
    at = [n for n, c in enumerate(layout.columns) if c.target in BY_COLUMN]
    return any(row[n] for _, row in block.rows for n in at)


def _told_of(block: Block, layout: Layout) -> set[str]:
    """What says whose the samples of a block are, and of which day."""
    told = {t for t in (*KEYS, "drawn_on") if block.holds.get(t)}
    for t in (*KEYS, "drawn_on"):
        at = layout.at(t)
        if at is not None and any(row[at] for _, row in block.rows):
            told.add(t)
    return told


def _again(rows: Sequence[Sequence[str]], layout: Layout) -> Iterator[Sequence[Sequence[str]]]:
    """The parts of a sheet, each beginning where a heading comes again."""
    wanted = {plain(c.heading) for c in layout.columns if c.target} | {
        x.label for x in layout.lines
    }
    begin, seen = 0, set[str]()
    for n, row in enumerate(rows):
        head = plain(row[layout.header].partition(":")[0]) if layout.header < len(row) else ""
        if head and head in wanted and head in seen:
            # What stands ahead of a table belongs to it: it begins below the last line of figures.
            first = n
            while first > begin + 1 and held(rows[first - 1], layout.lines):
                first -= 1
            yield rows[begin:first]
            begin, seen = first, set()
        seen |= {head} & wanted
    yield rows[begin:]


def _block(
    part: Sequence[Sequence[str]], layout: Layout, holds: dict[str, str], sheet: str
) -> Block:
    """A part with its samples in the order of the layout's headings, however they stand in it."""
    if layout.way == "columns":
        flat = turned(part)
        heads = flat[layout.header] if layout.header < len(flat) else []
        nameless = [n for n, h in enumerate(heads) if not h]
        samples = [
            (n + 1, row)
            for n, row in enumerate(flat)
            if n >= layout.body and not any(SUMS.match(row[at]) for at in nameless)
        ]
    else:
        found = named_values(part)
        heads = [name for name, _, _ in found]
        samples = [(1, [f"{value} {unit}".strip() for _, value, unit in found])]
    where = _places(heads, [c.heading for c in layout.columns])
    rows = [(n, ["" if at is None else row[at] for at in where]) for n, row in samples]
    wanted = {plain(c.heading) for c in layout.columns}
    more = [h for h in heads if h and plain(h) not in wanted and meaning(h)[0]]
    return Block(rows, holds, sheet, tuple(more))


def _places(heads: Sequence[str], wanted: Sequence[str]) -> list[int | None]:
    """The place of each wanted heading; of two equal ones the second has the second place."""
    by: dict[str, list[int]] = {}
    for n, h in enumerate(heads):
        by.setdefault(plain(h), []).append(n)
    taken: dict[str, int] = {}
    out: list[int | None] = []
    for w in wanted:
        found, at = by.get(plain(w), []), taken.get(plain(w), 0)
        out.append(found[at] if at < len(found) else None)
        taken[plain(w)] = at + 1
    return out


def same_heading(row: Sequence[str], heading: Sequence[str]) -> bool:
    """Whether a row is the heading come again."""
    return [plain(c) for c in row if c] == [plain(c) for c in heading if c]


def without_unit(cell: str) -> str:
    """A cell without a unit in brackets."""
    return re.sub(r"^[(\[]|[)\]]$", "", cell)
