"""Two answers to one check that cannot both be right (VERDICT 4: the higher level stands until a
third figure settles it)."""

import pytest

from keen_tracer.core.record import build_time_line, contradictions, facts_of
from tests.helpers import Story, stated

LOW, EVEN = "very_low", "even"


def checked(*told: tuple[float, str]) -> Story:
    s = Story()
    for day, result in told:
        s.event(day, "field_check", 500, part="compression", details={"result": result})
    return s


def pairs(s: Story) -> int:
    line = build_time_line(s.fleet().histories[0])
    return len(contradictions(facts_of(s.engine, line), line))


@pytest.mark.parametrize(
    ("told", "level", "asked"),
    [
        ([(0, LOW), (0, EVEN)], 2, 1),
        ([(0, EVEN), (1, LOW)], 2, 1),
        ([(0, LOW), (1, EVEN), (2, EVEN)], 0, 0),
        ([(0, LOW), (1, EVEN), (2, LOW)], 2, 0),
        ([(0, EVEN), (1, LOW), (2, LOW)], 2, 0),
        ([(0, LOW), (30, EVEN)], 0, 0),
        ([(0, LOW), (1, LOW)], 2, 0),
    ],
)
def test_the_worse_answer_stands_until_a_third(told, level: int, asked: int) -> None:
    s = checked(*told)
    assert stated(s).level == level
    assert pairs(s) == asked


def test_what_was_done_between_explains_both() -> None:
    s = checked((0, LOW))
    s.event(1, "repair", 500, part="rings renewed")
    s.event(2, "field_check", 502, part="compression", details={"result": EVEN})
    assert stated(s).level == 0
    assert pairs(s) == 0


def test_what_is_seen_or_smelt_may_differ_from_day_to_day() -> None:
    s = Story()
    for day, result in ((0, "fuel"), (1, "usual")):
        s.event(day, "field_check", 500, part="smell", details={"result": result})
    assert pairs(s) == 0
