"""One report from pasted text: a column of names and figures, or a table of one sample."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from ...core.laboratory import BY_COLUMN
from ...core.terms import DecimalMark
from .layout import DAYS, Column, Layout, Question
from .lines import apart_by_name, rows_of, unit_beside
from .names import meaning, plain
from .parts import is_engine
from .proposing import propose
from .reader import Reader
from .settling import settle
from .told import Told
from .values import FIGURE, NOTHING

_THIS = "this engine"  # whose a report is that names nobody, while it is read


@dataclass(slots=True)
class Pasted:
    """What was found: figures by column, each with its unit, facts by target, lines nothing was
    made of, and what is asked first."""

    figures: dict[str, str] = field(default_factory=dict)
    facts: dict[str, str] = field(default_factory=dict)
    unread: list[str] = field(default_factory=list)
    questions: tuple[Question, ...] = ()


def from_text(text: str, decimal: DecimalMark = "", sample: int | None = None) -> Pasted:
    """One report from pasted text. Of a table with several samples the newest, which stands last or
    first by its day; of several figures behind a name that nothing tells apart, `sample` is the
    place of this sample's (from 0), and else it is asked.

    >>> found = from_text("Iron\\t14\\nChromium\\t<1\\nViscosity 100 cSt: 14.1")
    >>> found.figures["Fe_ppm"], found.figures["Cr_ppm"], found.figures["KV100_mm2_s"]
    ('14', '<1', '14.1 cSt')
    """
    grid = rows_of(text)
    if grid and sum(bool(meaning(c)[0]) for c in grid[0]) > 2:
        return _table(grid, decimal)
    return _lines(grid, decimal, sample)


def _table(grid: Sequence[Sequence[str]], decimal: DecimalMark) -> Pasted:
    rows = [list(r) for r in grid]
    found = propose(rows)
    # Whose the report is stands on the page where it is pasted.
    layout = found.layout if found.layout.tells("engine") else replace(found.layout, engine=_THIS)
    found = settle(replace(layout, decimal=decimal or layout.decimal), rows)
    # A day that could be two stays as it is written: the person sees it beside its field.
    asked = tuple(q for q in found.questions if q.about == "decimal")
    if asked:
        return Pasted(questions=asked)
    told = list(Reader(found.layout).samples(rows))
    days = [t.facts.get("drawn_on", "") for t in told]
    if not told or (len(told) > 1 and days.count(max(days)) > 1):
        return Pasted(unread=[" ".join(r) for r in rows[:5]])
    unread = [c.heading for c in found.layout.columns if c.heading and not c.target]
    return _sure(_found(told[days.index(max(days))], unread), found.questions)


def _found(told: Told, unread: list[str]) -> Pasted:
    """What a sample comes to on the page of a report. A part that is no engine is said."""
    figures = {c: f"{said} {unit}".strip() for c, said, unit in told.figures}
    part = told.facts.get("compartment", "")
    if part and not is_engine(part):
        unread = [f"this report is of {part}, which is no engine", *unread]
    left = ("compartment", "analyte", "reading", "unit", "meter_unit")
    facts = {k: v for k, v in told.facts.items() if k not in left and v != _THIS}
    if "meter" in facts and (unit := told.facts.get("meter_unit")):
        facts["meter"] = f"{facts['meter']} {unit}"
    return Pasted(figures, facts, unread)


def _sure(found: Pasted, asked: Sequence[Question]) -> Pasted:
    """Without the days that could be two: the person chooses them."""
    for q in asked:
        if q.about == "days":
            for day in DAYS:
                found.facts.pop(day, None)
            found.unread.append(f"{q.seen[0]} could be two days: choose it")
    return found


def _several(rows: Sequence[Sequence[str]]) -> list[Sequence[str]]:
    """The lines in which several figures stand behind a known name, as the columns of a table do.
    Only lines with the usual number of figures belong to that table."""
    found = [r for r in rows if meaning(r[0])[0] in BY_COLUMN and len(r) > 2]
    found = [r for r in found if all(_is_figure(c) for c in r[1:])]
    counts = Counter(len(r) for r in found)
    width = max(counts, key=lambda n: (counts[n], n), default=0)
    return [r for r in found if len(r) == width]


def _is_figure(cell: str) -> bool:
    return bool(FIGURE.match(cell)) or plain(cell) in NOTHING or cell in NOTHING


def _columns_asked(several: Sequence[Sequence[str]]) -> tuple[Question, ...]:
    """Which column is this sample's: each by the first of its figures."""
    if not several:
        return ()
    shown = several[:3]
    seen = tuple(", ".join(f"{r[0]} {r[n]}" for r in shown) for n in range(1, len(several[0])))
    return (Question("sample", seen),)


def _lines(grid: Sequence[Sequence[str]], decimal: DecimalMark, sample: int | None) -> Pasted:
    """A name and a figure a line, with its unit behind or beside."""
    rows = apart_by_name(grid)
    columns_of = _several(rows)
    which = _columns_asked(columns_of) if sample is None else ()
    if sample is not None:
        rows = [
            [r[0], r[1 + sample]] if r in columns_of and 1 + sample < len(r) else list(r)
            for r in rows
        ]
    several = [r for r in rows if sum(bool(FIGURE.match(c)) for c in r[1:]) > 1]
    # Which of several figures is this sample's only the sheet can say; what is asked is not told.
    told_of = columns_of if which else []
    doubtful = [" ".join(r) for r in several if meaning(r[0])[0] and r not in told_of]
    grid = [r for r in rows if r not in several]
    known = [(row, *meaning(row[0])) for row in grid if len(row) > 1]
    heads = [target for _, target, _ in known]
    values = [row[1] for row, _, _ in known]
    units = [unit or unit_beside(row) for row, _, unit in known]
    body = [[row[0] for row, _, _ in known], values]
    columns = tuple(
        Column(h, t if heads.index(t) == n else "", u)
        for n, (h, t, u) in enumerate(zip(body[0], heads, units, strict=True))
    )
    settled = settle(Layout(columns=columns, decimal=decimal), body)
    asked = tuple(q for q in settled.questions if q.about == "decimal")
    if asked:
        return Pasted(questions=asked)
    reader = Reader(settled.layout)
    told = reader.row(2, values)
    unread = [
        *(f"{said} (which of these figures?)" for said in doubtful),
        *(" ".join(row) for row in grid if len(row) < 2 or not meaning(row[0])[0]),
        *_twice(known, heads),
        *(f"{u.heading}: {u.what}" for u in reader.unread),
    ]
    found = _sure(_found(told, unread), settled.questions)
    return replace(found, questions=which)


def _twice(known: Sequence[tuple[Sequence[str], str, str]], heads: Sequence[str]) -> list[str]:
    """Repeated figures; they are left out."""
    return [
        f"{' '.join(row)} (told twice)"
        for n, (row, target, _) in enumerate(known)
        if target in BY_COLUMN and heads.index(target) != n
    ]
