"""Charts and tables on paper: scaled to what happened, nothing of a name taken for markup."""

from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.exchange.paper import HIGH, WIDE, Dot, chart, table

LIMITS = (8.0, 50.0)
DOTS = [
    Dot(100, 4.0, below=True, limits=(6.0, 50.0)),
    Dot(200, 6.0, limits=LIMITS, band=(3.0, 7.0)),
    Dot(300, 9.0, level=2, limits=LIMITS, band=(4.0, 90.0)),
]


def test_a_non_detect_is_an_open_mark_and_a_raised_one_has_its_colour() -> None:
    drawn = chart("Iron", DOTS, ("Watch", "Act"), "ppm")
    assert drawn.count('fill="#fff"') == 1
    assert drawn.count("<circle") == 3
    assert "Watch 8</text>" in drawn
    assert "Act 50 ↑" in drawn  # outside what happened: named, not drawn to scale
    assert "stroke-dasharray" in drawn
    # One limit with a step: 6 at the first reading, 8 from then on.
    assert drawn.count("stroke-dasharray") == 1
    assert drawn.split('<path d="')[1].split('"')[0].count("V") == 1
    assert drawn.count("<polygon") == 1


def test_of_many_readings_every_one_is_drawn_the_quiet_ones_in_one_stroke() -> None:
    dots = [Dot(n, 5.0 + n % 3, below=n % 50 == 0, level=2 * (n % 70 == 1)) for n in range(300)]
    drawn = chart("Iron", dots, (), "ppm")
    loud = sum(d.below or bool(d.level) for d in dots)
    assert drawn.count("<circle") == loud
    stroke = next(p for p in drawn.split("<path ") if "linecap" in p)
    assert stroke.split('"')[1].count("M") == len(dots) - loud


@given(
    st.lists(
        st.tuples(st.floats(0, 1e6), st.floats(0, 1e6), st.booleans()), min_size=1, max_size=40
    ),
    st.lists(st.floats(0, 1e6), max_size=3),
)
def test_every_mark_lies_on_the_chart(
    rows: list[tuple[float, float, bool]], limits: list[float]
) -> None:
    bands = [None, *((x / 2, x) for x in limits)]
    dots = [
        Dot(at, value, below, limits=tuple(limits), band=bands[n % len(bands)])
        for n, (at, value, below) in enumerate(sorted(rows))
    ]
    drawn = chart("x", dots, ["Act"] * len(limits), "ppm")
    marks = [m.split('"') for m in drawn.split("<circle ")[1:]]
    assert len(marks) == len(dots)
    for m in marks:
        assert 0 <= float(m[1]) <= WIDE
        assert 0 <= float(m[3]) <= HIGH
    assert "nan" not in drawn
    for ribbon in drawn.split('<polygon points="')[1:]:
        for corner in ribbon.split('"')[0].split():
            x, y = map(float, corner.split(","))
            assert 0 <= x <= WIDE
            assert 0 <= y <= HIGH


def test_a_name_is_no_markup() -> None:
    hostile = "<script>alert(1)</script>"
    made = table(("a",), [[hostile]]) + chart(hostile, DOTS, (hostile, hostile), hostile)
    assert "<script" not in made


def test_nothing_to_draw_is_nothing() -> None:
    assert chart("Iron", [], (), "ppm") == ""
