"""Files in: uploaded with a limit while they stream, previewed, then imported."""

import re
from time import time
from typing import Annotated, Any
from uuid import uuid4

from fastapi import APIRouter, Query, Request
from starlette.concurrency import run_in_threadpool

from ..core.roles import Actor
from ..storage.records import row, rows
from ..usecases.errors import NotThere
from ..usecases.importing.child import Progress, Wanted, import_in_child
from ..usecases.importing.task import ImportReport
from . import exchange_models as m
from .context import Acting, Context, Here, Who
from .errors import TooLarge
from .models import Done

router = APIRouter(prefix="/api/exchange")
LIMIT = 50_000_000  # bytes a page may send; the command line has no limit
ROWS = 200_000
KEPT_S, MOST_FILES = 86_400, 100  # of uploads nobody imported; our choice


@router.post("/files", response_model=m.Uploaded)
async def post_file(
    here: Here, who: Who, request: Request, name: Annotated[str, Query(max_length=120)]
) -> m.Uploaded:
    """Take one file as the raw body. Counted while it streams, so that nothing oversized is ever
    kept."""
    _forget_old(here)
    safe = re.sub(r"[^\w. ()-]", "_", name.rsplit("/", 1)[-1].rsplit("\\", 1)[-1]) or "file"
    token, size = uuid4().hex, 0
    path = here.uploads / token
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
        path.unlink(missing_ok=True)
        raise
    here.files[token] = (safe, path)
    return m.Uploaded(token=token, name=safe, bytes=size)


def _forget_old(here: Context) -> None:
    """Files nobody imported go after a day, and the oldest once there are many."""
    aged = sorted(here.files, key=lambda t: here.files[t][1].stat().st_mtime)
    old = [t for t in aged if time() - here.files[t][1].stat().st_mtime > KEPT_S]
    for token in {*old, *aged[: max(0, len(aged) - MOST_FILES + 1)]}:
        here.files.pop(token)[1].unlink(missing_ok=True)


def _import(here: Context, who: Actor, body: m.ImportRequest, preview: bool) -> ImportReport:
    missing = [t for t in body.tokens if t not in here.files]
    if missing:
        raise NotThere("an uploaded file is no longer here; choose the files again")
    paths = tuple(here.files[t] for t in body.tokens)
    progress = here.imports[who.name] = Progress()
    try:
        report = import_in_child(Wanted(here.url, paths, who, body.accept, preview, ROWS), progress)
    finally:
        here.imports.pop(who.name, None)
    if report.written:
        for token in body.tokens:
            here.files.pop(token)[1].unlink(missing_ok=True)
        here.worker.wake()
    return report


@router.get("/progress", response_model=m.ImportProgress)
def get_progress(here: Here, who: Acting) -> m.ImportProgress:
    """How far the import is that this person started, if one is under way."""
    found = here.imports.get(who.name)
    return m.ImportProgress(running=found is not None, rows=found.rows if found else 0)


@router.post("/stop", response_model=Done)
def post_stop(here: Here, who: Acting) -> Done:
    """Stop this person's import; nothing of it is written."""
    found = here.imports.get(who.name)
    if found is not None:
        found.stop.set()
    return Done()


@router.post("/preview")
def post_preview(here: Here, who: Acting, body: m.ImportRequest) -> ImportReport:
    return _import(here, who, body, True)


@router.post("/import")
def post_import(here: Here, who: Acting, body: m.ImportRequest) -> ImportReport:
    return _import(here, who, body, False)


@router.get("/backups", response_model=m.Standing)
def get_backups(here: Here) -> dict[str, Any]:
    with here.database.transaction() as c:
        return {
            "last_backup": (row(c, "milestone_get", what="backup") or {}).get("at"),
            "backup_tried": (row(c, "milestone_get", what="backup_tried") or {}).get("at"),
        }


@router.get("/sources", response_model=list[m.SourceOut])
def get_sources(here: Here) -> list[dict[str, Any]]:
    with here.database.transaction() as c:
        return rows(c, "sources")
