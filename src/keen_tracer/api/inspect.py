"""Routes of Inspect: looks laid out and kept, their pictures, lines measured on them."""

from functools import partial
from uuid import UUID

from fastapi import Response
from fastapi.responses import Response as RawResponse

from ..exchange.labels import bag_label, font_file
from ..usecases.answers.inspect import (
    FiguresTried,
    LookLine,
    LookOut,
    LookSays,
    OpenedOut,
    PictureBeside,
    PictureLines,
)
from ..usecases.fields import Word
from ..usecases.pages import inspect, opened
from ..usecases.recording import looks, pictures
from . import inspect_models as m
from .collect import recorded
from .collect_models import Recorded
from .context import Here, UnitsOfWho, Who, as_pdf, of_engine
from .routers import reading_router

router = reading_router("/api")


@router.post("/engines/{code}/look")
def post_try_look(here: Here, who: Who, code: str, body: looks.NewLook) -> LookSays:
    """What a look would say; nothing is written."""
    with here.database.transaction() as connection:
        return looks.try_look(connection, of_engine(looks.Look, code, body))


@router.post("/engines/{code}/looks")
def post_look(here: Here, who: Who, units: UnitsOfWho, code: str, body: looks.NewLook) -> Recorded:
    with here.database.transaction() as connection:
        looks.record_look(connection, of_engine(looks.Look, code, body), who["name"])
        return recorded(connection, code, body.id, None, units)


@router.get("/looks")
def get_looks(here: Here, engine: Word | None = None) -> list[LookLine]:
    with here.database.transaction() as connection:
        return inspect.looks(connection, engine)


@router.get("/looks/{key}")
def get_look(here: Here, key: UUID) -> LookOut:
    with here.database.transaction() as connection:
        return inspect.look(connection, key)


@router.get("/looks/{key}/bag.pdf", response_class=RawResponse)
def get_bag(here: Here, key: UUID) -> Response:
    """A label for the bag with the pieces."""
    with here.database.transaction() as connection:
        code, lines = inspect.bag(connection, key)
    draw = partial(bag_label, code, lines, font_file(here.pages))
    return as_pdf(here, f"bag-{key}", draw)


@router.get("/pictures/{photo}")
def get_picture(here: Here, photo: UUID) -> PictureBeside:
    with here.database.transaction() as connection:
        return inspect.picture(connection, photo)


@router.post("/pictures/{photo}/lines")
def post_line(here: Here, who: Who, photo: UUID, body: pictures.Drawn) -> PictureLines:
    """Keep a line; answers every line of the picture that holds."""
    with here.database.transaction() as connection:
        pictures.draw(connection, photo, body, who["name"])
        return {"lines": pictures.lines_of(connection, [photo])[photo]}


@router.get("/engines/{code}/opened")
def get_opened(here: Here, code: str) -> OpenedOut:
    with here.database.transaction() as connection:
        return opened.opened(connection, code)


@router.post("/engines/{code}/links")
def post_link(here: Here, who: Who, code: str, body: m.NewLink) -> OpenedOut:
    with here.database.transaction() as connection:
        opened.decide_link(
            connection, body.id, code, body.cause, body.effect, body.keep, who["name"]
        )
        return opened.opened(connection, code)


@router.post("/engines/{code}/figures")
def post_figures(here: Here, who: Who, code: str, body: m.TriedFinding) -> FiguresTried:
    """What readings come to; nothing is written."""
    return {"figures": opened.try_figures(body.part, body.details)}
