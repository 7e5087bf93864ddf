"""The samples of a grid, read by a layout: texts in the program's own notation, not converted."""

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from datetime import date

from ...core.bounds import NAME
from ...core.laboratory import BY_COLUMN
from ..cells import BadCell
from .layout import DAYS, FIGURES, Layout, turned
from .names import METERS, VOLUMES, meaning, unit_of

NOTHING = {"", "-", "--", "–", "—", "n/a", "na", "n.a.", "nil", "none", "not tested", "nt", "n.m."}
_MONTHS = {
    m: n
    for n, names in enumerate(
        (
            "jan januar january", "feb februar february", "mar mär märz mrz march", "apr april",
            "may mai", "jun juni june", "jul juli july", "aug august", "sep sept september",
            "oct okt october oktober", "nov november", "dec dez december dezember",
        ),
        1,
    )
    for m in names.split()
}  # fmt: skip
_NUMBER = re.compile(r"^(?P<sign>[<>≤≥]?)\s*(?P<number>-?\d[\d.,' \u2009]*)(?P<rest>.*)$")


@dataclass(slots=True)
class Told:
    """One sample as a grid tells it: its row (from 1), facts by target, figures as (column, text,
    unit)."""

    row: int
    facts: dict[str, str] = field(default_factory=dict)
    figures: list[tuple[str, str, str]] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class Unread:
    """A cell that could not be read."""

    row: int
    heading: str
    what: str
    fix: str


def figure(cell: str, decimal: str) -> str:
    """A figure as the program writes it: a decimal point, no thousands; words as they stand.

    >>> figure("1.250,5", "comma"), figure("< 1,250", "point"), figure("trace", "point")
    ('1250.5', '<1250', 'trace')
    """
    said = cell.strip()
    if said.lower() in NOTHING:
        return ""
    found = _NUMBER.match(said)
    if found is None:
        return said
    number = re.sub(r"['  \u2009]", "", found["number"].strip())
    drop, mark = (".", ",") if decimal == "comma" else (",", ".")
    if drop in number and not re.fullmatch(rf"-?\d{{1,3}}(\{drop}\d{{3}})+(\{mark}\d+)?", number):
        raise BadCell(
            f"{cell!r} is no number with {mark!r} as its decimal mark",
            "check how decimals are written",
        )
    number = number.replace(drop, "").replace(mark, ".")
    rest = found["rest"].strip()
    sign = {"≤": "<", "≥": ">"}.get(found["sign"], found["sign"])
    return f"{sign}{number}{' ' if rest and rest != '%' else ''}{rest}"


def apart(said: str) -> tuple[str, str]:
    """A figure and the unit written behind it, "" where none is.

    >>> apart("400 ppm"), apart("< 0.05%"), apart("trace"), apart("14")
    (('400', 'ppm'), ('<0.05', '%'), ('trace', ''), ('14', ''))
    """
    found = _NUMBER.match(said.strip())
    unit = unit_of(found["rest"]) if found and found["rest"].strip() else None
    if found is None or unit is None:
        return said, ""
    return f"{found['sign']}{found['number'].strip()}", unit


def day(cell: str, order: str) -> str:
    """A day as ISO. Raises BadCell.

    >>> day("3/4/2026", "day_first"), day("3/4/26", "month_first"), day("4. März 2026", "iso")
    ('2026-04-03', '2026-03-04', '2026-03-04')
    """
    said = cell.strip()
    if said.lower() in NOTHING:
        return ""
    parts = [p for p in re.split(r"[\s/.\-,T]+", said) if p][:3]
    try:
        if re.match(r"^\d{4}-", said):
            y, m, d = (int(p) for p in parts)
        elif re.fullmatch(r"\d{8}", said):
            y, m, d = int(said[:4]), int(said[4:6]), int(said[6:])
        elif any(p.lower() in _MONTHS for p in parts):
            m = next(_MONTHS[p.lower()] for p in parts if p.lower() in _MONTHS)
            numbers = [int(p) for p in parts if p.lower() not in _MONTHS]
            d, y = (numbers[1], numbers[0]) if numbers[0] > 31 else (numbers[0], numbers[1])
        else:
            a, b, y = (int(p) for p in parts)
            d, m = (a, b) if order == "day_first" else (b, a)
        return date(y + 2000 if y < 100 else y, m, d).isoformat()
    except (ValueError, IndexError) as error:
        raise BadCell(
            f"{cell!r} is not a day", "write such as 2026-02-28, or choose how days are written"
        ) from error


def name(text: str) -> str:
    """A text that can be a name.

    >>> name("B/17 #2")
    'B-17 -2'
    """
    return re.sub(r"[/\\?#]", "-", text)[:NAME].strip()


class Reader:
    """Reads a grid once; what it could not read stands in `unread` afterwards."""

    def __init__(self, layout: Layout):
        self.layout = layout
        self.unread: list[Unread] = []
        self.left = 0  # rows without an engine, a bottle or a figure: heads of pages, sums, notes
        self._figures = [
            (n, c.target, c.unit) for n, c in enumerate(layout.columns) if c.target in BY_COLUMN
        ]
        self._facts = [
            (n, c.target)
            for n, c in enumerate(layout.columns)
            if c.target and c.target not in BY_COLUMN
        ]

    def samples(self, rows: Iterable[list[str]]) -> Iterator[Told]:
        """The samples, in the order they stand."""
        way = self.layout.way
        grid = turned(list(rows)) if way == "columns" else rows
        told = (self.row(n, r) for n, r in enumerate(grid, 1) if n > self.layout.body and any(r))
        found = (t for t in told if self._says(t))
        yield from self._gathered(found) if self.layout.long else found

    def _says(self, t: Told) -> bool:
        named = any(t.facts.get(k) for k in ("engine", "sample", "report"))
        says = named and (bool(t.figures) or bool(t.facts.get("reading")) or "drawn_on" in t.facts)
        self.left += not says
        return says

    def _try(self, row: int, at: int, read: str, cell: str) -> str:
        try:
            if read in DAYS:
                return day(cell, self.layout.days)
            return figure(cell, self.layout.decimal)
        except BadCell as bad:
            self.unread.append(Unread(row, self.layout.columns[at].heading, bad.what, bad.fix))
            return ""

    def row(self, n: int, cells: list[str]) -> Told:
        """One row, whoever it is of."""
        told = Told(n)
        for at, target in self._facts:
            cell = cells[at].strip() if at < len(cells) else ""
            if target in (*DAYS, *FIGURES):
                cell = self._try(n, at, target, cell) if cell else ""
            if cell and cell.lower() not in NOTHING:
                told.facts[target] = cell
        for at, column, unit in self._figures:
            cell = cells[at] if at < len(cells) else ""
            if cell and (said := self._try(n, at, column, cell)):
                told.figures.append(self._figure(column, said, unit))
        return told

    def _figure(self, column: str, said: str, unit: str) -> tuple[str, str, str]:
        if column == "water_pct" and not unit:
            unit = self.layout.water
        figure, written = apart(said)
        return column, figure, written or unit

    def _gathered(self, told: Iterable[Told]) -> Iterator[Told]:
        """A figure a row, gathered into samples by what they share."""
        out: dict[tuple[str, ...], Told] = {}
        for t in told:
            keys = ("sample", "report", "engine", "drawn_on")
            one = out.setdefault(tuple(t.facts.get(k, "") for k in keys), Told(t.row))
            column, unit = meaning(t.facts.get("analyte", ""))
            unit = unit_of(t.facts.get("unit", "")) or unit
            said = t.facts.get("reading", "")
            for k, v in t.facts.items():
                if k not in ("analyte", "reading", "unit"):
                    one.facts.setdefault(k, v)
            if column in BY_COLUMN and said:
                one.figures.append(self._figure(column, said, unit))
            elif said:
                what = f"{t.facts.get('analyte', '')!r} is no figure the program knows"
                self.unread.append(Unread(t.row, "analyte", what, "it is left out"))
        yield from out.values()


def meter_unit(layout: Layout) -> str:
    """The unit of the meter, where the layout names one."""
    units = (c.unit for c in layout.columns if c.target in ("meter", "hours_on_oil"))
    return next((METERS[u] for u in units if u in METERS), "")


def volume_unit(layout: Layout) -> str:
    """The unit of what was topped up, litres where none is named."""
    at = layout.at("top_up_l")
    return VOLUMES.get(layout.columns[at].unit.lower(), "L") if at is not None else "L"
