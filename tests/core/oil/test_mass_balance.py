"""Oil mixing: start of a charge and rates. The formulas themselves are held against scipy in
tests/published."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from keen_tracer.core.errors import OutOfRange
from keen_tracer.core.oil import mixing, start_of_charge
from keen_tracer.core.oil.mass_balance import rate_continuous


def one(t: float, volume: float, ups: list[tuple[float, float]] | None = None, phi: float = 1.0):
    ups = ups or []
    return mixing(
        np.array([t]),
        np.array([volume]),
        np.array([[a for a, _ in ups]]),
        np.array([[q for _, q in ups]]),
        phi,
    )


def test_a_tenth_of_the_old_oil_stays_behind() -> None:
    start = start_of_charge(np.array([80.0]), np.array([2.0]), 0.1)
    assert start[0] == pytest.approx(0.1 * 80 + 0.9 * 2)


def test_without_a_known_end_the_fresh_oil_stands_alone() -> None:
    assert start_of_charge(np.array([np.nan]), np.array([2.0]), 0.1)[0] == 2.0


@pytest.mark.parametrize("f", [-0.01, 1.0, float("nan")])
def test_carry_over_outside_its_range_is_refused(f: float) -> None:
    with pytest.raises(OutOfRange):
        start_of_charge(np.array([1.0]), np.array([1.0]), f)


def test_without_top_ups_a_rate_is_rise_over_hours() -> None:
    rate = one(200, 34).rate(np.array([[21.0]]), np.array([[1.0]]), np.array([[1.0]]))
    assert rate[0, 0] == pytest.approx(0.1)


def test_no_time_on_the_oil_gives_no_rate() -> None:
    for t in (0.0, -5.0, float("nan")):
        m = one(t, 34)
        assert np.isnan(m.rate(np.array([[21.0]]), np.array([[1.0]]), np.array([[1.0]]))[0, 0])


def test_an_unknown_volume_takes_no_account_of_top_ups() -> None:
    m = one(100, float("nan"), [(50, 3)])
    assert (m.kept[0], m.fresh[0], m.gain[0]) == (1.0, 0.0, 100.0)


@given(
    g=st.floats(0, 2),
    t=st.floats(20, 400),
    c0=st.floats(0, 50),
    fresh=st.floats(0, 10),
    ups=st.lists(st.tuples(st.floats(0.05, 0.95), st.floats(0.1, 4)), max_size=4),
    phi=st.sampled_from([0, 0.5, 1]),
)
def test_the_rate_that_made_a_reading_is_found_again(g, t, c0, fresh, ups, phi) -> None:
    where = sorted({round(share * t, 3): litres for share, litres in ups}.items())
    m = one(t, 34, where, phi)
    end = m.end(np.array([[c0]]), np.array([[fresh]]), np.array([[g]]))
    assert m.rate(end, np.array([[c0]]), np.array([[fresh]]))[0, 0] == pytest.approx(g, abs=1e-9)


@given(
    t=st.floats(20, 400),
    ups=st.lists(st.tuples(st.floats(0.05, 0.95), st.floats(0.1, 4)), min_size=1, max_size=4),
)
def test_shares_of_old_and_fresh_oil_are_shares(t, ups) -> None:
    where = sorted({round(share * t, 3): litres for share, litres in ups}.items())
    m = one(t, 34, where)
    assert 0 < m.kept[0] < 1
    assert 0 < m.fresh[0] < 1
    assert m.kept[0] + m.fresh[0] == pytest.approx(1.0)


@given(t=st.floats(20, 400), litres=st.floats(0.2, 5))
def test_topping_up_hides_wear(t, litres) -> None:
    """The same reading just after a top-up of clean oil means a higher rate."""
    reading, zero = np.array([[20.0]]), np.array([[0.0]])
    topped = one(t, 34, [(0.98 * t, litres)]).rate(reading, zero, zero)
    assert topped[0, 0] > one(t, 34).rate(reading, zero, zero)[0, 0]


def test_a_sump_cannot_lose_more_than_half() -> None:
    """A larger loss is a record that does not fit; the arithmetic stays finite."""
    m = one(100, 10, [(50, 30)])
    assert np.isfinite([m.kept[0], m.fresh[0], m.gain[0]]).all()
    assert m.kept[0] == pytest.approx(0.5 * 1.0)


@pytest.mark.parametrize(
    "wrong", [{"t": 0}, {"t": -1}, {"v_l": 0}, {"q_l": -0.1}, {"phi": 1.5}, {"t": float("nan")}]
)
def test_rates_outside_their_range_are_refused(wrong) -> None:
    given_ = {
        "c": 20,
        "c_start": 1,
        "c_fresh": 1,
        "t": 100,
        "q_l": 0.01,
        "v_l": 30,
        "phi": 1.0,
        **wrong,
    }
    with pytest.raises(OutOfRange):
        rate_continuous(**given_)


@given(t1=st.floats(10, 200), t2=st.floats(10, 200), c0=st.floats(0, 30), g=st.floats(0, 1))
def test_two_stretches_are_one(t1, t2, c0, g) -> None:
    """Running t1 and then t2 is running t1 + t2, when nothing is lost."""
    assume(t1 != t2)
    zero = np.array([[0.0]])
    half = one(t1, 34).end(np.array([[c0]]), zero, np.array([[g]]))
    assert one(t2, 34).end(half, zero, np.array([[g]]))[0, 0] == pytest.approx(
        one(t1 + t2, 34).end(np.array([[c0]]), zero, np.array([[g]]))[0, 0]
    )
