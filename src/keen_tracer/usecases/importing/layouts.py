"""Anybody's report brought in: a grid read by its layout becomes our own open files (engines,
samples, readings), and those come in as any other, all or nothing."""

import csv
import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import asdict, dataclass, field, replace
from pathlib import Path

from ...core.laboratory import BY_COLUMN, UnitMismatch, convert
from ...core.names import skeleton
from ...core.terms import CLASSES, METER_UNITS, REPORT_FIELDS
from ...exchange.csvfile import Row
from ...exchange.layouts import (
    HEAD,
    LOOKED,
    Column,
    Layout,
    Proposal,
    Reader,
    Sheet,
    Told,
    Unread,
    fingerprint,
    meter_unit,
    name,
    propose,
    read,
    settle,
    targets,
    turned,
    volume_unit,
)
from ...storage.bulk import insert
from ...storage.db import Connection
from ...storage.records import Row as Record
from ...storage.records import json, row, rows
from ..answers.layouts import ColumnOut, EngineSeen, FileLayout, QuestionOut, ReadAs, ToldOut
from ..errors import CannotRecord
from .task import Task

SHOWN, WRONGS = 6, 40  # samples and unreadable cells shown; our choice
NEEDED = ("engine", "drawn_on", "meter")
ASKS = {
    "decimal": "How are decimals written?",
    "days": "In which order are days written?",
    "water": "Water has no unit: % or ppm?",
}


@dataclass(frozen=True, slots=True)
class NewEngine:
    """An engine the file names and nobody has on record: `said` as the file writes it."""

    said: str
    engine_class: str
    meter_unit: str = "h"
    model: str = ""
    depot: str = ""


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


def _kept(c: Connection, layout: Layout) -> tuple[Layout, str]:
    """The layout somebody kept for these headings, and for which laboratory; else the one given."""
    found = row(c, "layout_of_heads", heads=fingerprint([x.heading for x in layout.columns]))
    if found is None:
        return layout, ""
    held = layout_of(found["layout"])
    if len(held.columns) != len(layout.columns):
        return layout, ""
    # Where the headings stand is this file's own: a letterhead grows by a line.
    here = replace(held, way=layout.way, header=layout.header, body=layout.body)
    return here, found["laboratory"] or "these headings"


def layout_of(kept: Record) -> Layout:
    """A layout as it was kept or sent. Raises CannotRecord for one that cannot be."""
    columns = tuple(Column(x["heading"], x["target"], x["unit"]) for x in kept["columns"])
    known = {"", *targets()}
    wrong = next((x.target for x in columns if x.target not in known), None)
    if wrong is not None:
        raise CannotRecord("unknown_target", f"a column cannot stand for {wrong!r}")
    given = [x.target for x in columns if x.target]
    twice = next((t for t in given if given.count(t) > 1), None)
    if twice:
        said = REPORT_FIELDS.get(twice) or BY_COLUMN[twice].name
        raise CannotRecord("target_twice", f"two columns stand for {said}; choose one of them")
    return Layout(**{**kept, "columns": columns})


def proposal(c: Connection, sheet: Sheet, given: Layout | None) -> tuple[Proposal, str]:
    """How a sheet is read: as a person says, as it was kept for its headings, or as it looks."""
    grid = head_of(sheet)
    known_from = ""
    layout = given
    if layout is None:
        layout, known_from = _kept(c, propose(grid).layout)
    return settle(layout, turned(grid) if layout.way == "columns" else grid), known_from


def read_as(c: Connection, sheets: Sequence[Sheet], at: int, given: Layout | None) -> ReadAs:
    """A sheet as it would be read, with what is asked, what is lacking and what is left out."""
    sheet = sheets[at]
    found, known_from = proposal(c, sheet, given)
    layout, reader, names = found.layout, Reader(found.layout), Names.on_record(c)
    first: list[ToldOut] = []
    seen: dict[str, EngineSeen] = {}
    count = 0
    for told in () if found.questions else reader.samples(read(sheet)):
        count += 1
        if len(first) < SHOWN:
            first.append(_told(told))
        if said := told.facts.get("engine", ""):
            one = seen.setdefault(said, _engine(said, names, told))
            one["samples"] += 1
    grid = head_of(sheet)
    return {
        "sheets": [{"name": s.name, "rows": s.rows} for s in sheets],
        "sheet": at,
        "known_from": known_from,
        "layout": _layout_out(layout, turned(grid) if layout.way == "columns" else grid),
        "questions": [_question(q.about, q.seen) for q in found.questions],
        "lacking": _lacking(layout),
        "told": first,
        "samples": count,
        "engines": sorted(seen.values(), key=lambda e: (e["known"] != "", e["said"])),
        "unread": [x.heading for x in layout.columns if x.heading and not x.target],
        "left": reader.left,
        "wrong": [
            {"row": u.row, "heading": u.heading, "what": u.what, "fix": u.fix}
            for u in reader.unread[:WRONGS]
        ],
        "wrongs": len(reader.unread),
    }


def _question(about: str, seen: tuple[str, ...]) -> QuestionOut:
    return {"about": about, "words": ASKS[about], "seen": list(seen)}


def _engine(said: str, names: Names, told: Told) -> EngineSeen:
    known = names.of(said)
    return {
        "said": said,
        "known": known["code"] if known else "",
        "samples": 0,
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
        "sample": _code(t),
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


def _lacking(layout: Layout) -> list[str]:
    """What no column stands for and no report can do without."""
    # A bottle that is registered has all three on record.
    needed = () if layout.at("sample") is not None else NEEDED
    out = [REPORT_FIELDS[t] for t in needed if layout.at(t) is None]
    if not layout.laboratory and layout.at("laboratory") is None:
        out.append("laboratory")
    if not layout.long and not any(x.target in BY_COLUMN for x in layout.columns):
        out.append("a figure")
    return out


def _code(t: Told) -> str:
    """The bottle's name: its own, the report's, else engine and day."""
    facts = t.facts
    made = f"{facts.get('engine', '')} {facts.get('drawn_on', '')}".strip()
    return name(facts.get("sample") or facts.get("report") or made)


@dataclass(slots=True)
class Written:
    """Our own files of a grid, and what was left out of them."""

    paths: list[tuple[str, Path]]
    wrong: list[Unread]


ENGINES = ("engine", "class", "meter_unit", "model", "depot")
MODELS, DEPOTS = ("model", "class"), ("depot",)
SAMPLES = (
    *("sample", "engine", "drawn_on", "meter", "oil_change_meter", "oil", "top_up_l"),
    *("oil_changed_after", "laboratory", "analysed_on", "received_on", "note"),
)
READINGS = ("laboratory", "report", "sample", "analyte", "reading", "unit", "analysed_on")


def canonical(
    c: Connection, file: str, sheet: Sheet, layout: Layout, new: Sequence[NewEngine], into: Path
) -> Written:
    """A grid as our own files in a folder, each under the name of the file it came from. Raises
    CannotRecord while something is asked or lacking."""
    found, _ = proposal(c, sheet, layout)
    if found.questions or _lacking(layout):
        raise CannotRecord("layout_open", "answer what is asked and choose what is lacking first")
    reader, names = Reader(found.layout), Names.on_record(c)
    ticked = {e.said: e for e in new}
    for e in new:
        if e.engine_class not in CLASSES:
            raise CannotRecord("unknown_class", f"{e.said}: there is no class {e.engine_class!r}")
        if e.meter_unit not in METER_UNITS:
            units = ", ".join(METER_UNITS)
            raise CannotRecord("unknown_unit", f"{e.said}: a meter counts {units}")
    registered = _registered(c, reader, sheet)
    told = Reader(found.layout)
    with (
        (into / "samples.csv").open("w", newline="", encoding="utf-8") as s,
        (into / "readings.csv").open("w", newline="", encoding="utf-8") as r,
    ):
        samples, readings = csv.writer(s), csv.writer(r)
        samples.writerow(SAMPLES)
        readings.writerow(READINGS)
        out = _Out(
            layout=found.layout,
            names=names,
            ticked=ticked,
            registered=registered,
            sample=samples.writerow,
            reading=readings.writerow,
            wrong=told.unread,
        )
        for one in told.samples(read(sheet)):
            out.write(one)
    paths = [
        (f"{file} (samples)", into / "samples.csv"),
        (f"{file} (readings)", into / "readings.csv"),
    ]
    return Written([*_fleet(c, file, new, into), *paths], told.unread)


def _registered(c: Connection, reader: Reader, sheet: Sheet) -> dict[str, str]:
    """Bottles of the file that are registered already, with their engine."""
    codes = {_code(t) for t in reader.samples(read(sheet))}
    found = rows(c, "samples_known", codes=sorted(codes))
    return {r["code"]: r["engine"] for r in found if r["log_id"] is not None}


@dataclass(slots=True, kw_only=True)
class _Out:
    """Samples as they go into our own files; what cannot go is put into `wrong`."""

    layout: Layout
    names: Names
    ticked: dict[str, NewEngine]
    registered: dict[str, str]
    sample: Callable[[list[str]], object]
    reading: Callable[[list[str]], object]
    wrong: list[Unread]

    def _engine(self, t: Told, code: str) -> str | None:
        """The engine of a sample, "" for a registered bottle's own; None where it cannot be."""
        said, held = t.facts.get("engine", ""), self.registered.get(code)
        known = self.names.of(said)
        engine = known["code"] if known else name(said) if said in self.ticked else ""
        if held is None and not engine:
            self.wrong.append(
                Unread(t.row, "engine", f"{said!r} is not on record", "tick it to put it there")
            )
            return None
        if held is not None and engine and held != engine:
            what = f"bottle {code} is {held}'s on record, the file says {said}"
            self.wrong.append(Unread(t.row, "bottle", what, "look which is right"))
            return None
        return "" if held is not None else engine

    def write(self, t: Told) -> None:
        code = _code(t)
        engine = self._engine(t, code)
        if engine is None:
            return
        lab = t.facts.get("laboratory") or self.layout.laboratory
        if engine:
            known = self.names.of(engine)
            unit = known["meter_unit"] if known else self.ticked[t.facts["engine"]].meter_unit
            meters = _meters(t, self.layout, unit, self.wrong)
            self.sample(_sample_row(t, code, engine, lab, meters, self.layout, self.wrong))
        report = name(t.facts.get("report") or code)
        for column, figure, unit in t.figures:
            analysed = t.facts.get("analysed_on", "")
            self.reading([lab, report, code, column, figure, unit, analysed])


def _sample_row(
    t: Told,
    code: str,
    engine: str,
    lab: str,
    meters: tuple[str, str],
    layout: Layout,
    wrong: list[Unread],
) -> list[str]:
    facts = t.facts
    changed = {"y": "yes", "n": "no", "ja": "yes", "nein": "no", "true": "yes", "false": "no"}
    after = facts.get("oil_changed_after", "").lower()
    return [
        *(
            code,
            engine,
            facts.get("drawn_on", ""),
            *meters,
            facts.get("oil", ""),
            _top_up(t, layout, wrong),
        ),
        *(changed.get(after, after), lab, facts.get("analysed_on", "")),
        *(facts.get("received_on", ""), facts.get("note", "")),
    ]


def _top_up(t: Told, layout: Layout, wrong: list[Unread]) -> str:
    """Litres topped up; a word where a figure belongs is left out, and said."""
    said = t.facts.get("top_up_l", "")
    try:
        return f"{convert(float(said.split()[0]), volume_unit(layout), 'L'):.6g}" if said else ""
    except ValueError:
        what = f"{said!r} is no figure"
        wrong.append(Unread(t.row, REPORT_FIELDS["top_up_l"], what, "it is left out"))
        return ""


def _meters(t: Told, layout: Layout, unit: str, wrong: list[Unread]) -> tuple[str, str]:
    """(meter, meter at the oil change) in the engine's own unit."""
    written = meter_unit(layout) or unit

    def own(target: str) -> float | None:
        said = t.facts.get(target, "")
        if not said:
            return None
        try:
            number = float(said.split()[0])
            return number if written == unit else convert(number, written, unit)
        except UnitMismatch:
            what = f"{said} {written}, and the engine is counted in {unit}"
        except ValueError:
            what = f"{said!r} is no meter"
        wrong.append(Unread(t.row, REPORT_FIELDS[target], what, "it is left out"))
        return None

    meter, change, on_oil = own("meter"), own("oil_change_meter"), own("hours_on_oil")
    if change is None and meter is not None and on_oil is not None and on_oil <= meter:
        change = meter - on_oil
    return _plain(meter), _plain(change)


def _plain(x: float | None) -> str:
    return "" if x is None else f"{x:.10g}"


def _fleet(
    c: Connection, file: str, new: Sequence[NewEngine], into: Path
) -> Iterator[tuple[str, Path]]:
    """What new engines need: depots and models nobody has on record, then themselves."""
    if not new:
        return
    depots = {e.depot for e in new if e.depot} - {r["code"] for r in rows(c, "depot_codes")}
    models = {e.model: e.engine_class for e in new if e.model}
    for known in rows(c, "model_codes"):
        models.pop(known["code"], None)
    engines = [
        (name(e.said), e.engine_class, e.meter_unit, name(e.model), name(e.depot)) for e in new
    ]
    tables: list[tuple[str, Sequence[str], list[Sequence[str]]]] = [
        ("depots", DEPOTS, [(name(d),) for d in sorted(depots)]),
        ("models", MODELS, [(name(m), k) for m, k in sorted(models.items())]),
        ("engines", ENGINES, [*engines]),
    ]
    for table, columns, listed in tables:
        if listed:
            with (into / f"{table}.csv").open("w", newline="", encoding="utf-8") as out:
                csv.writer(out).writerows([columns, *listed])
            yield f"{file} ({table})", into / f"{table}.csv"


def keep(c: Connection, layout: Layout, who: str) -> None:
    """Keep how a file was read, for the next one with the same headings."""
    heads = fingerprint([x.heading for x in layout.columns])
    held = row(c, "layout_of_heads", heads=heads)
    said = asdict(layout)
    if held is None or layout_of(held["layout"]) != layout:
        insert(
            c,
            "report_layout",
            {
                "heads": heads,
                "laboratory": layout.laboratory,
                "layout": json(said),
                "said_by": who,
            },
        )


def bring_by_itself(
    c: Connection, file: str, sheets: Sequence[Sheet], into: Path
) -> list[tuple[str, Path]]:
    """Our own files of the first sheet whose headings somebody brought in before.

    Raises CannotRecord where nobody did, where something is asked, or where a cell cannot be read:
    then only a person can bring it in.
    """
    for sheet in sheets:
        found, known_from = proposal(c, sheet, None)
        if not known_from:
            continue
        made = canonical(c, file, sheet, found.layout, (), into)
        if made.wrong:
            first = made.wrong[0]
            raise CannotRecord("cells_unread", f"row {first.row}, {first.heading}: {first.what}")
        return made.paths
    raise CannotRecord(
        "unknown_layout",
        "nobody brought in a file with these headings yet: bring it in once on the page Exchange",
    )


def layouts(task: Task, part: list[Row]) -> None:
    """Rows of layouts.csv: how files with certain headings are read."""
    for r in part:
        c = r.cells
        if not task.their_own(r.number, c["by"]):
            continue
        if row(task.c, "layout_there", heads=c["heads"], at=c["at"]) is not None:
            task.file.known += 1
            continue
        try:
            layout_of(c["layout"])
        except (CannotRecord, KeyError, TypeError) as error:
            task.problem(
                r.number, "layout", f"no layout ({error})", "leave it as the export wrote it"
            )
            continue
        insert(
            task.c,
            "report_layout",
            {
                "heads": c["heads"],
                "laboratory": c.get("laboratory") or "",
                "layout": json(c["layout"]),
                "said_by": c["by"],
                "said_at": c["at"],
            },
        )
        task.file.added += 1
