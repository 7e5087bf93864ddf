"""How a group of routes is made: each knows what it may answer and that reading takes somebody.

The routes are made once, when their module is read, and every server of a process shares them:
`include_router` would make them anew for each server, two seconds of work at its first request.
"""

from fastapi import APIRouter, Depends

from .context import may_read
from .errors import ANSWERS


def open_router() -> APIRouter:
    """Routes that a stranger may ask."""
    return APIRouter(responses=ANSWERS)


def reading_router(prefix: str) -> APIRouter:
    """Routes under a prefix; those that read take a name, but for what `context.OPEN` lists."""
    return APIRouter(prefix=prefix, responses=ANSWERS, dependencies=[Depends(may_read)])
