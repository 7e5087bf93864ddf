"""Reports that programs bring in, and the keys they do it with."""

from datetime import datetime
from pathlib import Path
from tempfile import NamedTemporaryFile
from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel

from ..core.roles import Actor
from ..storage.records import row, rows, run
from ..usecases.errors import CannotRecord, NotThere
from ..usecases.importing.child import bring_in_child
from .bodies import raw_body
from .context import KEY, Acting, Context, Here, Who
from .exchange_models import Uploaded
from .fields import RowId, Word
from .models import Done
from .security import new_token, token_hash
from .uploads import safe_name

router = APIRouter(prefix="/api")
LIMIT = 20_000_000  # bytes of one file a program sends; our choice
KEYS = 20  # a person has at once; our choice


class NewKey(BaseModel):
    name: Word


class KeyOut(BaseModel):
    """A key of a person's own. `key` is shown once, when it is made."""

    id: int
    name: str
    made_at: datetime | None = None
    used_at: datetime | None = None
    ended_at: datetime | None = None
    key: str = ""


class Arrived(BaseModel):
    """What became of a file: `why` it waits for a person, "" where it was brought in."""

    why: str


class Waiting(BaseModel):
    """A file that waits for a person."""

    id: int
    name: str
    why: str
    sent_by: str
    sent_at: datetime


@router.get("/keys")
def get_keys(here: Here, who: Who) -> list[KeyOut]:
    with here.database.transaction() as c:
        return [KeyOut(**r) for r in rows(c, "keys_of", person=who["id"])]


@router.post("/keys")
def post_key(here: Here, who: Who, body: NewKey) -> KeyOut:
    """A key for a program of the person's own. It is shown once: only its hash is kept."""
    name, key = body.name.strip(), f"{KEY}{new_token()}"
    if not name:
        raise CannotRecord("name", "say which program it is for", {"name": "say which program"})
    with here.database.transaction() as c:
        open_keys = [k for k in rows(c, "keys_of", person=who["id"]) if k["ended_at"] is None]
        if len(open_keys) >= KEYS:
            raise CannotRecord("too_many", f"{KEYS} keys are in use; end one first")
        made = row(c, "key_put", key=token_hash(key), person=who["id"], name=name)
    assert made is not None
    return KeyOut(id=made["id"], name=name, key=key)


@router.delete("/keys/{key}")
def delete_key(here: Here, who: Who, key: RowId) -> Done:
    with here.database.transaction() as c:
        if not run(c, "key_end", id=key, person=who["id"]):
            raise NotThere("there is no such key of yours in use")
    return Done()


def _bring(here: Context, who: Actor, name: str, data: bytes) -> Arrived:
    with NamedTemporaryFile(prefix="keen-arrived-", dir=here.uploads.folder) as file:
        file.write(data)
        file.flush()
        why = bring_in_child(here.url, Path(file.name), name, who)
    if why:
        with here.database.transaction() as c:
            row(c, "arrived_put", name=name, content=data, why=why, by=who.name)
    else:
        here.wake()
    return Arrived(why=why)


@router.post(
    "/exchange/arrived",
    openapi_extra={"requestBody": {"required": True, "content": {"application/octet-stream": {
        "schema": {"type": "string", "format": "binary"}}}}},
)  # fmt: skip
async def post_arrived(
    here: Here, who: Acting, request: Request, name: Annotated[str, Query(max_length=120)]
) -> Arrived:
    """A file a program sends: our own, or a laboratory's whose headings are known. It comes in
    whole, or waits for a person with why."""
    data = await raw_body(request, LIMIT)
    return await run_in_threadpool(_bring, here, who, safe_name(name), data)


@router.get("/exchange/arrived")
def get_arrived(here: Here, who: Who) -> list[Waiting]:
    with here.database.transaction() as c:
        return [Waiting(**r) for r in rows(c, "arrived_waiting")]


@router.post("/exchange/waiting/{file}/open")
def post_open(here: Here, who: Who, file: RowId) -> Uploaded:
    """A waiting file as one that was chosen on the page."""
    with here.database.transaction() as c:
        found = row(c, "arrived_content", id=file)
    if found is None:
        raise NotThere("nothing waits under this number")
    token, path = here.uploads.new(found["name"])
    path.write_bytes(bytes(found["content"]))
    return Uploaded(token=token, name=found["name"], bytes=path.stat().st_size)


@router.post("/exchange/waiting/{file}/done")
def post_done(here: Here, who: Who, file: RowId) -> Done:
    """A person is done with a waiting file."""
    with here.database.transaction() as c:
        if not run(c, "arrived_settle", id=file, by=who["name"]):
            raise NotThere("nothing waits under this number")
    return Done()
