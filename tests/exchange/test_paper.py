"""Charts and tables on paper: scaled to what happened, nothing of a name taken for markup."""

from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.exchange.paper import HIGH, WIDE, Dot, chart, table

DOTS = [Dot(100, 4.0, below=True), Dot(200, 6.0), Dot(300, 9.0, level=2)]


def test_a_non_detect_is_an_open_mark_and_a_raised_one_has_its_colour() -> None:
    drawn = chart("Iron", DOTS, [("Watch", 8.0), ("Act", 50.0)], "ppm")
    assert drawn.count('fill="#fff"') == 1
    assert drawn.count("<circle") == 3
    assert "Watch 8</text>" in drawn
    assert "Act 50 ↑" in drawn  # outside what happened: named, not drawn to scale
    assert "stroke-dasharray" in drawn
    assert drawn.count("stroke-dasharray") == 1


@given(
    st.lists(
        st.tuples(st.floats(0, 1e6), st.floats(0, 1e6), st.booleans()), min_size=1, max_size=40
    ),
    st.lists(st.floats(0, 1e6), max_size=3),
)
def test_every_mark_lies_on_the_chart(
    rows: list[tuple[float, float, bool]], limits: list[float]
) -> None:
    dots = [Dot(at, value, below) for at, value, below in sorted(rows)]
    drawn = chart("x", dots, [("Act", x) for x in limits], "ppm")
    marks = [m.split('"') for m in drawn.split("<circle ")[1:]]
    assert len(marks) == len(dots)
    for m in marks:
        assert 0 <= float(m[1]) <= WIDE
        assert 0 <= float(m[3]) <= HIGH
    assert "nan" not in drawn


def test_a_name_is_no_markup() -> None:
    hostile = "<script>alert(1)</script>"
    made = table(("a",), [[hostile]]) + chart(hostile, DOTS, [(hostile, 5.0)], hostile)
    assert "<script" not in made


def test_nothing_to_draw_is_nothing() -> None:
    assert chart("Iron", [], [], "ppm") == ""
