"""What was measured on the photographs of a look counts: a piece on a picture was there."""

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from ..record import DebrisCount
from .measuring import Line, Measured, Scale, measured_mm


@dataclass(frozen=True, slots=True, kw_only=True)
class DrawnLine:
    """A line somebody drew and nobody took back: `kind` "scale" with the size it lies along, or
    "particle" with its type, "" where nobody said which."""

    kind: str
    line: Line
    type: str = ""
    known_mm: float | None = None
    known_sd_mm: float | None = None


def scale_of(lines: Sequence[DrawnLine]) -> Scale | None:
    """The scale that holds for a picture, the newest of its lines in the order drawn."""
    held = [x for x in lines if x.kind == "scale"]
    if not held:
        return None
    return Scale(held[-1].line, held[-1].known_mm or 0.0, held[-1].known_sd_mm or 0.0)


def measured_by(line: DrawnLine, scale: Scale | None) -> Measured | None:
    """The length of a particle's line; None for a scale, or before there is one."""
    if line.kind != "particle" or scale is None:
        return None
    return measured_mm(line.line, scale)


def measured_pieces(pictures: Iterable[Sequence[DrawnLine]]) -> Counter[tuple[str, str]]:
    """(type, size class) → how many pieces of it were measured on the pictures of a look."""
    found: Counter[tuple[str, str]] = Counter()
    for lines in pictures:
        scale = scale_of(lines)
        for line in lines:
            measured = measured_by(line, scale)
            if measured is not None and line.type:
                found[line.type, measured.size_class] += 1
    return found


def with_measured(
    counts: Sequence[DebrisCount], measured: Counter[tuple[str, str]]
) -> tuple[DebrisCount, ...]:
    """Counts of a look in which every class has at least what was measured of it: who counted ten
    of a small size and measured one larger found one larger.

    >>> counts = [DebrisCount("copper_flakes", "0.1-0.5", 10)]
    >>> with_measured(counts, Counter({("copper_flakes", "0.5-1"): 1}))[1].size_class
    '0.5-1'
    """
    left = Counter(measured)
    out = []
    for c in counts:
        n = left.pop((c.type, c.size_class), 0)
        out.append(replace(c, count=max(c.count, n)) if n else c)
    out += [DebrisCount(kind, size, n) for (kind, size), n in sorted(left.items())]
    return tuple(out)
