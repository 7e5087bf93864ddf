"""The proposal: against brute force on small cases, and what it never breaks."""

from dataclasses import replace
from datetime import date, timedelta
from itertools import product
from unittest.mock import patch

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from keen_tracer.core.errors import OutOfRange
from keen_tracer.core.planning import Wanted, pack
from keen_tracer.core.planning.packing import GAP, cost_of, days_for

START = date(2026, 11, 30)  # a Monday


def wanted(
    n: int, first: int, last: int, level: int = 0, hours: float = 2, engine: str = ""
) -> Wanted:
    return Wanted(
        key=f"t{n}",
        engine=engine or f"E-{n}",
        hours=hours,
        level=level,
        first=START + timedelta(days=first),
        on=START + timedelta(days=max(first, 0)),
        latest=START + timedelta(days=last),
    )


tasks = st.lists(
    st.tuples(
        st.integers(-3, 3),
        st.integers(0, 3),
        st.integers(0, 3),
        st.sampled_from([1, 2, 4]),
        st.integers(0, 2),
    ),
    max_size=5,
).map(
    lambda rows: [
        wanted(n, first, first + span, level, hours, f"E-{engine}")
        for n, (first, span, level, hours, engine) in enumerate(rows)
    ]
)
capacity = st.lists(st.sampled_from([0.0, 2.0, 4.0, 8.0]), min_size=1, max_size=4)


def laid(t: Wanted, d: int, hours: list[float]) -> list[float] | None:
    """Hours of each day a task begun on `d` takes, hour by hour; None where it is not done."""
    used = [0.0] * len(hours)
    if t.hours <= max(hours):
        used[d] = t.hours
        return used
    left, day = t.hours, d
    if hours[d] <= 0:
        return None
    while left > 0 and day < len(hours):
        while left > 0 and used[day] < hours[day]:
            used[day] += 1
            left -= 1
        day += 1
    return used if left <= 0 else None


def best(listed: list[Wanted], hours: list[float]) -> float:
    """The cheapest placement by trying every one."""
    choices = [[None, *days_for(t, START, len(hours))] for t in listed]
    costs = []
    for placed in product(*choices):
        used = [0.0] * len(hours)
        lies = [(t, d) for t, d in zip(listed, placed, strict=True) if d is not None]
        days = [laid(t, d, hours) for t, d in lies]
        if None in days:
            continue
        used = [sum(x) for x in zip(*(d for d in days if d), strict=True)] or used
        if all(u <= h for u, h in zip(used, hours, strict=True)):
            on = {
                t.key: START + timedelta(days=d)
                for t, d in zip(listed, placed, strict=True)
                if d is not None
            }
            costs.append(cost_of(listed, on, START))
    return min(costs)


@settings(deadline=None, max_examples=60)
@given(tasks, capacity)
def test_against_brute_force(listed: list[Wanted], hours: list[float]) -> None:
    found = pack(listed, START, hours)
    assert cost_of(listed, found.on, START) <= best(listed, hours) * (1 + 2 * GAP) + 1e-6


@settings(deadline=None, max_examples=80)
@given(tasks, capacity)
def test_it_breaks_no_latest_day_and_no_days_hours(
    listed: list[Wanted], hours: list[float]
) -> None:
    found = pack(listed, START, hours)
    by_key = {t.key: t for t in listed}
    assert set(found.on) | set(found.out) == set(by_key)
    assert not set(found.on) & set(found.out)
    used = dict.fromkeys(range(len(hours)), 0.0)
    for key, day in found.on.items():
        t = by_key[key]
        for d, h in enumerate(laid(t, (day - START).days, hours) or [float("inf")]):
            used[d] += h
        assert day >= max(t.first, START)
        if t.latest >= START:
            assert day <= t.latest
    for d, u in used.items():
        assert u <= hours[d] + 1e-9


def test_the_dangerous_one_takes_the_hours_there_are() -> None:
    quiet, raised = wanted(0, 0, 0), wanted(1, 0, 0, level=3)
    found = pack([quiet, raised], START, [2.0])
    assert found.on == {"t1": START}
    assert found.out == ("t0",)


def test_tasks_of_one_engine_come_together_into_one_visit() -> None:
    one = Wanted(
        key="a",
        engine="E",
        hours=1,
        level=0,
        first=START,
        on=START + timedelta(days=2),
        latest=START + timedelta(days=4),
    )
    other = Wanted(
        key="b",
        engine="E",
        hours=1,
        level=2,
        first=START + timedelta(days=2),
        on=START + timedelta(days=2),
        latest=START + timedelta(days=3),
    )
    found = pack([one, other], START, [8.0] * 5)
    assert found.on["a"] == found.on["b"] == START + timedelta(days=2)


def test_the_late_one_comes_first_and_the_routine_one_on_its_day() -> None:
    late = wanted(0, -9, -2, level=1)
    routine = Wanted(
        key="r",
        engine="R",
        hours=1,
        level=0,
        first=START,
        on=START + timedelta(days=3),
        latest=START + timedelta(days=6),
    )
    found = pack([late, routine], START, [8.0] * 7)
    assert found.on["t0"] == START
    assert found.on["r"] == START + timedelta(days=3)


def test_nothing_to_pack_is_no_programme() -> None:
    assert pack([], START, [8.0]).on == {}
    assert pack([wanted(0, 0, 3, hours=9)], START, [8.0]).out == ("t0",)


def test_work_longer_than_a_day_goes_on_over_the_days_after() -> None:
    long, short = wanted(0, 0, 4, level=1, hours=11), wanted(1, 0, 1, hours=4)
    found = pack([long, short], START, [8.0, 8.0, 0.0, 8.0, 8.0])
    assert found.on == {"t0": START, "t1": START + timedelta(days=1)}
    assert pack([long], START, [8.0, 0.0, 0.0, 3.0]).on == {"t0": START}
    assert pack([long], START, [8.0, 0.0, 0.0, 2.0]).out == ("t0",)
    # A day that others have taken is not a short day: what fits a whole one waits for it.
    assert pack([wanted(2, 0, 3, hours=6)], START, [2.0, 5.0, 8.0], 8.0).on == {
        "t2": START + timedelta(days=2)
    }


def test_a_gap_is_told() -> None:
    assert pack([wanted(0, 0, 3)], START, [8.0]).gap == pytest.approx(0.0, abs=GAP)


def test_a_large_depot_is_packed_week_by_week_and_breaks_nothing() -> None:
    listed = [
        wanted(n, n % 60, n % 60 + 10, level=n % 4 if n % 9 == 0 else 0, hours=1 + n % 3)
        for n in range(600)
    ]
    listed.append(wanted(600, 3, 13, level=2, hours=19))
    hours = [8.0, 8.0, 8.0, 8.0, 8.0, 0.0, 0.0] * 12
    found = pack(listed, START, hours)
    assert found.by_week
    assert set(found.on) | set(found.out) == {t.key for t in listed}
    by_key = {t.key: t for t in listed}
    used = [0.0] * len(hours)
    for key, day in found.on.items():
        t = by_key[key]
        assert max(t.first, START) <= day <= t.latest
        for d, h in enumerate(laid(t, (day - START).days, hours) or [float("inf")]):
            used[d] += h
    assert all(u <= h + 1e-9 for u, h in zip(used, hours, strict=True))
    assert "t600" in found.on
    # Hours are short: what is left out is routine before it is dangerous, and little is idle.
    assert {by_key[k].level for k in found.out} == {0}
    assert sum(used) > 0.9 * sum(h for h, n in zip(hours, range(70), strict=False))
    assert 0 <= found.gap <= 2 * GAP


@pytest.mark.parametrize("hours", [float("nan"), -1.0, 0.0])
def test_hours_that_cannot_be_make_no_room(hours: float) -> None:
    with pytest.raises(OutOfRange, match="hours of a task"):
        wanted(0, 0, 3, hours=hours)


@settings(deadline=None, max_examples=80)
@given(
    tasks,
    capacity,
    st.lists(st.tuples(st.integers(0, 5), st.integers(0, 5)), max_size=6),
    st.booleans(),
)
def test_what_comes_first_is_done_first_or_both_are_left_out(
    listed: list[Wanted], hours: list[float], pairs: list[tuple[int, int]], weekly: bool
) -> None:
    keys = [t.key for t in listed]
    after = {
        keys[b]: tuple({keys[a] for a, x in pairs if x == b and a < b and a < len(keys)})
        for b in range(len(keys))
    }
    turned = [replace(t, after=after[t.key]) for t in listed]
    with patch("keen_tracer.core.planning.packing.WHOLE", 0 if weekly else 4000):
        found = pack(turned, START, hours)
    for t in turned:
        for first in t.after:
            if t.key in found.on and not weekly:
                assert first in found.on
            if t.key in found.on and first in found.on:
                assert found.on[first] <= found.on[t.key]
