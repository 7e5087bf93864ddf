"""What a canonical table is: its columns in order, how each cell is read, which must be there."""

import re
from dataclasses import dataclass, field

from ..core.bounds import NAME, NAMEABLE
from . import cells
from .cells import BadCell, Parser


@dataclass(frozen=True)
class Table:
    """One kind of file. `order` is the place in which several files given together are read."""

    name: str
    order: int
    columns: dict[str, Parser]
    required: tuple[str, ...]
    analytes: bool = False
    aliases: dict[str, str] = field(default_factory=dict)
    export_only: bool = False


def bottle_code(cell: str) -> str:
    """A name that people type and links carry."""
    if not re.fullmatch(NAMEABLE, cell) or len(cell) > NAME:
        raise BadCell(
            f"{cell[:40]!r} cannot be a name", f"use up to {NAME} characters without / \\ ? #"
        )
    return cell


# Short names for what nearly every table has: a text, a word, a bounded figure.
T, N, B = cells.text, cells.word, cells.bounded
