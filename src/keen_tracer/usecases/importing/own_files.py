"""A foreign grid becomes our own open files (engines, samples, readings), which come in as any
other, all or nothing."""

import csv
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated

from pydantic import Field

from ...core.laboratory import UnitMismatch, convert, reading_text
from ...core.terms import CLASSES, METER_UNITS, REPORT_FIELDS
from ...exchange.csvfile import reading_cell
from ...exchange.layouts import (
    METERS,
    Layout,
    Reader,
    Sheet,
    Told,
    Unread,
    meter_unit,
    name,
    plain,
    read,
    volume_unit,
)
from ...storage.db import Connection
from ...storage.records import rows
from ..errors import CannotRecord
from ..fields import Word
from .looking import Labels, Names, code_of, codes_of, hidden, lacking, proposal, registered

ENGINES = ("engine", "class", "meter_unit", "model", "depot")
MODELS, DEPOTS = ("model", "class"), ("depot",)
SAMPLES = (
    *("sample", "engine", "drawn_on", "meter", "oil_change_meter", "hours_on_oil"),
    *("oil", "top_up_l", "oil_changed_after", "laboratory", "analysed_on", "received_on", "note"),
)
READINGS = ("laboratory", "report", "sample", "analyte", "reading", "unit", "analysed_on")


@dataclass(frozen=True, slots=True)
class NewEngine:
    """An engine the file names and nobody has on record: `said` as the file writes it."""

    said: Word
    engine_class: Word
    meter_unit: Word = "h"
    model: Word = ""
    depot: Word = ""


@dataclass(frozen=True, slots=True)
class FreshOil:
    """Which oil a row of fresh oil is of, as somebody says."""

    row: Annotated[int, Field(ge=1, le=10_000_000)]
    oil: Word = ""


@dataclass(slots=True)
class Written:
    """Our own files of a grid, and what was left out of them."""

    paths: list[tuple[str, Path]]
    wrong: list[Unread]


def canonical(
    connection: Connection,
    file: str,
    sheet: Sheet,
    layout: Layout,
    new: Sequence[NewEngine],
    into: Path,
    oils: Sequence[FreshOil] = (),
) -> Written:
    """A grid as our own files in a folder, each under the name of the file it came from. Raises
    CannotRecord while something is asked or lacking.

    oils : the oils that the rows of fresh oil are of; a row without a name is left out, and the
        report says so
    """
    found, _ = proposal(connection, sheet, layout)
    if found.questions or lacking(layout):
        raise CannotRecord("layout_open", "answer what is asked and choose what is lacking first")
    reader, names = Reader(found.layout), Names.on_record(connection)
    ticked = {e.said: e for e in new}
    for e in new:
        if e.engine_class not in CLASSES:
            raise CannotRecord("unknown_class", f"{e.said}: there is no class {e.engine_class!r}")
        if e.meter_unit not in METER_UNITS:
            units = ", ".join(METER_UNITS)
            raise CannotRecord("unknown_unit", f"{e.said}: a meter counts {units}")
    held = _on_record(connection, names, reader.samples(read(sheet)))
    told = Reader(found.layout)
    told.unread += hidden(sheet)
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
            held=held,
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
    references = _references(file, told, {o.row: o.oil for o in oils}, into)
    return Written([*_fleet(connection, file, new, into), *references, *paths], told.unread)


def _references(
    file: str, told: Reader, oils: Mapping[int, str], into: Path
) -> list[tuple[str, Path]]:
    """The rows of fresh oil as references of their oils; of several of one oil the first."""
    out: dict[str, tuple[str, dict[str, str]]] = {}
    for one in told.fresh:
        oil = name(oils.get(one.row, ""))
        if not oil or oil in out:
            what = f"another row is the reference of {oil}" if oil else "it is fresh oil"
            told.unread.append(Unread(one.row, "row", what, "say which oil it is of"))
            continue
        read_ = {
            column: found
            for column, figure, unit in one.figures
            if (found := reading_cell(column, figure, unit or None)) is not None
        }
        figures = {
            column: reading_text(None if value is None else float(value), censor)
            for column, (_, censor, value, _, _) in read_.items()
        }
        out[oil] = (one.facts.get("analysed_on") or one.facts.get("drawn_on", ""), figures)
    if not out:
        return []
    columns = sorted({column for _, figures in out.values() for column in figures})
    with (into / "oils.csv").open("w", newline="", encoding="utf-8") as made:
        lines = csv.writer(made)
        lines.writerow(["oil", "reference_on", *columns])
        for oil, (on, figures) in sorted(out.items()):
            lines.writerow([oil, on, *(figures.get(column, "") for column in columns)])
    return [(f"{file} (fresh oil)", into / "oils.csv")]


@dataclass(frozen=True, slots=True)
class _OnRecord:
    """What is on record of a file's bottles: whose each is, whose they are together by the name the
    file gives (one engine, or several where it contradicts itself), labels several share."""

    bottles: dict[str, str]
    named: dict[str, set[str]]
    shared: frozenset[tuple[str, str]]


def _on_record(connection: Connection, names: Names, told: Iterable[Told]) -> _OnRecord:
    labels, said_of = Labels(), dict[str, str]()
    for t in told:
        labels.add(t)
        said = t.facts.get("engine", "")
        for code in codes_of(t):
            said_of[code] = "" if names.of(said) else said
    bottles = registered(connection, said_of)
    named: dict[str, set[str]] = {}
    for code, engine in bottles.items():
        if said_of[code]:
            named.setdefault(said_of[code], set()).add(engine)
    return _OnRecord(bottles, named, labels.shared())


@dataclass(slots=True, kw_only=True)
class _Out:
    """Samples as they go into our own files; what cannot go is put into `wrong`."""

    layout: Layout
    names: Names
    ticked: dict[str, NewEngine]
    held: _OnRecord
    sample: Callable[[list[str]], object]
    reading: Callable[[list[str]], object]
    wrong: list[Unread]

    def _engine(self, told: Told, code: str) -> str | None:
        """The engine of a sample, "" for a registered bottle's own; None where it cannot be."""
        said, held = told.facts.get("engine", ""), self.held.bottles.get(code)
        label = told.facts.get("sample", "")
        if ("sample", label) in self.held.shared and name(label) in self.held.bottles:
            what = f"bottle {label} stands here with several engines or days"
            self.wrong.append(Unread(told.row, "bottle", what, "look which sample is its own"))
            return None
        known, meant = self.names.of(said), self.held.named.get(said, set())
        if len(meant) > 1:
            both = " and ".join(sorted(meant))
            what = f"by its bottles {said!r} is {both}"
            self.wrong.append(Unread(told.row, "engine", what, "look whose the bottles are"))
            return None
        # A name nobody knows is told by a bottle that is somebody's.
        engine = known["code"] if known else next(iter(meant), "")
        if not engine and said in self.ticked:
            engine = name(said)
        if held is None and not engine:
            self.wrong.append(
                Unread(told.row, "engine", f"{said!r} is not on record", "tick it to put it there")
            )
            return None
        if held is not None and engine and held != engine:
            what = f"bottle {code} is {held}'s on record, the file says {said}"
            self.wrong.append(Unread(told.row, "bottle", what, "look which is right"))
            return None
        return "" if held is not None else engine

    def write(self, told: Told) -> None:
        code = code_of(told, self.held.shared)
        engine = self._engine(told, code)
        if engine is None:
            return
        lab = told.facts.get("laboratory") or self.layout.laboratory
        if engine:
            known = self.names.of(engine)
            unit = known["meter_unit"] if known else self.ticked[told.facts["engine"]].meter_unit
            meters = _meters(told, self.layout, unit, self.wrong)
            self.sample(_sample_row(told, code, engine, lab, meters, self.layout, self.wrong))
        report = name(told.facts.get("report") or code)
        for column, figure, unit in told.figures:
            analysed = told.facts.get("analysed_on", "")
            self.reading([lab, report, code, column, figure, unit, analysed])


def _sample_row(
    told: Told,
    code: str,
    engine: str,
    lab: str,
    meters: tuple[str, str, str],
    layout: Layout,
    wrong: list[Unread],
) -> list[str]:
    facts = told.facts
    changed = {"y": "yes", "n": "no", "ja": "yes", "nein": "no", "true": "yes", "false": "no"}
    after = facts.get("oil_changed_after", "").lower()
    return [
        *(
            code,
            engine,
            facts.get("drawn_on", ""),
            *meters,
            facts.get("oil", ""),
            _top_up(told, layout, wrong),
        ),
        *(changed.get(after, after), lab, facts.get("analysed_on", "")),
        *(facts.get("received_on", ""), facts.get("note", "")),
    ]


def _top_up(told: Told, layout: Layout, wrong: list[Unread]) -> str:
    """Litres topped up; a word where a figure belongs is left out, and said."""
    said = told.facts.get("top_up_l", "")
    try:
        return f"{convert(float(said.split()[0]), volume_unit(layout), 'L'):.6g}" if said else ""
    except ValueError:
        what = f"{said!r} is no figure"
        wrong.append(Unread(told.row, REPORT_FIELDS["top_up_l"], what, "it is left out"))
        return ""


def _meters(told: Told, layout: Layout, unit: str, wrong: list[Unread]) -> tuple[str, str, str]:
    """(meter, meter at the oil change, hours on the oil) in the engine's own unit; the last only
    where there is no change to work it out from."""
    said_unit = plain(told.facts.get("meter_unit", ""))
    written = METERS.get(said_unit) or meter_unit(layout) or unit
    if said_unit and said_unit not in METERS:
        what = f"{told.facts['meter_unit']!r} is no unit of a meter the program knows"
        wrong.append(Unread(told.row, REPORT_FIELDS["meter_unit"], what, "the meter is left out"))
        return "", "", ""

    def own(target: str) -> float | None:
        said = told.facts.get(target, "")
        if not said:
            return None
        try:
            number = float(said.split()[0])
            return number if written == unit else convert(number, written, unit)
        except UnitMismatch:
            what = f"{said} {written}, and the engine is counted in {unit}"
        except ValueError:
            what = f"{said!r} is no meter"
        wrong.append(Unread(told.row, REPORT_FIELDS[target], what, "it is left out"))
        return None

    meter, change, on_oil = own("meter"), own("oil_change_meter"), own("hours_on_oil")
    if change is None and meter is not None and on_oil is not None and on_oil <= meter:
        change = meter - on_oil
    return _plain(meter), _plain(change), _plain(None if change is not None else on_oil)


def _plain(x: float | None) -> str:
    return "" if x is None else f"{x:.10g}"


def _fleet(
    connection: Connection, file: str, new: Sequence[NewEngine], into: Path
) -> Iterator[tuple[str, Path]]:
    """What new engines need: depots and models nobody has on record, then themselves."""
    if not new:
        return
    depots = {e.depot for e in new if e.depot} - {
        r["code"] for r in rows(connection, "depot_codes")
    }
    models = {e.model: e.engine_class for e in new if e.model}
    for known in rows(connection, "model_codes"):
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


def bring_by_itself(
    connection: Connection, file: str, sheets: Sequence[Sheet], into: Path
) -> list[tuple[str, Path]]:
    """Our own files of the first sheet whose headings somebody brought in before.

    Raises CannotRecord where nobody did, where something is asked, or where a cell cannot be read:
    then only a person can bring it in.
    """
    for sheet in sheets:
        found, known_from = proposal(connection, sheet, None)
        if not known_from:
            continue
        made = canonical(connection, file, sheet, found.layout, (), into)
        if made.wrong:
            first = made.wrong[0]
            raise CannotRecord("cells_unread", f"row {first.row}, {first.heading}: {first.what}")
        return made.paths
    raise CannotRecord(
        "unknown_layout",
        "nobody brought in a file with these headings yet: bring it in once on the page Exchange",
    )
