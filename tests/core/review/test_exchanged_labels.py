"""Labels that were exchanged are named by the figures alone; labels that are right never are."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from keen_tracer.core.baseline import NOTHING_PUBLISHED, Assessment, assess
from keen_tracer.core.limits import Policies, default_limits
from keen_tracer.core.review import LABELS_EXCHANGED, label_queries
from keen_tracer.core.words import query_words
from tests.helpers import OIL, Story, fleet, usual

# Two engines of one class as they usually are, at the end of a drain.
QUIET_ONE = {"Fe": 12, "Cr": 1.0, "Pb": 2.0, "Cu": 3.0, "Sn": 1.0, "Al": 2.5, "Si": 6, "Na": 6}
BUSY_ONE = {"Fe": 34, "Cr": 3.4, "Pb": 6.0, "Cu": 11.0, "Sn": 3.0, "Al": 7.5, "Si": 11, "Na": 12}
DRAINS = 7


def engine(code: str, habit: dict[str, float], seed: int, last_day: int = 0, **last) -> Story:
    """Seven drains of an engine with its habit, a few per cent of noise on each figure."""
    rng, s = np.random.default_rng(seed), Story(code)
    for n in range(DRAINS):
        s.change(40 * n, 1000 + 250 * n, **last if n == DRAINS - 1 else {})
        noise = np.exp(rng.normal(0, 0.06, len(habit)))
        read = {k: round(v * x, 1) for (k, v), x in zip(habit.items(), noise, strict=True)}
        day = 40 * n + 39 + (last_day if n == DRAINS - 1 else 0)
        s.sample(day, 1245 + 250 * n, usual(**read))
    return s


def swapped(one: Story, two: Story) -> list[Story]:
    one.readings[-1], two.readings[-1] = two.readings[-1], one.readings[-1]
    return [one, two]


def judged(stories: list[Story]) -> Assessment:
    return assess(fleet(stories), default_limits(), NOTHING_PUBLISHED, Policies(), ())


def named(stories: list[Story], settled=()) -> dict[str, str]:
    """Sample → the other one it is said to be exchanged with."""
    found = label_queries(judged(stories), settled)
    return {q.sample: q.numbers["other"] for queries in found.values() for q in queries}


def two(**last) -> tuple[Story, Story]:
    return engine("E-1", QUIET_ONE, 1), engine("E-2", BUSY_ONE, 2, **last)


def test_exchanged_labels_name_each_other() -> None:
    assert named(swapped(*two())) == {"E-1/7": "E-2/7", "E-2/7": "E-1/7"}


def test_the_question_names_the_other_engine_and_bottle() -> None:
    query = label_queries(judged(swapped(*two())))["E-1"][0]
    assert query.code == LABELS_EXCHANGED
    said, settles = query_words(query.code, query.numbers, "h")
    assert "to be expected of E-2" in said
    assert "sample E-2/7" in said
    assert "exchanged" in settles


@pytest.mark.parametrize(
    ("last", "why"),
    [
        ({}, "the labels are right"),
        ({"last_day": 20}, "another round"),
        ({"oil": OIL.replace("|", " of another maker|", 1)}, "the additives tell it"),
    ],
    ids=lambda x: x if isinstance(x, str) else "",
)
def test_nothing_is_named_where(last: dict, why: str) -> None:
    one, other = two(**last)
    assert named([one, other] if not last else swapped(one, other)) == {}, why


def test_an_engine_that_fails_is_not_taken_for_another() -> None:
    """One engine's metals rise to the habit of the other, whose own bottle is as always."""
    one, other = two()
    one.readings[-1] = usual(**BUSY_ONE)
    assert named([one, other]) == {}


def test_a_pair_somebody_answered_for_is_not_named_again() -> None:
    stories = swapped(*two())
    assert named(stories, {frozenset(("E-1/7", "E-2/7"))}) == {}


def test_of_several_engines_the_one_that_fits_is_named() -> None:
    one, other = swapped(*two())
    third = engine("E-3", {k: 1.8 * v for k, v in QUIET_ONE.items()}, 5)
    assert named([one, third, other]) == {"E-1/7": "E-2/7", "E-2/7": "E-1/7"}


@settings(max_examples=25, deadline=None)
@given(
    habits=st.lists(st.floats(0.5, 3.0), min_size=2, max_size=4),
    seed=st.integers(0, 10_000),
)
def test_labels_that_are_right_are_never_asked_about(habits: list[float], seed: int) -> None:
    stories = [
        engine(f"E-{n}", {k: factor * v for k, v in QUIET_ONE.items()}, seed + n)
        for n, factor in enumerate(habits)
    ]
    assert named(stories) == {}
