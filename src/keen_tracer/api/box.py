"""The demo's data in a box beside a person's own. This process owns no database: it asks the
launcher (`launcher/box.py`) and tells what became of it."""

import json
import os
from pathlib import Path
from typing import Literal

from fastapi import Request
from pydantic import BaseModel

from ..usecases.errors import CannotRecord
from .routers import reading_router

router = reading_router("/api/box")
BoxState = Literal["absent", "none", "filling", "ready", "closed", "emptying", "failed"]


class BoxOut(BaseModel):
    """The state of the box. `address`: where its pages are, once it is ready; `mine`: where the
    person's own data is, told inside the box; absent: nobody here could fill one."""

    state: BoxState
    said: str = ""
    address: str = ""
    mine: str = ""


class BoxWanted(BaseModel):
    want: Literal["fill", "empty"]


WANTED: dict[str, BoxState] = {"fill": "filling", "empty": "emptying"}


def _folder() -> Path | None:
    told = os.environ.get("KEEN_BOX")
    return Path(told) if told else None


@router.get("")
def get_box() -> BoxOut:
    folder, mine = _folder(), os.environ.get("KEEN_BOX_OF", "")
    if folder is None or not (folder / "state.json").exists():
        return BoxOut(state="absent")
    wanted = folder / "wanted"
    # What is wanted and not yet seen by the launcher is under way: a page that asks goes on asking.
    try:
        want = wanted.read_text(encoding="utf-8").partition(" ")[0]
        return BoxOut(state=WANTED[want], mine=mine)
    except FileNotFoundError:
        told = json.loads((folder / "state.json").read_text(encoding="utf-8"))
        return BoxOut(**told, mine=mine)


@router.post("")
def post_box(request: Request, body: BoxWanted) -> BoxOut:
    """Have the box filled with the demo's data, or emptied."""
    folder, now = _folder(), get_box()
    if folder is None or now.state == "absent":
        raise CannotRecord("no_box", "no box can be filled here: run ./keen demo")
    made = folder / "wanted.new"
    made.write_text(f"{body.want} {request.base_url}".rstrip("/"), encoding="utf-8")
    made.replace(folder / "wanted")
    return BoxOut(state=WANTED[body.want], mine=now.mine)
