"""How a grid is read: which row heads it, which way its samples run, what each column stands for,
how figures and days are written. Proposed from the grid, changed by a person, kept by its heads.

Nothing is guessed silently: what the grid itself does not settle (1,250; 01/02; a figure of water
without a unit) is a question, and the grid is not read before it is answered.
"""

import hashlib
import re
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from ...core.laboratory import BY_COLUMN
from ...core.terms import REPORT_FIELDS, DaysWritten, DecimalMark, LayoutWay, WaterUnit
from .names import LONG, meaning, plain, unit_of

HEAD = 40  # rows in which a heading is looked for; our choice
LOOKED = 400  # rows in which figures and days are looked at; our choice
MOST_ACROSS = 2000  # samples that may run across; our choice


@dataclass(frozen=True, slots=True)
class Column:
    """A column: its heading as it stands, what it stands for ("" for nothing), its unit."""

    heading: str
    target: str = ""
    unit: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Layout:
    """A way to read a grid. `header`: row of the headings, from 0; `body`: first row of samples;
    `way`: a sample a row, or a sample a column (the grid is turned first)."""

    way: LayoutWay = "rows"
    header: int = 0
    body: int = 1
    columns: tuple[Column, ...] = ()
    laboratory: str = ""
    decimal: DecimalMark = ""
    days: DaysWritten = ""
    water: WaterUnit = ""

    def at(self, target: str) -> int | None:
        """The column that stands for something, the first of several."""
        return next((n for n, c in enumerate(self.columns) if c.target == target), None)

    @property
    def long(self) -> bool:
        """A figure a row."""
        return all(self.at(t) is not None for t in LONG)


@dataclass(frozen=True, slots=True)
class Question:
    """What the grid does not settle; `about` a field of the layout, `seen` the cells in doubt."""

    about: Literal["decimal", "days", "water"]
    seen: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Proposal:
    layout: Layout
    questions: tuple[Question, ...] = field(default=())


def turned(grid: Sequence[Sequence[str]]) -> list[list[str]]:
    """A grid with its rows as columns."""
    width = max((len(r) for r in grid), default=0)
    return [[r[n] if n < len(r) else "" for r in grid] for n in range(width)]


def _known_in(cells: Sequence[str]) -> int:
    """How many different things of ours the cells head."""
    return len({t for c in cells if c and (t := meaning(c)[0])})


def _heading(grid: Sequence[Sequence[str]]) -> tuple[int, int]:
    """(row, how many headings are known) of the row that heads a grid best, the first of equals."""
    counts = [_known_in(r) for r in grid[:HEAD]]
    best = max(counts, default=0)
    return (counts.index(best), best) if counts else (0, 0)


def fingerprint(headings: Sequence[str]) -> str:
    """What a laboratory's file is known again by: its headings, in their order."""
    line = "\x1f".join(plain(h) for h in headings if h.strip())
    return hashlib.blake2b(line.encode(), digest_size=12).hexdigest()


def propose(grid: Sequence[Sequence[str]]) -> Proposal:
    """How a grid is read, as far as it tells; `grid` its first rows (all of them where a sample a
    column is possible).

    >>> rows = [["Unit ID", "Date", "Hours", "Iron"], ["U-1", "2026-03-02", "120", "14"]]
    >>> [c.target for c in propose(rows).layout.columns]
    ['engine', 'drawn_on', 'meter', 'Fe_ppm']
    """
    header, down = _heading(grid)
    across = turned(grid) if len(grid) <= HEAD * 4 else []
    left, found = _heading(across)
    # Names of figures that run down are the figures of a long table where its heads say so.
    long = {meaning(x)[0] for x in grid[header]} >= set(LONG) if grid else False
    way: LayoutWay = "columns" if found > max(down, 2) and not long else "rows"
    if way == "columns":
        grid, header = across, left
    headings = list(grid[header]) if grid else []
    units, body = _units(grid, header)
    columns = [_column(h, units[n] if n < len(units) else "") for n, h in enumerate(headings)]
    layout = Layout(way=way, header=header, body=body, columns=_settled(columns, grid, body))
    return settle(layout, grid)


def _units(grid: Sequence[Sequence[str]], header: int) -> tuple[list[str], int]:
    """Units that stand in a row of their own under the headings, and where the samples begin."""
    if header + 1 >= len(grid):
        return [], header + 1
    below = grid[header + 1]
    said = [unit_of(re.sub(r"^[(\[]|[)\]]$", "", c)) for c in below]
    filled = sum(bool(c) for c in below)
    if filled and sum(u is not None for u in said) >= max(2, filled / 2):
        return [u or "" for u in said], header + 2
    return [], header + 1


def _column(heading: str, unit: str) -> Column:
    target, said = meaning(heading) if heading else ("", "")
    return Column(heading, target, said or unit)


def _settled(columns: list[Column], grid: Sequence[Sequence[str]], body: int) -> tuple[Column, ...]:
    """Each thing stands in one column: a second one of the same is left to the person. "Unit" is an
    engine, or the unit of a figure, by what stands under it."""
    seen: set[str] = set()
    out: list[Column] = []
    long = {c.target for c in columns} >= set(LONG)
    for n, c in enumerate(columns):
        target = c.target
        under = [r[n] for r in grid[body : body + LOOKED] if n < len(r) and r[n]]
        if target in ("engine", "unit") and long and under:
            target = "unit" if all(unit_of(x) for x in under) else "engine"
        if target in seen:
            target = ""
        seen |= {target} - {""}
        out.append(Column(c.heading, target, c.unit))
    return tuple(out)


_NUMBER = r"[<>]?\s*-?\d"
_POINT_ONLY = re.compile(r"^[<>]?\s*\d+\.\d+(\s*[^\d\s,.]\S*)?$|^[<>]?\s*\d{1,3}(,\d{3})+\.\d+$")
_COMMA_ONLY = re.compile(
    r"^[<>]?\s*\d+,(\d{1,2}|\d{4,})(\s*[^\d\s,.]\S*)?$"
    r"|^[<>]?\s*0,\d+$"
    r"|^[<>]?\s*\d{1,3}(\.\d{3})+,\d+$"
)
_EITHER = re.compile(r"^[<>]?\s*[1-9]\d{0,2}([.,]\d{3})+(\s*[^\d\s,.]\S*)?$")
_POINTED = re.compile(r"^[<>]?\s*[1-9]\d{0,2}\.\d{3}$")
_SLASHED = re.compile(r"^(\d{1,2})[/.\-](\d{1,2})[/.\-](\d{4}|\d{2})(?:[ T].*)?$")
_ISO = re.compile(r"^\d{4}-\d{1,2}-\d{1,2}")
DAYS = ("drawn_on", "received_on", "analysed_on")
FIGURES = ("meter", "hours_on_oil", "oil_change_meter", "top_up_l", "reading")


def settle(layout: Layout, grid: Sequence[Sequence[str]]) -> Proposal:
    """A layout with what the grid settles filled in, and the questions that are left. What a person
    said stands."""
    body = grid[layout.body : layout.body + LOOKED]

    def under(wanted: Sequence[str]) -> list[str]:
        return [
            r[n]
            for r in body
            for n, c in enumerate(layout.columns)
            if c.target in wanted and n < len(r) and r[n]
        ]

    questions: list[Question] = []
    decimal, days, water = layout.decimal, layout.days, layout.water
    if not decimal:
        decimal, doubt = _decimal(under([*BY_COLUMN, *FIGURES]))
        questions += [Question("decimal", doubt)] if doubt else []
    if not days:
        days, doubt = _days(under(DAYS))
        questions += [Question("days", doubt)] if doubt else []
    if not water:
        water, doubt = _water(layout, body)
        questions += [Question("water", doubt)] if doubt else []
    made = replace(layout, decimal=decimal, days=days, water=water)
    return Proposal(made, tuple(questions))


def _decimal(cells: Sequence[str]) -> tuple[DecimalMark, tuple[str, ...]]:
    """How decimals are written, or the cells that leave it open."""
    point = any(_POINT_ONLY.match(c) and not _POINTED.match(c) for c in cells)
    comma = any(_COMMA_ONLY.match(c) for c in cells)
    open_ = tuple(dict.fromkeys(c for c in cells if _EITHER.match(c)))[:3]
    if point and not comma:
        return "point", ()
    if comma and not point:
        return "comma", ()
    if point and comma:
        mixed = [next(c for c in cells if p.match(c)) for p in (_POINT_ONLY, _COMMA_ONLY)]
        return "", tuple(mixed)
    return ("", open_) if open_ else ("point", ())


def _days(cells: Sequence[str]) -> tuple[DaysWritten, tuple[str, ...]]:
    """In which order days are written, or the cells that leave it open."""
    slashed = [(c, m) for c in cells if (m := _SLASHED.match(c))]
    if not slashed:
        return "iso", ()
    day_first = any(int(m[1]) > 12 for _, m in slashed)
    month_first = any(int(m[2]) > 12 for _, m in slashed)
    if day_first != month_first:
        return ("day_first" if day_first else "month_first"), ()
    # Days written with points are written day first wherever they are written.
    if not day_first and all("." in c for c, _ in slashed):
        return "day_first", ()
    return "", tuple(dict.fromkeys(c for c, _ in slashed))[:3]


def _water(layout: Layout, body: Sequence[Sequence[str]]) -> tuple[WaterUnit, tuple[str, ...]]:
    """Whether water without a unit is % or ppm: more than a fifth of an oil cannot be water."""
    at = layout.at("water_pct")
    if at is None or layout.columns[at].unit:
        return "%", ()
    cells = [r[at] for r in body if at < len(r) and r[at]]
    figures = [float(m[0]) for c in cells if (m := re.search(r"\d+(\.\d+)?", c.replace(",", ".")))]
    if not figures or all("%" in c or "ppm" in c for c in cells):
        return "%", ()
    if max(figures) > 20:
        return "ppm", ()
    return "", tuple(dict.fromkeys(cells))[:3]


def targets() -> list[str]:
    """Everything a column can stand for, fields first."""
    return [*REPORT_FIELDS, *BY_COLUMN]
