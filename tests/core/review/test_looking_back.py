"""A study of two periods, and the record of alarms."""

from datetime import date

import numpy as np
import pytest

from keen_tracer.core.baseline import assess
from keen_tracer.core.limits import POLICIES, default_limits, evaluate
from keen_tracer.core.review import (
    Outcome,
    Study,
    act_by_policy,
    alarm_days,
    compare_periods,
    study_lines,
    tally,
)
from keen_tracer.core.review.before_after import Thickness
from tests.core.baseline.test_expectation import HABIT, history
from tests.helpers import Story, fleet, usual

LIMITS = default_limits()


def trial(
    effect: float, engines: int = 2, charges: int = 8, seed: int = 1, **after: object
) -> Study:
    rng, stories = np.random.default_rng(seed), []
    for n in range(engines):
        s = Story(f"T{n}")
        for k in range(2 * charges):
            late = k >= charges
            figures = {m: v * float(np.exp(rng.normal(0, 0.1))) * (1 + n) for m, v in HABIT.items()}
            figures["Fe"] *= effect if late else 1.0
            values: dict[str, object] = {m: round(v, 3) for m, v in figures.items()} | (
                after if late else {}
            )
            s.change(40 * k, 250 * k).sample(40 * k + 39, 250 * k + 248, usual(**values))
        stories.append(s)
    e = evaluate(fleet(stories), LIMITS)
    first = [p.row for p in e.contexts if p.moment.charge <= charges]
    return compare_periods(e, first, [p.row for p in e.contexts if p.row not in first])


def word(s: Study, symbol: str) -> str:
    return next(x.word for x in s.effects if x.symbol == symbol)


def test_a_fall_by_a_quarter_is_better_and_noise_is_not_distinguishable() -> None:
    """A fact of arithmetic: 0.80 → 0.60 is -25 %, a ratio of 0.75."""
    s = trial(0.6 / 0.8)
    iron = next(x for x in s.effects if x.symbol == "Fe")
    assert iron.word == "better"
    assert iron.ratio is not None
    assert iron.low is not None
    assert iron.high is not None
    assert iron.low < 0.75 < iron.high < 1
    assert iron.ratio == pytest.approx(0.75, abs=0.08)
    assert word(s, "Cr") == "not distinguishable"
    assert s.engines == 2


def test_more_wear_is_worse() -> None:
    assert word(trial(1.5), "Fe") == "worse"


def test_many_elements_together_seldom_make_a_false_word() -> None:
    """At 5 % together by Holm, about 1 trial in 20 may say something of nothing."""
    said = sum(
        any(x.word in ("better", "worse") for x in trial(1.0, seed=n).effects) for n in range(40)
    )
    assert said <= 6


def test_non_detects_give_no_ratio_and_few_charges_no_word() -> None:
    assert word(trial(1.0, **{"Sn": "<1"}, charges=2, engines=1), "Fe") == "too few"
    s = Story("T")
    for k in range(12):
        s.change(40 * k, 250 * k).sample(40 * k + 39, 250 * k + 248, usual(Sn="<1"))
    e = evaluate(s.fleet(), LIMITS)
    rows = [p.row for p in e.contexts]
    assert word(compare_periods(e, rows[:6], rows[6:]), "Sn") == "below detection"


def test_viscosity_is_reported_beside_the_rates() -> None:
    s = trial(1.0, KV100=13.0)
    assert s.thickness is not None
    assert s.thickness.difference < 0


def test_each_engine_is_compared_by_itself_too() -> None:
    s = trial(0.6 / 0.8)
    assert list(s.alone) == ["T0", "T1"]
    for effects in s.alone.values():
        iron = next(x for x in effects if x.symbol == "Fe")
        assert iron.low is not None
        assert iron.high is not None
        assert iron.low < 0.75 < iron.high
    assert trial(0.75, engines=1).alone == {}


def test_an_engine_of_one_period_alone_changes_nothing() -> None:
    """An engine without a sample before would bring its own habit in as a change."""
    one, other = Story("T0"), Story("T1")
    for k in range(8):
        one.change(40 * k, 250 * k).sample(40 * k + 39, 250 * k + 248, usual(KV100=14.0 + k % 2))
        if k >= 4:
            other.change(40 * k, 250 * k).sample(40 * k + 39, 250 * k + 248, usual(KV100=9.0))
    e = evaluate(fleet([one, other]), LIMITS)
    late = [p.row for p in e.contexts if p.moment.row.on >= e.contexts[4].moment.row.on]
    s = compare_periods(e, [p.row for p in e.contexts if p.row not in late], late)
    assert s.engines == 1
    assert s.thickness is not None
    assert s.thickness.after == pytest.approx(14.5)


@pytest.mark.parametrize(
    ("after", "said"),
    [
        # SAE J300 (2021, table 1): a 40 is 12.5 to under 16.3 mm²/s, a 50 is 16.3 to under 21.9.
        (16.9, "16.9 is outside 12.5 to 16.3 of 15W-40: it measures as a 50 now."),
        (12.1, "12.1 is outside 12.5 to 16.3 of 15W-40: it measures as a 30 now."),
        (15.0, "It is inside its grade, 15W-40."),
    ],
)
def test_an_oil_that_left_its_grade_says_which_it_measures_as(after: float, said: str) -> None:
    thickness = Thickness(
        before=14.1, after=after, difference=after - 14.1, low=1.9, high=3.7, grade="15W-40"
    )
    study = Study(effects=(), thickness=thickness, engines=1, from_zero=False, alone={})
    [line] = [x for x in study_lines(study) if x.startswith("Viscosity")]
    assert line.startswith(f"Viscosity at 100 °C: 14.1 → {after:g} mm²/s (1.9 to 3.7 more).")
    assert line.endswith(said)


def test_a_study_says_what_it_cannot_tell() -> None:
    """An element under its detection limit says nothing, and fresh oil that is not on record is
    said: wear metals begin at 0 then."""
    s = Story("T")
    for k in range(12):
        s.change(40 * k, 250 * k).sample(40 * k + 39, 250 * k + 248, usual(Sn="<1"))
    e = evaluate(s.fleet(), LIMITS)
    rows = [p.row for p in e.contexts]
    lines = list(study_lines(compare_periods(e, rows[:6], rows[6:])))
    assert lines[0] == "1 engine has samples in both periods. The rates are per 100 meter units."
    assert "taken to begin at 0" in lines[1]
    [tin] = [x for x in lines if x.startswith("Sn")]
    assert tin.endswith("near the detection limit: says nothing, 6 and 6 charges")


def days(*acts: bool) -> dict[str, list[tuple[date, bool]]]:
    return {"E": [(date(2026, n + 1, 5), act) for n, act in enumerate(acts)]}


def outcome(month: int, found: str = "piston", confirmed: str = "yes", **more: float) -> Outcome:
    return Outcome("E", date(2026, month, 20), found, confirmed, **more)


@pytest.mark.parametrize(
    ("acts", "outcomes", "expected"),
    [
        ([False, True], [outcome(2)], (1, 0, 0, 0)),
        ([False, False], [outcome(2)], (0, 1, 0, 0)),
        ([False, True], [outcome(2, "nothing")], (0, 0, 1, 0)),
        ([False, True], [outcome(2, confirmed="no")], (0, 0, 1, 0)),
        ([False, True], [], (0, 0, 0, 1)),
        ([False, True], [outcome(2, confirmed="unclear")], (0, 0, 0, 1)),
        ([True, False, False, False, False, False], [outcome(6)], (0, 1, 0, 0)),
        ([True, True, True, False, True], [outcome(3), outcome(5, "nothing")], (1, 0, 1, 0)),
    ],
)
def test_alarms_against_what_was_found(
    acts: list[bool], outcomes: list[Outcome], expected: tuple[int, ...]
) -> None:
    t = tally("x", days(*acts), outcomes)
    assert (t.confirmed, t.missed, t.false, t.open) == expected


def test_what_a_confirmed_catch_saved_adds_up() -> None:
    assert tally("x", days(True), [outcome(1, saved=900.0)]).saved == 900
    assert tally("x", days(False), [outcome(1, saved=900.0)]).saved == 0


def test_every_policy_has_its_own_record() -> None:
    a = assess(history("A", 10, Fe=140).fleet(), LIMITS)
    acts = act_by_policy(a)
    assert set(acts) == set(POLICIES)
    assert acts["fixed_only"][-1]
    found = alarm_days(a, acts["fixed_only"])["A"]
    assert len(found) == 10
    assert [act for _, act in found].count(True) == 1
