"""Rows of the database as answers: where a query's columns are an answer's fields already.

What the columns hold is checked where the answer goes over the wire.
"""

from collections.abc import Iterable
from typing import TypeVar, cast

from ...storage.records import Row

Shape = TypeVar("Shape")


def answer(shape: type[Shape], found: Row, /, **more: object) -> Shape:
    """A row as an answer, with the fields the row does not have."""
    return cast(Shape, {**found, **more})


def answers(shape: type[Shape], found: Iterable[Row], /) -> list[Shape]:
    """Rows as answers."""
    return [answer(shape, r) for r in found]
