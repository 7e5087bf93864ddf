"""Routes of a bottle's way: labels, steps, the inbox, figures typed in, the simulated laboratory,
photographs."""

import re
from datetime import timedelta
from typing import Annotated
from uuid import UUID

from fastapi import Query, Request, Response
from fastapi.responses import Response as RawResponse
from pydantic_core import to_jsonable_python
from starlette.concurrency import run_in_threadpool

from ..standins.laboratory import NAME
from ..storage.records import row
from ..usecases.answers.bottles import Inbox, LabelRun, Sheet
from ..usecases.bottles import figures, labels, orders, steps
from ..usecases.days import day_at
from ..usecases.errors import NotThere
from ..usecases.fields import RowId
from ..usecases.recording import log_rows
from . import bottle_models as m
from .bodies import raw_body
from .context import Context, Here, Who, as_pdf
from .record_models import Amended, Done
from .routers import reading_router

router = reading_router("/api")
PHOTO_LIMIT = 20_000_000  # bytes of a photograph before it is made smaller


@router.get("/inbox")
def get_inbox(here: Here) -> Inbox:
    with here.database.transaction() as connection:
        return {
            **steps.inbox(connection, day_at(connection)),
            "orders": orders.orders(connection),
            "simulated": NAME,
        }


@router.post("/bottles/steps")
def post_steps(here: Here, who: Who, body: m.NewSteps) -> Done:
    with here.database.transaction() as connection:
        steps.step(
            connection,
            [s.sample for s in body.bottles],
            body.step,
            body.on,
            body.laboratory,
            body.note,
            [s.id for s in body.bottles],
            who["name"],
        )
    return Done()


@router.post("/bottles/parked")
def post_parked(here: Here, who: Who, body: log_rows.Bottle) -> Done:
    with here.database.transaction() as connection:
        steps.park(connection, body, to_jsonable_python(body), who["name"])
    return Done()


@router.post("/bottles/parked/{key}/settle")
def post_settle(here: Here, who: Who, key: UUID, body: m.Settle) -> Done:
    with here.database.transaction() as connection:
        steps.settle(connection, key, body.engine, who["name"])
    return Done()


@router.post("/bottles/reference")
def post_reference(here: Here, who: Who, body: m.NewReference) -> Done:
    with here.database.transaction() as connection:
        steps.register_reference(
            connection, body.id, body.sample, body.oil, body.grade, body.batch, body.on, who["name"]
        )
    return Done()


@router.post("/bottles/{sample}/match")
def post_match(here: Here, who: Who, sample: str, body: m.Match) -> Done:
    with here.database.transaction() as connection:
        steps.match(connection, sample, body.to, body.reason, who["name"])
    return Done()


@router.get("/bottles/{sample}/figures")
def get_figures(here: Here, sample: str) -> Sheet:
    with here.database.transaction() as connection:
        return figures.sheet(connection, sample)


@router.post("/bottles/{sample}/figures")
def post_figures(here: Here, who: Who, sample: str, body: m.NewFigures) -> Amended:
    with here.database.transaction() as connection:
        waits = figures.type_in(
            connection,
            sample,
            body.laboratory,
            body.report,
            body.analysed_on,
            body.cells,
            who["name"],
        )
    here.wake()
    return Amended(waits=waits)


@router.post("/orders")
def post_order(here: Here, who: Who, body: m.NewOrder) -> Done:
    with here.database.transaction() as connection:
        orders.send(
            connection,
            body.id,
            body.samples,
            timedelta(seconds=body.delay_s),
            body.mischief,
            body.on,
            who["name"],
        )
    here.wake()
    return Done()


@router.post("/labels", response_model=LabelRun)
def post_labels(here: Here, who: Who, body: m.NewLabels) -> dict[str, int]:
    with here.database.transaction() as connection:
        return labels.print_run(connection, body.engines, body.spare, who["name"])


@router.get("/labels/{run}.pdf", response_class=RawResponse)
def get_labels(here: Here, run: RowId) -> Response:
    with here.database.transaction() as connection:
        wanted = labels.run_labels(connection, run)
    return as_pdf(here, f"labels-{run}", lambda: labels.sheet(wanted, here.pages))


def _keep(here: Context, key: UUID, log: UUID, data: bytes, caption: str, who: str) -> str:
    kept = labels.photograph(data)
    with here.database.transaction() as connection:
        return labels.add_photo(connection, key, log, kept, caption, who)


@router.post("/log/{log}/photos/{key}", response_model=m.Photo)
async def post_photo(
    here: Here,
    who: Who,
    log: UUID,
    key: UUID,
    request: Request,
    caption: Annotated[str, Query(max_length=200)] = "",
) -> m.Photo:
    digest = await run_in_threadpool(
        _keep, here, key, log, await raw_body(request, PHOTO_LIMIT), caption, who["name"]
    )
    return m.Photo(sha256=digest)


@router.get("/photos/{sha256}", response_class=RawResponse)
def get_photo(here: Here, sha256: str) -> Response:
    return _photo(here, sha256, "attachment")


@router.get("/photos/{sha256}/small", response_class=RawResponse)
def get_small_photo(here: Here, sha256: str) -> Response:
    return _photo(here, sha256, "attachment_small")


def _photo(here: Context, sha256: str, named: str) -> Response:
    if not re.fullmatch(r"[0-9a-f]{64}", sha256):
        raise NotThere("there is no such photograph")
    with here.database.transaction() as connection:
        found = row(connection, named, sha256=sha256)
    if found is None:
        raise NotThere("there is no such photograph")
    return RawResponse(
        bytes(found["content"]),
        media_type=found["media"],
        headers={"Cache-Control": "private, max-age=31536000, immutable"},
    )
