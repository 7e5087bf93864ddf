"""How an engine stands today, what it may do, and which samples wait for a person."""

from datetime import date, timedelta

import pytest

from keen_tracer.core.record import build_time_line
from keen_tracer.core.status import comb, group_of, may_run_words, run_state_now, waits
from keen_tracer.core.status.engine_status import stale_on
from tests.helpers import DAY, Story, usual


def line(s: Story):
    return build_time_line(s.fleet().histories[0])


def test_a_channel_speaks_from_the_newest_sample_that_measured_it() -> None:
    s = (
        Story()
        .change(0, 0)
        .sample(10, 100, usual(K=40), code="a")
        .sample(20, 200, {"Fe": 10}, code="b")
    )
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


@pytest.mark.parametrize(
    ("state", "level", "signed", "overdue", "group"),
    [
        ("hold", 0, 0, 0, "do_not_run"),
        ("expired", 0, 0, 0, "do_not_run"),
        (None, 3, None, 0, "do_not_run"),
        ("release", 3, 3, 0, "act"),
        (None, 2, None, 0, "act"),
        (None, 2, 0, 0, "quiet"),
        (None, 0, 1, 5, "watch"),
        (None, 0, None, 5, "overdue"),
        (None, None, None, 0, "quiet"),
        ("restrict", 1, None, 0, "watch"),
    ],
)
def test_groups_of_the_wall(state, level, signed, overdue, group) -> None:
    assert group_of(state, level, signed, overdue) == group


@pytest.mark.parametrize(
    ("given_", "words"),
    [
        ((None, None, "runs", None, "h", False, False), "Runs"),
        ((None, None, "unknown", None, "h", False, False), "Not judged yet"),
        (("hold", None, "runs", None, "h", False, True), "Do not run"),
        ((None, None, "do_not_run", None, "h", False, True), "Do not run, undecided"),
        (("restrict", 3120.0, "runs", None, "h", False, False, 3000.0), "Runs until 3\u202f120 h"),
        (
            ("restrict", 3120.0, "runs", None, "h", False, False, 3120.0),
            "Do not run, past 3\u202f120 h",
        ),
        ((None, None, "run_until", 640.0, "h", False, False, 620.0), "Runs, resample by 640 h"),
        ((None, None, "run_until", 640.0, "h", False, False, 641.0), "Runs, resample late"),
        (("release", None, "run_until", 640.0, "h", False, False, 641.0), "Runs"),
        ((None, None, "runs", None, "h", True, False), "In storage"),
    ],
)
def test_may_it_run_in_words(given_, words) -> None:
    assert may_run_words(*given_) == words


@pytest.mark.parametrize(
    ("level", "decision", "want"),
    [
        (None, None, False),
        (0, None, True),
        (2, {"kind": "withdraw", "proposed": None, "basis": ""}, True),
        (2, {"kind": "sign_off", "proposed": 2, "basis": "now"}, False),
        (2, {"kind": "sign_off", "proposed": 2, "basis": "then"}, False),
        (3, {"kind": "sign_off", "proposed": 2, "basis": "then"}, True),
        (0, {"kind": "sign_off", "proposed": 2, "basis": "then"}, False),
    ],
)
def test_what_waits_for_a_person(level, decision, want) -> None:
    assert waits(level, "now", decision) is want


def test_only_a_restriction_expires() -> None:
    assert run_state_now("hold", 10, 20) == "hold"
    assert run_state_now("restrict", 20, 10) == "restrict"
    assert run_state_now("restrict", 20, None) == "restrict"
