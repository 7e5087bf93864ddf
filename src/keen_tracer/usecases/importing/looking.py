"""A foreign file looked at: how it would be read, what is asked, what is lacking, what is left
out."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache

from ...core.laboratory import BY_COLUMN
from ...core.names import skeleton
from ...core.terms import REPORT_FIELDS
from ...exchange.layouts import (
    HEAD,
    LOOKED,
    Layout,
    Proposal,
    Reader,
    Sheet,
    Told,
    Unread,
    name,
    propose,
    read,
    settle,
    turned,
)
from ...storage.db import Connection
from ...storage.records import Row as Record
from ...storage.records import rows
from ..answers.layouts import ColumnOut, EngineSeen, FileLayout, QuestionOut, ReadAs, ToldOut
from .kept_layouts import kept

SHOWN, WRONGS = 6, 40  # samples and unreadable cells shown; our choice
NEEDED = ("engine", "drawn_on")
ASKS = {
    "decimal": "How are decimals written?",
    "days": "In which order are days written?",
    "water": "Water has no unit: % or ppm?",
}


@dataclass(slots=True)
class Names:
    """Engines on record, found by however a file spells them."""

    by_look: dict[str, Record] = field(default_factory=dict)

    @classmethod
    def on_record(cls, c: Connection) -> "Names":
        found: dict[str, list[Record]] = {}
        for r in rows(c, "engines_by_name"):
            for said in {r["code"], r["name"]} - {""}:
                found.setdefault(_bare(said), []).append(r)
        # A name that several engines have says nothing.
        return cls({k: v[0] for k, v in found.items() if len({r["code"] for r in v}) == 1})

    def of(self, said: str) -> Record | None:
        return self.by_look.get(_bare(said))


def _bare(said: str) -> str:
    return re.sub(r"[\W_]+", "", skeleton(said))


def head_of(sheet: Sheet) -> list[list[str]]:
    """The rows a layout is proposed from."""
    return [r for _, r in zip(range(HEAD + LOOKED), read(sheet), strict=False)]


def proposal(c: Connection, sheet: Sheet, given: Layout | None) -> tuple[Proposal, str]:
    """How a sheet is read: as a person says, as it was kept for its headings, or as it looks."""
    grid = head_of(sheet)
    known_from = ""
    layout = given
    if layout is None:
        layout, known_from = kept(c, propose(grid).layout)
    return settle(layout, turned(grid) if layout.way == "columns" else grid), known_from


@dataclass(frozen=True, slots=True)
class _Scan:
    """A whole sheet read once by a layout: its first samples, its engines each by the first sample
    that names it and how many do, what could not be read."""

    first: tuple[Told, ...]
    engines: tuple[tuple[Told, int], ...]
    samples: int
    left: int
    wrong: tuple[Unread, ...]
    wrongs: int


@lru_cache(maxsize=16)
def _scan(sheet: Sheet, made: int, layout: Layout) -> _Scan:
    """`made`: when the sheet was written down; a large one takes seconds, and a page asks again at
    every change on it."""
    reader = Reader(layout)
    first: list[Told] = []
    by: dict[str, Told] = {}
    counts: dict[str, int] = {}
    count = 0
    for told in reader.samples(read(sheet)):
        count += 1
        if len(first) < SHOWN:
            first.append(told)
        if said := told.facts.get("engine", ""):
            by.setdefault(said, told)
            counts[said] = counts.get(said, 0) + 1
    return _Scan(
        tuple(first),
        tuple((told, counts[said]) for said, told in by.items()),
        count,
        reader.left,
        tuple(reader.unread[:WRONGS]),
        len(reader.unread),
    )


NOTHING_READ = _Scan((), (), 0, 0, (), 0)


def read_as(c: Connection, sheets: Sequence[Sheet], at: int, given: Layout | None) -> ReadAs:
    """A sheet as it would be read, with what is asked, what is lacking and what is left out."""
    sheet = sheets[at]
    found, known_from = proposal(c, sheet, given)
    layout, names = found.layout, Names.on_record(c)
    # Whose laboratory it is changes nothing of what stands there.
    made = sheet.path.stat().st_mtime_ns
    scan = NOTHING_READ if found.questions else _scan(sheet, made, replace(layout, laboratory=""))
    engines = [_engine(told.facts["engine"], names, told, n) for told, n in scan.engines]
    grid = head_of(sheet)
    return {
        "sheets": [{"name": s.name, "rows": s.rows} for s in sheets],
        "sheet": at,
        "known_from": known_from,
        "layout": _layout_out(layout, turned(grid) if layout.way == "columns" else grid),
        "questions": [_question(q.about, q.seen) for q in found.questions],
        "lacking": lacking(layout),
        "told": [_told(one) for one in scan.first],
        "samples": scan.samples,
        "engines": sorted(engines, key=lambda e: (e["known"] != "", e["said"])),
        "unread": [x.heading for x in layout.columns if x.heading and not x.target],
        "left": scan.left,
        "wrong": [
            {"row": u.row, "heading": u.heading, "what": u.what, "fix": u.fix} for u in scan.wrong
        ],
        "wrongs": scan.wrongs,
    }


def _question(about: str, seen: tuple[str, ...]) -> QuestionOut:
    return {"about": about, "words": ASKS[about], "seen": list(seen)}


def _engine(said: str, names: Names, told: Told, samples: int) -> EngineSeen:
    known = names.of(said)
    return {
        "said": said,
        "known": known["code"] if known else "",
        "samples": samples,
        "model": told.facts.get("model", ""),
        "depot": told.facts.get("depot", ""),
    }


def _told(t: Told) -> ToldOut:
    figures = [
        f"{BY_COLUMN[column].symbol} {said}{f' {unit}' if unit else ''}"
        for column, said, unit in t.figures
    ]
    return {
        "row": t.row,
        "sample": code_of(t),
        "engine": t.facts.get("engine", ""),
        "drawn_on": t.facts.get("drawn_on", ""),
        "meter": t.facts.get("meter", ""),
        "figures": ", ".join(figures),
    }


def _layout_out(layout: Layout, grid: list[list[str]]) -> FileLayout:
    columns: list[ColumnOut] = []
    for n, x in enumerate(layout.columns):
        under = [r[n] for r in grid[layout.body :] if n < len(r) and r[n]]
        columns.append(
            {"heading": x.heading, "target": x.target, "unit": x.unit, "seen": under[:3]}
        )
    return {
        "way": layout.way,
        "header": layout.header + 1,
        "body": layout.body + 1,
        "laboratory": layout.laboratory,
        "decimal": layout.decimal,
        "days": layout.days,
        "water": layout.water,
        "columns": columns,
    }


def lacking(layout: Layout) -> list[str]:
    """What no column stands for and no report can do without."""
    # A bottle that is registered has both on record.
    needed = () if layout.at("sample") is not None else NEEDED
    out = [REPORT_FIELDS[t] for t in needed if layout.at(t) is None]
    if not layout.laboratory and layout.at("laboratory") is None:
        out.append("laboratory")
    if not layout.long and not any(x.target in BY_COLUMN for x in layout.columns):
        out.append("a figure")
    return out


def code_of(t: Told) -> str:
    """The bottle's name: its own, the report's, else engine and day."""
    facts = t.facts
    made = f"{facts.get('engine', '')} {facts.get('drawn_on', '')}".strip()
    return name(facts.get("sample") or facts.get("report") or made)
