"""The place where people look: engines to choose, the tray of one, a look that was kept."""

from collections import Counter
from collections.abc import Iterable
from uuid import UUID

from ...core.record import debris_types, place_words
from ...core.terms import DEBRIS_AMOUNTS, DEBRIS_PLACES
from ...core.words import event_words
from ...storage import fleet
from ...storage.db import Connection
from ...storage.records import Row, row, rows
from ..answers.from_rows import answer
from ..answers.inspect import (
    EarlierPicture,
    LineOut,
    LookLine,
    LookOut,
    MeasuredOut,
    OwnPicture,
    PictureBeside,
)
from ..errors import NotThere
from ..recording.looks import says
from ..recording.pictures import lines_of

SHOWN = 60


def _found_words(counts: list[Row]) -> str:
    """What a look found in one line: types with their counts, the largest counts first."""
    by_type: dict[str, int] = {}
    amounts: dict[str, str] = {}
    for x in counts:
        by_type[x["type"]] = by_type.get(x["type"], 0) + x["count"]
        if x["amount"]:
            amounts[x["type"]] = DEBRIS_AMOUNTS[x["amount"]]
    said = [
        f"{debris_types()[t].words} {n or amounts.get(t, '')}".strip()
        for t, n in sorted(by_type.items(), key=lambda x: -x[1])
    ]
    return ", ".join(said) or "nothing"


def looks(connection: Connection, engine: str | None) -> list[LookLine]:
    """The newest looks, of the fleet or of one engine, each with what it found in a line."""
    key = None
    if engine is not None:
        found = row(connection, "engine_by_code", code=engine)
        if found is None:
            raise NotThere(f"there is no engine {engine}")
        key = found["id"]
    listed = rows(connection, "newest_looks", engine=key, n=SHOWN)
    counts: dict[UUID, list[Row]] = {}
    for x in rows(connection, "counts_of_looks", ids=[r["id"] for r in listed]):
        counts.setdefault(x["log_id"], []).append(x)
    return [answer(LookLine, r, found=_found_words(counts.get(r["id"], []))) for r in listed]


def look(connection: Connection, key: UUID) -> LookOut:
    """One look with its counts, its pictures and the lines on them, and what it says. Raises
    NotThere."""
    found = row(connection, "look_of", id=key)
    if found is None:
        raise NotThere("there is no such look, or it was taken back")
    history = fleet.load(connection, [found["engine_id"]], {}, figures=False).fleet.histories[0]
    pictures = rows(connection, "photos_of_log", log=key)
    earlier = rows(connection, "earlier_pictures", engine=found["engine_id"], log=key)
    lines = lines_of(connection, [p["id"] for p in (*pictures, *earlier)])
    return answer(
        LookOut,
        found,
        counts=rows(connection, "counts_of_looks", ids=[key]),
        measured=_measured(lines[p["id"]] for p in pictures),
        pictures=[answer(OwnPicture, p, lines=lines[p["id"]]) for p in pictures],
        earlier=[answer(EarlierPicture, p, lines=lines[p["id"]]) for p in earlier],
        tells=says(connection, found["engine_id"], history, str(key)),
    )


def _measured(pictures: Iterable[list[LineOut]]) -> list[MeasuredOut]:
    """How many of each type and size were measured on the pictures of a look."""
    found = Counter(
        (x["type"], x["size_class"])
        for lines in pictures
        for x in lines
        if x["type"] and x["size_class"]
    )
    return [{"type": t, "size_class": s, "count": n} for (t, s), n in sorted(found.items())]


def _said(r: Row) -> str:
    """What a photograph is of, in words."""
    if r.get("place"):
        return DEBRIS_PLACES[r["place"]]
    if r["kind"] == "finding":
        return place_words(r["part"], r["details"])
    return event_words(r["kind"], r["part"], "", r["details"])


def picture(connection: Connection, key: UUID) -> PictureBeside:
    """One photograph of an engine with its lines, and the engine's others to lay beside it. Raises
    NotThere."""
    found = row(connection, "picture_beside", id=key)
    if found is None:
        raise NotThere("there is no such photograph, or its record was taken back")
    others = rows(connection, "other_pictures", engine=found["engine_id"], photo=key)
    lines = lines_of(connection, [key, *(p["id"] for p in others)])
    return {
        "engine": found["engine"],
        "engine_name": found["engine_name"],
        "on": found["on_date"],
        "words": _said(found),
        "note": found["note"],
        "picture": answer(OwnPicture, found, lines=lines[key]),
        "others": [
            answer(EarlierPicture, {**p, "place": _said(p)}, lines=lines[p["id"]]) for p in others
        ],
    }


def bag(connection: Connection, key: UUID) -> tuple[str, list[str]]:
    """What the label of a bag says: what its QR code holds, and its lines. Raises NotThere."""
    found = row(connection, "look_of", id=key)
    if found is None:
        raise NotThere("there is no such look, or it was taken back")
    place = DEBRIS_PLACES[found["place"]]
    meter = "" if found["dial"] is None else f", {found['dial']:g} {found['unit']}"
    said = _found_words(rows(connection, "counts_of_looks", ids=[key]))
    lines = [
        found["engine"],
        f"{found['engine_name']}, {place}".strip(", "),
        f"{found['on_date'].isoformat()}{meter}",
        said[:120],
        f"Kept by {found['by']}. Do not wash or sort.",
    ]
    return f"keen:look:{key}", lines
