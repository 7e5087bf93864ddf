"""Tables further down a sheet under other headings: their columns beside those of the first table,
their rows put in that order, and one sample gathered from the tables that tell of it.

A laboratory prints the metals of its samples in one table and their viscosity in the next. A column
of a later table is taken by its heading, as it is settled for the first; what no heading of ours
fits is shown and left out.
"""

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

from ...core.laboratory import BY_COLUMN
from ...core.terms import REPORT_FIELDS
from .arranged import blocks, held, is_sheet, same_heading
from .layout import HEADS, LOOKED, Column, Layout
from .names import LONG, meaning, plain, unit_of
from .told import Told

Places = tuple[int | None, ...]


def is_heading(row: Sequence[str]) -> bool:
    """Whether a row heads a table: it names several things of ours, and a figure among them.

    >>> is_heading(["Unit", "Date", "Iron"]), is_heading(["U-1", "2026-02-03", "14"])
    (True, False)
    """
    found = {t for c in row if c and (t := meaning(c)[0])}
    return len(found) >= HEADS and bool(found & {*BY_COLUMN, *LONG})


def with_later_tables(layout: Layout, grid: Sequence[Sequence[str]]) -> Layout:
    """A layout with the columns that only later tables of the grid have, behind its own."""
    if not _one_sample_a_row(layout):
        return layout
    own = tuple(layout.columns)
    found = list(own)
    heads = [c.heading for c in own]
    for n, row in enumerate(grid[layout.header + 1 :], layout.header + 1):
        if is_sheet(row) or not is_heading(row) or same_heading(row, heads):
            continue
        if n + 1 < len(grid) and is_of_units(grid[n + 1]):
            # Which unit is whose would have to be settled table by table: left to the person.
            continue
        for heading in row:
            if heading and _place(found, heading) is None:
                target, unit = meaning(heading)
                taken = any(c.target == target for c in found)
                found.append(Column(heading, "" if taken else target, unit))
    return (
        layout if len(found) == len(own) else replace(layout, columns=tuple(found), width=len(own))
    )


def _one_sample_a_row(layout: Layout) -> bool:
    return layout.way == "rows" and not layout.long and not any(c.turn for c in layout.columns)


def is_of_units(row: Sequence[str]) -> bool:
    """Whether every cell of a row that is filled is a unit."""
    said = [unit_of(c.strip("()[]")) for c in row if c]
    return bool(said) and all(said)


def _place(columns: Sequence[Column], heading: str) -> int | None:
    """The column a heading of a later table is: the one headed alike, else the one that stands for
    the same in the same unit."""
    same = next((n for n, c in enumerate(columns) if plain(c.heading) == plain(heading)), None)
    if same is not None:
        return same
    target, unit = meaning(heading)
    if not target:
        return None
    alike = (n for n, c in enumerate(columns) if c.target == target and c.unit == unit)
    return next(alike, None)


def places_under(row: Sequence[str], layout: Layout) -> Places | None:
    """For each column of the layout the cell of a later table it is read from, where `row` heads
    such a table and every heading of it is settled; None for any other row."""
    if not _one_sample_a_row(layout) or not is_heading(row):
        return None
    places: list[int | None] = [None] * len(layout.columns)
    for at, heading in enumerate(row):
        if not heading:
            continue
        column = _place(layout.columns, heading)
        if column is None or places[column] is not None:
            return None
        places[column] = at
    return tuple(places)


def put_in_order(row: Sequence[str], places: Places | None, width: int) -> list[str]:
    """The cells of a row in the order of the layout's columns; of a row of the first table the
    cells that its own columns head.

    >>> put_in_order(["9", "U-1"], (1, 0, None), 0), put_in_order(["U-1", "9", "?"], None, 2)
    (['U-1', '9', ''], ['U-1', '9'])
    """
    if places is None:
        return list(row[:width] if width else row)
    return ["" if at is None or at >= len(row) else row[at] for at in places]


def body_of(grid: Sequence[Sequence[str]], layout: Layout) -> list[list[str]]:
    """Returns the first rows of samples, with their cells in the order of the layout's columns.
    Repeated headings and labelled lines are left out."""
    if layout.way != "rows":
        return [row for b in blocks(grid, layout) for _, row in b.rows][:LOOKED]
    heads = [c.heading for c in layout.columns[: layout.width or None]]
    out: list[list[str]] = []
    places: Places | None = None
    for row in grid[layout.body : layout.body + LOOKED]:
        if is_sheet(row) or same_heading(row, heads):
            places = None
        elif found := places_under(row, layout):
            places = found
        elif not held(row, layout.lines):
            out.append(put_in_order(row, places, layout.width))
    return out


@dataclass(slots=True)
class Gathered:
    """Joins the rows of several tables into samples: a row of a later table adds its figures to the
    sample that an earlier table lists. `doubt` is called with the row and what is wrong where a row
    cannot be assigned to one sample."""

    doubt: Callable[[int, str], None]

    def of(self, told: Iterable[tuple[Places | None, Told]]) -> Iterator[Told]:
        """Yields the samples in the order in which they are first listed; each row comes with the
        places of its table's columns. All rows are read before the first sample is given."""
        out: list[Told] = []
        known: dict[tuple[str, ...], list[tuple[Places | None, Told]]] = {}
        for table, one in told:
            keys = _keys(one)
            matches = (
                [x for at, x in known.get(key, ()) if at != table and _may_be(x, one)]
                for key in keys
            )
            before = next((found for found in matches if found), [])
            if len(before) > 1:
                self.doubt(one.row, "more than one sample above fits this row")
            elif before:
                self._complete(before[0], one)
            elif not {"drawn_on", "sample"} & one.facts.keys():
                self.doubt(one.row, "no table above lists this sample")
            else:
                out.append(one)
                for key in keys:
                    known.setdefault(key, []).append((table, one))
        yield from out

    def _complete(self, before: Told, more: Told) -> None:
        """Adds the figures of a later row to a sample, unless the two rows contradict."""
        had = {column: (text, unit) for column, text, unit in before.figures}
        other = next(
            (c for c, text, unit in more.figures if had.get(c, (text, unit)) != (text, unit)), ""
        )
        fact = next((k for k, v in more.facts.items() if before.facts.get(k, v) != v), "")
        if other or fact:
            name = BY_COLUMN[other].name if other else REPORT_FIELDS.get(fact, fact)
            self.doubt(more.row, f"{name} is another in a table above")
            return
        before.figures += [f for f in more.figures if f[0] not in had]
        before.facts |= more.facts


def _may_be(before: Told, more: Told) -> bool:
    """Whether two rows can be of one sample: neither its bottle nor its report contradicts it."""
    names = ("sample", "report")
    return all(
        before.facts.get(k, "") in ("", more.facts.get(k) or before.facts.get(k, "")) for k in names
    )


def _keys(told: Told) -> list[tuple[str, ...]]:
    """What a sample can be found by, best first: its bottle, its report, its engine and day."""
    keys = [(k, told.facts[k]) for k in ("sample", "report") if told.facts.get(k)]
    engine, on = told.facts.get("engine", ""), told.facts.get("drawn_on", "")
    return [*keys, ("engine", engine, on)] if engine and on else [*keys]
