"""Everything out again: the archive, the workbook, JSON; and blank tables to fill in."""

import os
import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from io import BytesIO
from typing import IO, Annotated, BinaryIO

from fastapi import Query
from fastapi.responses import Response as RawResponse
from fastapi.responses import StreamingResponse
from pydantic import BaseModel, Field

from .. import clock
from ..core.bounds import FACT
from ..exchange.tables import TABLES
from ..exchange.workbook import blank, columns_of, write_workbook
from ..storage.db import Connection
from ..storage.records import number
from ..usecases.errors import CannotRecord, NotThere
from ..usecases.exporting import write_book, write_json, write_zip
from ..usecases.fields import Said
from .context import Busy, Context, Here, Who
from .routers import reading_router

router = reading_router("/api")
Value = Annotated[str, Field(max_length=FACT * 5)] | float | None
BOOK = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@dataclass(frozen=True, slots=True)
class _Whole:
    """One form everything leaves in."""

    file: str
    media: str
    writes: Callable[[Connection, IO[bytes]], None]


WHOLE = {
    "zip": _Whole("keen-tracer-export.zip", "application/zip", write_zip),
    "spreadsheet": _Whole(
        "keen-tracer-for-spreadsheets.zip", "application/zip", partial(write_zip, spreadsheet=True)
    ),
    "xlsx": _Whole("keen-tracer.xlsx", BOOK, write_book),
    "json": _Whole("keen-tracer.json", "application/json", write_json),
}


def _whole(here: Context, kind: str) -> RawResponse:
    """Everything in one form, one at a time; made again only when something was written since, and
    sent from the disk."""
    of = WHOLE[kind]
    if not here.exporting.acquire(blocking=False):
        raise Busy("somebody's archive is being made just now")
    try:
        path = here.uploads.folder / f"export-{os.getpid()}-{kind}"
        with here.database.transaction() as connection:
            mark = (number(connection, "mark"), clock.quarter())
            if here.exported.get(kind) != mark:
                path.unlink(missing_ok=True)  # who still reads the one before goes on reading it
                with path.open("wb") as out:
                    of.writes(connection, out)
                here.exported[kind] = mark
        held = path.open("rb")
    finally:
        here.exporting.release()
    headers = {"Content-Disposition": f'attachment; filename="{of.file}"'}
    return StreamingResponse(_parts(held), media_type=of.media, headers=headers)


def _parts(held: BinaryIO) -> Iterator[bytes]:
    with held:
        while part := held.read(1 << 20):
            yield part


@router.get("/export.zip", response_class=RawResponse)
def get_export(here: Here, spreadsheet: bool = False) -> RawResponse:
    """Everything as one archive: open files with a table schema, photographs beside them."""
    return _whole(here, "spreadsheet" if spreadsheet else "zip")


@router.get("/export.xlsx", response_class=RawResponse)
def get_book(here: Here) -> RawResponse:
    """Every table as a sheet of one workbook."""
    return _whole(here, "xlsx")


@router.get("/export.json", response_class=RawResponse)
def get_json(here: Here) -> RawResponse:
    """Every table as one JSON object."""
    return _whole(here, "json")


class SheetIn(BaseModel):
    """A table as a page shows it."""

    name: Said
    columns: Annotated[list[Said], Field(max_length=400)]
    rows: Annotated[list[list[Value]], Field(max_length=20_000)]


@router.post("/sheet.xlsx", response_class=RawResponse)
def post_sheet(who: Who, body: SheetIn) -> RawResponse:
    """A table of a page as a workbook. Nothing is kept."""
    if any(len(row) > len(body.columns) for row in body.rows):
        raise CannotRecord("too_wide", "a row has more cells than there are columns")
    out = BytesIO()
    write_workbook(
        out, [(re.sub(r"[\\[\]:*?/\\\\]+", " ", body.name) or "table", body.columns, body.rows)]
    )
    return RawResponse(out.getvalue(), media_type=BOOK)


@router.get("/blank.xlsx", response_class=RawResponse)
def get_blank_book(table: Annotated[list[str], Query(max_length=40)]) -> RawResponse:
    """Blank tables to fill in, as the sheets of one workbook."""
    asked = [TABLES[name] for name in table if name in TABLES and not TABLES[name].export_only]
    if not asked or len(asked) < len(table):
        raise NotThere("there is no such table to fill in")
    name = asked[0].name if len(asked) == 1 else "keen-tracer-blank"
    headers = {"Content-Disposition": f'attachment; filename="{name}.xlsx"'}
    return RawResponse(blank(asked), media_type=BOOK, headers=headers)


@router.get("/blank/{table}.csv", response_class=RawResponse)
def get_blank(table: str) -> RawResponse:
    """A blank table to fill in: its heads."""
    of = TABLES.get(table)
    if of is None or of.export_only:
        raise NotThere("there is no such table to fill in")
    headers = {"Content-Disposition": f'attachment; filename="{table}.csv"'}
    text = ",".join(columns_of(of)) + "\r\n"
    return RawResponse(text, media_type="text/csv; charset=utf-8", headers=headers)
