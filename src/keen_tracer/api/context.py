"""What a route needs: the database, the person, and posts that may be sent twice."""

import hashlib
import re
from collections.abc import Callable
from dataclasses import dataclass, field, fields, is_dataclass
from datetime import datetime
from pathlib import Path
from threading import BoundedSemaphore, Lock
from typing import Annotated, TypeVar
from uuid import UUID

from fastapi import Depends, Header, Request, Response
from fastapi.security import APIKeyCookie
from pydantic import BaseModel
from pydantic_core import to_json

from ..core.roles import PROGRAM, Actor, NotAllowed
from ..core.words import Units
from ..storage.db import Connection, Database
from ..storage.errors import Conflict
from ..storage.records import Row, json, row, run
from ..usecases.people import units_of
from .held import Held
from .logs import asked
from .security import COOKIE, LASTS, WRITES, token_hash
from .uploads import Uploads

KEY = "kt_"  # what a key begins with, so that one is known where it should not be
# What a program may write; not how a file is read, which a person answers for.
BY_KEY = ("/api/report", "/api/exchange/arrived")
WHO_AM_I = "/api/state"  # says whose key it is, and how many reports wait
PRINT_WAIT_S = 5.0  # for the sheets of others to be drawn; our choice
PRINTS = 2  # sheets drawn at once, each in a process of its own; our choice


@dataclass
class Context:
    """One running server."""

    database: Database
    url: str
    wake: Callable[[], None]
    uploads: Uploads
    pages: Path
    cookie: str
    demo: bool = False
    held: Held = field(default_factory=Held)
    exporting: Lock = field(default_factory=Lock)
    printing: BoundedSemaphore = field(default_factory=lambda: BoundedSemaphore(PRINTS))
    exported: dict[str, tuple[int, datetime]] = field(default_factory=dict)


class Busy(Exception):
    """Work of which only one goes on at a time."""


class NeedsPerson(Exception):
    """A write without a person who does it."""


def context(request: Request) -> Context:
    found: Context = request.app.state.context
    return found


Here = Annotated[Context, Depends(context)]


# Says in the OpenAPI what is asked for; the true name has the installation's mark behind it.
SCHEME = APIKeyCookie(name=COOKIE, scheme_name="session", auto_error=False)


def person_or_none(
    request: Request, here: Here, _: Annotated[str | None, Depends(SCHEME)] = None
) -> Row | None:
    """Who the session belongs to."""
    sent = request.headers.get("authorization", "")
    if sent:
        found = _by_key(request, here, sent)
    else:
        token = request.cookies.get(here.cookie)
        if not token:
            return None
        with here.database.transaction() as connection:
            found = row(connection, "session_person", token=token_hash(token), lasts=LASTS)
    if found is not None and (now := asked.get()):
        now.person = str(found["id"])
    return found


def _by_key(request: Request, here: Context, sent: str) -> Row | None:
    """Whose key a program sent. A program brings reports in, and reads where its key says so;
    deciding is a person's."""
    kind, _, key = sent.partition(" ")
    if kind.lower() != "bearer" or not key.startswith(KEY):
        raise NeedsPerson
    if request.method in WRITES and not request.url.path.startswith(BY_KEY):
        raise NotAllowed("a program brings reports in, and may read; this takes a person")
    with here.database.transaction() as connection:
        found = row(connection, "key_person", key=token_hash(key))
    if found is None:
        raise NeedsPerson
    if request.method not in WRITES and not found["reads"] and request.url.path != WHO_AM_I:
        raise NotAllowed("this key brings reports in and reads nothing; make one that may read")
    # What a program writes stands under its own name, and decides nothing.
    return {**found, "name": f"{found['program']}, key of {found['name']}", "role": PROGRAM}


def person(found: Annotated[Row | None, Depends(person_or_none)]) -> Row:
    if found is None:
        raise NeedsPerson
    return found


def actor(who: Annotated[Row, Depends(person)]) -> Actor:
    return Actor(who["name"], who["role"], "key" if who["role"] == PROGRAM else "page")


# What a page needs before anybody has chosen who he is; and a calendar's address, which is a secret
# of its own.
OPEN = frozenset({"/api/state", "/api/terms", "/api/people", "/api/session"})
CALENDAR = re.compile(r"/api/calendars/[^/]+\.ics")


def may_read(
    request: Request, here: Here, found: Annotated[Row | None, Depends(person_or_none)]
) -> None:
    """Reading takes somebody, as writing does; only the demo, whose fleet is invented, shows its
    pages before."""
    path = request.url.path
    if found is None and not (here.demo or path in OPEN or CALENDAR.fullmatch(path)):
        raise NeedsPerson


Who = Annotated[Row, Depends(person)]
Acting = Annotated[Actor, Depends(actor)]
MaybeWho = Annotated[Row | None, Depends(person_or_none)]
Key = Annotated[UUID | None, Header(alias="Idempotency-Key")]


def units_asked_in(here: Here, who: MaybeWho) -> Units:
    """The units that the person who asks reads; the program's own where nobody asks."""
    with here.database.transaction() as connection:
        return units_of(connection, who)


UnitsOfWho = Annotated[Units, Depends(units_asked_in)]


Body = TypeVar("Body", bound=BaseModel)
Command = TypeVar("Command")


@dataclass(frozen=True, slots=True)
class Press:
    """One press of a button: sent again it is the same press. It belongs to a person, a route and
    what was sent."""

    key: UUID | None
    who: Actor
    route: str
    body: object

    @property
    def mark(self) -> str:
        """What was sent, in short."""
        sent = f"{self.who.name}\n{self.route}\n".encode() + to_json(self.body)
        return hashlib.sha256(sent).hexdigest()


def once(connection: Connection, press: Press, model: type[Body], does: Callable[[], Body]) -> Body:
    """Do a post once: sent again under the same key, it gets the first answer and writes nothing,
    also where both come at the same moment. Raises Conflict where the key was another press's."""
    if press.key is None:
        return does()
    if not run(connection, "answer_claim", key=press.key, route=press.route, mark=press.mark):
        before = row(connection, "answer_of_key", key=press.key)
        if before is None or before["mark"] != press.mark:
            raise Conflict("key_reused")
        return model.model_validate(before["answer"])
    answer = does()
    run(connection, "answer_put", key=press.key, answer=json(answer.model_dump(mode="json")))
    return answer


def of_engine(command: Callable[..., Command], engine: str, sent: object) -> Command:
    """What was sent for an engine, as the command that names it: `command` adds `engine` to the
    dataclass of `sent`."""
    assert is_dataclass(sent)
    given = {f.name: getattr(sent, f.name) for f in fields(sent)}
    return command(engine=engine, **given)


def as_pdf(here: Context, name: str, draw: Callable[[], bytes]) -> Response:
    """A sheet as PDF, one after the other; drawing takes a second, and no connection."""
    if not here.printing.acquire(timeout=PRINT_WAIT_S):
        raise Busy("other sheets are being drawn just now")
    try:
        drawn = draw()
    finally:
        here.printing.release()
    headers = {"Content-Disposition": f'inline; filename="{name}.pdf"'}
    return Response(drawn, media_type="application/pdf", headers=headers)
