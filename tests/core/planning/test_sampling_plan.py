"""Usage, forecasts and sampling plans, with cases worked by hand."""

from dataclasses import asdict
from datetime import date, timedelta

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from keen_tracer.core.errors import OutOfRange, UnknownName
from keen_tracer.core.planning import Plan, next_due, usage
from keen_tracer.core.planning.meter_forecast import Usage
from keen_tracer.core.planning.sampling_plan import dues, plans_of
from keen_tracer.core.record import build_time_line, nominal_drain
from keen_tracer.core.terms import PLAN_KINDS
from keen_tracer.core.words import due_words
from tests.helpers import DAY, Story


def line(s: Story):
    return build_time_line(s.fleet().histories[0])


def on(day: int) -> date:
    return DAY + timedelta(days=day)


def weekly(s: Story, weeks: int, per_week: float, start: float = 1000.0, first: int = 0) -> Story:
    for n in range(weeks + 1):
        s.event(first + 7 * n, "meter_reading", start + per_week * n)
    return s


def of(s: Story) -> Usage | None:
    return usage(s.engine, line(s))


def due_by(s: Story, kind: str, today: int, *plans: Plan, level: int | None = None):
    return next((d for d in dues(s.engine, plans, line(s), on(today), level) if d.by == kind), None)


class TestUsage:
    def test_is_meter_over_time(self) -> None:
        found = of(weekly(Story(), 8, 40.0))
        assert found is not None
        assert found.per_week == pytest.approx(40.0)
        assert found.spread == pytest.approx(4.0)  # even weeks: the floor of a tenth

    def test_a_gap_counts_as_standing_still(self) -> None:
        found = of(weekly(Story(), 4, 40.0).event(56, "meter_reading", 1160.0))
        assert found is not None
        assert found.per_week == pytest.approx(20.0)
        assert found.spread > 20

    def test_one_odd_week_does_not_widen_the_spread(self) -> None:
        s = Story()
        for n, dial in enumerate([0, 40, 80, 120, 260, 300, 340, 380, 420]):
            s.event(7 * n, "meter_reading", 1000 + dial)
        found = usage(s.engine, line(s))
        assert found is not None
        assert found.spread == pytest.approx(0.1 * found.per_week)

    def test_one_season_does_not_speak_for_another(self) -> None:
        s = weekly(Story(), 10, 50.0).event(75, "storage_start").event(200, "storage_end")
        weekly(s, 3, 20.0, 1500.0, 201)
        found = usage(s.engine, line(s))
        assert found is not None
        assert found.per_week == pytest.approx(20.0)

    @pytest.mark.parametrize(
        "days", [[0], [0, 0], [0, 1], [0, 1, 2], [0, 30], [0, 0, 30], [0, 7, 13]]
    )
    def test_less_than_three_days_over_two_weeks_is_as_the_class(self, days) -> None:
        """Eight hours on its second day are no 56 hours a week."""
        s = Story()
        for d in days:
            s.event(d, "meter_reading", 10 + 8 * d)
        found = of(s)
        assert found is not None
        assert found.by == "class"
        assert found.per_week == pytest.approx(nominal_drain(s.engine.engine_class, "h") / 26)
        assert found.latest_on == on(days[-1])

    def test_three_days_over_two_weeks_are_enough(self) -> None:
        s = Story()
        for d in (0, 7, 14):
            s.event(d, "meter_reading", 10 + 2 * d)
        found = of(s)
        assert found is not None
        assert (found.by, found.per_week) == ("own", pytest.approx(14.0))

    def test_a_window_with_too_little_in_it_reaches_further_back(self) -> None:
        s = Story()
        for d, dial in ((0, 0), (100, 200), (200, 400)):
            s.event(d, "meter_reading", dial)
        found = of(s)
        assert found is not None
        assert (found.by, found.per_week) == ("own", pytest.approx(14.0))

    def test_a_season_that_has_just_begun_is_as_the_one_before(self) -> None:
        s = weekly(Story(), 10, 50.0).event(75, "storage_start").event(200, "storage_end")
        found = of(s.event(203, "meter_reading", 1510.0).event(205, "meter_reading", 1515.0))
        assert found is not None
        assert (found.by, found.per_week) == ("season", pytest.approx(50.0))
        assert (found.latest_on, found.latest_total) == (on(205), 1515.0)

    def test_a_storage_of_last_year_is_taken_to_come_again(self) -> None:
        """In store from day 75 to day 200, so from day 440 to day 565 as well: what two weeks of
        work before day 440 would reach stands as it is, what is due a week after it waits."""
        s = weekly(Story(), 10, 50.0).event(75, "storage_start").event(200, "storage_end")
        found = of(weekly(s, 4, 50.0, 1600.0, 275))
        assert found is not None
        assert found.rest == (on(440), on(565))
        at_the_end = found.latest_total + 50.0 * (440 - 303) / 7
        for more, day in ((-100.0, on(440 - 14)), (50.0, on(565 + 7)), (100.0, on(565 + 14))):
            due = found.day_of(at_the_end + more)
            assert due is not None
            assert due[0] == day
        # In store the meter stands still, and a forecast past it says what it rests on.
        assert found.meter_on(on(440)) == found.meter_on(on(500)) == found.meter_on(on(565))
        assert (found.said_of(on(440)), found.said_of(on(441))) == ("own", "storage")

    @pytest.mark.parametrize("back", [85, 75 + 301])
    def test_a_storage_of_days_or_of_most_of_a_year_does_not_come_again(self, back: int) -> None:
        s = weekly(Story(), 10, 50.0).event(75, "storage_start").event(back, "storage_end")
        found = of(weekly(s, 4, 50.0, 1600.0, back + 1))
        assert found is not None
        assert found.rest is None

    def test_what_is_due_beyond_the_season_says_so(self) -> None:
        s = weekly(Story().sample(0, 1000.0), 10, 50.0)
        s.event(75, "storage_start").event(200, "storage_end")
        weekly(s, 4, 50.0, 1600.0, 275).sample(304, 1800.0)
        due = due_by(s, "meter", 305, Plan("meter", 1500.0))
        assert due is not None
        assert due.on > on(565)
        said = due_words(asdict(due), "h")
        assert said.endswith("at 48.3 h a week, with the storage it had a year before")
        assert str(due.on.year) in said

    def test_without_a_meter_there_is_no_forecast(self) -> None:
        assert of(Story().event(0, "repair")) is None

    def test_a_replaced_meter_does_not_disturb_it(self) -> None:
        s = Story().event(0, "meter_reading", 990).event(7, "meter_replaced", 1030, dial_new=0)
        found = of(s.event(14, "meter_reading", 40))
        assert found is not None
        assert found.per_week == pytest.approx(40.0)
        assert found.latest_total == 1070


class TestForecast:
    @given(st.floats(0, 400), st.floats(0, 200), st.integers(0, 300))
    def test_a_meter_is_never_expected_below_its_last_reading(self, per_week, spread, days) -> None:
        middle, low, high = Usage(per_week, spread, DAY, 500).meter_on(on(days))
        assert 500 <= low <= middle <= high

    @given(st.floats(1, 400), st.floats(0, 200), st.floats(500, 5000))
    def test_the_day_lies_in_its_range(self, per_week, spread, total) -> None:
        found = Usage(per_week, spread, DAY, 500).day_of(total)
        assert found is not None
        middle, first, last = found
        assert DAY <= first <= middle <= last

    @given(st.floats(5, 200), st.floats(500, 4000), st.integers(0, 364), st.integers(21, 300))
    def test_meter_and_day_agree(self, per_week, total, begin, long) -> None:
        """With a storage in each year too."""
        use = Usage(per_week, 0.0, DAY, 500, rest=(on(begin + 1), on(begin + 1 + long)))
        found = use.day_of(total)
        assert found is not None
        assume((found[0] - DAY).days < 1000)
        assert use.meter_on(found[0])[0] == pytest.approx(total, abs=per_week / 7)

    def test_nothing_moves(self) -> None:
        assert Usage(0.0, 0.0, DAY, 500).day_of(600) is None


class TestPlans:
    def test_by_meter_worked_by_hand(self) -> None:
        """125 h after 1000 h at 40 h a week from 1080 h on day 14: 45 h are 7.9 days, day 22."""
        s = weekly(Story().sample(0, 1000), 2, 40.0)
        found = due_by(s, "meter", 14, Plan("meter", 125))
        assert found is not None
        assert found.on == on(22)
        assert found.at_dial == 1125
        assert found.earliest <= found.on <= found.latest
        assert found.share == pytest.approx(80 / 125)
        assert not found.tightened

    def test_by_days_counts_from_the_end_of_storage(self) -> None:
        s = Story().sample(0, 1000).event(10, "storage_start")
        assert dues(s.engine, [Plan("days", 60)], line(s), on(300)) == []
        s.event(200, "storage_end")
        found = due_by(s, "days", 230, Plan("days", 60))
        assert found is not None
        assert (found.on, found.overdue, found.share) == (on(260), 0, 0.5)

    def test_before_every_drain(self) -> None:
        s = weekly(Story().change(0, 1000).sample(3, 1010), 4, 40.0)
        found = due_by(s, "drain", 28, Plan("drain"))
        assert found is not None
        assert found.at_dial == 1250
        drained = weekly(Story().change(0, 1000), 5, 40.0).sample(40, 1240)
        assert due_by(drained, "drain", 41, Plan("drain")) is None

    def test_halfway_through_one_and_once(self) -> None:
        s = weekly(Story().sample(0, 1000).change(0, 1000), 2, 40.0)
        found = due_by(s, "half_drain", 14, Plan("half_drain"))
        assert found is not None
        assert found.at_dial == 1125
        s.sample(21, 1120)
        assert due_by(s, "half_drain", 22, Plan("half_drain")) is None

    def test_after_every_outing(self) -> None:
        s = Story(meter_unit="outing").sample(0, 10)
        assert due_by(s, "outing", 5, Plan("outing")) is None
        s.event(6, "meter_reading", 11)
        found = due_by(s, "outing", 9, Plan("outing"))
        assert found is not None
        assert (found.on, found.overdue) == (on(6), 3)

    def test_some_hours_after_a_repair_and_once(self) -> None:
        s = weekly(Story().sample(0, 1000), 2, 40.0).event(15, "repair", 1085)
        found = due_by(s, "after_repair", 16, Plan("after_repair", 50))
        assert found is not None
        assert found.at_dial == 1135
        s.sample(23, 1132)
        assert due_by(s, "after_repair", 24, Plan("after_repair", 50)) is None

    def test_a_replaced_meter_is_due_on_the_new_dial(self) -> None:
        s = (
            Story()
            .sample(0, 1000)
            .event(7, "meter_replaced", 1040, dial_new=0)
            .event(14, "meter_reading", 40)
        )
        found = due_by(s, "meter", 14, Plan("meter", 125))
        assert found is not None
        assert found.at_dial == 85

    def test_the_soonest_of_several_comes_first(self) -> None:
        s = weekly(Story().sample(0, 1000), 2, 2.0)
        found = dues(s.engine, [Plan("meter", 125), Plan("days", 60)], line(s), on(14))
        assert [d.by for d in found] == ["days", "meter"]

    def test_without_plans_the_intervals_are_the_plans(self) -> None:
        assert [p.kind for p in plans_of(Story().engine)] == ["meter", "days"]
        added = plans_of(Story().engine, [Plan("drain")])
        assert [p.kind for p in added] == ["drain", "meter", "days"]
        assert plans_of(Story(interval_meter=None, interval_days=None).engine) == ()

    def test_nothing_before_a_first_sample(self) -> None:
        s = weekly(Story(), 3, 40.0)
        assert next_due(s.engine, line(s), on(30)) is None

    @pytest.mark.parametrize(
        ("kind", "every"),
        [
            ("meter", None),
            ("days", 0),
            ("after_repair", -5),
            ("meter", float("nan")),
            ("days", float("inf")),
        ],
    )
    def test_a_plan_that_cannot_be_meant_is_refused(self, kind, every) -> None:
        with pytest.raises(OutOfRange):
            Plan(kind, every)

    def test_an_unknown_plan_is_refused_with_the_known_ones(self) -> None:
        with pytest.raises(UnknownName) as caught:
            Plan("whenever")
        assert caught.value.known == list(PLAN_KINDS)

    @given(
        every=st.floats(10, 400),
        per_week=st.floats(1, 100),
        level=st.integers(0, 3),
        today=st.integers(21, 200),
    )
    def test_tightening_never_lengthens(self, every, per_week, level, today) -> None:
        s = weekly(Story().sample(0, 1000), 3, per_week)
        for plan in (Plan("meter", every), Plan("days", every)):
            loose, tight = (
                due_by(s, plan.kind, today, plan),
                due_by(s, plan.kind, today, plan, level=level),
            )
            assert loose is not None
            assert tight is not None
            assert tight.on <= loose.on
            assert tight.tightened is (level > 0)

    @given(
        used=st.floats(0, 400),
        per_week=st.floats(0.1, 200),
        late=st.integers(0, 400),
        kind=st.sampled_from(["meter", "days", "drain", "half_drain"]),
    )
    def test_never_due_in_the_past_unless_overdue(self, used, per_week, late, kind) -> None:
        s = weekly(Story().sample(0, 1000).change(0, 1000), 3, per_week)
        s.event(30, "meter_reading", 1000 + 3 * per_week + used)
        today = on(30 + late)
        found = due_by(s, kind, 30 + late, Plan(kind, 60.0 if kind in ("meter", "days") else None))
        assert found is not None
        assert found.overdue == max((today - found.on).days, 0)
        assert (found.on < today) == (found.overdue > 0)
        assert found.earliest <= found.on <= found.latest

    def test_the_turn_of_the_year_is_a_day_like_others(self) -> None:
        s = Story().sample((date(2026, 12, 20) - DAY).days, 1000)
        found = due_by(s, "days", (date(2027, 1, 1) - DAY).days, Plan("days", 14))
        assert found is not None
        assert (found.on, found.overdue) == (date(2027, 1, 3), 0)


@pytest.mark.parametrize(
    ("drawn", "due"),
    [(date(2026, 12, 10), date(2027, 2, 8)), (date(2028, 1, 15), date(2028, 3, 15))],
    ids=["year_end", "leap_day"],
)
def test_days_count_on_over_the_end_of_a_year_and_a_leap_day(drawn: date, due: date) -> None:
    s = Story().sample((drawn - DAY).days, 100, code="s")
    found = next_due(s.engine, line(s), drawn, [Plan("days", 60)])
    assert found
    assert found.on == due
