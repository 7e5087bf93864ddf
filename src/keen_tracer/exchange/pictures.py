"""Photographs in: decoded, turned upright, made smaller, written again as JPEG. Place, camera and
time stay behind."""

import io
import threading
from dataclasses import dataclass

from PIL import Image, ImageOps, UnidentifiedImageError

LONGEST = 2400  # pixels of the longer side: enough to measure on; our choice
SMALL = 320  # of the copy that lists show; our choice
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
    small: bytes
    width: int
    height: int
    media: str = "image/jpeg"


def reencoded(data: bytes) -> Picture:
    """The photograph in `data` as an upright JPEG without any of its metadata. Raises
    BadPicture."""
    with _one_at_a_time:
        return _reencoded(data)


def as_kept(data: bytes) -> Picture:
    """A photograph that this program wrote once, as it is: a JPEG without metadata. Raises
    BadPicture for any other."""
    with _one_at_a_time:
        found = _reencoded(data)
        with Image.open(io.BytesIO(data), formats=("JPEG",)) as kept:
            if kept.getexif() or max(kept.size) > LONGEST:
                raise BadPicture("this is no photograph an export wrote; add it on its page")
            return Picture(data, found.small, *kept.size)


def _reencoded(data: bytes) -> Picture:
    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as check:
            check.verify()
        with Image.open(io.BytesIO(data), formats=FORMATS) as found:
            if found.width * found.height > MOST_PIXELS:
                raise BadPicture(
                    f"the picture has {found.width} x {found.height} points; take it smaller"
                )
            # A camera's JPEG is read at half or a quarter of its size where that is enough.
            found.draft("RGB", (LONGEST, LONGEST))
            upright = ImageOps.exif_transpose(found).convert("RGB")
    except (UnidentifiedImageError, OSError, SyntaxError, Image.DecompressionBombError) as error:
        raise BadPicture(
            "this is no photograph the program can open; send a JPEG, PNG or WebP"
        ) from error
    upright.thumbnail((LONGEST, LONGEST))
    kept = _jpeg(upright)
    width, height = upright.size
    upright.thumbnail((SMALL, SMALL))
    return Picture(kept, _jpeg(upright), width, height)


def _jpeg(picture: Image.Image) -> bytes:
    """Its points alone, as JPEG: a new picture has none of the old one's metadata."""
    out, clean = io.BytesIO(), Image.new("RGB", picture.size)
    clean.paste(picture)
    clean.save(out, "JPEG", quality=85)
    return out.getvalue()
