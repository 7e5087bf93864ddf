"""A foreign file looked at: how it would be read, what is asked, what is lacking, what is left
out."""

import re
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache

from ...core.laboratory import BY_COLUMN
from ...core.names import skeleton
from ...core.terms import REPORT_FIELDS
from ...exchange.layouts import (
    Layout,
    Proposal,
    Reader,
    Sheet,
    Told,
    Unread,
    body_of,
    head_of,
    labelled,
    name,
    parts_seen,
    plain,
    propose,
    read,
    settle,
    volume_unit,
)
from ...storage.db import Connection
from ...storage.records import Row as Record
from ...storage.records import rows
from ..answers.layouts import (
    BesideOut,
    ColumnOut,
    EngineSeen,
    FileLayout,
    FreshSeen,
    QuestionOut,
    ReadAs,
    ToldOut,
)
from . import kept_layouts
from .kept_layouts import kept

SHOWN, WRONGS = 6, 40  # samples and unreadable cells shown; our choice
NEEDED = ("engine", "drawn_on")
ASKS = {
    "decimal": "How are decimals written?",
    "days": "In which order are days written?",
    "water": "Water has no unit: % or ppm?",
    "blank": "Rows without an engine: whose are they?",
    "parts": "Which of these parts are engines?",
    "sample": "Which of these figures are this sample's?",
}


@dataclass(slots=True)
class Names:
    """Engines on record, found by however a file spells them."""

    by_look: dict[str, Record] = field(default_factory=dict)

    @classmethod
    def on_record(cls, connection: Connection) -> "Names":
        found: dict[str, list[Record]] = {}
        for r in rows(connection, "engines_by_name"):
            for said in {r["code"], r["name"]} - {""}:
                found.setdefault(_bare(said), []).append(r)
        # A name that several engines have says nothing.
        return cls({k: v[0] for k, v in found.items() if len({r["code"] for r in v}) == 1})

    def of(self, said: str) -> Record | None:
        return self.by_look.get(_bare(said))


def _bare(said: str) -> str:
    return re.sub(r"[\W_]+", "", skeleton(said))


def proposal(connection: Connection, sheet: Sheet, given: Layout | None) -> tuple[Proposal, str]:
    """How a sheet is read: as a person says, as it was kept for its headings, or as it looks."""
    grid = head_of(sheet)
    known_from = ""
    layout = given
    if layout is None:
        layout, known_from = kept(connection, propose(grid).layout)
    return settle(layout, grid), known_from


def forget(connection: Connection, sheet: Sheet, who: str) -> None:
    """Forget what was kept for the headings of a sheet."""
    kept_layouts.forget(connection, propose(head_of(sheet)).layout, who)


@dataclass(frozen=True, slots=True)
class _Scan:
    """A whole sheet read once by a layout: its first samples, its engines each by the first sample
    that names it and how many do, its rows of fresh oil, the oils its samples name, what could not
    be read."""

    first: tuple[Told, ...]
    engines: tuple[tuple[Told, int], ...]
    samples: int
    left: int
    others: tuple[tuple[str, int], ...]
    marks: tuple[tuple[str, int], ...]
    shared: frozenset[tuple[str, str]]
    fresh: tuple[Told, ...]
    oils: frozenset[str]
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
    labels, oils = Labels(), set[str]()
    count = 0
    for told in reader.samples(read(sheet)):
        count += 1
        labels.add(told)
        oils.add(told.facts.get("oil", ""))
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
        tuple(reader.others.most_common()),
        tuple(reader.marks.most_common()),
        labels.shared(),
        tuple(reader.fresh[:SHOWN]),
        frozenset(oils),
        tuple(reader.unread[:WRONGS]),
        len(reader.unread),
    )


NOTHING_READ = _Scan((), (), 0, 0, (), (), frozenset(), (), frozenset(), (), 0)


def read_as(
    connection: Connection, sheets: Sequence[Sheet], at: int, given: Layout | None
) -> ReadAs:
    """A sheet as it would be read, with what is asked, what is lacking and what is left out."""
    sheet = sheets[at]
    found, known_from = proposal(connection, sheet, given)
    layout, names, hides = found.layout, Names.on_record(connection), hidden(sheet)
    # Whose laboratory it is changes nothing of what stands there.
    made = sheet.path.stat().st_mtime_ns
    whose = layout.tells("engine") or layout.engine or layout.tells("sample")
    scan = (
        NOTHING_READ
        if found.questions or not whose
        else _scan(sheet, made, replace(layout, laboratory=""))
    )
    held = registered(connection, (code_of(told, scan.shared) for told, _ in scan.engines))
    engines = [
        _engine(names, told, held.get(code_of(told, scan.shared), ""), n)
        for told, n in scan.engines
    ]
    grid = head_of(sheet)
    known_oils = [r["oil"] for r in rows(connection, "oil_names")] if scan.fresh else []
    return {
        "sheets": [{"name": s.name, "rows": s.rows} for s in sheets],
        "sheet": at,
        "known_from": known_from,
        "layout": _layout_out(layout, grid),
        "parts": list(parts_seen(layout, grid)),
        "questions": [_question(q.about, q.seen) for q in found.questions],
        "lacking": lacking(layout),
        "told": [_told(one, scan.shared, layout) for one in scan.first],
        "samples": scan.samples,
        "engines": sorted(engines, key=lambda e: (e["known"] != "", e["said"])),
        "unread": _unread(layout),
        "left": scan.left,
        "others": [{"what": what, "times": n} for what, n in scan.others],
        "marks": [{"what": what, "times": n} for what, n in scan.marks],
        "fresh": [_fresh(one, scan.oils, known_oils) for one in scan.fresh],
        "oils": known_oils,
        "wrong": [
            {"row": u.row, "heading": u.heading, "what": u.what, "fix": u.fix}
            for u in (*hides, *scan.wrong)
        ],
        "wrongs": len(hides) + scan.wrongs,
    }


def hidden(sheet: Sheet) -> list[Unread]:
    """What a workbook hides of a sheet, as cells that are not read."""
    what, fix = "the workbook hides it", "show it there and save, if it is a sample of yours"
    return [Unread(row, words, what, fix) for row, words in sheet.hidden_parts]


def _question(about: str, seen: tuple[str, ...]) -> QuestionOut:
    return {"about": about, "words": ASKS[about], "seen": list(seen)}


def registered(connection: Connection, codes: Iterable[str]) -> dict[str, str]:
    """Of these bottles those that are registered, with their engine."""
    found = rows(connection, "samples_known", codes=sorted(set(codes)))
    return {r["code"]: r["engine"] for r in found if r["log_id"] is not None}


def _engine(names: Names, told: Told, held: str, samples: int) -> EngineSeen:
    """`held`: whose its bottle is on record, which tells who is meant by a name nobody knows."""
    said = told.facts["engine"]
    known = names.of(said)
    return {
        "said": said,
        "known": known["code"] if known else held,
        "samples": samples,
        "model": told.facts.get("model", ""),
        "depot": told.facts.get("depot", ""),
    }


def _fresh(told: Told, oils: frozenset[str], known: list[str]) -> FreshSeen:
    """A row of fresh oil with the oil it is likely of: the one it names, else the only one that the
    file's samples name, else the only one on record."""
    said = told.facts.get("oil", "")
    for names in (oils - {""}, set(known)):
        if not said and len(names) == 1:
            said = next(iter(names))
    return {"row": told.row, "oil": said, "figures": len(told.figures)}


def _unread(layout: Layout) -> list[str]:
    """Headings nothing is made of; what is read as a line is none of them."""
    lines = {x.label for x in layout.lines}
    return [
        x.heading
        for x in layout.columns
        if x.heading and not x.target and plain(x.heading.partition(":")[0]) not in lines
    ]


# Facts of a sample that have a column of their own on the page, or are one for the whole file.
_SHOWN_APART = frozenset({"sample", "engine", "drawn_on", "meter", "laboratory"})


def _told(told: Told, shared: frozenset[tuple[str, str]], layout: Layout) -> ToldOut:
    figures = [
        f"{BY_COLUMN[column].symbol} {said}{f' {unit}' if unit else ''}"
        for column, said, unit in told.figures
    ]
    return {
        "row": told.row,
        "sample": code_of(told, shared),
        "engine": told.facts.get("engine", ""),
        "drawn_on": told.facts.get("drawn_on", ""),
        "meter": told.facts.get("meter", ""),
        "beside": ", ".join(_beside(told, layout)),
        "figures": ", ".join(figures),
    }


def _beside(told: Told, layout: Layout) -> Iterator[str]:
    """What else is read of a sample, in words; an amount with the unit it is taken in."""
    for fact, said in told.facts.items():
        if fact in REPORT_FIELDS and fact not in _SHOWN_APART:
            unit = f" {volume_unit(layout)}" if fact == "top_up_l" else ""
            yield f"{REPORT_FIELDS[fact]} {said}{unit}"


def _layout_out(layout: Layout, grid: list[list[str]]) -> FileLayout:
    columns: list[ColumnOut] = []
    body = body_of(grid, layout)
    for n, x in enumerate(layout.columns):
        under = [r[n] for r in body if n < len(r) and r[n]]
        columns.append(
            {
                "heading": x.heading,
                "target": x.target,
                "unit": x.unit,
                "turn": x.turn,
                "seen": under[:3],
            }
        )
    said: dict[str, list[str]] = {}
    for row in grid:
        for label, _, value in labelled(row):
            said.setdefault(label, []).append(value)
    lines: list[BesideOut] = [
        {
            "label": x.label,
            "target": x.target,
            "seen": list(dict.fromkeys(said.get(x.label, [])))[:3],
        }
        for x in layout.lines
    ]
    return {
        "way": layout.way,
        "header": layout.header + 1,
        "body": layout.body + 1,
        "width": layout.width,
        "laboratory": layout.laboratory,
        "engine": layout.engine,
        "decimal": layout.decimal,
        "days": layout.days,
        "water": layout.water,
        "blank": layout.blank,
        "parts": None if layout.parts is None else list(layout.parts),
        "others": list(layout.others),
        "columns": columns,
        "lines": lines,
    }


def lacking(layout: Layout) -> list[str]:
    """The fields that every report needs and no column gives."""
    # A bottle that is registered has both on record.
    needed = () if layout.at("sample") is not None else NEEDED
    out = [
        REPORT_FIELDS[t]
        for t in needed
        if not layout.tells(t) and not (t == "engine" and layout.engine)
    ]
    if not layout.laboratory and not layout.tells("laboratory"):
        out.append("laboratory")
    if not layout.long and not any(x.target in BY_COLUMN for x in layout.columns):
        out.append("a figure")
    return out


# What of a report names its bottle, best first.
_NAMING = ("sample", "report")


@dataclass(slots=True)
class Labels:
    """Numbers of bottles and of reports, and the samples each is of: one that several share, as
    where a sheet counts 1, 2, 3 for every engine, names none."""

    by: dict[tuple[str, str], set[tuple[str, str]]] = field(default_factory=dict)

    def add(self, told: Told) -> None:
        whose = (told.facts.get("engine", ""), told.facts.get("drawn_on", ""))
        for kind in _NAMING:
            if said := told.facts.get(kind, ""):
                self.by.setdefault((kind, said), set()).add(whose)

    def shared(self) -> frozenset[tuple[str, str]]:
        return frozenset(k for k, v in self.by.items() if len(v) > 1)


def _codes(told: Told) -> list[tuple[str, str]]:
    """What its bottle can be named by, best first: its label, its report, its engine and day."""
    facts = told.facts
    made = f"{facts.get('engine', '')} {facts.get('drawn_on', '')}".strip()
    own = [(k, facts[k]) for k in _NAMING if facts.get(k)]
    return [*own, ("", made)]


def code_of(told: Told, shared: frozenset[tuple[str, str]] = frozenset()) -> str:
    """The bottle's name: its own label, that of a report of its own, else engine and day."""
    return name(next(said for kind, said in _codes(told) if (kind, said) not in shared))


def codes_of(told: Told) -> set[str]:
    """Every name its bottle may have, before it is known what others of the file are called."""
    return {name(said) for _, said in _codes(told)}
