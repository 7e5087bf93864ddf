"""What a route needs: the database, the person, and posts that may be sent twice."""

from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Annotated, TypeVar
from uuid import UUID

from fastapi import Depends, Header, Request
from pydantic import BaseModel

from ..core.roles import Actor
from ..storage.db import Connection, Database
from ..storage.records import Row, json, row, run
from ..usecases.judging.judging import Worker
from .security import COOKIE, token_hash


@dataclass
class Context:
    """One running server."""

    database: Database
    url: str
    worker: Worker
    uploads: Path
    pages: Path
    files: dict[str, tuple[str, Path]] = field(default_factory=dict)


class NeedsPerson(Exception):
    """A write without a person who does it."""


def context(request: Request) -> Context:
    found: Context = request.app.state.context
    return found


Here = Annotated[Context, Depends(context)]


def person_or_none(request: Request, here: Here) -> Row | None:
    """Who the session belongs to."""
    token = request.cookies.get(COOKIE)
    if not token:
        return None
    with here.database.transaction() as c:
        return row(c, "session_person", token=token_hash(token))


def person(found: Annotated[Row | None, Depends(person_or_none)]) -> Row:
    if found is None:
        raise NeedsPerson
    return found


def actor(who: Annotated[Row, Depends(person)]) -> Actor:
    return Actor(who["name"], who["role"])


Who = Annotated[Row, Depends(person)]
Acting = Annotated[Actor, Depends(actor)]
MaybeWho = Annotated[Row | None, Depends(person_or_none)]
Key = Annotated[UUID | None, Header(alias="Idempotency-Key")]


Body = TypeVar("Body", bound=BaseModel)


def once(
    c: Connection, key: UUID | None, route: str, model: type[Body], does: Callable[[], Body]
) -> Body:
    """Do a post once: sent again under the same key, it gets the first answer and writes
    nothing."""
    if key is None:
        return does()
    before = row(c, "answer_of_key", key=key)
    if before is not None:
        return model.model_validate(before["answer"])
    answer = does()
    run(
        c,
        "answer_put",
        key=key,
        route=route,
        status=200,
        answer=json(answer.model_dump(mode="json")),
    )
    return answer
