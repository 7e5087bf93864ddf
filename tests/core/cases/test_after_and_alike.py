"""Leak isolation, what follows a repair, and cases that were alike."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.cases import (
    Past,
    beginning,
    last_drained,
    similar,
)
from keen_tracer.core.causes import failure_modes
from keen_tracer.core.errors import UnknownName
from keen_tracer.core.planning import Drawn, followed
from keen_tracer.core.record import build_time_line, leak_answer, leak_steps, next_leak_step
from tests.helpers import DAY as DAY_0
from tests.helpers import Story

DAY = date(2026, 11, 1)


# Leak isolation


def test_every_result_names_known_modes_and_known_steps() -> None:
    known = {m.code for m in failure_modes()}
    for step in leak_steps().values():
        assert step.caution
        assert step.how
        for r in step.results:
            assert set(r.clears) | set(r.points) <= known
            assert not set(r.clears) & set(r.points)
            assert r.next in {*leak_steps(), ""}


@given(st.data())
def test_however_it_is_answered_it_ends(data: st.DataObject) -> None:
    done: list[tuple[str, str]] = []
    while step := next_leak_step(done):
        result = data.draw(st.sampled_from(leak_steps()[step].results))
        done.append((step, result.code))
        assert len(done) <= len(leak_steps())
    assert len({s for s, _ in done}) == len(done)


def test_a_tight_cooler_clears_the_cooler_and_leads_on() -> None:
    done = [("pan_open", "holds"), ("cooler", "holds")]
    assert leak_answer(*done[-1]).clears == ("oil_cooler_leak",)
    assert next_leak_step(done) == "head"
    with pytest.raises(UnknownName):
        leak_answer("cooler", "perhaps")
    with pytest.raises(UnknownName):
        leak_answer("the moon", "holds")


# After a repair


def drawn(*samples: tuple[float | None, int | None]) -> list[Drawn]:
    return [
        Drawn(f"S-{n}", DAY + timedelta(days=n), after, level)
        for n, (after, level) in enumerate(samples)
    ]


@pytest.mark.parametrize(
    ("samples", "next_at", "word"),
    [
        ([], 10.0, "waiting"),
        ([(9.0, 0)], 50.0, "waiting"),  # near enough to 10
        ([(4.0, 0)], 10.0, "waiting"),
        ([(9.0, 0), (52.0, None)], None, "waiting"),
        ([(9.0, 2), (52.0, 0)], None, "waiting"),
        ([(9.0, 0), (52.0, 0)], None, "steady"),
        ([(9.0, 0), (52.0, 0), (240.0, 1)], None, "not_steady"),
        ([(None, 0), (None, 0)], 10.0, "steady"),
    ],
)
def test_what_follows_a_repair(samples, next_at: float | None, word: str) -> None:
    found = followed(drawn(*samples))
    assert (found.next_at, found.word) == (next_at, word)


# Its beginning


@pytest.mark.parametrize(
    ("levels", "begins"),
    [
        ((0, 2, 2, 1), 1),
        ((2, 0, 2, 1), 2),
        ((2, None, 2, 1), 0),  # figures that are out say nothing
        ((0, 0, 0, 1), 3),
    ],
)
def test_a_trouble_begins_with_the_first_sample_raised_in_a_row(levels, begins: int) -> None:
    days = [DAY + timedelta(days=10 * n) for n in range(4)]
    samples = list(zip(days, levels, strict=True))
    assert beginning([days[3]], samples, days[3]) == days[begins]
    assert beginning([], samples, DAY) == DAY


# What drained


def test_what_drained_against_what_was_filled() -> None:
    s = Story().change(0, 1000.0, litres=30.0).event(5, "top_up", 1020.0, litres_in=2.0)
    s.event(
        9,
        "field_check",
        1040.0,
        part="layers",
        details={"coolant_drained_l": "3.2", "oil_drained_l": "30"},
    )
    line = build_time_line(s.fleet().histories[0])
    found = last_drained(line, 30.0, DAY_0)
    assert found is not None
    assert (found.first_l, found.then_l, found.filled_l, found.topped_l) == (3.2, 30, 30, 2)
    # By hand: 33.2 - 30 - 2 = 1.2 where no oil was used; a tenth stays: 33.2 - 27 = 6.2 at most.
    assert found.least_in == pytest.approx(1.2)
    assert found.most_in == pytest.approx(6.2)
    assert last_drained(line, 30.0, DAY_0 + timedelta(days=10)) is None


# Alike


def test_cases_alike_stand_first_and_strangers_not_at_all() -> None:
    ended = [
        Past("same", frozenset({"K", "Na"}), True),
        Past("near", frozenset({"K", "Na", "Cu"}), False),
        Past("stranger", frozenset({"fuel"}), True),
        Past("nothing known", frozenset(), True),
    ]
    assert similar({"K", "Na"}, ended) == ["same", "near"]
    assert similar(set(), ended) == []
