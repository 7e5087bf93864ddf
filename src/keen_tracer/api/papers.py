"""Paper: letters about samples, the history of an engine, a month of the fleet."""

import re
from datetime import date
from uuid import UUID

from fastapi import Response

from ..exchange.labels import font_file
from ..exchange.paper import Size, drawn, together
from ..usecases.days import day_at, day_of_engine
from ..usecases.fields import Word
from ..usecases.pages import customer, history, month, paper, work_list
from .context import Here, UnitsOfWho, as_pdf
from .plan_models import Weeks
from .routers import reading_router

router = reading_router("/api")


def _file(text: str) -> str:
    """A name of a file that sorts, in letters every system takes."""
    return re.sub(r"[^A-Za-z0-9._-]+", "_", text).strip("_") or "paper"


@router.get("/samples/{code}/letter.pdf", response_class=Response)
def get_letter(here: Here, units: UnitsOfWho, code: str, size: Size = "A4") -> Response:
    """The letter about a sample."""
    with here.database.transaction() as connection:
        title, body = paper.letter(connection, code, units)
        on = day_at(connection)
    return as_pdf(here, _file(title), lambda: drawn(title, body, size, font_file(here.pages), on))


@router.get("/letters.pdf", response_class=Response)
def get_letters(
    here: Here, units: UnitsOfWho, since: date, depot: Word | None = None, size: Size = "A4"
) -> Response:
    """The letters about what was signed since a day, as one document."""
    with here.database.transaction() as connection:
        title, bodies = paper.letters(connection, since, depot, units)
        on = day_at(connection, depot)
    body = together(bodies)
    return as_pdf(here, _file(title), lambda: drawn(title, body, size, font_file(here.pages), on))


@router.get("/month.pdf", response_class=Response)
def get_month(here: Here, first: date, depot: Word | None = None, size: Size = "A4") -> Response:
    """A month of the fleet, or of a depot; `first` is any day of it."""
    with here.database.transaction() as connection:
        title, body = month.month(connection, first, depot)
        on = day_at(connection, depot)
    name = _file(f"{first:%Y-%m} {title}")
    return as_pdf(here, name, lambda: drawn(title, body, size, font_file(here.pages), on))


@router.get("/plan.pdf", response_class=Response)
def get_work_list(
    here: Here, depot: Word | None = None, weeks: Weeks = 4, size: Size = "A4"
) -> Response:
    """The plan as a list to work by: boxes, cautions, lines for who did it and what came of it."""
    with here.database.transaction() as connection:
        title, body = work_list.work_list(connection, depot, weeks)
        on = day_at(connection, depot)
    name = _file(f"{title} {on}")
    return as_pdf(here, name, lambda: drawn(title, body, size, font_file(here.pages), on))


@router.get("/engines/{code}/history.pdf", response_class=Response)
def get_history(here: Here, units: UnitsOfWho, code: str, size: Size = "A4") -> Response:
    """The history of an engine, in the units of who asks."""
    with here.database.transaction() as connection:
        title, body = history.history(connection, code, units)
        on = day_of_engine(connection, code)
    name = _file(f"{title} {on}")
    return as_pdf(here, name, lambda: drawn(title, body, size, font_file(here.pages), on))


@router.get("/cases/{key}/customer.pdf", response_class=Response)
def get_page_of_case(here: Here, units: UnitsOfWho, key: UUID, size: Size = "A4") -> Response:
    """The page for the customer about a case."""
    with here.database.transaction() as connection:
        title, body = customer.of_case(connection, key, units)
        on = day_at(connection)
    return as_pdf(here, _file(title), lambda: drawn(title, body, size, font_file(here.pages), on))


@router.get("/engines/{code}/opened.pdf", response_class=Response)
def get_page_of_opened(here: Here, units: UnitsOfWho, code: str, size: Size = "A4") -> Response:
    """The page for the customer about an opened engine."""
    with here.database.transaction() as connection:
        title, body = customer.of_opened(connection, code, units)
        on = day_of_engine(connection, code)
    return as_pdf(here, _file(title), lambda: drawn(title, body, size, font_file(here.pages), on))
