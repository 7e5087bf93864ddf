"""Files in: uploaded with a limit while they stream, previewed, then imported."""

from typing import Annotated

from fastapi import Path, Query, Request
from starlette.concurrency import run_in_threadpool

from ..core.roles import Actor
from ..storage.records import rows
from ..usecases.answers.exchange import SourceOut, Standing, TakenBack
from ..usecases.answers.from_rows import answers
from ..usecases.errors import NotThere
from ..usecases.importing.child import Wanted, import_in_child
from ..usecases.importing.taking_back import take_back, taking_back
from ..usecases.importing.task import ImportReport
from ..usecases.pages import exchange
from . import exchange_models as m
from .context import Acting, Context, Here, Who
from .errors import TooLarge
from .models import Done
from .routers import reading_router
from .uploads import SharedProgress, safe_name

router = reading_router("/api/exchange")
LIMIT = 50_000_000  # bytes a page may send; the command line has no limit
ROWS = 200_000


@router.post("/files", response_model=m.Uploaded)
async def post_file(
    here: Here, who: Who, request: Request, name: Annotated[str, Query(max_length=120)]
) -> m.Uploaded:
    """Take one file as the raw body. Counted while it streams, so that nothing oversized is ever
    kept."""
    safe = safe_name(name)
    token, path = here.uploads.new(safe)
    size = 0
    promised = int(request.headers.get("content-length") or 0)
    try:
        with path.open("wb") as out:
            async for part in request.stream():
                size += len(part)
                if max(size, promised) <= LIMIT:
                    await run_in_threadpool(out.write, part)
                elif size > 4 * LIMIT:
                    break
        if max(size, promised) > LIMIT:
            raise TooLarge(max(size, promised), LIMIT)
    except BaseException:  # too large, a full disk, or nobody at the other end any more
        here.uploads.drop(token)
        raise
    return m.Uploaded(token=token, name=safe, bytes=size)


def _import(here: Context, who: Actor, body: m.ImportRequest, preview: bool) -> ImportReport:
    found = [here.uploads.get(token) for token in body.tokens]
    paths = tuple(one for one in found if one is not None)
    if len(paths) < len(found):
        raise NotThere("an uploaded file is no longer here; choose the files again")
    progress = SharedProgress(here.uploads.folder, who.name)
    progress.begin()
    try:
        wanted = Wanted(here.url, paths, who, body.accept, preview, ROWS)
        report = import_in_child(wanted, progress)
    finally:
        progress.end()
    if report.written:
        for token in body.tokens:
            here.uploads.drop(token)
        here.wake()
    return report


@router.get("/progress")
def get_progress(here: Here, who: Acting) -> m.ImportProgress:
    """How far the import is that this person started, if one is under way."""
    rows = SharedProgress(here.uploads.folder, who.name).rows
    return m.ImportProgress(running=rows is not None, rows=rows or 0)


@router.post("/stop")
def post_stop(here: Here, who: Acting) -> Done:
    """Stop this person's import; nothing of it is written."""
    SharedProgress(here.uploads.folder, who.name).stop()
    return Done()


@router.post("/preview")
def post_preview(here: Here, who: Acting, body: m.ImportRequest) -> ImportReport:
    return _import(here, who, body, True)


@router.post("/import")
def post_import(here: Here, who: Acting, body: m.ImportRequest) -> ImportReport:
    return _import(here, who, body, False)


@router.get("/backups")
def get_backups(here: Here) -> Standing:
    with here.database.transaction() as connection:
        return exchange.backups(connection)


@router.get("/sources/{source}/rests")
def get_rests(
    here: Here, who: Acting, source: Annotated[int, Path(ge=1, le=2**31 - 1)]
) -> TakenBack:
    """What taking back the import of a file would come to, and what is in the way."""
    with here.database.transaction() as connection:
        return taking_back(connection, source, who)


@router.post("/sources/{source}/take-back")
def post_take_back(
    here: Here, who: Acting, source: Annotated[int, Path(ge=1, le=2**31 - 1)], body: m.TakeBack
) -> TakenBack:
    """Take back the import a file came in with, whole."""
    with here.database.transaction() as connection:
        done = take_back(connection, source, body.reason, who)
    here.wake()
    return done


@router.get("/sources")
def get_sources(here: Here) -> list[SourceOut]:
    with here.database.transaction() as connection:
        return answers(SourceOut, rows(connection, "sources"))
