"""Files in: uploaded with a limit while they stream, previewed, then imported."""

import re
from typing import Annotated, Any
from uuid import uuid4

from fastapi import APIRouter, Query, Request
from starlette.concurrency import run_in_threadpool

from ..core.roles import Actor
from ..storage.records import rows
from ..usecases.errors import NotThere
from ..usecases.importing.files import import_files
from ..usecases.importing.task import ImportReport
from . import exchange_models as m
from .context import Acting, Context, Here, Who
from .errors import TooLarge

router = APIRouter(prefix="/api/exchange")
LIMIT = 50_000_000  # bytes a page may send; the command line has no limit
ROWS = 200_000


@router.post("/files", response_model=m.Uploaded)
async def post_file(
    here: Here, who: Who, request: Request, name: Annotated[str, Query(max_length=120)]
) -> m.Uploaded:
    """Take one file as the raw body. Counted while it streams, so that nothing oversized is ever
    kept."""
    safe = re.sub(r"[^\w. ()-]", "_", name.rsplit("/", 1)[-1].rsplit("\\", 1)[-1]) or "file"
    token, size = uuid4().hex, 0
    path = here.uploads / token
    promised = int(request.headers.get("content-length") or 0)
    with path.open("wb") as out:
        async for part in request.stream():
            size += len(part)
            if max(size, promised) <= LIMIT:
                await run_in_threadpool(out.write, part)
            elif size > 4 * LIMIT:
                break
    if max(size, promised) > LIMIT:
        path.unlink()
        raise TooLarge(max(size, promised), LIMIT)
    here.files[token] = (safe, path)
    return m.Uploaded(token=token, name=safe, bytes=size)


def _import(here: Context, who: Actor, body: m.ImportRequest, preview: bool) -> ImportReport:
    missing = [t for t in body.tokens if t not in here.files]
    if missing:
        raise NotThere("an uploaded file is no longer here; choose the files again")
    report = import_files(
        here.url, [here.files[t] for t in body.tokens], who, body.accept, preview, most_rows=ROWS
    )
    if report.written:
        for token in body.tokens:
            here.files.pop(token)[1].unlink(missing_ok=True)
        here.worker.wake()
    return report


@router.post("/preview")
def post_preview(here: Here, who: Acting, body: m.ImportRequest) -> ImportReport:
    return _import(here, who, body, True)


@router.post("/import")
def post_import(here: Here, who: Acting, body: m.ImportRequest) -> ImportReport:
    return _import(here, who, body, False)


@router.get("/sources", response_model=list[m.SourceOut])
def get_sources(here: Here) -> list[dict[str, Any]]:
    with here.database.transaction() as c:
        return rows(c, "sources")
