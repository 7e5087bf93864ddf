"""Routes of Inspect: looks laid out and kept, their pictures, lines measured on them."""

from typing import Any
from uuid import UUID

from fastapi import APIRouter, Response
from fastapi.responses import Response as RawResponse

from ..exchange.labels import bag_label, font_file
from ..usecases.pages import inspect, opened
from ..usecases.recording import looks, pictures
from . import inspect_models as m
from .bottles import PRINT_WAIT_S
from .collect import recorded
from .collect_models import Recorded
from .context import Busy, Here, Who
from .fields import Word

router = APIRouter(prefix="/api")


def _look(code: str, body: m.NewLook) -> looks.Look:
    given = body.model_dump(exclude={"counts"})
    counts = tuple(looks.Found(**x.model_dump()) for x in body.counts)
    return looks.Look(engine=code, counts=counts, **given)


@router.post("/engines/{code}/look", response_model=m.LookSays)
def post_try_look(here: Here, who: Who, code: str, body: m.NewLook) -> dict[str, Any]:
    """What a look would say; nothing is written."""
    with here.database.transaction() as c:
        return looks.try_look(c, _look(code, body))


@router.post("/engines/{code}/looks", response_model=Recorded)
def post_look(here: Here, who: Who, code: str, body: m.NewLook) -> Recorded:
    with here.database.transaction() as c:
        looks.record_look(c, _look(code, body), who["name"])
        return recorded(c, code, body.id, None)


@router.get("/looks", response_model=list[m.LookLine])
def get_looks(here: Here, engine: Word | None = None) -> list[dict[str, Any]]:
    with here.database.transaction() as c:
        return inspect.looks(c, engine)


@router.get("/looks/{key}", response_model=m.LookOut)
def get_look(here: Here, key: UUID) -> dict[str, Any]:
    with here.database.transaction() as c:
        return inspect.look(c, key)


@router.get("/looks/{key}/bag.pdf", response_class=RawResponse)
def get_bag(here: Here, key: UUID) -> Response:
    """A label for the bag with the pieces."""
    with here.database.transaction() as c:
        code, lines = inspect.bag(c, key)
    if not here.printing.acquire(timeout=PRINT_WAIT_S):
        raise Busy("other sheets are being drawn just now")
    try:
        drawn = bag_label(code, lines, font_file(here.pages))
    finally:
        here.printing.release()
    headers = {"Content-Disposition": f'inline; filename="bag-{key}.pdf"'}
    return RawResponse(drawn, media_type="application/pdf", headers=headers)


@router.get("/pictures/{photo}", response_model=m.PictureBeside)
def get_picture(here: Here, photo: UUID) -> dict[str, Any]:
    with here.database.transaction() as c:
        return inspect.picture(c, photo)


@router.post("/pictures/{photo}/lines", response_model=m.PictureLines)
def post_line(here: Here, who: Who, photo: UUID, body: m.NewLine) -> dict[str, Any]:
    """Keep a line; answers every line of the picture that holds."""
    with here.database.transaction() as c:
        pictures.draw(c, photo, pictures.Drawn(**body.model_dump()), who["name"])
        return {"lines": pictures.lines_of(c, [photo])[photo]}


@router.get("/engines/{code}/opened", response_model=m.OpenedOut)
def get_opened(here: Here, code: str) -> dict[str, Any]:
    with here.database.transaction() as c:
        return opened.opened(c, code)


@router.post("/engines/{code}/links", response_model=m.OpenedOut)
def post_link(here: Here, who: Who, code: str, body: m.NewLink) -> dict[str, Any]:
    with here.database.transaction() as c:
        opened.decide_link(c, body.id, code, body.cause, body.effect, body.keep, who["name"])
        return opened.opened(c, code)


@router.post("/engines/{code}/figures", response_model=m.FiguresTried)
def post_figures(here: Here, who: Who, code: str, body: m.TriedFinding) -> dict[str, Any]:
    """What readings come to; nothing is written."""
    return {"figures": opened.try_figures(body.part, body.details)}
