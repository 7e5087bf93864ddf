"""Every query of the-trade 3.10 once where it must ask, and once where it must be quiet."""

from datetime import timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.limits import default_limits, evaluate
from keen_tracer.core.record import Fleet, History
from keen_tracer.core.review import Query, record_queries, unsampled_queries
from keen_tracer.core.words import query_words
from tests.helpers import DAY, FRESH, OIL, Story, usual

ADDITIVES = {"Ca": 2600, "Zn": 1250, "P": 1080, "Mg": 300, "KV40": 96}
WITH_ADDITIVES = {**FRESH, **ADDITIVES}
LIMITS = default_limits()


def asked(s: Story, fresh=WITH_ADDITIVES) -> list[Query]:
    return record_queries(evaluate(s.fleet(fresh), LIMITS))[s.engine.code]


def codes(s: Story, fresh=WITH_ADDITIVES) -> set[str]:
    return {q.code for q in asked(s, fresh)}


def test_an_ordinary_engine_asks_nothing() -> None:
    s = Story().change(0, 1000).sample(20, 1125, usual(Fe=8, BN=8.9, **ADDITIVES), code="a")
    s.sample(40, 1250, usual(Fe=15, BN=7.6, **ADDITIVES), code="b", drained_after=True).change(
        40, 1250
    )
    s.sample(
        60,
        1375,
        usual(Fe=9, BN=8.8, **ADDITIVES),
        code="c",
        oil_change_dial=1250.0,
        method="vacuum",
    )
    assert codes(s) == set()


def quiet() -> Story:
    return Story().change(0, 1000).sample(20, 1100, usual(Fe=9, BN=9), code="a")


def twice(s: Story, *results: str) -> Story:
    """One check on following days, with these results."""
    for n, result in enumerate(results):
        s.event(25 + n, "field_check", 1105, part="compression", details={"result": result})
    return s


CASES = {
    "meter_falls": lambda: quiet().event(30, "meter_reading", 900),
    "over_24_h": lambda: quiet().event(21, "meter_reading", 1160),
    "hours_differ": lambda: quiet().sample(30, 1160, usual(), code="b", oil_change_dial=1050.0),
    "other_oil": lambda: quiet().sample(30, 1160, usual(), code="b", oil="Else||"),
    "old_at_analysis": lambda: quiet().sample(
        30, 1160, usual(), code="b", analysed_on=DAY + timedelta(days=61)
    ),
    "other_method": lambda: [
        s := Story().change(0, 1000),
        *(
            s.sample(
                10 * n,
                1000 + 50 * n,
                usual(Fe=4 + 4 * n, BN=10 - n),
                code=str(n),
                method="valve" if n < 4 else "drain_stream",
            )
            for n in range(1, 5)
        ),
    ][-1],
    "oil_changed": lambda: (
        quiet()
        .sample(40, 1160, usual(Fe=30, Cu=8, BN=7), code="b")
        .sample(60, 1200, usual(Fe=12, Cu=3, BN=9.6), code="c")
    ),
    "like_the_old_oil": lambda: (
        quiet()
        .sample(40, 1240, usual(Fe=40, BN=6), code="b")
        .change(41, 1245)
        .sample(42, 1250, usual(Fe=40, BN=6), code="c")
    ),
    "answers_contradict": lambda: twice(quiet(), "very_low", "even"),
    "slip": lambda: quiet().sample(30, 1160, usual(Ca=26, BN=8), code="b"),
    "additive_off": lambda: quiet().sample(30, 1160, usual(Ca=1900, BN=8), code="b"),
    "bn_above_fresh": lambda: quiet().sample(30, 1160, usual(BN=14.5), code="b"),
    "viscosity_index": lambda: quiet().sample(30, 1160, usual(KV40=200, KV100=9, BN=8), code="b"),
    "unlikely": lambda: quiet().sample(30, 1160, usual(Water=3, BN=8), code="b"),
    "fewer_figures": lambda: [
        s := Story().change(0, 1000),
        *(s.sample(9 * n, 1000 + 40 * n, usual(Fe=4 + 4 * n, BN=10 - n)) for n in range(1, 4)),
        s.sample(40, 1160, {"Fe": 22, "Cu": 3}, code="b"),
    ][0],
    "denied": lambda: (
        quiet()
        .sample(30, 1160, usual(K=40, BN=8.7), code="b")
        .sample(32, 1165, usual(K=2, Fe=14, BN=8.6), code="c", purpose="resample")
    ),
    "late_oil": lambda: quiet().sample(90, 1600, usual(Fe=40, BN=6), code="b"),
    "like_fresh": lambda: (
        quiet()
        .sample(38, 1240, usual(Fe=40, BN=7), code="b")
        .change(40, 1250)
        .sample(60, 1350, {**WITH_ADDITIVES, "BN": 9.9}, code="c")
    ),
    "same_figures": lambda: (
        Story()
        .change(0, 1000)
        .sample(20, 1100, usual(), code="a")
        .sample(40, 1180, usual(), code="b")
    ),
}


@pytest.mark.parametrize("code", CASES)
def test_what_does_not_fit_is_asked_with_both_values_and_what_would_settle_it(code: str) -> None:
    found = [q for q in asked(CASES[code]()) if q.code == code]
    assert found, code
    said, settles = query_words(code, found[0].numbers, "h")
    assert settles
    assert len([x for x in found[0].numbers.values() if x is not None]) >= 2
    assert "None" not in said


def test_a_drain_before_the_day_on_the_bottle() -> None:
    s = (
        Story()
        .change(0, 1000)
        .sample(40, 1240, usual(), code="b", drained_after=True)
        .change(39, 1240)
    )
    assert "dated_after_drain" not in codes(
        s
    )  # the time line puts the bottle after the change, on the new oil
    s = (
        Story()
        .change(0, 1000)
        .sample(30, 1240, usual(), code="b", drained_after=True)
        .change(30, 1240)
    )
    assert "dated_after_drain" not in codes(s)


def test_half_a_bottle_of_fuel_is_asked_about() -> None:
    found = [
        q
        for q in asked(quiet().sample(30, 1160, usual(Fuel=80, BN=8), code="b"))
        if q.code == "slip"
    ]
    assert "more than half the bottle" in query_words("slip", found[0].numbers, "h")[0]


@pytest.mark.parametrize(
    "story",
    [
        lambda: quiet().event(22, "meter_reading", 1170),  # 70 h in three days
        lambda: quiet().sample(
            30, 1160, usual(BN=8), code="b", oil_change_dial=1005.0
        ),  # 5 h apart in 250
        lambda: quiet().sample(
            30, 1160, usual(BN=8), code="b", analysed_on=DAY + timedelta(days=60)
        ),
        lambda: quiet().sample(
            30, 1160, usual(Fe=8.6, Cu=2.9, BN=8.9), code="b"
        ),  # a fall within the test's noise
        lambda: quiet().sample(30, 1160, usual(Ca=2350, BN=8), code="b"),  # 10 % off
        lambda: quiet().sample(30, 1160, usual(BN=10.2), code="b"),  # above fresh, within noise
        lambda: (
            quiet()
            .sample(40, 1160, usual(Fe=30, BN=7), code="b")
            .change(41, 1200)
            .sample(60, 1240, usual(), code="c")
        ),
    ],
    ids=["two_shifts", "hours", "thirty_days", "noise", "ten_per_cent", "bn", "recorded_change"],
)
def test_what_can_be_is_not_asked(story) -> None:
    assert codes(story()) == set()


def test_without_a_fresh_reference_nothing_is_held_against_it() -> None:
    s = quiet().sample(30, 1160, usual(Ca=26, BN=30), code="b")
    assert codes(s, fresh=None) & {"slip", "additive_off", "bn_above_fresh"} == set()


def test_a_query_keeps_its_name_until_its_values_change() -> None:
    def key(meter: float) -> str:
        return next(
            q.key for q in asked(quiet().sample(30, 1160, usual(), code="b", oil_change_dial=meter))
        )

    assert key(1050.0) == key(1050.0)
    assert key(1050.0) != key(1060.0)


@given(st.randoms(use_true_random=False))
def test_the_order_of_the_rows_changes_no_query(random) -> None:
    s = CASES["oil_changed"]()
    s.event(60, "meter_reading", 1150)
    fleet = s.fleet(WITH_ADDITIVES)
    log = list(fleet.histories[0].log)
    random.shuffle(log)
    mixed = Fleet((History(s.engine, tuple(log)),), fleet.value, fleet.censor, fleet.fresh)
    assert {q.key for q in record_queries(evaluate(mixed, LIMITS))["E-1"]} == {
        q.key for q in asked(s)
    }


def test_two_engines_do_not_hear_of_each_other() -> None:
    from tests.helpers import fleet

    one, other = (
        CASES["slip"](),
        Story("E-2").change(0, 0).sample(20, 100, usual(**ADDITIVES), code="z"),
    )
    found = record_queries(evaluate(fleet([one, other], WITH_ADDITIVES), LIMITS))
    assert {q.code for q in found["E-1"]} == {"slip"}
    assert found["E-2"] == []


def test_it_asks_of_every_additive_oil_key_in_the_record() -> None:
    e = evaluate(CASES["additive_off"]().fleet(WITH_ADDITIVES), LIMITS)
    assert np.isfinite(e.fleet.fresh[OIL]).sum() >= len(ADDITIVES)


def test_an_engine_nobody_samples_is_asked_about_its_meter_and_its_checks() -> None:
    s = Story().event(0, "meter_reading", 900).event(2, "meter_reading", 700)
    found = unsampled_queries([twice(s, "very_low", "even").fleet().histories[0]])
    assert {q.code for q in found["E-1"]} >= {"meter_falls", "answers_contradict"}
