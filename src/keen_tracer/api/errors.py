"""One place that turns errors into answers: a code, what was wrong, what to do, and an incident
id."""

import errno
import logging
import secrets
from collections.abc import Callable
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from starlette.exceptions import HTTPException

from ..core.bounds import BOUNDS
from ..core.errors import CoreError
from ..core.roles import NotAllowed
from ..core.status import BadDecision
from ..core.words import range_words
from ..exchange.printing import CannotPrint
from ..storage.errors import Conflict, DiskFull, InDoubt, Refused, TookTooLong, Unavailable
from ..usecases.errors import CannotDecide, CannotRecord, NotThere
from ..usecases.importing.child import Stopped, TooMuch
from ..usecases.people import NobodyYet
from .context import Busy, NeedsPerson

log = logging.getLogger("keen_tracer")


class TooLarge(Exception):
    """An upload over the limit."""

    def __init__(self, size: int, limit: int):
        self.size, self.limit = size, limit
        super().__init__(f"the file has {size} bytes; the limit here is {limit}")


class ErrorOut(BaseModel):
    """What was wrong and what to do; `incident` finds it in the log."""

    code: str
    message: str
    incident: str
    fields: dict[str, str] | None = None
    size: int | None = None
    limit: int | None = None
    constraint: str | None = None


# What any route may answer beside what it is for.
ANSWERS: dict[int | str, dict[str, Any]] = {
    400: {"model": ErrorOut, "description": "The request cannot be read"},
    401: {"model": ErrorOut, "description": "Nobody has chosen who they are"},
    403: {"model": ErrorOut, "description": "The role does not let them, or it is another page's"},
    404: {"model": ErrorOut, "description": "There is no such thing"},
    409: {"model": ErrorOut, "description": "Somebody else was first"},
    413: {"model": ErrorOut, "description": "Too large"},
    422: {"model": ErrorOut, "description": "It cannot be meant as it stands"},
    503: {"model": ErrorOut, "description": "The database is away, or it took too long"},
    507: {"model": ErrorOut, "description": "The disk is full"},
}


def _answer(status: int, code: str, message: str, **more: object) -> JSONResponse:
    incident = secrets.token_hex(4)
    if status >= 500:
        log.error("incident %s: %s %s", incident, status, code)
    return JSONResponse(
        {"code": code, "message": message, "incident": incident, **more}, status_code=status
    )


CONFLICTS = {
    "key_reused": "This press was already sent with something else in it. Look again; nothing was "
    "written.",
    "at_once": "Two wrote the same thing at the same moment. Send it again; nothing was written.",
    "open_reasons": "A Stop came in that was not on your page. Look again; nothing was "
    "written, and nobody lifts what they did not see.",
    "row_version": "Somebody changed this entry while you had it open. Look again; nothing was "
    "written.",
    "plans_seen": "Somebody changed these plans while you had them open. Look again; nothing was "
    "written.",
    "verdict_basis": "The figures changed while you looked. Look again; nothing was written.",
}


def _sentence(error: Exception) -> str:
    text = str(error)
    return f"{text[:1].upper()}{text[1:]}."


def _unavailable(_: Request, __: Unavailable) -> JSONResponse:
    return _answer(
        503,
        "database_unavailable",
        f"The database does not answer just now. {NOTHING} The page tries again by itself.",
    )


def _in_doubt(_: Request, __: InDoubt) -> JSONResponse:
    return _answer(
        503,
        "in_doubt",
        "The database went away while it was writing. Look whether it is there before you write it "
        "again; the same press sent again writes nothing twice.",
    )


def _took_too_long(_: Request, __: TookTooLong) -> JSONResponse:
    return _answer(503, "took_too_long", f"That took too long and was given up. {NOTHING}")


def _disk_full(_: Request, __: DiskFull) -> JSONResponse:
    return _answer(
        507,
        "disk_full",
        "The disk of the database is full: nothing can be written until there is room. "
        f"What is on record can be read. {NOTHING}",
    )


def _conflict(_: Request, error: Conflict) -> JSONResponse:
    text = CONFLICTS.get(
        error.constraint, "Somebody else decided this first. Look again; nothing was written."
    )
    return _answer(409, "conflict", text, constraint=error.constraint)


def _refused(_: Request, error: Refused) -> JSONResponse:
    column = f"{error.table}.{error.constraint.removeprefix('bound_')}"
    bound = next((b for b in BOUNDS.values() if column in b.columns), None)
    why = (
        f"{bound.words} lies {range_words(bound)}"
        if bound
        else f"a value was refused ({error.constraint})"
    )
    return _answer(422, "refused", f"{why[:1].upper()}{why[1:]}. {NOTHING}")


def _cannot_decide(_: Request, error: CannotDecide) -> JSONResponse:
    return _answer(422, error.code, f"{_sentence(error)} {NOTHING}")


def _cannot_record(_: Request, error: CannotRecord) -> JSONResponse:
    return _answer(422, error.code, f"{_sentence(error)} {NOTHING}", fields=error.fields)


def _not_there(_: Request, error: NotThere) -> JSONResponse:
    return _answer(404, "not_there", _sentence(error))


def _needs_person(_: Request, __: NeedsPerson | NobodyYet) -> JSONResponse:
    return _answer(401, "who", "Choose who you are first, at the top right.")


def body_too_large(size: int, limit: int) -> JSONResponse:
    """The answer to a body, no file, that goes on past what any page sends."""
    words = f"What was sent has {size / 1e6:.1f} MB; the program takes up to {limit / 1e6:.0f} MB."
    return _answer(413, "too_large", words, size=size, limit=limit)


def _too_large(_: Request, error: TooLarge) -> JSONResponse:
    return _answer(
        413,
        "too_large",
        f"The file has {error.size / 1e6:.1f} MB; the page takes up to "
        f"{error.limit / 1e6:.0f} MB. Import it with ./keen import, which has no limit.",
        size=error.size,
        limit=error.limit,
    )


def _too_much(_: Request, error: TooMuch) -> JSONResponse:
    text = f"{_sentence(error)} {NOTHING} Import it with ./keen import, which has no such limit."
    return _answer(413, "too_much", text)


def _busy(_: Request, error: Busy) -> JSONResponse:
    return _answer(503, "busy", f"{_sentence(error)} Ask again in a moment.")


def _stopped(_: Request, error: Stopped) -> JSONResponse:
    return _answer(409, "stopped", f"{_sentence(error)} {NOTHING}")


def _cannot_print(_: Request, error: CannotPrint) -> JSONResponse:
    log.error("cannot print: %s", error)
    return _answer(503, "cannot_print", "The sheet could not be drawn just now. Try it again.")


def _no_room(request: Request, error: OSError) -> JSONResponse:
    if error.errno in (errno.ENOSPC, errno.EDQUOT):
        return _answer(507, "disk_full", f"The disk is full: no file can be taken. {NOTHING}")
    return unexpected(request, error)


def _not_allowed(_: Request, error: NotAllowed) -> JSONResponse:
    return _answer(403, error.code, f"{_sentence(error)} {NOTHING}")


def _bad_decision(_: Request, error: BadDecision) -> JSONResponse:
    fields = {error.field: str(error)}
    return _answer(422, error.code, f"{_sentence(error)} {NOTHING}", fields=fields)


def _core(_: Request, error: CoreError) -> JSONResponse:
    return _answer(422, error.code, f"{_sentence(error)} {NOTHING}")


def _invalid(_: Request, error: RequestValidationError) -> JSONResponse:
    first = error.errors()[0]
    where = ".".join(str(p) for p in first["loc"][1:])
    return _answer(422, "invalid", f"{where}: {first['msg']}. {NOTHING}")


def _http(_: Request, error: HTTPException) -> JSONResponse:
    answer = _answer(error.status_code, "http", str(error.detail))
    answer.headers.update(error.headers or {})
    return answer


def unexpected(_: Request, error: Exception) -> JSONResponse:
    """An error nobody foresaw: the answer says so, and the program's log keeps its place."""
    answer = _answer(500, "unexpected", UNEXPECTED)
    log.error("the incident above comes from here", exc_info=error)
    return answer


NOTHING = "Nothing was written."
# An answer can also fail after its work was written.
UNEXPECTED = "Something went wrong in the program. Look again before you write it a second time."
HANDLERS: dict[type[Exception], Callable[..., JSONResponse]] = {
    Unavailable: _unavailable,
    InDoubt: _in_doubt,
    TookTooLong: _took_too_long,
    DiskFull: _disk_full,
    Conflict: _conflict,
    Refused: _refused,
    CannotDecide: _cannot_decide,
    CannotRecord: _cannot_record,
    NotThere: _not_there,
    NeedsPerson: _needs_person,
    NobodyYet: _needs_person,
    TooLarge: _too_large,
    TooMuch: _too_much,
    Busy: _busy,
    Stopped: _stopped,
    CannotPrint: _cannot_print,
    OSError: _no_room,
    NotAllowed: _not_allowed,
    BadDecision: _bad_decision,
    CoreError: _core,
    RequestValidationError: _invalid,
    HTTPException: _http,
}


def slow() -> JSONResponse:
    """Nobody knows yet what will come of it."""
    return _answer(
        503,
        "slow",
        "This takes too long just now. Look whether it is there before you write it again; the "
        "same press sent again writes nothing twice.",
    )


def foreign(why: str) -> JSONResponse:
    """A request that does not come from our own page."""
    return _answer(403, "refused", why)


def add_handlers(app: FastAPI) -> None:
    """Register the handler of each kind of error."""
    for kind, handler in HANDLERS.items():
        app.add_exception_handler(kind, handler)
