"""Lengths on a picture: by geometry, against drawn truth, and how far the stated interval holds."""

from math import hypot, inf, nan

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.errors import OutOfRange
from keen_tracer.core.inspection import (
    END_PX,
    DrawnLine,
    Line,
    Scale,
    measured_mm,
    measured_pieces,
    size_class,
    tilt_shortens,
    with_measured,
)
from keen_tracer.core.record import DebrisCount
from keen_tracer.core.terms import DEBRIS_SIZES
from keen_tracer.standins.tray_pictures import Placed, tray_picture

LENGTHS = (0.4, 0.8, 1.5, 2.5, 4.0)


def by_hand(rng: np.random.Generator, p: Placed) -> Line:
    """A line as a person draws it: every end off by a point or so."""
    off = rng.normal(0, END_PX, 4)
    return Line(p.x1 + off[0], p.y1 + off[1], p.x2 + off[2], p.y2 + off[3])


def test_a_length_by_a_scale_is_a_rule_of_three() -> None:
    # Ten millimetres are a thousand points, so 142 points are 1.42 mm.
    found = measured_mm(Line(10, 10, 10, 152), Scale(Line(0, 0, 600, 800), 10.0))
    assert found.mm == pytest.approx(1.42)
    assert found.size_class == "1-3"


def test_drawn_pieces_are_measured_within_two_per_cent_and_the_interval_holds() -> None:
    """500 lines on drawn pictures whose truth is known: mean error under 2 % of the length, and the
    stated 95 % interval covers it in 93 to 97 %."""
    rng = np.random.default_rng(11)
    errors, covered = [], 0
    pieces = tuple(("copper_flakes", mm) for mm in LENGTHS)
    for seed in range(100):
        picture = tray_picture(seed, pieces, pin_mm=20.0, px_per_mm=float(rng.uniform(25, 55)))
        pin, *rest = picture.placed
        # A pin of "30.0 mm" is that within a tenth.
        known = pin.mm + rng.normal(0, 0.1)
        scale = Scale(by_hand(rng, pin), known, 0.1)
        for p in rest:
            found = measured_mm(by_hand(rng, p), scale)
            errors.append(found.mm / p.mm - 1)
            covered += abs(found.mm - p.mm) <= found.half
    assert len(errors) == 500
    assert abs(float(np.mean(errors))) < 0.02
    large = [e for e, (_, mm) in zip(errors, pieces * 100, strict=True) if mm >= 1.5]
    assert float(np.mean(np.abs(large))) < 0.02
    assert 0.93 <= covered / 500 <= 0.97


def test_the_half_width_agrees_with_drawing_lots() -> None:
    """Monte Carlo after JCGM 101:2008 of the same errors."""
    rng = np.random.default_rng(3)
    line, scale = Line(100, 100, 160, 180), Scale(Line(0, 0, 900, 0), 30.0, 0.15)
    n = 200_000
    l_px = np.hypot(
        60 + rng.normal(0, END_PX, n) - rng.normal(0, END_PX, n),
        80 + rng.normal(0, END_PX, n) - rng.normal(0, END_PX, n),
    )
    s_px = 900 + rng.normal(0, END_PX, n) - rng.normal(0, END_PX, n)
    lots = l_px / s_px * rng.normal(30.0, 0.15, n)
    found = measured_mm(line, scale)
    assert found.half == pytest.approx(1.96 * lots.std(), rel=0.02)
    assert found.mm == pytest.approx(lots.mean(), rel=0.002)


@given(st.floats(0, 6.28), st.floats(-500, 500), st.floats(-500, 500), st.floats(20, 900))
def test_turning_or_shifting_a_picture_changes_no_length(
    turn: float, dx: float, dy: float, px: float
) -> None:
    def moved(line: Line) -> Line:
        c, s = np.cos(turn), np.sin(turn)
        ends = [
            (c * x - s * y + dx, s * x + c * y + dy)
            for x, y in ((line.x1, line.y1), (line.x2, line.y2))
        ]
        return Line(*ends[0], *ends[1])

    line, scale = Line(3, 4, 3 + px, 4), Line(10, 20, 710, 20)
    was = measured_mm(line, Scale(scale, 20.0))
    now = measured_mm(moved(line), Scale(moved(scale), 20.0))
    assert now.mm == pytest.approx(was.mm, rel=1e-9)
    assert now.half == pytest.approx(was.half, rel=1e-9)


@given(st.floats(0.011, 40))
def test_a_longer_piece_is_never_of_a_smaller_class(mm: float) -> None:
    sizes = list(DEBRIS_SIZES)
    assert sizes.index(size_class(mm)) <= sizes.index(size_class(mm * 1.5))


@pytest.mark.parametrize(
    "bad",
    [
        lambda: Scale(Line(0, 0, 100, 0), 0.0),
        lambda: Scale(Line(0, 0, 100, 0), nan),
        lambda: Scale(Line(0, 0, 100, 0), 10.0, 5.0),
        lambda: Scale(Line(0, 0, 1, 0), 10.0),
        lambda: measured_mm(Line(0, 0, 1, 1), Scale(Line(0, 0, 100, 0), 10.0)),
        lambda: measured_mm(Line(0, 0, nan, 1), Scale(Line(0, 0, 100, 0), 10.0)),
        lambda: size_class(0),
        lambda: size_class(inf),
        lambda: tilt_shortens(90),
    ],
)
def test_what_means_nothing_is_refused(bad) -> None:
    with pytest.raises(OutOfRange):
        bad()


def test_a_tilted_camera_is_a_limit_that_is_said() -> None:
    """A piece that runs away from a camera 20° off looks 6 % short, and the interval knows nothing
    of it: by geometry, and why the page says so."""
    mm, px_per_mm = 4.0, 40.0
    seen = mm * px_per_mm * (1 - tilt_shortens(20))
    found = measured_mm(Line(0, 0, 0, seen), Scale(Line(0, 0, 1200, 0), 30.0))
    assert found.mm == pytest.approx(mm * np.cos(np.radians(20)))
    assert mm - found.mm > found.half


def test_drawn_pieces_lie_where_they_are_said_to() -> None:
    picture = tray_picture(5, (("slivers", 6.0),), px_per_mm=20)
    for p in picture.placed:
        assert hypot(p.x2 - p.x1, p.y2 - p.y1) == pytest.approx(20 * p.mm)
        assert 0 < min(p.x1, p.x2) < max(p.x1, p.x2) < picture.width
        assert 0 < min(p.y1, p.y2) < max(p.y1, p.y2) < picture.height


# What was measured counts

SCALE = DrawnLine(kind="scale", line=Line(0, 0, 100, 0), known_mm=10.0, known_sd_mm=0.1)


def drawn(mm: float, kind: str = "copper_flakes") -> DrawnLine:
    return DrawnLine(kind="particle", line=Line(0, 50, 10 * mm, 50), type=kind)


def test_a_piece_on_a_picture_was_there() -> None:
    counts = [DebrisCount("copper_flakes", "1-3", 1), DebrisCount("fuzz", "", 0, "dusting")]
    measured = measured_pieces([[SCALE, drawn(1.5), drawn(2.0), drawn(4.0)], [drawn(2.0)]])
    # The second picture has no scale: nothing was measured on it.
    assert measured == {("copper_flakes", "1-3"): 2, ("copper_flakes", "over 3"): 1}
    assert with_measured(counts, measured) == (
        DebrisCount("copper_flakes", "1-3", 2),
        DebrisCount("fuzz", "", 0, "dusting"),
        DebrisCount("copper_flakes", "over 3", 1),
    )


def test_the_newest_scale_holds_and_a_line_of_no_type_counts_nothing() -> None:
    later = DrawnLine(kind="scale", line=Line(0, 0, 100, 0), known_mm=4.0)
    assert measured_pieces([[SCALE, drawn(2.0), later]]) == {("copper_flakes", "0.5-1"): 1}
    assert measured_pieces([[SCALE, drawn(2.0, "")]]) == {}


@given(st.lists(st.floats(0.6, 9), max_size=8), st.integers(0, 9))
def test_measuring_more_never_takes_a_piece_away(lengths: list[float], counted: int) -> None:
    counts = [DebrisCount("copper_flakes", "1-3", counted)]

    def total(listed: list[float]) -> int:
        measured = measured_pieces([[SCALE, *map(drawn, listed)]])
        return sum(c.count for c in with_measured(counts, measured))

    for n in range(len(lengths)):
        assert counted <= total(lengths[:n]) <= total(lengths[: n + 1])
