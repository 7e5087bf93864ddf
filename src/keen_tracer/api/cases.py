"""Routes of cases, and of the work that findings and cases bring."""

from uuid import UUID

from ..core.inspection import Work
from ..usecases.answers.case import CaseLine, CaseOut
from ..usecases.answers.inspect import WorkList
from ..usecases.fields import Word
from ..usecases.pages import case
from ..usecases.recording import cases, work
from ..usecases.recording.log_rows import engine_id
from .context import Here, UnitsOfWho, Who
from .inspect_models import NewWork
from .routers import reading_router

router = reading_router("/api")
LISTED = 300


@router.get("/cases")
def get_cases(here: Here, engine: Word | None = None) -> list[CaseLine]:
    """Cases, the open ones first."""
    with here.database.transaction() as connection:
        return case.listed(connection, engine, LISTED)


@router.get("/cases/{key}")
def get_case(here: Here, units: UnitsOfWho, key: UUID) -> CaseOut:
    with here.database.transaction() as connection:
        return case.case(connection, key, units)


@router.post("/engines/{code}/cases")
def post_case(here: Here, who: Who, units: UnitsOfWho, code: str, body: cases.NewCase) -> CaseOut:
    """Open a case with what is known."""
    with here.database.transaction() as connection:
        cases.open_case(connection, code, body, who["name"])
        return case.case(connection, body.id, units)


@router.post("/cases/{key}/entries")
def post_entry(
    here: Here, who: Who, units: UnitsOfWho, key: UUID, body: cases.NewCaseEntry
) -> CaseOut:
    """Add something to a case, or take it back."""
    with here.database.transaction() as connection:
        cases.add_entry(connection, key, body, who["name"])
        return case.case(connection, key, units)


@router.post("/cases/{key}/end")
def post_end(here: Here, who: Who, units: UnitsOfWho, key: UUID, body: cases.NewEnd) -> CaseOut:
    """Close a case with what was found."""
    with here.database.transaction() as connection:
        cases.close_case(connection, key, body, who["name"])
        return case.case(connection, key, units)


@router.post("/engines/{code}/work")
def post_work(here: Here, who: Who, code: str, body: NewWork) -> WorkList:
    """Write a piece of work down, or decide it anew; answers all of the engine's."""
    given = body.model_dump(exclude={"id", "replaces", "finding", "case"})
    with here.database.transaction() as connection:
        row = work.WorkRow(
            id=body.id,
            engine=code,
            work=Work(**given),
            replaces=body.replaces,
            finding=body.finding,
            case=body.case,
        )
        work.decide_work(connection, row, who["name"])
        return work.work_out(work.work_of(connection, engine_id(connection, code)))
