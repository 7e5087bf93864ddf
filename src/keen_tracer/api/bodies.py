"""Bodies that are no JSON, counted while they stream in."""

from fastapi import Request

from .errors import TooLarge


async def raw_body(request: Request, limit: int) -> bytes:
    """The body as bytes. Raises TooLarge as soon as there are more than `limit`."""
    parts, size = [], 0
    async for part in request.stream():
        size += len(part)
        if size > limit:
            raise TooLarge(size, limit)
        parts.append(part)
    return b"".join(parts)
