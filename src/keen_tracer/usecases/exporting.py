"""The whole record as open files; the same data gives the same bytes."""

import json
import zipfile
from collections.abc import Iterable, Iterator
from io import BytesIO
from pathlib import Path
from typing import IO, Any, BinaryIO, cast

from ..core.findings import stored
from ..core.laboratory import ANALYTES, BY_CODE, reading_text
from ..core.status import halted_on, may_run_now
from ..core.words import reason_words, sentence
from ..exchange.cells import written as cell_text
from ..exchange.csvfile import write_table
from ..exchange.schema import schema
from ..exchange.tables import TABLES
from ..exchange.workbook import write_workbook
from ..storage.db import Connection, single
from ..storage.records import rows
from ..storage.sql import query
from .days import days_now
from .judging.states import decided_and_raised
from .judging.stored_state import state_of

Rows = Iterable[Iterable[object]]
DRAWN_ON = 2  # place of the day in a row of verdicts.csv


def _plain(connection: Connection, name: str) -> Iterator[tuple[Any, ...]]:
    """Rows through a server-side cursor, so that memory does not grow with the table."""
    with connection.cursor(name=f"out_{name}") as cursor:
        cursor.itersize = 5000
        cursor.execute(query(name))
        yield from cursor


def _readings(connection: Connection) -> Rows:
    for lab, number, revision, sample, code, reported, value, censor, unit, method, on in _plain(
        connection, "export_readings"
    ):
        analyte = BY_CODE[code]
        yield (
            lab,
            number,
            revision,
            sample,
            analyte.column,
            reported or reading_text(value, censor),
            unit or analyte.unit,
            method,
            on,
        )


def _oils(connection: Connection) -> Rows:
    figures: dict[int, dict[int, str]] = {}
    for batch, code, reported, value, censor in _plain(connection, "export_oil_readings"):
        figures.setdefault(batch, {})[code] = reported or reading_text(value, censor)
    for batch, oil, grade, name, on in _plain(connection, "export_oils"):
        yield (oil, grade, name, on, *(figures.get(batch, {}).get(a.code) for a in ANALYTES))


def _peers(connection: Connection) -> Rows:
    for version, kind, name, other, code, *figures in _plain(connection, "export_peers"):
        yield (version, kind, name, other, BY_CODE[code].column, *figures)


def _verdicts(connection: Connection) -> Rows:
    """With what the engine might do on the day of each sample: a Stop that stood then is in it."""
    decisions, stops = decided_and_raised(
        connection, [r["engine_id"] for r in rows(connection, "engines_ever_halted")]
    )
    for (
        *head,
        at,
        engine,
        channels,
        policy,
        rules,
        version,
        lead,
        second,
        may_run,
        until,
        until_on,
        actions,
        checks,
        findings,
    ) in _plain(connection, "export_verdicts"):
        said = " ".join(sentence(stored(f)) for f in findings if f["level"] > 0)
        if halted_on(head[DRAWN_ON], stops.get(engine, ()), decisions.get(engine, ())):
            may_run, until, until_on = "do_not_run", None, None
        yield (
            *head,
            at,
            *channels,
            policy,
            rules,
            version,
            lead or None,
            second or None,
            may_run,
            until,
            until_on,
            [a["code"] for a in actions],
            checks,
            said,
        )


def _maps(connection: Connection) -> Rows:
    for heads, laboratory, layout, by, at in _plain(connection, "export_maps"):
        yield heads, laboratory, json.dumps(layout, ensure_ascii=False, sort_keys=True), by, at


def _stops(connection: Connection) -> Rows:
    for *head, finding in _plain(connection, "export_stops"):
        yield (*head, json.dumps(finding, ensure_ascii=False, sort_keys=True))


def _states(connection: Connection) -> Rows:
    """As of today: a permission that has run out is written as such."""
    days = days_now(connection)
    for code, _unit, depot, picture in _plain(connection, "export_states"):
        state = state_of(picture["state"])
        may_run = may_run_now(
            state.may_run, state.until, state.until_on, picture["dial"], days.at(depot)
        )
        yield (
            code,
            state.level,
            may_run,
            state.since,
            state.until,
            state.until_on,
            *state.channels,
            state.lead or None,
            state.second or None,
            [a.code for a in state.actions],
            list(state.checks),
            " ".join(reason_words(r) for r in state.reasons),
            state.decision.by if state.decision else None,
        )


def tables(connection: Connection) -> Iterator[tuple[str, list[str], Rows]]:
    """Every table there is: name, columns, rows."""
    for table in TABLES.values():
        columns = list(table.columns)
        special = {
            "readings": _readings,
            "oils": _oils,
            "verdicts": _verdicts,
            "stops": _stops,
            "maps": _maps,
            "states": _states,
            "peers": _peers,
        }.get(table.name)
        if table.name == "oils":
            columns += [a.column for a in ANALYTES]
        yield (
            table.name,
            columns,
            special(connection) if special else _plain(connection, f"export_{table.name}"),
        )


def picture_files(connection: Connection) -> Iterator[tuple[str, bytes]]:
    """Photographs by the name of their file in the data package, each once."""
    for sha256, content in _plain(connection, "export_picture_files"):
        yield f"pictures/{sha256}.jpg", bytes(content)


def _package(written: list[str]) -> bytes:
    """A data package's description: the files, their columns, what each may hold."""
    resources = [
        {
            "name": name,
            "profile": "tabular-data-resource",
            "type": "table",
            "path": f"{name}.csv",
            "scheme": "file",
            "format": "csv",
            "mediatype": "text/csv",
            "encoding": "utf-8",
            "schema": schema(TABLES[name]),
        }
        for name in written
    ]
    said = {"name": "keen-tracer", "profile": "tabular-data-package", "resources": resources}
    return (json.dumps(said, indent=1, ensure_ascii=False) + "\n").encode()


def export_folder(url: str, folder: Path) -> dict[str, int]:
    """Write every table to `folder`; how many rows each has. All from one snapshot."""
    folder.mkdir(parents=True, exist_ok=True)
    counts, written = dict[str, int](), list[str]()
    with single(url) as connection:
        connection.execute("set transaction isolation level repeatable read")
        for name, columns, found in tables(connection):
            with (folder / f"{name}.csv").open("wb") as out:
                counts[name] = write_table(out, columns, found)
            written.append(name)
        for name, content in picture_files(connection):
            (folder / "pictures").mkdir(exist_ok=True)
            (folder / name).write_bytes(content)
    (folder / "datapackage.json").write_bytes(_package(written))
    return counts


def write_zip(connection: Connection, out: IO[bytes], spreadsheet: bool = False) -> None:
    """The same tables as one zipped data package, table by table into `out`; equal data, equal
    bytes. For a spreadsheet no cell is taken for a formula; such a file is not read in again."""
    written = list[str]()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:

        def named(name: str) -> zipfile.ZipInfo:
            info = zipfile.ZipInfo(name, (2000, 1, 1, 0, 0, 0))
            info.compress_type = zipfile.ZIP_DEFLATED
            return info

        for name, columns, found in tables(connection):
            with archive.open(named(f"{name}.csv"), "w", force_zip64=True) as member:
                write_table(cast(BinaryIO, member), columns, found, spreadsheet)
            written.append(name)
        for name, content in picture_files(connection):
            archive.writestr(named(name), content)
        archive.writestr(named("datapackage.json"), _package(written))


def export_zip(connection: Connection) -> bytes:
    """The zipped data package as bytes."""
    out = BytesIO()
    write_zip(connection, out)
    return out.getvalue()


def write_book(connection: Connection, out: IO[bytes]) -> None:
    """The same tables as the sheets of one workbook, to look at and to reckon with."""
    write_workbook(out, tables(connection))


def write_json(connection: Connection, out: IO[bytes]) -> None:
    """The same tables as one JSON object: table → rows, figures as numbers, what nobody said as
    null; photographs are left to the archive."""
    out.write(b"{")
    for n, (name, columns, found) in enumerate(tables(connection)):
        out.write(f"{',' if n else ''}\n{json.dumps(name)}: [".encode())
        for k, row in enumerate(found):
            said = {col: _plain_value(v) for col, v in zip(columns, row, strict=True)}
            out.write((",\n " if k else "\n ").encode())
            out.write(json.dumps(said, ensure_ascii=False).encode())
        out.write(b"]")
    out.write(b"\n}\n")


def _plain_value(value: object) -> object:
    """A value as JSON has it; days and moments as ISO text."""
    if value is None or isinstance(value, bool | int | float | str | list | dict):
        return value
    return cell_text(value)
