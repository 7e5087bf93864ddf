"""Answers that are the same for everybody until something is written: made once, kept as bytes.

Every transaction that wrote moves the mark (`storage/db.py`); an answer is kept with the mark it
was made at, and given again while that stands. Of many who ask at once, one makes it and the others
wait for it.
"""

from collections import OrderedDict
from collections.abc import Callable
from datetime import datetime
from functools import cache
from threading import Lock
from typing import Any

from fastapi import Request, Response
from pydantic import TypeAdapter

from .. import clock
from ..storage.db import Connection, Database
from ..storage.records import number

MOST = 64  # answers that are kept; our choice: a few megabytes


@cache
def _adapter(model: Any) -> TypeAdapter[Any]:
    return TypeAdapter(model)


class Held:
    """The answers of one server."""

    def __init__(self) -> None:
        self._kept: OrderedDict[str, tuple[int, datetime, bytes]] = OrderedDict()
        self._making: dict[str, Lock] = {}
        self._lock = Lock()

    def _get(self, key: str, mark: int) -> bytes | None:
        with self._lock:
            found = self._kept.get(key)
            # Made at a later mark than the one asked for, it knows more, not less.
            if found is None or found[0] < mark or found[1] != clock.quarter():
                return None
            self._kept.move_to_end(key)
            return found[2]

    def _put(self, key: str, mark: int, content: bytes) -> None:
        with self._lock:
            self._kept[key] = (mark, clock.quarter(), content)
            while len(self._kept) > MOST:
                self._making.pop(self._kept.popitem(last=False)[0], None)

    def _made(self, key: str) -> None:
        """Nobody waits for an answer that could not be made."""
        with self._lock:
            if key not in self._kept:
                self._making.pop(key, None)

    def answer(
        self,
        database: Database,
        request: Request,
        model: Any,
        make: Callable[[Connection], Any],
        of: object = "",
    ) -> Response:
        """The answer to a request, kept or made now by `make` and checked against `model`; `of`:
        what it depends on beside the request."""
        key = f"{request.url.path}?{request.url.query}|{of}"
        with database.transaction() as connection:
            mark = number(connection, "mark")
        content = self._get(key, mark)
        if content is None:
            with self._lock:
                making = self._making.setdefault(key, Lock())
            try:
                with making:
                    content = self._get(key, mark) or self._make(database, key, model, make)
            finally:
                self._made(key)
        return Response(content, media_type="application/json")

    def _make(
        self, database: Database, key: str, model: Any, make: Callable[[Connection], Any]
    ) -> bytes:
        with database.transaction() as connection:
            # Asked for before the rows: what is written meanwhile makes this answer an old one.
            mark = number(connection, "mark")
            said = make(connection)
        adapter = _adapter(model)
        content = adapter.dump_json(adapter.validate_python(said))
        self._put(key, mark, content)
        return content
