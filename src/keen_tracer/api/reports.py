"""One report in by hand: what pasted text tells, and the report itself, judged at once."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from ..core.terms import DecimalMark
from ..usecases.answers.layouts import ReportIn, ReportRead
from ..usecases.importing.one_report import Report, Unknown, bring_report, read_pasted
from .context import Acting, Here
from .fields import Capacity, Day, Litres, Meter, Text, Word

router = APIRouter(prefix="/api/report")


class PastedText(BaseModel):
    """A column or a table as it was copied."""

    text: Annotated[str, Field(max_length=60_000)]
    decimal: DecimalMark = ""


class UnknownEngine(BaseModel):
    """An engine that is not on record, with what is known of it."""

    engine_class: Word
    meter_unit: Word = "h"
    fuel: Word = ""
    sump_l: Capacity | None = None
    allowed_grades: Word = ""


class NewReport(BaseModel):
    """A report as it stands on its sheet; `figures`: column → cell, with its unit where that is not
    the column's own."""

    engine: Word
    on: Day
    meter: Meter | None = None
    hours_on_oil: Meter | None = None
    oil_change_meter: Meter | None = None
    oil: Word = ""
    top_up_l: Litres | None = None
    laboratory: Word
    report: Word = ""
    sample: Word = ""
    appearance: Word = ""
    note: Text = ""
    figures: Annotated[dict[Word, Word], Field(max_length=80)]
    new: UnknownEngine | None = None


@router.post("/read")
def post_read(here: Here, who: Acting, body: PastedText) -> ReportRead:
    """What pasted text tells of one report. Nothing is written."""
    return read_pasted(body.text, body.decimal)


@router.post("")
def post_report(here: Here, who: Acting, body: NewReport) -> ReportIn:
    """Write a report down and judge its engine."""
    given = body.model_dump(exclude={"new"})
    new = Unknown(**body.new.model_dump()) if body.new else None
    with here.database.transaction() as c:
        sample = bring_report(c, Report(**given, new=new), who)
    here.wake()
    return {"sample": sample}
