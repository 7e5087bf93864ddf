"""How an engine stands today, what it may do, and which samples wait for a person."""

from datetime import date, timedelta

import pytest

from keen_tracer.core.record import build_time_line, facts_of
from keen_tracer.core.status import comb, group_of, looked_on, may_run_now, waits
from keen_tracer.core.status.comb import stale_on
from keen_tracer.core.terms import CHANNELS
from keen_tracer.core.words import may_run_words
from tests.helpers import DAY, Story, stated, usual

METALS = {"Fe": 10, "Pb": 2, "Cu": 3, "Sn": 1, "Al": 3}


def line(s: Story):
    return build_time_line(s.fleet().histories[0])


def test_a_channel_speaks_from_the_newest_sample_that_measured_it() -> None:
    s = (
        Story()
        .change(0, 0)
        .sample(10, 100, usual(K=40), code="a")
        .sample(20, 200, METALS, code="b")
    )
    found = list(zip(s.judged(), [m for m, _ in line(s).samples()], strict=True))
    teeth = {t.channel: t for t in comb(s.engine, found, stated(s).channels, 200.0)}
    assert (teeth["coolant"].sample, teeth["coolant"].level) == ("a", 2)
    assert teeth["wear"].sample == "b"
    assert teeth["debris"].level is None
    assert teeth["debris"].state(date(2030, 1, 1)) == "not_measured"


def test_a_comb_never_crosses_a_rebuild() -> None:
    s = Story().change(0, 0).sample(10, 100, usual(K=40), code="a").event(15, "rebuild", 150)
    s.sample(20, 200, METALS, code="b")
    found = list(zip(s.judged(), [m for m, _ in line(s).samples()], strict=True))
    assert {t.channel: t.level for t in comb(s.engine, found, stated(s).channels, 200.0)}[
        "coolant"
    ] is None


def test_a_sample_goes_stale_after_one_and_a_half_intervals() -> None:
    s = Story()
    assert stale_on(s.engine, DAY, 1000, 1100) == DAY + timedelta(days=90)
    assert stale_on(s.engine, DAY, 1000, 1000 + 1.5 * 125 + 1) == DAY
    assert stale_on(Story(interval_meter=None, interval_days=None).engine, DAY, 1, 9999) is None


def test_what_was_looked_at_long_ago_is_too_old_as_well() -> None:
    s = Story().event(0, "field_check", 100, part="crackle", details={"result": "silent"})
    teeth = comb(
        s.engine, [], stated(s).channels, None, looked_on(facts_of(s.engine, line(s)), line(s))
    )
    coolant = next(t for t in teeth if t.channel == "coolant")
    assert (coolant.level, coolant.sample) == (0, None)
    assert coolant.state(DAY + timedelta(days=90)) == "judged"
    assert coolant.state(DAY + timedelta(days=91)) == "stale"


def test_a_bottle_that_looks_as_it_should_is_looked_at_without_figures() -> None:
    s = Story().sample(0, 100, {}, appearance="dark")
    state = stated(s)
    assert dict(zip(CHANNELS, state.channels, strict=True))["coolant"] == 0
    assert state.may_run == "runs"


@pytest.mark.parametrize(
    ("may_run", "level", "overdue", "group"),
    [
        ("do_not_run", 0, 0, "do_not_run"),
        ("past_its_time", 2, 0, "do_not_run"),
        ("do_not_run", 3, 0, "do_not_run"),
        ("run_until", 2, 0, "act"),
        ("runs", 1, 5, "watch"),
        ("runs", 0, 5, "overdue"),
        ("unknown", None, 0, "quiet"),
    ],
)
def test_groups_of_the_wall(may_run, level, overdue, group) -> None:
    assert group_of(may_run, level, overdue) == group


@pytest.mark.parametrize(
    ("said", "words"),
    [
        (("runs", None, None, "h"), "Runs"),
        (("unknown", None, None, "h"), "Not judged yet"),
        (("do_not_run", None, None, "h"), "Do not run"),
        (("run_until", 3120.0, None, "h"), "Runs until 3\u202f120 h"),
        (("run_until", 640.0, date(2026, 2, 3), "h"), "Runs until 640 h or 3 Feb 2026"),
        (("past_its_time", 640.0, None, "h"), "Past its time: do not start"),
        (("runs", None, None, "h", True), "In storage"),
        (("do_not_run", None, None, "h", True), "Do not run"),
    ],
)
def test_may_it_run_in_words(said, words) -> None:
    assert may_run_words(*said) == words


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


def test_only_a_permission_expires_by_meter_or_by_day() -> None:
    day = date(2026, 2, 3)
    assert may_run_now("do_not_run", 10, day, 20, day) == "do_not_run"
    assert may_run_now("run_until", 20, None, 10, day) == "run_until"
    assert may_run_now("run_until", 20, day, None, day) == "run_until", "the day itself is in"
    assert may_run_now("run_until", 20, day, 20, day) == "past_its_time"
    assert may_run_now("run_until", None, day, 1, day + timedelta(days=1)) == "past_its_time"
