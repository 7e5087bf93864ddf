"""A bottle that was asked for and is on its way: nobody is asked for it again, and nothing is lower
for it."""

from datetime import timedelta

import pytest

from keen_tracer.core.verdict import EngineState
from tests.helpers import DAY, Story, ordinary, stated, two_lines, usual

TODAY = DAY + timedelta(days=110)
COOLANT = {"K": 80, "Na": 110}


def asked(state: EngineState) -> list[str]:
    return [a.code for a in state.actions]


def test_a_bottle_and_a_change_are_asked_for_until_both_are_on_record() -> None:
    before = stated(ordinary(**COOLANT))
    assert asked(before) == ["pressure_test_cooling", "sample_and_change"]
    drawn = stated(ordinary(**COOLANT).sample(105, 1640, {}, code="next"))
    assert (asked(drawn), drawn.awaited) == (asked(before), "")
    both = ordinary(**COOLANT).sample(105, 1640, {}, code="next").change(105, 1640)
    done = stated(both)
    assert (asked(done), done.awaited) == (["pressure_test_cooling"], "next")
    assert "Bottle next was drawn since; its figures are awaited." in two_lines(both, done, TODAY)
    # A change alone draws no bottle.
    assert asked(stated(ordinary(**COOLANT).change(105, 1640))) == asked(before)


@pytest.mark.parametrize("figures", [COOLANT, {"Pb": 60, "Cu": 60}, {"Si": 60}])
def test_a_bottle_lowers_nothing(figures) -> None:
    before = stated(ordinary(**figures))
    drawn = ordinary(**figures).sample(105, 1640, {}, code="next").change(105, 1640)
    after = stated(drawn)
    assert (after.level, after.may_run, after.until_on) == (
        before.level,
        before.may_run,
        before.until_on,
    )
    assert set(asked(after)) <= set(asked(before))


def test_a_bottle_drawn_before_it_was_noticed_is_no_answer() -> None:
    s = ordinary().sample(105, 1640, {}, code="early")
    s.event(107, "symptom", 1642, part="fuel_smell")
    state = stated(s)
    assert state.awaited == ""


def test_past_its_time_the_figures_are_waited_for() -> None:
    """All that was asked is done; the engine still waits for what the bottle says."""
    s = Story().change(0, 1000).sample(40, 1250, code="old")
    s.sample(60, 1300, usual(Water=0.4), code="wet").sample(62, 1301, {}, code="next")
    state = stated(s.change(62, 1301))
    assert state.awaited == "next"
    said = two_lines(s, state, DAY + timedelta(days=200))
    assert "Bottle next was drawn since; its figures are awaited." in said
