"""Photographs and the lines on them in, as an export wrote them: the files lie in pictures/."""

import hashlib

from PIL import UnidentifiedImageError

from ...core.errors import CoreError
from ...core.inspection import Line, Scale
from ...exchange.csvfile import Cells, Row
from ...exchange.pictures import BadPicture, as_kept
from ...storage.bulk import insert
from ...storage.records import row, run
from .task import Task


def pictures(task: Task, part: list[Row]) -> None:
    """Rows of pictures.csv."""
    for r in part:
        c = r.cells
        engine = task.engine(c["engine"], r.number)
        if engine is None:
            continue
        if row(task.connection, "photo_there", id=c["picture"]) is not None:
            task.file.known += 1
            continue
        log = row(
            task.connection,
            "log_of_picture",
            engine=engine,
            on=c["on"],
            kind=c["kind"],
            look=c.get("look") or "",
        )
        if log is None:
            fix = "bring in events.csv, samples.csv and debris.csv with it"
            task.problem(r.number, "kind", "nothing of that kind is on record that day", fix)
        elif _content(task, r.number, c["sha256"]):
            run(
                task.connection,
                "photo_put",
                id=c["picture"],
                log=log["id"],
                sha256=c["sha256"],
                caption=(c.get("caption") or "")[:200],
                by=c["by"],
                at=c["at"],
            )
            task.file.added += 1


def _content(task: Task, at: int, sha256: str) -> bool:
    """Whether what a photograph holds is kept now; a problem where it is not there or not it."""
    if row(task.connection, "attachment_small", sha256=sha256) is not None:
        return True
    data = task.picture(sha256)
    if data is None:
        what = f"pictures/{sha256}.jpg does not lie beside this file"
        task.problem(at, "sha256", what, "give the whole zip of the export, or its folder")
        return False
    if hashlib.sha256(data).hexdigest() != sha256:
        task.problem(at, "sha256", "the picture beside it is another one", "export it again")
        return False
    try:
        kept = as_kept(data)
    except (BadPicture, UnidentifiedImageError) as bad:
        task.problem(at, "sha256", str(bad), "leave the row out")
        return False
    run(
        task.connection,
        "attachment_put",
        sha256=sha256,
        media=kept.media,
        width=kept.width,
        height=kept.height,
        content=kept.content,
        small=kept.small,
    )
    return True


def lines(task: Task, part: list[Row]) -> None:
    """Rows of lines.csv; a line comes before the row that takes it back."""
    for r in part:
        c = r.cells
        if row(task.connection, "picture_line_there", id=c["line"]) is not None:
            task.file.known += 1
            continue
        if row(task.connection, "photo_there", id=c["picture"]) is None:
            fix = "bring in pictures.csv with it"
            task.problem(r.number, "picture", "this photograph is not known", fix)
            continue
        wrong = _wrong(task, c)
        if wrong:
            task.problem(r.number, "kind", wrong, "correct the row")
            continue
        gone = c["kind"] == "withdraw"
        insert(
            task.connection,
            "picture_line",
            {
                "id": c["line"],
                "photo_id": c["picture"],
                "kind": c["kind"],
                "type": c.get("type") or "",
                **{k: None if gone else c.get(k) for k in ("x1", "y1", "x2", "y2")},
                "known_mm": c.get("known_mm") if c["kind"] == "scale" else None,
                "known_sd_mm": c.get("known_sd_mm") if c["kind"] == "scale" else None,
                "known_from": c.get("known_from") or "",
                "withdraws": c.get("withdraws") if gone else None,
                "drawn_by": c["by"],
                "drawn_at": c["at"],
            },
        )
        look = row(task.connection, "look_of_photo", id=c["picture"])
        if look is not None:  # a measured piece counts
            task.touched.add(look["engine_id"])
        task.file.added += 1


def _wrong(task: Task, cells: Cells) -> str:
    """Why a line means nothing; "" where it does."""
    if cells["kind"] == "withdraw":
        there = cells.get("withdraws") and row(
            task.connection, "picture_line_there", id=cells["withdraws"]
        )
        return "" if there else "it takes back a line that is not known"
    if None in (cells.get("x1"), cells.get("y1"), cells.get("x2"), cells.get("y2")):
        return "a line has two ends"
    if cells["kind"] == "scale":
        try:
            line = Line(cells["x1"], cells["y1"], cells["x2"], cells["y2"])
            Scale(line, cells.get("known_mm") or 0.0, cells.get("known_sd_mm") or 0.0)
        except CoreError as error:
            return str(error)
    return ""
