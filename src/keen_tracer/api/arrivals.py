"""Reports that programs bring in, and the keys they do it with."""

from pathlib import Path
from tempfile import NamedTemporaryFile
from typing import Annotated

from fastapi import Query, Request
from fastapi.concurrency import run_in_threadpool

from ..core.roles import Actor
from ..usecases import programs
from ..usecases.answers.exchange import Arrived, KeyMade, KeyOut, Waiting
from ..usecases.fields import RowId
from ..usecases.importing.child import bring_in_child
from .bodies import raw_body
from .context import KEY, Acting, Context, Here, Who
from .exchange_models import Uploaded
from .models import Done
from .routers import reading_router
from .security import new_token, token_hash
from .uploads import safe_name

router = reading_router("/api")
LIMIT = 20_000_000  # bytes of one file a program sends; our choice


@router.get("/keys")
def get_keys(here: Here, who: Who) -> list[KeyOut]:
    with here.database.transaction() as connection:
        return list(programs.keys(connection, who["id"]))


@router.post("/keys")
def post_key(here: Here, who: Who, body: programs.WantedKey) -> KeyMade:
    """A key for a program of the person's own. It is shown once: only its hash is kept."""
    key = f"{KEY}{new_token()}"
    with here.database.transaction() as connection:
        programs.make_key(connection, who["id"], body, token_hash(key))
    return {"key": key}


@router.delete("/keys/{key}")
def delete_key(here: Here, who: Who, key: RowId) -> Done:
    with here.database.transaction() as connection:
        programs.end_key(connection, who["id"], key)
    return Done()


def _bring(here: Context, who: Actor, name: str, data: bytes) -> Arrived:
    with NamedTemporaryFile(prefix="keen-arrived-", dir=here.uploads.folder) as file:
        file.write(data)
        file.flush()
        why = bring_in_child(here.url, Path(file.name), name, who)
    if why:
        with here.database.transaction() as connection:
            programs.put_aside(connection, name, data, why, who.name)
    else:
        here.wake()
    return {"why": why}


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
    with here.database.transaction() as connection:
        return list(programs.waiting(connection))


@router.post("/exchange/waiting/{file}/open")
def post_open(here: Here, who: Who, file: RowId) -> Uploaded:
    """A waiting file as one that was chosen on the page."""
    with here.database.transaction() as connection:
        found = programs.held(connection, file)
    token, path = here.uploads.new(found["name"])
    path.write_bytes(bytes(found["content"]))
    return Uploaded(token=token, name=found["name"], bytes=path.stat().st_size)


@router.post("/exchange/waiting/{file}/done")
def post_done(here: Here, who: Who, file: RowId) -> Done:
    """A person is done with a waiting file."""
    with here.database.transaction() as connection:
        programs.settle(connection, file, who["name"])
    return Done()
