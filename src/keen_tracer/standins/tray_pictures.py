"""Pictures of a tray, drawn: filter paper with flakes of known size and a pin of known length, for
the demo and as truth to measure against. Everything on them is invented."""

import io
from dataclasses import dataclass
from math import cos, radians, sin

import numpy as np
from PIL import Image, ImageDraw, ImageFilter

PAPER, PLEAT = (216, 201, 166), (195, 178, 138)
COLOURS = {
    "copper_flakes": (181, 98, 43),
    "bright_flakes": (190, 197, 201),
    "slivers": (74, 81, 87),
    "fuzz": (70, 72, 76),
}


@dataclass(frozen=True, slots=True)
class Placed:
    """A piece in a drawn picture: its longest line in points of the picture, and its length [mm].
    The pin is of type "pin"."""

    type: str
    x1: float
    y1: float
    x2: float
    y2: float
    mm: float


@dataclass(frozen=True, slots=True)
class TrayPicture:
    """A drawn picture as JPEG, with what lies on it, the pin first."""

    jpeg: bytes
    width: int
    height: int
    placed: tuple[Placed, ...]


def _line(
    rng: np.random.Generator, mm: float, px_per_mm: float, width: int, height: int
) -> tuple[float, float, float, float]:
    """A line of that length, turned at random, inside the picture."""
    turn, half = radians(rng.uniform(0, 180)), mm * px_per_mm / 2
    dx, dy = abs(half * cos(turn)) + 8, abs(half * sin(turn)) + 8
    x, y = rng.uniform(dx, width - dx), rng.uniform(dy, height - dy)
    return (
        x - half * cos(turn),
        y - half * sin(turn),
        x + half * cos(turn),
        y + half * sin(turn),
    )


def _piece(draw: ImageDraw.ImageDraw, p: Placed) -> None:
    ax, ay = p.x2 - p.x1, p.y2 - p.y1
    wide = 0.06 if p.type == "slivers" else 0.3
    nx, ny = -ay * wide, ax * wide
    mx, my = (p.x1 + p.x2) / 2, (p.y1 + p.y2) / 2
    draw.polygon(
        [(p.x1, p.y1), (mx + nx, my + ny), (p.x2, p.y2), (mx - nx, my - ny)],
        fill=COLOURS.get(p.type, (40, 40, 40)),
    )


def tray_picture(
    seed: int,
    pieces: tuple[tuple[str, float], ...],
    pin_mm: float = 30.0,
    px_per_mm: float = 30.0,
    width: int = 1600,
    height: int = 1200,
) -> TrayPicture:
    """A picture with pieces of (type, length [mm]) on pleated paper and a pin of known length.

    The camera is straight above; `px_per_mm` is what a person has to find out by the pin.
    """
    rng = np.random.default_rng(seed)
    image = Image.new("RGB", (width, height), PAPER)
    draw = ImageDraw.Draw(image)
    for x in range(0, width, 70):
        draw.rectangle((x, 0, x + 28, height), fill=PLEAT)
    for _ in range(width // 8):
        at, down = rng.uniform(0, width), rng.uniform(0, height)
        draw.ellipse((at, down, at + 2, down + 2), fill=COLOURS["fuzz"])
    named = (("pin", pin_mm), *pieces)
    placed = tuple(Placed(t, *_line(rng, mm, px_per_mm, width, height), mm) for t, mm in named)
    for p in placed[1:]:
        _piece(draw, p)
    pin = placed[0]
    draw.line((pin.x1, pin.y1, pin.x2, pin.y2), fill=(30, 30, 34), width=6)
    out = io.BytesIO()
    image.filter(ImageFilter.GaussianBlur(0.8)).save(out, "JPEG", quality=88)
    return TrayPicture(out.getvalue(), width, height, placed)
