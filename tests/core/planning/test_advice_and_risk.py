"""How often to sample, what to ask for, and what it is expected to cost to leave an engine."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.errors import OutOfRange
from keen_tracer.core.planning import interval_advice, risk, slate_of
from keen_tracer.core.planning.risk import CHANCE
from keen_tracer.core.record import Engine
from keen_tracer.core.terms import CLASSES, FEATURES, FUELS

engines = st.builds(
    Engine,
    st.just("E"),
    st.sampled_from([*CLASSES]),
    fuel=st.sampled_from([*FUELS]),
    features=st.frozensets(st.sampled_from([*FEATURES]), max_size=3),
    nominal_drain=st.floats(10, 40_000),
)


@given(engines)
def test_three_samples_lie_between_the_first_sign_and_a_failure(engine: Engine) -> None:
    found = interval_advice(engine)
    assert 3 * found.most == pytest.approx(found.takes)
    assert found.takes == pytest.approx(found.drains * engine.nominal_drain)


@given(engines, st.integers(1, 12))
def test_nothing_is_asked_twice_and_everything_says_why(engine: Engine, month: int) -> None:
    found = slate_of(engine, month)
    assert len({a.test for a in found}) == len(found)
    assert all(a.words and a.why for a in found)


def test_the_season_and_the_engine_decide_what_is_asked() -> None:
    diesel = Engine("E", "heavy_diesel", fuel="diesel")
    winter, summer = ({a.test for a in slate_of(diesel, m)} for m in (1, 7))
    assert {"fuel", "water", "soot"} <= winter - summer
    assert "dust" in summer - winter
    assert "glycol" in {a.test for a in slate_of(diesel, 10)}
    air = Engine("E", "small_air_cooled", fuel="petrol")
    assert "glycol" not in {a.test for a in slate_of(air, 10)}
    gas = Engine("E", "gas", fuel="natural_gas")
    assert "fuel" not in {a.test for a in slate_of(gas, 1)}
    silver = Engine("E", "two_stroke", fuel="diesel", features=frozenset({"silver_bearings"}))
    assert "silver" in {a.test for a in slate_of(silver, 7)}


@given(st.floats(0, 1e9), st.integers(0, 2))
def test_what_is_more_dangerous_never_costs_less(cost: float, level: int) -> None:
    one, more = risk(level, cost), risk(level + 1, cost)
    assert one is not None
    assert more is not None
    assert one <= more <= cost
    assert risk(None, cost) == risk(0, cost)
    assert risk(level, None) is None
    assert list(CHANCE) == sorted(CHANCE)


@pytest.mark.parametrize("cost", [float("nan"), -5.0])
def test_what_is_no_cost_is_refused(cost: float) -> None:
    with pytest.raises(OutOfRange):
        risk(2, cost)
