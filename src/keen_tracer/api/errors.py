"""One place that turns errors into answers: a code, what was wrong, what to do, and an incident
id."""

import logging
import secrets

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from ..core.errors import CoreError
from ..storage.errors import Conflict, Refused, Unavailable
from ..usecases.errors import CannotDecide, CannotRecord, NotThere
from .context import NeedsPerson

log = logging.getLogger("keen_tracer")


class TooLarge(Exception):
    """An upload over the limit."""

    def __init__(self, size: int, limit: int):
        self.size, self.limit = size, limit
        super().__init__(f"the file has {size} bytes; the limit here is {limit}")


def _answer(status: int, code: str, message: str, **more: object) -> JSONResponse:
    incident = secrets.token_hex(4)
    if status >= 500:
        log.error("incident %s: %s", incident, code)
    return JSONResponse(
        {"code": code, "message": message, "incident": incident, **more}, status_code=status
    )


CONFLICTS = {
    "row_version": "Somebody changed this entry while you had it open. Look again; nothing was "
    "written.",
    "verdict_basis": "The figures changed while you looked. Look again; nothing was written.",
}


def add_handlers(app: FastAPI) -> None:
    """Register a handler for each kind of error."""

    @app.exception_handler(Unavailable)
    def _(_: Request, __: Unavailable) -> JSONResponse:
        return _answer(
            503,
            "database_unavailable",
            "The database does not answer just now. Nothing was lost; "
            "the page tries again by itself.",
        )

    @app.exception_handler(Conflict)
    def _(_: Request, error: Conflict) -> JSONResponse:
        text = CONFLICTS.get(
            error.constraint, "Somebody else decided this first. Look again; nothing was written."
        )
        return _answer(409, "conflict", text, constraint=error.constraint)

    @app.exception_handler(Refused)
    def _(_: Request, error: Refused) -> JSONResponse:
        return _answer(
            422, "refused", f"A value was refused ({error.constraint}). Nothing was written."
        )

    @app.exception_handler(CannotDecide)
    def _(_: Request, error: CannotDecide) -> JSONResponse:
        text = str(error)
        return _answer(422, error.code, f"{text[0].upper()}{text[1:]}. Nothing was written.")

    @app.exception_handler(CannotRecord)
    def _(_: Request, error: CannotRecord) -> JSONResponse:
        text = str(error)
        return _answer(
            422,
            error.code,
            f"{text[0].upper()}{text[1:]}. Nothing was written.",
            fields=error.fields,
        )

    @app.exception_handler(NotThere)
    def _(_: Request, error: NotThere) -> JSONResponse:
        return _answer(404, "not_there", f"{str(error)[0].upper()}{str(error)[1:]}.")

    @app.exception_handler(NeedsPerson)
    def _(_: Request, __: NeedsPerson) -> JSONResponse:
        return _answer(401, "who", "Choose who you are first, at the top right.")

    @app.exception_handler(TooLarge)
    def _(_: Request, error: TooLarge) -> JSONResponse:
        return _answer(
            413,
            "too_large",
            f"The file has {error.size / 1e6:.1f} MB; the page takes up to "
            f"{error.limit / 1e6:.0f} MB. Import it with ./keen import, which has no limit.",
            size=error.size,
            limit=error.limit,
        )

    @app.exception_handler(CoreError)
    def _(_: Request, error: CoreError) -> JSONResponse:
        return _answer(422, error.code, str(error))

    @app.exception_handler(RequestValidationError)
    def _(_: Request, error: RequestValidationError) -> JSONResponse:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"][1:])
        return _answer(422, "invalid", f"{where}: {first['msg']}. Nothing was written.")

    @app.exception_handler(HTTPException)
    def _(_: Request, error: HTTPException) -> JSONResponse:
        return _answer(error.status_code, "http", str(error.detail))

    @app.exception_handler(Exception)
    def _(_: Request, error: Exception) -> JSONResponse:
        log.exception("unexpected", exc_info=error)
        return _answer(
            500, "unexpected", "Something went wrong in the program. Nothing was written."
        )
