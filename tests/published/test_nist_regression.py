"""Least squares against NIST StRD "Norris" (certified values) and statsmodels' intervals; crossings
by hand."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy import stats

from keen_tracer.core.statistics import crossing, fit_line

# NIST Statistical Reference Datasets, linear regression, Norris (36 observations).
Y = [
    0.1,
    338.8,
    118.1,
    888.0,
    9.2,
    228.1,
    668.5,
    998.5,
    449.1,
    778.9,
    559.2,
    0.3,
    0.1,
    778.1,
    668.8,
    339.3,
    448.9,
    10.8,
    557.7,
    228.3,
    998.0,
    888.8,
    119.6,
    0.3,
    0.6,
    557.6,
    339.3,
    888.0,
    998.5,
    778.9,
    10.2,
    117.6,
    228.9,
    668.4,
    449.2,
    0.2,
]
X = [
    0.2,
    337.4,
    118.2,
    884.6,
    10.1,
    226.5,
    666.3,
    996.3,
    448.6,
    777.0,
    558.2,
    0.4,
    0.6,
    775.5,
    666.9,
    338.0,
    447.5,
    11.6,
    556.0,
    228.1,
    995.8,
    887.6,
    120.2,
    0.3,
    0.3,
    556.8,
    339.1,
    887.2,
    999.0,
    779.0,
    11.1,
    118.3,
    229.2,
    669.1,
    448.9,
    0.5,
]


def test_norris_certified_values() -> None:
    line = fit_line(X, Y)
    assert line is not None
    assert line.slope == pytest.approx(1.00211681802045, rel=1e-12)
    assert line.intercept == pytest.approx(-0.262323073774029, rel=1e-10)
    assert line.s == pytest.approx(0.884796396144373, rel=1e-12)
    assert line.slope_se == pytest.approx(0.429796848199937e-3, rel=1e-11)


POINTS = st.lists(
    st.tuples(st.integers(0, 500), st.floats(-50, 50)), min_size=4, max_size=25
).filter(lambda p: len({x for x, _ in p}) > 2)


@given(POINTS)
def test_slope_and_its_error_are_those_of_scipy(points) -> None:
    x, y = [float(a) for a, _ in points], [b for _, b in points]
    assume(np.std(y) > 0)  # the reference divides by it
    line, ref = fit_line(x, y), stats.linregress(x, y)
    assert line is not None
    assert line.slope == pytest.approx(ref.slope, abs=1e-9)
    # Where a line fits exactly, 1 - r² of the reference loses all digits: its error is √(2⁻⁵²)
    # sd(y) / sd(x).
    assert line.slope_se == pytest.approx(
        ref.stderr, rel=1e-6, abs=1e-7 * max(1, np.std(y) / np.std(x))
    )


def test_the_prediction_interval_is_the_textbooks() -> None:
    """Against the closed form t(0.975, n-2) s sqrt(1 + 1/n + (x - mean)^2 / Sxx), with SciPy's
    t."""
    rng = np.random.default_rng(3)
    x = np.arange(12.0)
    y = 2 + 0.5 * x + rng.normal(size=12)
    line = fit_line(x.tolist(), y.tolist())
    assert line is not None
    ref = stats.linregress(x, y)
    s = np.sqrt(((y - ref.intercept - ref.slope * x) ** 2).sum() / 10)
    half = (
        stats.t.ppf(0.975, 10)
        * s
        * np.sqrt(1 + 1 / 12 + (15 - x.mean()) ** 2 / ((x - x.mean()) ** 2).sum())
    )
    expected, low, high = line.at(15)
    assert (expected - low, high - expected) == (pytest.approx(half), pytest.approx(half))


def test_a_limit_is_crossed_with_its_interval_only_where_there_is_a_trend() -> None:
    rising = fit_line([0, 50, 100, 150, 200], [10, 15.2, 19.9, 25.1, 29.9])
    found = crossing(rising, 50, 200)
    assert found.word == "crosses"
    assert found.at == pytest.approx(400, abs=4)  # 0.1 a unit from 10
    assert found.earliest is not None
    assert found.latest is not None
    assert 200 < found.earliest < found.at < found.latest
    assert crossing(rising, 20, 200).word == "reached"
    assert crossing(rising, 5, 200, rising=False).word == "away"
    assert crossing(fit_line([0, 1, 2, 3, 4], [5, 4, 6, 4, 5]), 50, 4).word == "no trend"
    assert crossing(fit_line([0, 1], [1, 2]), 50, 4).word == "too few"


def test_a_falling_reserve_reaches_its_lower_limit() -> None:
    found = crossing(fit_line([0, 100, 200, 300], [10, 9.1, 7.9, 7]), 5, 300, rising=False)
    assert found.at == pytest.approx(497, abs=8)


def test_a_band_that_widens_faster_than_the_line_rises_has_no_last_day() -> None:
    found = crossing(fit_line([0, 1, 2, 3, 4, 5], [0, 3, 1, 4, 2.5, 5]), 400, 5)
    assert found.word in ("crosses", "no trend")
    if found.word == "crosses":
        assert found.latest is None or found.latest >= (found.at or 0)


def test_what_is_no_number_is_refused() -> None:
    for bad in ([float("nan"), 1, 2], [float("inf"), 1, 2]):
        with pytest.raises(ValueError, match="number"):
            fit_line(bad, [1, 2, 3])
    with pytest.raises(ValueError, match="values"):
        fit_line([1, 2], [1])
    assert fit_line([1, 1, 1], [1, 2, 3]) is None
    with pytest.raises(ValueError, match="numbers"):
        crossing(fit_line([0, 1, 2], [0, 1, 2.1]), float("nan"), 1)
