"""Lengths on a photograph: a scale from something of known size that lies in it, lines along
particles, and how well each is known.

The picture is taken from above. A camera tilted by an angle shortens what runs away from it by the
cosine of that angle and makes it smaller with distance; nothing in one picture tells, so the angle
is a limit that is said, not corrected (see `tilt_shortens`).
"""

from dataclasses import dataclass
from math import cos, hypot, inf, radians, sqrt

from ..bounds import check
from ..certainty import SURE
from ..errors import OutOfRange
from ..terms import DEBRIS_SIZES

# How far an end that is set by eye lies off, along the line, one sd in points of the kept picture;
# our choice: a finger under a magnifier, or a mouse, is good for a point or two.
END_PX = 1.2
SHORTEST_PX = 5.0  # under this the ends are the length; our choice
# Upper ends of the size classes [mm], in their order.
_UPPER = (0.1, 0.5, 1.0, 3.0, inf)


@dataclass(frozen=True, slots=True)
class Line:
    """From one end to the other, in points of the kept picture from its upper left corner."""

    x1: float
    y1: float
    x2: float
    y2: float

    @property
    def length(self) -> float:
        """In points. Turning or shifting a picture does not change it.

        >>> Line(0, 0, 3, 4).length
        5.0
        """
        return hypot(self.x2 - self.x1, self.y2 - self.y1)


@dataclass(frozen=True, slots=True)
class Scale:
    """A line along something of known size: `mm` with its own standard deviation."""

    line: Line
    mm: float
    sd_mm: float = 0.0

    def __post_init__(self) -> None:
        check("known_mm", self.mm)
        if not 0 <= self.sd_mm < self.mm / 2:
            raise OutOfRange("how well the known size is known", self.sd_mm, 0, self.mm / 2, "mm")
        if not self.line.length >= SHORTEST_PX:
            raise OutOfRange("length of the scale", self.line.length, SHORTEST_PX, inf, "points")

    @property
    def px_per_mm(self) -> float:
        return self.line.length / self.mm


@dataclass(frozen=True, slots=True)
class Measured:
    """A length [mm] with its 95 % half width, and the size class it falls into."""

    mm: float
    half: float
    size_class: str


def measured_mm(line: Line, scale: Scale, end_px: float = END_PX) -> Measured:
    """The length of a line by a scale of the same picture.

    Both ends of both lines are off by `end_px` along their line, and the known size by its own
    standard deviation: relative variances add (JCGM 100:2008, 5.1.6, a quotient). Raises OutOfRange
    for a line too short to mean anything.

    >>> found = measured_mm(Line(0, 0, 142, 0), Scale(Line(0, 50, 1000, 50), 10.0, 0.05))
    >>> round(found.mm, 2), round(found.half, 3), found.size_class
    (1.42, 0.036, '1-3')
    """
    if not SHORTEST_PX <= line.length < inf:
        raise OutOfRange("length of the line", line.length, SHORTEST_PX, inf, "points")
    mm = line.length / scale.px_per_mm
    relative = sqrt(
        2 * (end_px / line.length) ** 2
        + 2 * (end_px / scale.line.length) ** 2
        + (scale.sd_mm / scale.mm) ** 2
    )
    return Measured(mm, SURE * relative * mm, size_class(mm))


def size_class(mm: float) -> str:
    """The size class of a length.

    >>> size_class(0.5), size_class(0.49), size_class(7)
    ('0.5-1', '0.1-0.5', 'over 3')
    """
    if not 0 < mm < inf:
        raise OutOfRange("length", mm, 0, inf, "mm")
    return next(name for name, upper in zip(DEBRIS_SIZES, _UPPER, strict=True) if mm < upper)


def tilt_shortens(degrees: float) -> float:
    """Share by which a camera that looks past the vertical by an angle shortens what runs away from
    it. Raises OutOfRange outside 0 to 80 degrees.

    >>> [round(100 * tilt_shortens(a), 1) for a in (5, 10, 20)]
    [0.4, 1.5, 6.0]
    """
    if not 0 <= degrees <= 80:
        raise OutOfRange("tilt", degrees, 0, 80, "degrees")
    return 1 - cos(radians(degrees))
