"""Anybody's report in: a file looked at, read as a person says, brought in all or nothing."""

from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Annotated

from pydantic import BaseModel, Field

from ..core.roles import Actor
from ..core.terms import BlankEngine, DaysWritten, DecimalMark, LayoutWay, WaterUnit
from ..exchange.cells import BadCell
from ..exchange.layouts import MOST_PARTS, MOST_TURNS, Layout, Sheet, taken_up, written_down
from ..usecases.answers.layouts import ReadAs
from ..usecases.errors import CannotRecord, NotThere
from ..usecases.fields import Said, Word
from ..usecases.importing import kept_layouts, looking, own_files
from ..usecases.importing.child import Wanted, import_in_child, sheets_in_child
from ..usecases.importing.task import ImportReport
from .context import Acting, Context, Here
from .exchange import ROWS
from .routers import reading_router
from .uploads import SharedProgress

router = reading_router("/api/exchange/layout")
MOST_SAID = 4 * MOST_PARTS  # parts of machines that are kept from file to file; our choice


class ColumnIn(BaseModel):
    heading: Said
    target: Word = ""
    unit: Word = ""
    turn: Annotated[int, Field(ge=0, le=MOST_TURNS)] = 0


class LineIn(BaseModel):
    """A name outside the table and what it means."""

    label: Said
    target: Word = ""


class LayoutIn(BaseModel):
    """A way to read a file; rows count from 1."""

    way: LayoutWay
    header: Annotated[int, Field(ge=1, le=1000)]
    body: Annotated[int, Field(ge=1, le=1000)]
    width: Annotated[int, Field(ge=0, le=2000)] = 0
    laboratory: Word = ""
    engine: Word = ""
    decimal: DecimalMark = ""
    days: DaysWritten = ""
    water: WaterUnit = ""
    blank: BlankEngine = ""
    parts: Annotated[list[Said], Field(max_length=MOST_SAID)] | None = None
    others: Annotated[list[Said], Field(max_length=MOST_SAID)] = []
    columns: Annotated[list[ColumnIn], Field(max_length=2000)]
    lines: Annotated[list[LineIn], Field(max_length=200)] = []


class LookedAt(BaseModel):
    """A file that was sent, which of its sheets, and how a person says it is read."""

    token: Annotated[str, Field(max_length=40)]
    sheet: Annotated[int, Field(ge=0, le=40)] = 0
    layout: LayoutIn | None = None


class BroughtIn(LookedAt):
    """`leave_out`: what could not be read was seen, and stays out."""

    layout: LayoutIn
    engines: Annotated[list[own_files.NewEngine], Field(max_length=2000)] = []
    oils: Annotated[list[own_files.FreshOil], Field(max_length=200)] = []
    leave_out: bool = False
    preview: bool = True


def _sheets(here: Context, token: str) -> tuple[str, list[Sheet]]:
    """The name of a file that was sent, and its sheets; they are unpacked once."""
    found = here.uploads.get(token)
    if found is None:
        raise NotThere("the file is no longer here; choose it again")
    name, path = found
    made = here.uploads.beside(token)
    if made.exists():
        return name, taken_up(made.read_text(encoding="utf-8"))
    try:
        sheets = sheets_in_child(name, path, made)
    except BadCell as bad:
        raise CannotRecord("cannot_read", f"{name}: {bad}") from bad
    made.write_text(written_down(sheets), encoding="utf-8")
    return name, sheets


def _with_sheet(here: Context, body: LookedAt) -> list[Sheet]:
    """The sheets of a file that was sent. Raises NotThere where the one that is asked for is
    none of them."""
    _, sheets = _sheets(here, body.token)
    if body.sheet >= len(sheets):
        raise NotThere("there is no such sheet")
    return sheets


def _layout(given: LayoutIn | None) -> Layout | None:
    if given is None:
        return None
    said = given.model_dump()
    return kept_layouts.layout_of({**said, "header": said["header"] - 1, "body": said["body"] - 1})


@router.post("")
def post_layout(here: Here, who: Acting, body: LookedAt) -> ReadAs:
    """A file as it would be read. Nothing is written."""
    sheets = _with_sheet(here, body)
    with here.database.transaction() as connection:
        return looking.read_as(connection, sheets, body.sheet, _layout(body.layout))


@router.post("/forget")
def post_forget(here: Here, who: Acting, body: LookedAt) -> ReadAs:
    """Forget how files with these headings are read, and answer with the file as it is read
    without that."""
    sheets = _with_sheet(here, body)
    with here.database.transaction() as connection:
        looking.forget(connection, sheets[body.sheet], who.name)
        return looking.read_as(connection, sheets, body.sheet, None)


@router.post("/import")
def post_import(here: Here, who: Acting, body: BroughtIn) -> ImportReport:
    """Bring a file in as it is read, or try what that would come to."""
    name, sheets = _sheets(here, body.token)
    layout = _layout(body.layout)
    assert layout is not None
    with TemporaryDirectory(prefix="keen-layout-", dir=here.uploads.folder) as folder:
        with here.database.transaction() as connection:
            sheet = sheets[min(body.sheet, len(sheets) - 1)]
            made = own_files.canonical(
                connection, name, sheet, layout, body.engines, Path(folder), body.oils
            )
        if made.wrong and not body.leave_out:
            first = made.wrong[0]
            raise CannotRecord(
                "cells_unread",
                f"{len(made.wrong)} cells cannot be read; the first in row {first.row}, "
                f"{first.heading}: {first.what}. Correct them, or say that they stay out",
            )
        report = _bring(here, who, made, body.preview)
    if report.written:
        with here.database.transaction() as connection:
            kept_layouts.keep(connection, layout, who.name)
        here.uploads.drop(body.token)
        here.wake()
    return report


def _bring(here: Context, who: Actor, made: own_files.Written, preview: bool) -> ImportReport:
    progress = SharedProgress(here.uploads.folder, who.name)
    progress.begin()
    try:
        wanted = Wanted(here.url, tuple(made.paths), who, False, preview, 2 * ROWS * 40)
        return import_in_child(wanted, progress)
    finally:
        progress.end()
