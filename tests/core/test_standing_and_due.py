"""How an engine stands today, what it may do, and when its next sample is due."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.due import next_due, usage_per_week
from keen_tracer.core.standing import comb, group_of, may_run_words, run_state_now, stale_on, waits
from keen_tracer.core.timeline import build
from tests.helpers import DAY, Story, usual


def line(s: Story):
    return build(s.fleet().histories[0])


def weekly(s: Story, weeks: int, per_week: float, start: float = 1000.0, first: int = 0) -> Story:
    for n in range(weeks + 1):
        s.event(first + 7 * n, "meter_reading", start + per_week * n)
    return s


def test_usage_is_meter_over_time() -> None:
    s = weekly(Story(), 8, 40.0)
    assert usage_per_week(line(s)) == pytest.approx(40.0)


def test_a_gap_counts_as_standing_still() -> None:
    s = weekly(Story(), 4, 40.0)
    s.event(56, "meter_reading", 1160.0)
    assert usage_per_week(line(s)) == pytest.approx(20.0)


def test_one_reading_tells_no_usage() -> None:
    assert usage_per_week(line(Story().event(0, "meter_reading", 10))) is None


def test_a_replaced_meter_does_not_disturb_usage() -> None:
    s = Story().event(0, "meter_reading", 990).event(7, "meter_replaced", 1030, dial_new=0)
    s.event(14, "meter_reading", 40)
    assert usage_per_week(line(s)) == pytest.approx(40.0)


def test_due_by_meter_or_by_days_whichever_comes_first() -> None:
    busy = weekly(Story().sample(0, 1000), 6, 40.0)
    due = next_due(busy.engine, line(busy), DAY + timedelta(days=42))
    assert due is not None
    # 125 h at 40 h a week are 21.9 days; they were reached before the last reading.
    assert due.by == "meter"
    assert due.at_dial == 1125
    idle = weekly(Story().sample(0, 1000), 6, 2.0)
    found = next_due(idle.engine, line(idle), DAY + timedelta(days=42))
    assert found is not None
    assert (found.by, found.on, found.overdue) == ("days", DAY + timedelta(days=60), 0)


def test_overdue_counts_days() -> None:
    s = Story(interval_meter=None).sample(0, 1000)
    due = next_due(s.engine, line(s), DAY + timedelta(days=75))
    assert due is not None
    assert due.overdue == 15


def test_nothing_is_due_in_storage_and_days_count_from_its_end() -> None:
    s = Story(interval_meter=None).sample(0, 1000).event(10, "storage_start")
    assert next_due(s.engine, line(s), DAY + timedelta(days=300)) is None
    s.event(200, "storage_end")
    due = next_due(s.engine, line(s), DAY + timedelta(days=210))
    assert due is not None
    assert due.on == DAY + timedelta(days=260)


def test_without_interval_or_sample_nothing_is_due() -> None:
    bare = Story(interval_meter=None, interval_days=None).sample(0, 1000)
    assert next_due(bare.engine, line(bare), DAY) is None
    assert next_due(Story().engine, line(Story().event(0, "meter_reading", 5)), DAY) is None


@given(used=st.floats(0, 400), per_week=st.floats(0.1, 200), late=st.integers(0, 400))
def test_never_due_in_the_past_unless_overdue(used, per_week, late) -> None:
    s = weekly(Story().sample(0, 1000), 3, per_week)
    s.event(30, "meter_reading", 1000 + 3 * per_week + used)
    today = DAY + timedelta(days=30 + late)
    due = next_due(s.engine, line(s), today)
    assert due is not None
    assert due.overdue == max((today - due.on).days, 0)
    assert (due.on < today) == (due.overdue > 0)


def test_a_channel_speaks_from_the_newest_sample_that_measured_it() -> None:
    s = Story().change(0, 0).sample(10, 100, usual(K=40), code="a").sample(20, 200, {"Fe": 10}, code="b")
    found = list(zip(s.judged(), [m for m, _ in line(s).samples()], strict=True))
    teeth = {t.channel: t for t in comb(s.engine, found, 200.0)}
    assert (teeth["coolant"].sample, teeth["coolant"].level) == ("a", 2)
    assert teeth["wear"].sample == "b"
    assert teeth["debris"].level is None
    assert teeth["debris"].state(date(2030, 1, 1)) == "not_measured"


def test_a_comb_never_crosses_a_rebuild() -> None:
    s = Story().change(0, 0).sample(10, 100, usual(K=40), code="a").event(15, "rebuild", 150)
    s.sample(20, 200, {"Fe": 10}, code="b")
    found = list(zip(s.judged(), [m for m, _ in line(s).samples()], strict=True))
    assert {t.channel: t.level for t in comb(s.engine, found, 200.0)}["coolant"] is None


def test_a_sample_goes_stale_after_one_and_a_half_intervals() -> None:
    s = Story()
    assert stale_on(s.engine, DAY, 1000, 1100) == DAY + timedelta(days=90)
    assert stale_on(s.engine, DAY, 1000, 1000 + 1.5 * 125 + 1) == DAY
    assert stale_on(Story(interval_meter=None, interval_days=None).engine, DAY, 1, 9999) is None


@pytest.mark.parametrize(("state", "level", "signed", "overdue", "group"), [
    ("hold", 0, 0, 0, "do_not_run"), ("expired", 0, 0, 0, "do_not_run"), (None, 3, None, 0, "do_not_run"),
    ("release", 3, 3, 0, "act"), (None, 2, None, 0, "act"), (None, 2, 0, 0, "quiet"), (None, 0, 1, 5, "watch"),
    (None, 0, None, 5, "overdue"), (None, None, None, 0, "quiet"), ("restrict", 1, None, 0, "watch"),
])
def test_groups_of_the_wall(state, level, signed, overdue, group) -> None:
    assert group_of(state, level, signed, overdue) == group


@pytest.mark.parametrize(("given_", "words"), [
    ((None, None, "runs", None, "h", False, False), "Runs"),
    ((None, None, "unknown", None, "h", False, False), "Not judged yet"),
    (("hold", None, "runs", None, "h", False, True), "Do not run"),
    ((None, None, "do_not_run", None, "h", False, True), "Do not run, undecided"),
    (("restrict", 3120.0, "runs", None, "h", False, False, 3000.0), "Runs until 3\u202f120 h"),
    (("restrict", 3120.0, "runs", None, "h", False, False, 3120.0), "Do not run, past 3\u202f120 h"),
    ((None, None, "run_until", 640.0, "h", False, False, 620.0), "Runs, resample by 640 h"),
    ((None, None, "run_until", 640.0, "h", False, False, 641.0), "Runs, resample late"),
    (("release", None, "run_until", 640.0, "h", False, False, 641.0), "Runs"),
    ((None, None, "runs", None, "h", True, False), "In storage"),
])
def test_may_it_run_in_words(given_, words) -> None:
    assert may_run_words(*given_) == words


@pytest.mark.parametrize(("level", "decision", "want"), [
    (None, None, False), (0, None, True), (2, {"kind": "withdraw", "proposed": None, "basis": ""}, True),
    (2, {"kind": "sign_off", "proposed": 2, "basis": "now"}, False),
    (2, {"kind": "sign_off", "proposed": 2, "basis": "then"}, False),
    (3, {"kind": "sign_off", "proposed": 2, "basis": "then"}, True),
    (0, {"kind": "sign_off", "proposed": 2, "basis": "then"}, False),
])
def test_what_waits_for_a_person(level, decision, want) -> None:
    assert waits(level, "now", decision) is want


def test_only_a_restriction_expires() -> None:
    assert run_state_now("hold", 10, 20) == "hold"
    assert run_state_now("restrict", 20, 10) == "restrict"
    assert run_state_now("restrict", 20, None) == "restrict"
