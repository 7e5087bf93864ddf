"""The samples of a grid, read by a layout: texts in the program's own notation, not converted.

What is not a sample is never dropped in silence: a line outside the table holds for what follows, a
heading come again is passed over, another heading or a figure that is nobody's is named.
"""

import re
from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from functools import lru_cache

from ...core.laboratory import BY_COLUMN, convert
from ...core.terms import REPORT_FIELDS
from ..cells import BadCell
from ..csvfile import reading_cell
from .arranged import SUMS, blocks, held, is_sheet, loose_figures, same_heading, strange
from .later import Gathered, Places, is_of_units, places_under, put_in_order
from .layout import DAYS, FIGURES, HEADS, KEYS, Layout
from .names import METERS, VOLUMES, meaning, plain, unit_of
from .parts import is_other
from .told import Told, Unread
from .values import NOTHING, apart, day, figure, unmarked

# What a row says of itself that makes it no sample of an oil in use. The bare word is the whole
# cell, or has its reason behind a mark; a sentence has to be about the sample or its bottle, since
# "lost 3 L of coolant" and "insufficient oil pressure" are about the engine. Common practice, from
# memory.
_NO_SAMPLE = re.compile(
    r"(rejected|void(ed)?|cancell?ed|not\s+received|storniert|verworfen|annul[ée]+|rechazad[ao])"
    r"(\s*[:;,(–-].*)?"
    r"|(the\s+)?(sample|bottle)\s+(is\s+|was\s+)?(rejected|void(ed)?|cancell?ed|insufficient|lost"
    r"|leaked|broken|not\s+received|spoilt)\b.*"
    r"|insufficient\s+sample\b.*",
    re.IGNORECASE,
)
# Of these kinds only where the column is about what was drawn: beside a diagnosis "coolant" is one.
_OTHER_KIND = re.compile(
    r"(engine\s+)?(coolant|antifreeze|grease|fuel|adblue)|hydraulic\s+(oil|fluid)|gear\s+oil"
    r"|transmission\s+(oil|fluid)|kühlmittel|fett",
    re.IGNORECASE,
)
# The cell says that its row is a sample of fresh oil, which becomes the oil's reference. A note can
# mean an oil change by "new oil": only columns that name the sample or its kind are searched.
_FRESH_OIL = re.compile(
    r"(new|fresh|unused|virgin)\s+(oil|lube)(\s+(sample|reference|baseline))?|reference\s+oil"
    r"|frischöl|neuöl|huile\s+neuve|aceite\s+nuevo|olio\s+nuovo|olej\s+(nowy|świeży)",
    re.IGNORECASE,
)
_ABOUT_KIND = re.compile(r"type|kind|fluid|product|matrix|medium|sample|probe|lube|oil|art\b|tipo")
_BARE = {"point": re.compile(r"\d{1,15}(\.\d{1,15})?"), "comma": re.compile(r"\d{1,15}")}
_A_FIGURES = ("analyte", "reading", "unit")  # of a figure a row: not its sample's


@dataclass(slots=True)
class _Place:
    """Where reading stands: the sheet, the row before its first, what its name holds for all of it,
    what lines hold for the table, what was said since the last sample, whether a table is open, how
    many rows of its head still come, the sample before, where the columns stand in a later table,
    and whether the row before headed one."""

    sheet: str = ""
    begun: int = 0
    named: dict[str, str] = field(default_factory=dict)
    holds: dict[str, str] = field(default_factory=dict)
    fresh: dict[str, str] = field(default_factory=dict)
    open: bool = False
    skip: int = 0
    last: dict[str, str] = field(default_factory=dict)
    places: Places | None = None
    headed: bool = False


class Reader:
    """Reads a grid once; what it could not read stands in `unread` afterwards, parts of machines
    that are no engines in `others`, what a laboratory set beside figures in `marks`, and rows of
    fresh oil in `fresh`."""

    def __init__(self, layout: Layout):
        self.layout = layout
        self.unread: list[Unread] = []
        self.nobodys: list[str] = []  # rows with figures and nobody's name
        self.left = 0  # rows that are no samples: heads of pages, sums, notes
        self.others: Counter[str] = Counter()
        self.marks: Counter[str] = Counter()
        self.fresh: list[Told] = []
        self._place = _Place()
        self._turns = range(1, max((c.turn for c in layout.columns), default=0) + 1) or range(1)
        self._columns = [
            (at, c.target, self._unit(c.target, c.unit), c.turn)
            for at, c in enumerate(layout.columns)
            if c.target
        ]
        self._words = [
            (at, bool(_ABOUT_KIND.search(c.heading.lower())))
            for at, c in enumerate(layout.columns)
            if c.heading and c.target in ("", "sample", "oil", "note", "name")
        ]
        self._kinds = [
            at
            for at, c in enumerate(layout.columns)
            if c.heading
            and (
                c.target in ("sample", "engine", "name")
                or (c.target in ("", "oil") and _ABOUT_KIND.search(c.heading.lower()))
            )
        ]
        self._analyte = layout.at("analyte") if layout.long else None
        self._bare = _BARE["comma" if layout.decimal == "comma" else "point"]
        self._heading = [c.heading for c in layout.columns[: layout.width or None]]
        self._engines = {plain(p) for p in layout.parts or ()}
        self._no_engines = {plain(p) for p in layout.others}
        self._tells_parts = layout.tells("compartment")
        self._labels = {x.label for x in layout.lines}

    def samples(self, rows: Iterable[list[str]]) -> Iterator[Told]:
        """The samples, in the order of the grid."""
        found = self._down(rows) if self.layout.way == "rows" else self._blocks(list(rows))
        found = self._gathered(found) if self.layout.long else found
        yield from self._of_tables(found) if self.layout.width else self._of_use(found)

    def _of_use(self, found: Iterable[Told]) -> Iterator[Told]:
        """The samples of oil in use; those of fresh oil are kept apart."""
        for told in found:
            if told.fresh:
                self.fresh.append(told)
            else:
                yield told

    def _of_tables(self, found: Iterable[Told]) -> Iterator[Told]:
        """Yields each sample with the figures that tables further down add to it."""

        def doubt(row: int, what: str) -> None:
            self._wrong(row + self._place.begun, "row", what, "it is left out")

        tables = ((self._place.places, told) for told in self._of_use(found))
        yield from Gathered(doubt).of(tables)

    def _blocks(self, grid: list[list[str]]) -> Iterator[Told]:
        for block in blocks(grid, self.layout):
            last = self._place.last if block.sheet == self._place.sheet else {}
            self._place = _Place(block.sheet, open=True, last=last)
            if block.doubt:
                what = "of these tables some do not say whose they are, or of which day"
                self._wrong(1, block.sheet or "tables", what, "read each by itself")
                continue
            for heading in block.more:
                self._wrong(1, heading, "it stands in no heading above", "read this part by itself")
            # A figure more is left out; another fact may change whose all of them are.
            if any(meaning(h)[0] not in BY_COLUMN for h in block.more):
                continue
            self._hold(1, block.holds)
            for n, cells in block.rows:
                if any(cells):
                    yield from self._found(n, cells, cells)

    def _down(self, rows: Iterable[list[str]]) -> Iterator[Told]:
        place = self._place = _Place()
        first = self.layout.header + 1
        for n, cells in enumerate(rows, 1):
            if not any(cells):
                continue
            if is_sheet(cells):
                place = self._place = _Place(cells[1], n, held(cells, self.layout.lines))
            elif n == first or (n > first and self._heads(cells)):
                # What a table above was told is not told of this one.
                place.holds, place.places = place.named | place.fresh, None
                place.open, place.skip = True, self.layout.body - self.layout.header - 1
            elif place.skip:
                place.skip -= 1
            elif n > first and (places := self._later(cells)):
                place.holds, place.places = place.named | place.fresh, places
                place.open = place.headed = True
                continue
            elif place.headed and is_of_units(cells):
                place.open = False
                self._wrong(n, cells[0], "another row of units", "read the part below by itself")
            elif place.open and not self._labelled(cells):
                in_order = put_in_order(cells, place.places, self.layout.width)
                yield from self._found(n, in_order, cells)
            else:
                self._outside(n, cells)
            place.headed = False

    def _heads(self, cells: list[str]) -> bool:
        at = next((n for n, h in enumerate(self._heading) if h), 0)
        here = cells[at] if at < len(cells) else ""
        return here == self._heading[at] and same_heading(cells, self._heading)

    def _later(self, cells: list[str]) -> Places | None:
        """Where the columns stand in the table that this row heads; None for any other row."""
        head = next((c for c in cells if c), "")
        if any(x.isdigit() for x in head):
            return None  # most rows are of samples, and few are looked at further
        return places_under(cells, self.layout)

    def _labelled(self, cells: list[str]) -> bool:
        """Whether a row begins with a name of a line: then it is one, whatever it holds besides."""
        if not self._labels:
            return False
        head = next((c for c in cells if c), "")
        return plain(head.partition(":")[0]) in self._labels

    def _found(self, n: int, cells: list[str], as_stands: list[str]) -> Iterator[Told]:
        """The samples of a row of the table, or what else it is; `cells` in the order of the
        layout's columns."""
        before, said = len(self.unread), False
        rows = [self.row(n, cells, turn) for turn in self._turns]
        if not any(t.measured for t in rows):
            # Before it is a row of any part of a machine: it may be a heading, or a name.
            wrong = self.unread[before:]
            del self.unread[before:]
            if self._outside(n, as_stands):
                return
            self.unread += wrong
        for told in rows:
            for target, value in self._place.holds.items():
                if value:
                    told.facts.setdefault(target, value)
            if told.fresh and told.measured:
                said = True
                yield told
                continue
            if self._is_sum(cells, told):
                continue
            if self._other_part(told):
                del self.unread[before:]
                self._new_part(n, told)
                return
            if self._says(told):
                said, self._place.fresh = True, {}
                if told.no_sample:
                    what = f"the row says {told.no_sample!r}, so that it is no sample of used oil"
                    del self.unread[before:]
                    self._wrong(n, "row", what, "read it by itself if it is one")
                    return
                yield told
        if not said:
            del self.unread[before:]
            self._no_sample(n, as_stands, rows[0])

    def _is_sum(self, cells: list[str], told: Told) -> bool:
        """A row of averages or limits, which has no day."""
        head = next((c for c in cells if c), "")
        return bool(SUMS.match(head)) and "drawn_on" not in told.facts

    def _other_part(self, told: Told) -> bool:
        """Whether a row is of a part of the machine that is no engine, which is counted."""
        if not self._tells_parts:
            return False
        part = told.facts.get("compartment", "")
        tells = bool(part or told.figures) or any(k in told.facts for k in ("reading", "drawn_on"))
        if plain(part) in self._engines or not tells:
            return False
        self.others[part or "no part named"] += 1
        return True

    def _new_part(self, n: int, told: Told) -> None:
        """A part that is none of those sorted out: left out, and said once."""
        part = told.facts.get("compartment", "")
        if self.others[part] != 1:
            return
        if plain(part) not in self._no_engines and not is_other(part):
            what = f"nobody said whether {part!r} is an engine"
            self._wrong(n, REPORT_FIELDS["compartment"], what, "say it; until then it is left out")

    def _says(self, t: Told) -> bool:
        """Whether a row is a sample: it names an engine, and has figures or a day of its own."""
        if self.layout.engine and not self.layout.tells("engine"):
            t.facts["engine"] = self.layout.engine
        if t.measured and self.layout.blank == "above" and not any(map(t.facts.get, KEYS)):
            above = self._place.last
            # Of a figure a row, everything above is of the same sample.
            t.facts |= above | t.facts if self.layout.long else {"engine": above.get("engine", "")}
        self._place.last = {k: v for k, v in t.facts.items() if k not in _A_FIGURES}
        named = any(t.facts.get(k) for k in KEYS)
        # A later table may name a sample by its report alone: its day stands above.
        day_elsewhere = bool(self.layout.width and t.facts.get("report"))
        dated = not self.layout.tells("drawn_on") or "drawn_on" in t.facts or "sample" in t.facts
        dated = dated or day_elsewhere
        # Words are figures too ("trace"); what is a heading was seen before.
        told = t.figures or "reading" in t.facts or "drawn_on" in t.facts
        return named and dated and bool(told)

    def _no_sample(self, n: int, cells: list[str], told: Told) -> None:
        """Pass over a row of the table that holds no sample, and note why."""
        if self._is_sum(cells, told) or not told.measured or self._outside(n, cells):
            self.left += 1
            return
        lacks = "day" if any(map(told.facts.get, KEYS)) else "engine"
        if lacks == "engine":
            self.nobodys.append(" ".join(c for c in cells[:6] if c))
            if self.layout.blank == "out":
                self.left += 1
                return
        self._wrong(n, lacks, "there are figures without it", "it is left out")

    def _outside(self, n: int, cells: list[str]) -> bool:
        """A row outside a table: what it says holds from here. Another heading closes the table.
        Whether it was any of that."""
        for label, value in loose_figures(cells):
            self._wrong(
                n,
                label,
                f"{value!r} stands outside the table and is of no sample's row",
                "type it with the sample it is of",
            )
        if strange(cells, self.layout):
            self._hold(n, {"engine": ""})
            self._place.last = {}
            self._wrong(n, cells[0], "it names an engine otherwise than above", "read it by itself")
            return True
        if said := held(cells, self.layout.lines):
            self._hold(n, said)
            return True
        if self._place.open and sum(bool(meaning(c)[0]) for c in cells if c) >= HEADS:
            self._place.open = False
            self._wrong(n, cells[0], "another row of headings", "read the part below by itself")
            return True
        return False

    def _hold(self, n: int, said: dict[str, str]) -> None:
        """What a line says holds from here."""
        for target, value in said.items():
            if target in DAYS and value:
                try:
                    value = day(value, self.layout.days)
                except BadCell as bad:
                    self._wrong(n, value, bad.what, bad.fix)
                    value = ""
            self._place.holds[target] = self._place.fresh[target] = value

    def _wrong(self, n: int, heading: str, what: str, fix: str) -> None:
        """Note what could not be read; rows count in their own sheet."""
        sheet = f"{self._place.sheet}, " if self._place.sheet else ""
        self.unread.append(Unread(n - self._place.begun, f"{sheet}{heading}", what, fix))

    def _read(
        self, row: int, at: int, column: str, said: str, unit: str
    ) -> list[tuple[str, str, str]]:
        """A figure, where it can be read; else None, and the reason goes into `unread`."""
        if wrong := _refused(column, said, unit):
            self._wrong(row, self.layout.columns[at].heading, *wrong)
            return []
        return [(column, said, unit)]

    def _try(self, row: int, at: int, read: str, cell: str) -> str:
        try:
            if read in DAYS:
                return day(cell, self.layout.days)
            return figure(cell, self.layout.decimal)
        except BadCell as bad:
            self._wrong(row, self.layout.columns[at].heading, bad.what, bad.fix)
            return ""

    def row(self, n: int, cells: list[str], turn: int = 0) -> Told:
        """One row, whoever it is of; `turn`: which of several samples in it."""
        told = Told(n - self._place.begun)
        told.no_sample = self._no_sample_by(cells)
        told.fresh = any(
            at < len(cells) and bool(_FRESH_OIL.fullmatch(cells[at].strip())) for at in self._kinds
        )
        named = self._analyte
        figure_of = meaning(cells[named])[0] if named is not None and named < len(cells) else ""
        for at, target, unit, whose in self._columns:
            cell = cells[at].strip() if at < len(cells) else ""
            if not cell or whose not in (0, turn):
                continue
            if target in BY_COLUMN:
                # Most cells are bare figures, of which there is nothing to find out.
                if self._bare.fullmatch(cell):
                    told.figures += self._read(n, at, target, cell, unit)
                elif said := self._try(n, at, target, self._unmarked(cell, target)):
                    figure, written = apart(said)
                    told.figures += self._read(n, at, target, figure, written or unit)
                continue
            if target == "reading":
                cell = self._unmarked(cell, figure_of)
            if target in (*DAYS, *FIGURES):
                cell = self._try(n, at, target, cell)
            if target in (*_METERED, "top_up_l"):
                cell = self._measured(n, at, target, cell, told)
            if cell and cell.lower() not in NOTHING:
                told.facts[target] = cell
        return told

    def _no_sample_by(self, cells: list[str]) -> str:
        """The cell that says its row is no sample of used oil; "" where none does."""
        for at, about_kind in self._words:
            cell = cells[at].strip() if at < len(cells) else ""
            if cell and (
                _NO_SAMPLE.fullmatch(cell) or (about_kind and _OTHER_KIND.fullmatch(cell))
            ):
                return cell
        return ""

    def _measured(self, n: int, at: int, target: str, cell: str, told: Told) -> str:
        """A meter or a volume as a bare figure in the unit of its column; the unit written behind
        it is understood, or the figure is not taken."""
        said, written = apart(cell)
        if re.fullmatch(r"-?\d+(\.\d+)?", said):
            if not written:
                return said
            if target in _METERED and written in METERS.values():
                if target == "meter":
                    told.facts.setdefault("meter_unit", written)
                return said
            if target == "top_up_l" and written in VOLUMES.values():
                return f"{convert(float(said), written, volume_unit(self.layout)):.6g}"
        if cell:
            self._wrong(
                n,
                self.layout.columns[at].heading,
                f"{cell!r} is no figure in a unit of it",
                "write the figure alone, in the unit of the column",
            )
        return ""

    def _unmarked(self, cell: str, column: str) -> str:
        said, mark = unmarked(cell, column) if column else (cell, "")
        if mark:
            self.marks[mark] += 1
        return said

    def _unit(self, column: str, unit: str) -> str:
        return self.layout.water if column == "water_pct" and not unit else unit

    def _gathered(self, told: Iterable[Told]) -> Iterator[Told]:
        """A figure a row, gathered into samples by what they share."""
        out: dict[tuple[str, ...], Told] = {}
        for t in told:
            keys = (*KEYS, "drawn_on")
            key = (str(t.fresh), *(t.facts.get(k, "") for k in keys))
            one = out.setdefault(key, Told(t.row, fresh=t.fresh))
            column, unit = meaning(t.facts.get("analyte", ""))
            unit = unit_of(t.facts.get("unit", "")) or unit
            said = t.facts.get("reading", "")
            for k, v in t.facts.items():
                if k not in _A_FIGURES:
                    one.facts.setdefault(k, v)
            if column in BY_COLUMN and said:
                figure, written = apart(said)
                of = written or self._unit(column, unit)
                if wrong := _refused(column, figure, of):
                    self._wrong(t.row + self._place.begun, BY_COLUMN[column].name, *wrong)
                else:
                    one.figures.append((column, figure, of))
            elif said:
                what = f"{t.facts.get('analyte', '')!r} is no figure the program knows"
                self._wrong(t.row + self._place.begun, "analyte", what, "it is left out")
        yield from out.values()


@lru_cache(maxsize=8192)
def _refused(column: str, said: str, unit: str) -> tuple[str, str] | None:
    """Why a figure would be refused where it is brought in, and what to do; None where it is
    taken. Few different figures make up a long file."""
    try:
        reading_cell(column, said, unit or None)
    except BadCell as bad:
        return bad.what, bad.fix
    return None


_METERED = ("meter", "hours_on_oil", "oil_change_meter")


def meter_unit(layout: Layout) -> str:
    """The unit of the meter, where the layout names one."""
    units = (c.unit for c in layout.columns if c.target in ("meter", "hours_on_oil"))
    return next((METERS[u] for u in units if u in METERS), "")


def volume_unit(layout: Layout) -> str:
    """The unit of what was topped up, litres where none is named."""
    at = layout.at("top_up_l")
    return VOLUMES.get(layout.columns[at].unit.lower(), "L") if at is not None else "L"
