"""Lines drawn on photographs: a scale along something of known size, particles measured by it."""

from dataclasses import dataclass
from typing import Literal
from uuid import UUID

from ...core.errors import CoreError
from ...core.inspection import DrawnLine, Line, Scale, measured_by, measured_mm, scale_of
from ...core.record import debris_types
from ...storage.bulk import insert
from ...storage.db import Connection
from ...storage.records import Row, row, rows
from ..answers.from_rows import answer
from ..answers.inspect import LineOut
from ..errors import CannotRecord, NotThere
from ..fields import KnownMm, KnownSdMm, Point, Word
from ..judging.judging import judge_one

LineKind = Literal["scale", "particle", "withdraw"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Drawn:
    """A line as it was drawn, in points of the kept picture. A scale has the known size it lies
    along; `withdraws` takes a line back and has no ends."""

    id: UUID
    kind: LineKind
    type: Word = ""
    x1: Point | None = None
    y1: Point | None = None
    x2: Point | None = None
    y2: Point | None = None
    known_mm: KnownMm | None = None
    known_sd_mm: KnownSdMm | None = None
    known_from: Word = ""
    withdraws: UUID | None = None


def _line(drawn: Drawn) -> Line:
    ends = (drawn.x1, drawn.y1, drawn.x2, drawn.y2)
    if None in ends:
        raise CannotRecord("no_line", "a line has two ends; draw it from one to the other")
    return Line(*(float(x or 0) for x in ends))


def _sound(connection: Connection, photo: UUID, drawn: Drawn) -> None:
    """Raises CannotRecord for a line that means nothing."""
    if drawn.type and drawn.type not in debris_types():
        raise CannotRecord("unknown_word", f"{drawn.type!r} is no type of debris")
    if drawn.kind == "withdraw":
        known = {r["id"] for r in rows(connection, "picture_lines", photos=[photo])}
        if drawn.withdraws not in known:
            raise CannotRecord("unknown_record", "there is no such line on this picture")
        return
    try:
        if drawn.kind == "scale":
            Scale(_line(drawn), drawn.known_mm or 0.0, drawn.known_sd_mm or 0.0)
            return
        lines = rows(connection, "picture_lines", photos=[photo])
        scale = scale_of([_drawn(r) for r in lines])
        if scale is None:
            raise CannotRecord("no_scale", "set the scale first: along something of known size")
        measured_mm(_line(drawn), scale)
    except CoreError as error:
        raise CannotRecord(error.code, str(error)) from error


def draw(connection: Connection, photo: UUID, drawn: Drawn, who: str) -> None:
    """Keep a line; sent twice it is kept once. Raises NotThere for a photograph nobody took."""
    if row(connection, "photo_there", id=photo) is None:
        raise NotThere("there is no such photograph")
    if row(connection, "picture_line_there", id=drawn.id) is not None:
        return
    _sound(connection, photo, drawn)
    gone = drawn.kind == "withdraw"
    scale = drawn.kind == "scale"
    insert(
        connection,
        "picture_line",
        {
            "id": drawn.id,
            "photo_id": photo,
            "kind": drawn.kind,
            "type": drawn.type if drawn.kind == "particle" else "",
            **{k: None if gone else getattr(drawn, k) for k in ("x1", "y1", "x2", "y2")},
            "known_mm": drawn.known_mm if scale else None,
            "known_sd_mm": (drawn.known_sd_mm or 0.0) if scale else None,
            "known_from": drawn.known_from.strip() if scale else "",
            "withdraws": drawn.withdraws if gone else None,
            "drawn_by": who,
        },
    )
    look = row(connection, "look_of_photo", id=photo)
    if look is not None:  # a measured piece counts
        judge_one(connection, look["engine_id"])


def _drawn(r: Row) -> DrawnLine:
    return DrawnLine(
        kind=r["kind"],
        type=r["type"],
        line=Line(r["x1"], r["y1"], r["x2"], r["y2"]),
        known_mm=r["known_mm"],
        known_sd_mm=r["known_sd_mm"],
    )


def lines_of(connection: Connection, photos: list[UUID]) -> dict[UUID, list[LineOut]]:
    """Photograph → its lines that hold, oldest first; each particle with its length, the half width
    of its 95 % interval and its size class by the newest scale."""
    out: dict[UUID, list[Row]] = {p: [] for p in photos}
    for r in rows(connection, "picture_lines", photos=photos):
        out[r["photo_id"]].append(r)
    return {
        photo: [_out(r, scale_of([_drawn(x) for x in listed])) for r in listed]
        for photo, listed in out.items()
    }


def _out(r: Row, scale: Scale | None) -> LineOut:
    found = measured_by(_drawn(r), scale)
    return answer(
        LineOut,
        r,
        mm=found.mm if found else None,
        half=found.half if found else None,
        size_class=found.size_class if found else "",
    )
