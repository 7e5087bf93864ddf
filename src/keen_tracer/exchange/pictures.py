"""Photographs in: decoded, turned upright, made smaller, written again as JPEG. Place, camera and
time stay behind."""

import io
import threading
from dataclasses import dataclass

from PIL import Image, ImageOps, UnidentifiedImageError

LONGEST = 1600  # pixels of the longer side; our choice
MOST_PIXELS = 25_000_000  # our choice: what a telephone makes; opened it takes four bytes each
FORMATS = ("JPEG", "PNG", "WEBP")
# An opened picture takes a hundred megabytes: two at once are none faster, and four are too many.
_one_at_a_time = threading.Lock()


class BadPicture(ValueError):
    """A file that is no photograph, or one too large to be opened."""


@dataclass(frozen=True, slots=True)
class Picture:
    """A photograph as it is kept."""

    content: bytes
    width: int
    height: int
    media: str = "image/jpeg"


def reencoded(data: bytes) -> Picture:
    """The photograph in `data` as an upright JPEG without any of its metadata. Raises
    BadPicture."""
    with _one_at_a_time:
        return _reencoded(data)


def _reencoded(data: bytes) -> Picture:
    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as check:
            check.verify()
        with Image.open(io.BytesIO(data), formats=FORMATS) as found:
            if found.width * found.height > MOST_PIXELS:
                raise BadPicture(
                    f"the picture has {found.width} x {found.height} points; take it smaller"
                )
            upright = ImageOps.exif_transpose(found).convert("RGB")
    except (UnidentifiedImageError, OSError, SyntaxError, Image.DecompressionBombError) as error:
        raise BadPicture(
            "this is no photograph the program can open; send a JPEG, PNG or WebP"
        ) from error
    upright.thumbnail((LONGEST, LONGEST))
    out = io.BytesIO()
    clean = Image.new("RGB", upright.size)
    clean.paste(upright)
    clean.save(out, "JPEG", quality=85, optimize=True)
    return Picture(out.getvalue(), *clean.size)
