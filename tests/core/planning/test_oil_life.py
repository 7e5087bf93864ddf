"""How long the oil lasts: form, first limit, recommended drain."""

import math

import pytest

from keen_tracer.core.limits import default_limits, evaluate
from keen_tracer.core.planning import oil_life
from keen_tracer.core.planning.oil_life import OilLife
from tests.helpers import Story, usual

LIMITS = default_limits()


def charge(
    readings: list[dict[str, object]],
    every: float = 50.0,
    longest: float = 1.0,
    drain: float = 250.0,
) -> OilLife:
    s = Story(nominal_drain=drain).change(0, 1000)
    for n, r in enumerate(readings, 1):
        s.sample(10 * n, 1000 + every * n, usual(**r))
    e = evaluate(s.fleet(), LIMITS)
    found = oil_life(e, e.contexts, longest)
    assert found is not None
    return found


def named(life: OilLife, symbol: str):
    return next(x for x in life.ageing if x.symbol == symbol)


def test_base_number_falls_exponentially_to_its_limit() -> None:
    """BN 10·exp(-t/150) reaches 35 % of 10 at 150·ln(1/0.35) = 157.5 h."""
    life = charge([{"BN": round(10 * math.exp(-t / 150), 3)} for t in (50, 100, 125)], every=50)
    life = charge([{"BN": round(10 * math.exp(-50 * n / 150), 3)} for n in (1, 2)])
    bn = named(life, "BN")
    assert bn.form == "exponential"
    assert bn.word == "crosses"
    assert bn.at == pytest.approx(1157.5, abs=1.5)
    assert bn.earliest is not None
    assert bn.earliest <= bn.at
    assert life.first is bn
    assert (life.drain, life.because) == ("at", "first limit")
    assert life.at == bn.earliest


def test_soot_grows_in_a_straight_line() -> None:
    life = charge([{"Soot": 1.0}, {"Soot": 2.0}, {"Soot": 3.0}])
    soot = named(life, "Soot")
    assert soot.form == "linear"
    assert soot.at == pytest.approx(1250, abs=1)


def test_oxidation_counts_only_after_its_induction() -> None:
    quiet = charge([{"Oxidation": 2.1}, {"Oxidation": 2.3}, {"Oxidation": 2.2}])
    assert named(quiet, "Oxidation").word == "too few"
    begun = charge(
        [{"Oxidation": 2.1}, {"Oxidation": 2.2}, {"Oxidation": 8.0}, {"Oxidation": 14.0}]
    )
    assert named(begun, "Oxidation").at == pytest.approx(1000 + 50 * (2 + 20 / 6.0), abs=8)


def test_a_fixed_interval_holds_where_nothing_is_reached_before() -> None:
    life = charge([{"BN": 9.7}, {"BN": 9.4}])
    assert (life.drain, life.at, life.because) == ("at", 1250, "interval")


def test_extended_only_as_far_as_the_sites_policy_allows() -> None:
    readings: list[dict[str, object]] = [{"BN": 9.5, "Soot": 0.1}, {"BN": 9.0, "Soot": 0.2}]
    assert charge(readings, longest=1.0).drain == "at"
    longer = charge(readings, longest=2.0)
    assert (longer.drain, longer.because) == ("extend", "site policy")
    assert longer.at == 1500
    near = charge([{"BN": 8.5}, {"BN": 7.2}], longest=3.0)
    assert (near.drain, near.because) == ("extend", "first limit")
    assert near.at is not None
    assert 1250 < near.at < 1000 + 3 * 250


def test_spent_oil_goes_now_whatever_the_policy() -> None:
    life = charge([{"BN": 6.0}, {"BN": 3.0}], longest=3.0)
    assert (life.drain, life.because) == ("now", "spent")
    assert life.at == 1100


def test_two_readings_that_do_not_differ_give_no_trend() -> None:
    assert named(charge([{"AN": 1.85}]), "AN").word == "no trend"


def test_nothing_is_said_without_a_charge() -> None:
    e = evaluate(Story().sample(1, 50).fleet(), LIMITS)
    assert oil_life(e, e.contexts) is None
    assert oil_life(e, []) is None


def test_of_an_oil_that_was_drained_nothing_is_said_of_the_new_one() -> None:
    """Spent oil at 1250 h, changed there: the new one has its whole interval."""
    s = Story(nominal_drain=250.0).change(0, 1000)
    for n, soot in enumerate((2.0, 4.0, 6.0), 1):
        s.sample(10 * n, 1000 + 80 * n, usual(Soot=soot))
    s.change(30, 1250)
    e = evaluate(s.fleet(), LIMITS)
    found = oil_life(e, e.contexts)
    assert found is not None
    assert (found.drain, found.at, found.because, found.first) == ("at", 1500.0, "new oil", None)
