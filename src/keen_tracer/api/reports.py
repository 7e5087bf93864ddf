"""One report typed by hand: the figures of pasted text, and the report itself, judged at once."""

from pathlib import Path
from tempfile import NamedTemporaryFile
from typing import Annotated

from fastapi import Request
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel, Field

from ..core.terms import DecimalMark
from ..exchange.cells import BadCell
from ..storage.db import Connection
from ..usecases.answers.layouts import PdfText, ReportAgain, ReportIn, ReportRead
from ..usecases.errors import CannotRecord
from ..usecases.importing.child import pdf_in_child
from ..usecases.importing.one_report import Report, bring_report, read_pasted
from ..usecases.importing.report_again import open_again, put_right
from .bodies import raw_body
from .context import Acting, Context, Here
from .routers import reading_router

router = reading_router("/api/report")


PDF_LIMIT = 10_000_000  # bytes of a report; our choice


class PastedText(BaseModel):
    """A column or a table as it was copied. `sample`: of several figures behind a name the place of
    this sample's, from 0."""

    text: Annotated[str, Field(max_length=60_000)]
    decimal: DecimalMark = ""
    sample: Annotated[int, Field(ge=0, le=40)] | None = None


@router.post("/read")
def post_read(here: Here, who: Acting, body: PastedText) -> ReportRead:
    """Reads the figures of one report from pasted text. Nothing is written."""
    return read_pasted(body.text, body.decimal, body.sample)


def _in(connection: Connection, sample: str) -> ReportIn:
    again = open_again(connection, sample)
    return {"sample": sample, "log": again["log"]}


def _text_of(here: Context, data: bytes) -> PdfText:
    with NamedTemporaryFile(prefix="keen-", suffix=".pdf", dir=here.uploads.folder) as file:
        file.write(data)
        file.flush()
        try:
            return {"text": pdf_in_child(Path(file.name))}
        except BadCell as bad:
            raise CannotRecord("cannot_read", str(bad)) from bad


@router.post(
    "/pdf",
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {
                "application/octet-stream": {"schema": {"type": "string", "format": "binary"}}
            },
        }
    },
)
async def post_pdf(here: Here, who: Acting, request: Request) -> PdfText:
    """The text of a report in PDF, to be read as pasted. Nothing is written."""
    return await run_in_threadpool(_text_of, here, await raw_body(request, PDF_LIMIT))


@router.post("")
def post_report(here: Here, who: Acting, body: Report) -> ReportIn:
    """Write a report down and judge its engine."""
    with here.database.transaction() as connection:
        told = _in(connection, bring_report(connection, body, who))
    here.wake()
    return told


@router.get("/{sample}")
def get_report(here: Here, sample: str) -> ReportAgain:
    """A report as it is on record, to be corrected."""
    with here.database.transaction() as connection:
        return open_again(connection, sample)


@router.put("/{sample}")
def put_report(here: Here, who: Acting, sample: str, body: Report) -> ReportIn:
    """Put a report right: another revision, which counts at once."""
    with here.database.transaction() as connection:
        told = _in(connection, put_right(connection, sample, body, who))
    here.wake()
    return told
