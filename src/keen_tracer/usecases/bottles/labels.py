"""Numbers handed out on printed labels, and photographs of what is in the log."""

import hashlib
from pathlib import Path
from uuid import UUID

from ...exchange.labels import Label, font_file, label_sheet
from ...exchange.pictures import BadPicture, Picture, reencoded
from ...storage.db import Connection
from ...storage.records import number, row, rows, run
from ..answers.from_rows import answers
from ..answers.record import PhotoOut
from ..errors import CannotRecord, NotThere

MOST = 500


def print_run(connection: Connection, engines: list[str], spare: int, who: str) -> dict[str, int]:
    """Hand out numbers: one for each engine in their order, and some spare ones. They are never
    handed out again."""
    pieces = len(engines) + spare
    if not 0 < pieces <= MOST:
        raise CannotRecord("no_labels", f"a sheet takes 1 to {MOST} labels")
    first = number(connection, "last_label") + 1
    made = row(connection, "label_run_put", first=first, pieces=pieces, engines=engines, by=who)
    assert made is not None
    return {"id": made["id"], "first": first, "last": first + pieces - 1}


def run_labels(connection: Connection, run_id: int) -> list[Label]:
    """The labels of a run, the same each time it is printed. Raises NotThere."""
    found = row(connection, "label_run", id=run_id)
    if found is None:
        raise NotThere("there is no such sheet of labels")
    names = [
        f"{code} {name}".strip()
        for code, name in zip(found["engines"], found["names"], strict=True)
    ]
    names += [""] * (found["pieces"] - len(names))
    return [Label(str(found["first"] + n), name) for n, name in enumerate(names)]


def sheet(wanted: list[Label], pages: Path) -> bytes:
    """Labels as PDF; takes a second, and no connection."""
    return label_sheet(wanted, font_file(pages))


def label_for(connection: Connection, engine: str) -> int:
    """The label to offer for an engine: the one printed for it, else a spare printed one, else the
    next number."""
    unused = rows(connection, "labels_unused")
    for wanted in (engine, ""):
        found = next((r["code"] for r in unused if r["engine"] == wanted), None)
        if found:
            return int(found)
    return number(connection, "last_label") + 1


def photograph(data: bytes) -> Picture:
    """A photograph as it is kept; takes a second, and no connection. Raises CannotRecord."""
    try:
        return reencoded(data)
    except BadPicture as bad:
        raise CannotRecord("bad_picture", str(bad)) from bad


def add_photo(
    connection: Connection, key: UUID, log: UUID, kept: Picture, caption: str, who: str
) -> str:
    """Keep a photograph with a log row; sent twice it is kept once. Returns its hash."""
    if row(connection, "log_row", id=log) is None:
        raise CannotRecord("unknown_record", "there is no such record; send the bottle first")
    digest = hashlib.sha256(kept.content).hexdigest()
    run(
        connection,
        "attachment_put",
        sha256=digest,
        media=kept.media,
        width=kept.width,
        height=kept.height,
        content=kept.content,
        small=kept.small,
    )
    run(
        connection,
        "photo_put",
        id=key,
        log=log,
        sha256=digest,
        caption=caption.strip()[:200],
        by=who,
        at=None,
    )
    return digest


def photos(connection: Connection, engine: int) -> list[PhotoOut]:
    """An engine's photographs, oldest first; spots of the blotter stand beside earlier ones."""
    return sorted(
        answers(PhotoOut, rows(connection, "photos_of_engine", engine=engine)),
        key=lambda p: (p["on_date"], p["sha256"]),
    )
