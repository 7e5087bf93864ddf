"""One state of an engine: what no sequence of facts may do to it."""

from datetime import date, timedelta
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from keen_tracer.core.causes import Mode, evidence_table, failure_modes, ranking
from keen_tracer.core.record import (
    DebrisCount,
    DebrisLook,
    Engine,
    build_time_line,
    check_kinds,
    field_checks,
)
from keen_tracer.core.terms import CLASSES, DEBRIS_SIZES, FEATURES, FUELS, SYMPTOMS
from keen_tracer.core.verdict import EngineState, Level, RunDecision
from keen_tracer.core.words import action_kinds
from tests.helpers import DAY, Story, now, stated, two_lines, usual

# Ranks of may_run: what is further left is stricter.
STRICT = ("do_not_run", "past_its_time", "run_until", "runs", "unknown")


def look(*counts: tuple[str, str, int], place: str = "filter") -> dict[str, Any]:
    made = DebrisLook(place, "roller_cutter", 1.0, tuple(DebrisCount(*c) for c in counts))
    return {"kind": "look", "look": made}


SYMPTOM = st.sampled_from(sorted(SYMPTOMS)).map(lambda p: {"kind": "symptom", "part": p})
CHECK = st.sampled_from([r for found in field_checks().values() for r in found]).map(
    lambda r: {"kind": "field_check", "part": r.check, "details": {"result": r.code}}
)
LOOK = st.tuples(
    st.sampled_from(["copper_flakes", "bright_flakes", "slivers", "chunk", "plastic", "fuzz"]),
    st.sampled_from([*DEBRIS_SIZES, ""]),
    st.integers(1, 60),
).map(lambda c: look(c))
WORK = st.sampled_from(["repair", "rebuild", "oil_change", "filter_change"]).map(
    lambda k: {"kind": k, "part": "wiper blade"}
)
CLEAN = st.just(look())
FACT = st.one_of(SYMPTOM, CHECK, LOOK, WORK, CLEAN, st.just({"kind": "overheating"}))
STOPS = [
    {"kind": "symptom", "part": "knock"},
    {"kind": "symptom", "part": "coolant_in_sump"},
    {"kind": "field_check", "part": "magnet", "details": {"result": "chunk"}},
    {"kind": "field_check", "part": "oil_pressure", "details": {"hot_idle": "0.3"}},
    look(("part_fragment", "over 3", 1)),
]


def story(facts: list[dict[str, Any]], quiet: bool = False, **engine: Any) -> Story:
    """Facts on days of their own, with a quiet bottle after them where wanted."""
    s = Story(**engine).change(0, 1000)
    for n, fact in enumerate(facts):
        more = {k: v for k, v in fact.items() if k != "kind"}
        s.event(1 + n, fact["kind"], 1001 + n, **more)
    if quiet:
        s.sample(len(facts) + 5, 1001 + len(facts) + 5, usual(), code="quiet")
    return s


def strictness(s: Story, state: EngineState) -> int:
    return STRICT.index(now(s, state, s.log[-1].on))


@settings(max_examples=150, deadline=None)
@given(
    st.lists(FACT, max_size=6), st.sampled_from(STOPS), st.lists(FACT, max_size=6), st.booleans()
)
def test_nothing_that_comes_after_a_stop_lowers_it(before, stop, after, quiet: bool) -> None:
    state = stated(story([*before, stop, *after], quiet))
    assert state.level == Level.STOP
    assert state.may_run == "do_not_run"
    assert state.undecided
    assert {check_kinds()[c].state for c in state.checks} <= {"rest"}
    assert {action_kinds()[a.code].state for a in state.actions} == {"rest"}


@settings(max_examples=100, deadline=None)
@given(st.lists(FACT, max_size=6), st.sampled_from(STOPS), st.integers(0, 6))
def test_adding_a_hard_fact_never_lowers_anything(facts, stop, at: int) -> None:
    s, more = story(facts), story([*facts[:at], stop, *facts[at:]])
    was, is_ = stated(s), stated(more)
    assert (is_.level or 0) >= (was.level or 0)
    assert strictness(more, is_) <= strictness(s, was)


@settings(max_examples=60, deadline=None)
@given(st.lists(FACT, min_size=2, max_size=6), st.randoms(use_true_random=False))
def test_the_same_facts_written_down_in_any_order_give_the_same_state(facts, random) -> None:
    s = story(facts, quiet=True)
    other = story(facts, quiet=True)
    random.shuffle(other.log)
    assert stated(s) == stated(other)


@settings(max_examples=60, deadline=None)
@given(st.lists(FACT, max_size=5), st.sampled_from(STOPS))
def test_a_release_that_names_it_lifts_it_and_one_that_does_not_leaves_it(facts, stop) -> None:
    s = story([*facts, stop])
    state = stated(s)
    keys = frozenset(r.key for r in state.reasons)
    on = s.log[-1].on

    def after(lifts: frozenset[str]) -> EngineState:
        return stated(s, [RunDecision(state="release", by="R", on=on, lifts=lifts)])

    assert after(keys).level in (0, None)
    assert after(keys).may_run == "runs"
    for key in [r.key for r in state.reasons if r.level == Level.STOP]:
        assert after(keys - {key}).may_run == "do_not_run"


def test_a_release_of_an_older_version_lifts_what_was_known_on_its_day() -> None:
    s = story([STOPS[0], STOPS[1]])
    first = RunDecision(state="release", by="R", on=DAY + timedelta(days=1), lifts=None)
    state = stated(s, [first])
    assert [r.finding.code for r in state.reasons] == ["coolant_visible"]
    assert state.may_run == "do_not_run"


def test_a_restriction_permits_for_a_time_and_lifts_nothing() -> None:
    s = story([STOPS[0]])
    keys = frozenset(r.key for r in stated(s).reasons)
    given_ = {"by": "R", "on": DAY + timedelta(days=2), "lifts": keys}
    allowed = RunDecision(state="restrict", until_on=DAY + timedelta(days=5), **given_)
    state = stated(s, [allowed])
    assert (state.level, state.may_run) == (Level.STOP, "run_until")
    assert now(s, state, DAY + timedelta(days=5)) == "run_until"
    assert now(s, state, DAY + timedelta(days=6)) == "past_its_time"
    later = RunDecision(state="hold", by="T", on=DAY + timedelta(days=3))
    assert stated(s, [allowed, later]).may_run == "do_not_run"


def test_a_stop_whose_record_was_changed_stands_as_kept() -> None:
    kept = stated(story([STOPS[0]])).reasons
    state = stated(story([{"kind": "symptom", "part": "noise"}]), kept=kept)
    assert state.may_run == "do_not_run"
    assert state.reasons[0].source == "sample" or state.reasons[0].level == Level.STOP


def test_a_resample_that_says_less_leaves_the_higher_level_until_a_third() -> None:
    def drawn(*more: tuple[str, dict[str, Any]]) -> EngineState:
        s = Story().change(0, 1000).sample(20, 1100, usual(), code="old")
        s.sample(30, 1150, usual(K=45), code="high")
        for n, (code, facts) in enumerate(more):
            s.sample(32 + n, 1155 + n, usual(Fe=13 + n), code=code, **facts)
        return stated(s)

    assert drawn().level == Level.ACT
    denied = drawn(("again", {"purpose": "resample"}))
    assert (denied.level, denied.reasons[0].source) == (Level.ACT, "denied")
    assert drawn(("again", {"purpose": "resample"}), ("third", {})).level == Level.STEADY
    assert drawn(("routine", {})).level == Level.STEADY


def test_a_sample_nobody_knows_clears_nothing_until_that_is_settled() -> None:
    s = Story().change(0, 1000).sample(20, 1100, usual(K=45), code="high")
    s.change(30, 1250).sample(50, 1350, usual(), code="other")
    assert stated(s).level == Level.STEADY
    state = stated(s, unsettled=frozenset({"other"}))
    assert state.level == Level.ACT
    assert {r.source for r in state.reasons} == {"doubted", "sample"}
    quiet = Story().change(0, 1000).sample(20, 1100, usual(), code="other")
    state = stated(quiet, unsettled=frozenset({"other"}))
    assert (state.level, [a.code for a in state.actions]) == (Level.WATCH, ["settle_first"])


def test_new_oil_ends_what_the_old_oil_was_blamed_for_and_nothing_else() -> None:
    def after(kind: str, **figures: float) -> int | None:
        s = Story().change(0, 1000).sample(30, 1150, usual(**figures), code="a")
        return stated(s.event(31, kind, 1155, oil="x", litres_in=30.0)).level

    assert after("meter_reading", BN=3) == Level.ACT
    assert after("oil_change", BN=3) == Level.STEADY
    assert after("oil_change", K=45) == Level.ACT


def test_what_was_not_reported_is_never_steady() -> None:
    s = Story().change(0, 1000).sample(30, 1150, usual(Pb=None, Sn=None, Al=None), code="a")
    state = stated(s)
    assert state.channels[0] is None
    assert "Not cleared: wear" in two_lines(s, state, DAY)
    said = Story().sample(30, 1150, usual(), code="a")  # no oil change on record
    assert stated(said).channels[0] is None


def test_a_permission_counts_from_the_day_the_report_came() -> None:
    s = Story().change(0, 1000)
    s.sample(30, 1150, usual(K=45), code="a", analysed_on=DAY + timedelta(days=40))
    s.event(39, "meter_reading", 1250)
    state = stated(s)
    assert state.until_on == DAY + timedelta(days=54)
    assert state.until == pytest.approx(1250 + 25)


@pytest.mark.parametrize("engine_class", CLASSES)
def test_no_engine_is_asked_for_what_it_cannot_have(engine_class: str) -> None:
    for part in SYMPTOMS:
        s = story([{"kind": "symptom", "part": part}], engine_class=engine_class)
        for code in stated(s).checks:
            assert check_kinds()[code].fits(s.engine)


def _engine_of(mode: Mode) -> tuple[Engine, str]:
    """An engine that can have a mode, and the kind of its bearings."""
    engine_class = next((c for c in CLASSES if c in mode.where), "heavy_diesel")
    fuel = next((f for f in FUELS if f in mode.where), "")
    bearings = next((b for b in ("leaded", "lead_free") if b in mode.where), "leaded")
    engine = Engine("E", engine_class, fuel=fuel, features=frozenset(mode.where & set(FEATURES)))
    return engine, bearings


def _evidence_that_leads_to(mode: Mode) -> dict[str, bool]:
    """Evidence that makes a mode lead: its own seen, then whatever single piece widens its distance
    to the best rival most, until it leads."""
    engine, bearings = _engine_of(mode)
    known = {code: True for code, (seen, _) in mode.weights.items() if seen > 0}

    def margin(on: dict[str, bool]) -> float:
        found = ranking(engine, bearings, on)
        scores = {found.weights.modes[m].code: found.scores[m] for m in found.order[: found.leads]}
        mine = scores.pop(mode.code, float("-inf"))
        return float(mine - max(scores.values(), default=float("-inf")))

    for _ in range(12):
        if ranking(engine, bearings, known).lead() == mode.code:
            return known
        tried = [{**known, code: seen} for code in evidence_table() for seen in (True, False)]
        known = max(tried, key=margin)
    raise AssertionError(f"no evidence makes {mode.code} lead")


def test_every_mode_can_lead_and_none_without_a_piece_of_its_own() -> None:
    for mode in failure_modes():
        engine, bearings = _engine_of(mode)
        nothing = ranking(engine, bearings, dict.fromkeys(mode.weights, False))
        assert nothing.lead() == "", "absent evidence leads to nothing"
        if mode.code == "sampling_fault":
            own = dict.fromkeys(("Si", "Na", "other_oil"), True)
            assert ranking(engine, bearings, own).lead() != mode.code
            continue
        known = _evidence_that_leads_to(mode)
        assert any(seen and mode.weights.get(c, (0, 0))[0] > 0 for c, seen in known.items())


def test_an_engine_without_anything_on_record_is_unknown() -> None:
    state = stated(Story())
    assert (state.level, state.may_run, state.reasons) == (None, "unknown", ())
    assert two_lines(Story(), state, date(2026, 1, 5)).startswith("Nothing was looked at")


def test_a_permission_counts_from_its_own_moment_where_the_log_knows_no_other() -> None:
    """A Stop dated before anything on record; found by a file put out of shape."""
    from keen_tracer.core.diagnosis.actions import since_known

    s = Story().change(0, 1000).sample(40, 1200)
    line = build_time_line(s.fleet().histories[0])
    first = line.moments[0]
    early = first.row.on - timedelta(days=30)
    assert since_known(line, first, early).dial == 1000


def test_the_graver_of_two_things_one_row_says_is_not_covered_by_the_milder() -> None:
    """A relief spring that is weak (Act) and three millimetres short of its limit (Stop)."""
    short = {"condition": "short", "figure": "46.2", "limit_low": "49.0", "limit_source": "sheet"}
    s = Story().event(0, "finding", 500, part="relief_valve", details=short)
    reasons = [r for r in stated(s).reasons if r.finding.code == "finding"]
    said = {r.finding.numbers.fact: r.level for r in reasons}
    assert said == {"outside_limit": 3, "relief_spring_weak": 2}


@settings(max_examples=150, deadline=None)
@given(st.lists(FACT, min_size=2, max_size=6))
def test_a_permission_ends_on_the_meter_too_where_the_engine_has_one(facts) -> None:
    """What two kinds of evidence come to together ended on a day only: a boat that runs day and
    night did twice the hours."""
    state = stated(story(facts))
    if state.may_run == "run_until":
        assert state.until is not None
        assert state.until_on is not None


def test_what_is_mended_on_the_spot_comes_before_anything_is_opened() -> None:
    blocked = {"kind": "field_check", "part": "breather", "details": {"result": "blocked"}}
    high = {"kind": "field_check", "part": "crankcase", "details": {"result": "high"}}
    state = stated(story([high, blocked]))
    assert [a.code for a in state.actions] == ["clear_breather", "look_closer"]
    # Blow-by was measured through a blocked breather: it tells something only after it is clear.
    assert state.checks[0] == "crankcase"
    clear = {"kind": "field_check", "part": "breather", "details": {"result": "clear"}}
    usual_again = {"kind": "field_check", "part": "crankcase", "details": {"result": "usual"}}
    cleared = {"kind": "repair", "part": "breather"}
    assert stated(story([high, blocked, cleared, clear, usual_again])).level == 0
