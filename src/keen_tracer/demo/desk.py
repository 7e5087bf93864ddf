"""The last weeks at the resort's bench: bottles under way, one lost, one without an engine, field
checks, a stray report.

Everything goes through the same use cases as a person's clicks. Invented, like the rest of the
resort.
"""

import io
import tempfile
from collections.abc import Sequence
from datetime import date, timedelta
from pathlib import Path
from uuid import NAMESPACE_URL, UUID, uuid5

import numpy as np
from PIL import Image, ImageDraw, ImageFilter

from ..core.roles import anybody
from ..standins.laboratory import BottleIn, Laboratory, analyse
from ..standins.tray_pictures import tray_picture
from ..storage.db import Connection
from ..storage.records import number, row
from ..usecases.bottles import labels, steps
from ..usecases.importing.files import run_import
from ..usecases.pages.inspect import looks
from ..usecases.recording.log_rows import Bottle, Event, record_event, register_bottle
from ..usecases.recording.pictures import Drawn, LineKind, draw
from .cases import tell_cases
from .opened import open_engine
from .resort import PEOPLE
from .simulator import LABORATORIES

TECHNICIAN = PEOPLE[1][0]
NEAR, FAR = LABORATORIES["valley"], LABORATORIES["coast"]
# Engine, days ago drawn, days ago sent (or None), laboratory.
UNDER_WAY: Sequence[tuple[str, int, int | None, Laboratory]] = (
    ("G-03", 2, None, NEAR),
    ("S-01", 1, None, NEAR),
    ("G-08", 4, 3, NEAR),
    ("S-02", 24, 23, FAR),
)


def _id(*parts: object) -> UUID:
    return uuid5(NAMESPACE_URL, "skarrow/desk/" + "/".join(map(str, parts)))


class Desk:
    """The bench on the last day of the demo."""

    def __init__(self, connection: Connection, end: date):
        self.c, self.end = connection, end

    def ago(self, days: int) -> date:
        return self.end - timedelta(days=days)

    def draw(self, engine: str, days: int, level: float = 0.8) -> str:
        """A bottle drawn some days ago, at the meter as it stood then."""
        code = str(number(self.c, "last_label") + 1)
        register_bottle(
            self.c,
            Bottle(
                id=_id("draw", engine, days),
                sample=code,
                engine=engine,
                on=self.ago(days),
                dial=self.dial(engine, self.ago(days)),
                appearance="dark",
                level_on_stick=level,
                method="valve" if engine.startswith("G") else "vacuum",
            ),
            TECHNICIAN,
        )
        return code

    def dial(self, engine: str, on: date) -> float:
        """The meter on a day, in proportion between the readings on either side of it."""
        k = row(self.c, "dial_on", engine=engine, on=on)
        assert k is not None
        if k["after"] is None:
            return float(k["before"])
        share = (on - k["before_on"]).days / (k["after_on"] - k["before_on"]).days
        return round(float(k["before"] + (k["after"] - k["before"]) * share), 1)

    def step(self, code: str, what: str, days: int, laboratory: str = "") -> None:
        steps.step(
            self.c, [code], what, self.ago(days), laboratory, "", [_id(what, code)], TECHNICIAN
        )

    def report(
        self, code: str, laboratory: Laboratory, number_: str, on: date, columns: Sequence[str] = ()
    ) -> None:
        """A report comes in as a file; with `columns`, only part of one."""
        figures = analyse(BottleIn(code, 0.5), np.random.default_rng(int(number_)), laboratory)
        lines = ["laboratory,report,sample,analyte,reading,analysed_on"]
        lines += [
            f"{laboratory.name},{number_},{code},{k},{v},{on}"
            for k, v in figures.items()
            if not columns or k in columns
        ]
        with tempfile.TemporaryDirectory(prefix="keen-demo-") as folder:
            file = Path(folder) / "readings.csv"
            file.write_text("\n".join(lines) + "\n", encoding="utf-8")
            found = run_import(self.c, [(f"readings-{number_}.csv", file)], anybody("demo"))
        if not found.written:
            raise RuntimeError(f"the demo's own report was refused: {found.problems[0]}")

    def check(
        self,
        engine: str,
        days: int,
        check: str,
        result: str,
        photo: bytes | None = None,
        note: str = "",
    ) -> None:
        key = _id("check", engine, days)
        record_event(
            self.c,
            Event(
                id=key,
                engine=engine,
                on=self.ago(days),
                kind="field_check",
                part=check,
                note=note,
                details={"result": result},
            ),
            TECHNICIAN,
        )
        if photo:
            kept = labels.photograph(photo)
            labels.add_photo(self.c, _id("photo", engine, days), key, kept, "", TECHNICIAN)


def blotter_spot(seed: int, core: int) -> bytes:
    """A drawn picture of a drop on filter paper: `core` is how dark its middle is, 0 to 255."""
    rng = np.random.default_rng(seed)
    picture = Image.new("RGB", (640, 640), (238, 234, 224))
    pen = ImageDraw.Draw(picture)
    for radius, shade in ((270, 196), (215, 150), (150, 120), (90, core)):
        r = radius + int(rng.integers(-10, 10))
        pen.ellipse((320 - r, 320 - r, 320 + r, 320 + r), fill=(shade, shade - 6, shade - 16))
    out = io.BytesIO()
    picture.filter(ImageFilter.GaussianBlur(14)).save(out, "PNG")
    return out.getvalue()


def fill_desk(connection: Connection, end: date) -> None:
    """Everything on the bench."""
    desk = Desk(connection, end)
    for engine, drawn, sent, laboratory in UNDER_WAY:
        code = desk.draw(engine, drawn)
        if sent is not None:
            desk.step(code, "sent", sent, laboratory.name)
    lost = desk.draw("P-04", 12)
    desk.step(lost, "sent", 11, NEAR.name)
    desk.step(lost, "lost", 3)
    partial = desk.draw("U-06", 10)
    desk.step(partial, "sent", 9, NEAR.name)
    desk.report(
        partial,
        NEAR,
        "88140",
        desk.ago(5),
        ("Fe_ppm", "Cr_ppm", "Cu_ppm", "Al_ppm", "Si_ppm", "Na_ppm"),
    )
    stray = f"{number(connection, 'last_label') + 1}A"
    desk.report(stray, NEAR, "88152", desk.ago(2))
    steps.park(
        connection,
        Bottle(
            id=_id("parked"),
            sample=str(number(connection, "last_label") + 1),
            engine="old pump behind the kiosk",
            on=desk.ago(1),
            dial=812.0,
        ),
        {
            "id": str(_id("parked")),
            "sample": str(number(connection, "last_label") + 1),
            "on": desk.ago(1).isoformat(),
            "engine": "old pump behind the kiosk",
            "dial": 812.0,
            "appearance": "dark",
        },
        TECHNICIAN,
    )
    desk.check("S-04", 1, "crackle", "bubbles", note="two tries, the same")
    for days, core in ((170, 88), (92, 76), (3, 52)):
        desk.check("G-08", days, "blotter", "even", blotter_spot(days, core))
    pictures_of_looks(desk)
    open_engine(connection, end, TECHNICIAN)
    tell_cases(connection, end)


# Engine, days ago, what lies on the tray: (type, mm).
TRAYS: Sequence[tuple[str, int, tuple[tuple[str, float], ...]]] = (
    ("G-07", 190, (("copper_flakes", 0.3), ("fuzz", 0.2), ("fuzz", 0.3), ("copper_flakes", 0.4))),
    (
        "G-07",
        3,
        (
            *(("copper_flakes", mm) for mm in (0.6, 0.3, 0.9, 0.2, 0.4, 0.5, 0.8, 0.3, 0.4, 0.7)),
            *(("fuzz", 0.3),) * 6,
        ),
    ),
    ("P-05", 299, (("part_fragment", 4.0),)),
)
PIN_MM = 10.0


def pictures_of_looks(desk: Desk) -> None:
    """Photographs of what lay in filters and on a strainer, a pin of known length beside the
    pieces, with the scale set and the largest piece measured."""
    for n, (engine, days, pieces) in enumerate(TRAYS):
        log = looked_at(desk.c, engine, desk.ago(days))
        if log is None:
            continue
        drawn = tray_picture(n, pieces, pin_mm=PIN_MM, px_per_mm=90.0)
        photo = _id("tray", engine, days)
        kept = labels.photograph(drawn.jpeg)
        labels.add_photo(desk.c, photo, log, kept, "pin of 10 mm beside it", TECHNICIAN)
        largest = max(drawn.placed[1:], key=lambda p: p.mm)
        kinds: tuple[LineKind, ...] = ("scale", "particle")
        for what, piece in zip(kinds, (drawn.placed[0], largest), strict=True):
            line = Drawn(
                id=_id(what, engine, days),
                kind=what,
                type="" if what == "scale" else piece.type,
                **{k: round(getattr(piece, k), 1) for k in ("x1", "y1", "x2", "y2")},
                known_mm=PIN_MM if what == "scale" else None,
                known_sd_mm=0.1 if what == "scale" else None,
                known_from="a pin" if what == "scale" else "",
            )
            draw(desk.c, photo, line, TECHNICIAN)


def looked_at(connection: Connection, engine: str, on: date) -> UUID | None:
    """The look at an engine that day, None where there was none."""
    listed = [x for x in looks(connection, engine) if x["on_date"] == on]
    return UUID(str(listed[0]["id"])) if listed else None
