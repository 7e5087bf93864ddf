"""Schedules as people keep them: fixed points, a season, sessions; whichever comes first."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.errors import CoreError
from keen_tracer.core.planning import Plan, dues
from keen_tracer.core.planning.schedules import (
    SEASON_LEAD,
    next_point,
    next_season,
    points_of,
)
from keen_tracer.core.record import build_time_line
from tests.helpers import DAY, Story


def no_interval() -> Story:
    """An engine whose record asks for no interval, so that a plan stands alone."""
    return Story(interval_meter=None, interval_days=None)


def due(s: Story, after: int, *plans: Plan):
    today = DAY + timedelta(days=after)
    return dues(s.engine, plans, build_time_line(s.fleet().histories[0]), today)


@pytest.mark.parametrize(
    ("kind", "said"),
    [
        ("points", ""),
        ("points", "25 k"),
        ("points", "0"),
        ("season", "15 November"),
        ("season", "13-01"),
        ("sessions", "4"),
        ("sessions", "holiday 3"),
        ("sessions", "race 0"),
    ],
)
def test_what_cannot_be_meant_is_refused(kind: str, said: str) -> None:
    with pytest.raises(CoreError):
        Plan(kind, said=said)


def test_fixed_points_one_after_the_other() -> None:
    plan = Plan("points", said="1100 1300 2000")
    s = no_interval().change(0, 1000.0).event(14, "meter_reading", 1060.0)
    s.sample(15, 1062.0, {"Fe": 12})
    # 1062 is over nine tenths of the way from nothing to 1100: that point is taken.
    assert due(s, 16, plan)[0].at_dial == 1300
    s.event(40, "meter_reading", 1260.0).sample(41, 1290.0, {"Fe": 12})
    assert due(s, 42, plan)[0].at_dial == 2000
    s.sample(90, 1990.0, {"Fe": 12})
    assert due(s, 91, plan) == []


def test_before_the_season_every_year() -> None:
    plan = Plan("season", said="11-15")
    s = no_interval().change(0, 1000.0).sample(5, 1010.0, {"Fe": 12})
    begins = next_season((11, 15), DAY + timedelta(days=5))
    assert due(s, 6, plan)[0].on == begins
    late = (begins - DAY).days + 20
    assert due(s, late, plan)[0].overdue == 20
    s.sample((begins - DAY).days - 10, 1100.0, {"Fe": 12})
    assert due(s, late, plan)[0].on == begins.replace(year=begins.year + 1)


def test_at_most_so_many_trainings_and_races() -> None:
    plan = Plan("sessions", said="training 4, race 1")
    s = Story(meter_unit="outing").change(0, 100.0).sample(1, 101.0, {"Fe": 12})
    for day in (8, 15, 22):
        s.event(day, "meter_reading", 100.0 + day, details={"session": "training"})
    # Three in ten weeks: the fourth at that pace, 70/3 days after the newest.
    assert due(s, 23, plan)[0].on == DAY + timedelta(days=22 + 23)
    s.event(23, "meter_reading", 130.0, details={"session": "race"})
    assert due(s, 24, plan)[0].on == DAY + timedelta(days=23)
    assert due(s, 40, plan)[0].overdue == 17
    s.sample(41, 131.0, {"Fe": 12})
    after = due(s, 42, plan)
    assert all(d.on > DAY + timedelta(days=41) for d in after)


def test_whichever_comes_first_stands_first() -> None:
    s = Story().change(0, 1000.0).event(14, "meter_reading", 1040.0).sample(15, 1042.0, {"Fe": 12})
    found = due(s, 16, Plan("days", 400.0), Plan("points", said="1100 5000"), Plan("meter", 60.0))
    assert found[0].by == "meter"
    assert [d.on for d in found] == sorted(d.on for d in found)


@given(st.lists(st.integers(1, 10**6), min_size=1, max_size=6), st.floats(0, 2e6))
def test_the_next_point_lies_ahead_or_was_not_taken(points: list[int], last: float) -> None:
    listed = points_of(" ".join(map(str, points)))
    found = next_point(listed, last, 0.9)
    if found is None:
        assert last >= 0.9 * listed[-1] or last >= listed[-1] - 0.1 * listed[-1]
    else:
        point, span = found
        assert point in listed
        assert last < point - 0.1 * span + 1e-6


@given(st.dates(date(2020, 1, 1), date(2090, 1, 1)), st.integers(1, 12), st.integers(1, 31))
def test_a_season_is_never_more_than_a_year_and_its_lead_away(
    last: date, month: int, day: int
) -> None:
    found = next_season((month, day), last)
    assert SEASON_LEAD < found - last <= SEASON_LEAD + timedelta(days=367)
