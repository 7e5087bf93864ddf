"""What ends a fact: a later answer as far as it saw as much, work on the part it points to."""

from math import isnan

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from keen_tracer.core.record import (
    DebrisCount,
    DebrisLook,
    build_time_line,
    facts_of,
    hours_of_looks,
)
from keen_tracer.core.record.answers import with_later
from keen_tracer.core.words import sentence
from tests.helpers import Story, stated

TEN = ("bright_flakes", "0.5-1", 10)
DRAIN = 250.0  # h, nominal of the class of these stories
WATCH, ACT = 1, 2


def looked(s: Story, day: int, dial: float | None, *counts: tuple, **more: object) -> Story:
    fields = {"place": "filter", "share": 1.0, **more}
    look = DebrisLook(
        str(fields["place"]),
        "roller_cutter",
        float(str(fields["share"])),
        tuple(DebrisCount(*x) for x in counts),
    )
    return s.event(day, "look", dial, look=look)


def level(s: Story) -> int:
    found = stated(s).level
    return 0 if found is None else int(found)


def after_ten(*later: tuple[float, float]) -> Story:
    """Ten flakes of a filter of one drain, then clean looks: (hours, share seen) of each."""
    s = looked(Story(), 0, 1000.0 - DRAIN)
    looked(s, 1, 1000.0, TEN)
    dial = 1000.0
    for n, (hours, share) in enumerate(later):
        dial += hours
        looked(s, 10 * (n + 1), dial, share=share)
    return s


@pytest.mark.parametrize(
    ("later", "comes_to"),
    [
        ((), ACT),
        (((DRAIN, 1.0),), WATCH),
        (((DRAIN, 1.0), (DRAIN, 1.0)), 0),
        (((DRAIN, 0.25),), ACT),
        (((5.0, 1.0),), ACT),
        (((0.0, 1.0),), ACT),
        (((50.0, 1.0), (50.0, 1.0), (50.0, 1.0)), WATCH),
    ],
)
def test_a_clean_look_answers_as_far_as_it_saw(
    later: tuple[tuple[float, float], ...], comes_to: int
) -> None:
    assert level(after_ten(*later)) == comes_to


@settings(max_examples=40, deadline=None)
@given(
    st.lists(st.tuples(st.floats(0, 2 * DRAIN), st.floats(0.05, 1)), max_size=4),
    st.integers(0, 3),
    st.floats(0.1, 1),
)
def test_who_saw_less_never_clears_more(
    later: list[tuple[float, float]], which: int, less: float
) -> None:
    poorer = [(h, x * less if n == which else x) for n, (h, x) in enumerate(later)]
    assert level(after_ten(*poorer)) >= level(after_ten(*later))


def test_it_says_why_it_is_milder() -> None:
    reasons = stated(after_ten((DRAIN, 1.0))).reasons
    assert any("A later look found less" in sentence(r.finding) for r in reasons)


def test_a_later_look_with_as_much_speaks_instead() -> None:
    s = after_ten()
    looked(s, 20, 1000.0 + DRAIN, ("bright_flakes", "0.5-1", 12))
    told = [r for r in stated(s).reasons if r.source == "log"]
    assert [r.finding.numbers.count for r in told] == ["12"]


def test_the_magnet_is_one_place_through_both_doors() -> None:
    """A plug that was wiped clean answers what a look at it found, and the other way round."""
    slivers = ("slivers", "0.5-1", 3)
    by_look = looked(Story(), 0, 1000.0, slivers, place="plug")
    by_check = Story().event(0, "field_check", 1000.0, part="magnet", details={"result": "slivers"})
    for s in (by_look, by_check):
        assert level(s) == ACT
        s.event(30, "field_check", 1000.0 + DRAIN, part="magnet", details={"result": "nothing"})
        assert level(s) == WATCH
        looked(s, 60, 1000.0 + 2 * DRAIN, place="plug")
        assert level(s) == 0


def test_what_was_wiped_off_by_a_check_is_not_gathered_twice() -> None:
    s = looked(Story(), 0, 1000.0, place="plug")
    s.event(5, "field_check", 1200.0, part="magnet", details={"result": "fuzz"})
    looked(s, 9, 1250.0, place="plug")
    hours = hours_of_looks(build_time_line(s.fleet().histories[0]))
    assert isnan(hours[0])
    assert (hours[1], hours[2]) == (200.0, 50.0)


@pytest.mark.parametrize(
    ("part", "comes_to"),
    [("chain", WATCH), ("guide", WATCH), ("wiper blade", ACT), ("cooler", ACT)],
)
def test_work_on_a_part_it_points_to_makes_an_act_a_watch(part: str, comes_to: int) -> None:
    s = Story().event(0, "field_check", 1200.0, part="cover_off", details={"result": "chain"})
    s.event(3, "repair", 1200.0, part=part)
    state = stated(s)
    assert state.level == comes_to
    assert "repeat_check" in [a.code for a in state.actions]


def test_no_work_makes_a_stop_milder() -> None:
    s = Story().event(0, "field_check", 1200.0, part="cover_off", details={"result": "broken"})
    s.event(3, "repair", 1200.0, part="chain").event(3, "repair", 1200.0, part="guide")
    assert (level(s), stated(s).may_run) == (3, "do_not_run")


def test_a_look_before_which_the_dial_fell_is_not_cleared_by_nothing() -> None:
    s = looked(looked(Story(), 0, 1000.0), 1, 900.0, TEN)
    looked(s, 2, 900.0, share=0.1)
    assert level(s) == ACT


def test_each_fact_comes_with_the_later_answers_to_its_own_question() -> None:
    s = looked(looked(Story(), 0, 1000.0, TEN), 3, 1100.0)
    s.event(1, "field_check", 1050.0, part="smell", details={"result": "usual"})
    s.event(2, "symptom", 1060.0, part="power_down")
    history = s.fleet().histories[0]
    pairs = list(with_later(facts_of(history.engine, build_time_line(history))))
    assert [(f.moment.row.kind, [x.at for x in later]) for f, later in pairs] == [
        ("look", [3]),
        ("field_check", []),
        ("symptom", []),
        ("look", []),
    ]
