"""What an engine asks for: nothing falls silent, a hold is no work, a done task does not come
back."""

from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.errors import NotPossible
from keen_tracer.core.planning import (
    Ageing,
    OilLife,
    Plan,
    Task,
    check_move,
    dues,
    hours_on,
    placed,
    plans_of,
    tasks_of,
)
from keen_tracer.core.planning.moving import USUAL_HOURS
from keen_tracer.core.record import build_time_line
from keen_tracer.core.terms import TASK_KINDS
from keen_tracer.core.verdict import RunDecision
from tests.helpers import DAY, Story, stated

days = st.dates(date(2026, 1, 1), date(2027, 12, 31))


def asked(s: Story, after: int, life: OilLife | None = None) -> list[Task]:
    """Tasks some days after the story began."""
    today = DAY + timedelta(days=after)
    history = s.fleet().histories[0]
    line, state = build_time_line(history), stated(s)
    out = [r.sample.code for r in history.log if r.sample and r.sample.code.startswith("out")]
    return tasks_of(s.engine, line, state, dues(s.engine, (), line, today), out, today, life)


def kinds(found: list[Task]) -> dict[str, Task]:
    return {t.kind: t for t in found}


def steady(**more) -> Story:
    """Forty hours a week, an oil change at the start, a sample at 100 h."""
    s = Story(**more).change(0, 1000.0)
    for week in range(1, 4):
        s.event(7 * week, "meter_reading", 1000.0 + 40 * week)
    return s.sample(18, 1100.0, {"Fe": 12})


def test_sample_and_drain_come_by_forecast() -> None:
    found = kinds(asked(steady(), 21))
    # 1125 h after the last sample at 1100 by interval 125; drain at 1250.
    assert found["sample"].at_dial == pytest.approx(1225)
    assert found["drain"].at_dial == pytest.approx(1250)
    assert found["drain"].latest == found["drain"].on
    assert found["sample"].earliest <= found["sample"].on <= found["sample"].latest


def test_an_oil_is_changed_by_the_calendar_where_it_comes_first() -> None:
    """Forty hours a week reach 1250 h in six weeks: thirty days come before, a year does not."""
    found = kinds(asked(steady(drain_days=30), 21))["drain"]
    assert (found.code, found.on) == ("calendar", DAY + timedelta(days=30))
    assert found == kinds(asked(steady(drain_days=30), 300))["drain"]
    assert kinds(asked(steady(drain_days=365), 21))["drain"].code == "interval"
    standing = Story(drain_days=365).change(0, 1000.0)
    assert kinds(asked(standing, 21))["drain"].on == DAY + timedelta(days=365)


def test_an_engine_that_was_never_sampled_stands_in_the_plan() -> None:
    never = Story(interval_days=60).change(0, 1000.0)
    history, today = never.fleet().histories[0], DAY + timedelta(days=21)
    line, state = build_time_line(history), stated(never)

    def first(sampled: bool) -> list[str]:
        found = tasks_of(never.engine, line, state, (), [], today, None, sampled)
        return [t.code for t in found if t.kind == "sample"]

    assert (first(True), first(False)) == (["first"], [])


def test_a_rule_added_takes_no_interval_away() -> None:
    engine = steady(interval_days=60, interval_meter=125.0).engine
    added = plans_of(engine, (Plan("drain"),))
    assert [p.kind for p in added] == ["drain", "meter", "days"]
    assert [p.every for p in plans_of(engine, (Plan("days", 30),))] == [30, 125.0]


def test_spent_oil_is_changed_before_its_interval_and_good_oil_as_the_site_allows() -> None:
    spent = OilLife((), None, "at", 1180.0, "first limit")
    found = kinds(asked(steady(), 21, spent))["drain"]
    assert (found.code, found.at_dial) == ("condition", pytest.approx(1180))
    assert found.latest < kinds(asked(steady(), 21))["drain"].latest
    # By the early edge it should be done, by the middle it has to be, by the interval at last.
    for middle, latest in ((1210.0, 1210.0), (1900.0, 1250.0)):
        crossing = Ageing("BN", "exponential", 3.5, 4, "crosses", middle, 1180.0, 1300.0)
        wide = kinds(asked(steady(), 21, OilLife((), crossing, "at", 1180.0, "first limit")))[
            "drain"
        ]
        assert wide.at_dial == pytest.approx(1180)
        by = OilLife((), None, "at", latest, "interval")
        assert wide.latest == kinds(asked(steady(), 21, by))["drain"].on
    longer = OilLife((), None, "extend", 1375.0, "site policy")
    assert kinds(asked(steady(), 21, longer))["drain"].at_dial == pytest.approx(1375)
    plain = OilLife((), None, "at", 1250.0, "interval")
    assert kinds(asked(steady(), 21, plain))["drain"].code == "interval"


@pytest.mark.parametrize("after", [60, 200, 700])
def test_nothing_falls_silent_when_nobody_logs_a_meter(after: int) -> None:
    """Past its point by forecast it is late, and stays on the list however long nobody writes."""
    today = DAY + timedelta(days=after)
    found = kinds(asked(steady(), after))
    assert found["drain"].latest < today
    assert found["sample"].latest < today
    assert (
        placed(found["drain"].earliest, found["drain"].on, found["drain"].latest, None, today)
        == today
    )


def test_a_done_task_makes_room_for_another_with_another_key() -> None:
    before = kinds(asked(steady(), 40))
    changed = steady().change(41, 1230.0)
    after = kinds(asked(changed, 42))
    assert after["drain"].key != before["drain"].key
    assert after["drain"].on > before["drain"].on
    again = kinds(asked(changed.sample(42, 1236.0, {"Fe": 12}), 43))
    assert again["sample"].key != after["sample"].key


def test_a_stop_asks_for_a_decision_that_nobody_moves() -> None:
    s = steady().event(20, "symptom", 1110.0, part="knock")
    found = asked(s, 21)
    decide = kinds(found)["decide"]
    assert not decide.movable
    assert decide.level == 3
    # A hold is no work of its own, and nothing that running brings about is asked for.
    assert "do_not_run" not in {t.code for t in found}
    assert not {"sample", "drain", "follow"} & set(kinds(found))
    assert all(t.at_rest for t in found)


def test_a_parked_engine_is_asked_for_nothing_that_running_brings() -> None:
    found = kinds(asked(steady().event(20, "storage_start", 1110.0), 90))
    assert not {"sample", "drain", "follow"} & set(found)


def test_a_release_is_followed_as_work_is() -> None:
    """Also of a case nobody explained: the filter and a sample soon, and again (VERDICT 8.12)."""
    s = steady()
    on = DAY + timedelta(days=21)
    signed = RunDecision(
        state="release", by="R", on=on, lifts=frozenset({"k"}), found="nothing", done="flushed"
    )
    line = build_time_line(s.fleet().histories[0])
    state = replace(stated(s), decision=signed)
    found = tasks_of(s.engine, line, state, [], [], on + timedelta(days=1))
    assert kinds(found)["follow"].code == "10 h"


def test_a_repair_is_followed_at_ten_and_fifty_hours() -> None:
    s = steady().event(22, "repair", 1130.0, part="injector")
    assert kinds(asked(s, 23))["follow"].code == "10 h"
    s.event(25, "meter_reading", 1136.0)
    s.sample(26, 1141.0, {"Fe": 12})
    follow = kinds(asked(s, 27))["follow"]
    assert (follow.code, follow.at_dial) == ("50 h", pytest.approx(1180))
    s.event(30, "meter_reading", 1170.0)
    s.sample(34, 1181.0, {"Fe": 12})
    assert "follow" not in kinds(asked(s, 35))


@given(st.integers(0, 400), st.integers(-3, 3), st.sampled_from(["knock", "smoke", "", "repair"]))
def test_every_task_is_whole_and_named_once(after: int, pace: int, told: str) -> None:
    s = Story().change(0, 1000.0)
    s.event(14, "meter_reading", 1000.0 + 10 * max(pace + 3, 0))
    s.sample(15, 1000.0 + 10 * max(pace + 3, 0), {"Fe": 30 + 40 * pace})
    if told == "repair":
        s.event(16, "repair", None, part="pump")
    elif told:
        s.event(16, "symptom", None, part=told)
    found = asked(s, after)
    assert len({t.key for t in found}) == len(found)
    for t in found:
        assert t.kind in TASK_KINDS
        assert t.earliest <= t.on <= t.latest or t.kind in ("sample", "follow")
        assert t.earliest <= t.latest
        assert t.hours > 0


# Moving


@given(days, days, days, days, st.sampled_from(["", "no van that day"]))
def test_no_task_goes_past_its_range_without_a_reason(
    a: date, b: date, day: date, today: date, reason: str
) -> None:
    earliest, latest = min(a, b), max(a, b)
    try:
        check_move(earliest, latest, True, day, reason, today)
    except NotPossible:
        return
    assert day >= today
    assert reason or earliest <= day <= latest or (latest < today and day == today)


@given(days, days)
def test_what_stands_until_it_is_made_is_never_moved(day: date, today: date) -> None:
    with pytest.raises(NotPossible, match="stands until"):
        check_move(today, today, False, day, "because", today)


@given(days, st.one_of(st.none(), days), days)
def test_nothing_stands_in_the_past(on: date, moved: date | None, today: date) -> None:
    found = placed(on, on, on, moved, today)
    assert found >= today
    assert found in (today, on, moved)


def test_hours_of_snow_week_and_summer_shop() -> None:
    seasons = {"11-15": [10, 10, 10, 10, 10, 6, 0], "05-01": [8, 8, 8, 8, 6, 0, 0]}
    assert hours_on(date(2026, 11, 27), seasons) == 10  # a Friday
    assert hours_on(date(2027, 2, 6), seasons) == 6  # over the turn of the year
    assert hours_on(date(2026, 5, 1), seasons) == 6
    assert hours_on(date(2026, 11, 14), seasons) == 0  # the last Saturday of summer
    assert hours_on(date(2026, 11, 14), {}) == USUAL_HOURS[5]
    assert hours_on(date(2026, 11, 27), {"11-15": []}) == USUAL_HOURS[4]  # taken back
