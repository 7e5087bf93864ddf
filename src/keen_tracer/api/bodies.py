"""Bodies, counted while they stream in: none is taken whole before it is known how long it is."""

import re

from fastapi import Request
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from .errors import TooLarge, body_too_large

# Of a body that is no file: the longest a page sends is pasted text and a case; our choice.
JSON_LIMIT = 2_000_000
# Routes that take a file or a photograph as their body.
FILES = re.compile(r"/api/(exchange/(files|arrived)|report/pdf|log/[^/]+/photos/[^/]+)")


class Bounded:
    """Ends a request whose JSON goes on past `JSON_LIMIT`, before any of it is parsed. Files and
    photographs are counted where they are taken, by limits of their own."""

    def __init__(self, app: ASGIApp):
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """One request, its body counted as it comes in."""
        if scope["type"] != "http" or FILES.fullmatch(scope["path"]):
            await self.app(scope, receive, send)
            return
        promised = dict(scope["headers"]).get(b"content-length", b"0")
        size, ended = 0, False

        async def counted() -> Message:
            nonlocal size, ended
            message = await receive()
            size += len(message.get("body", b""))
            if size > JSON_LIMIT:
                ended = True
                raise TooLarge(size, JSON_LIMIT)
            return message

        async def told(message: Message) -> None:
            if not ended:
                await send(message)

        if promised.isdigit() and int(promised) > JSON_LIMIT:
            await body_too_large(int(promised), JSON_LIMIT)(scope, receive, send)
            return
        await self.app(scope, counted, told)
        if ended:
            await body_too_large(size, JSON_LIMIT)(scope, receive, send)


async def raw_body(request: Request, limit: int) -> bytes:
    """The body as bytes. Raises TooLarge as soon as there are more than `limit`."""
    parts, size = [], 0
    async for part in request.stream():
        size += len(part)
        if size > limit:
            raise TooLarge(size, limit)
        parts.append(part)
    return b"".join(parts)
