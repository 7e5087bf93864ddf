"""Theil–Sen and Kendall against SciPy (scipy.stats.theilslopes, kendalltau with the asymptotic
method)."""

import warnings

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import kendalltau, theilslopes

from keen_tracer.core.statistics import trend
from keen_tracer.core.statistics.trend import FEWEST

VALUES = st.lists(
    st.tuples(st.integers(0, 30), st.integers(-20, 20)), min_size=3, max_size=30
).filter(lambda v: len({x for x, _ in v}) > 1 and len({y for _, y in v}) > 1)


@given(VALUES)
def test_slope_tau_and_p_agree_with_the_reference_with_and_without_ties(pairs) -> None:
    x, y = [float(a) for a, _ in pairs], [float(b) for _, b in pairs]
    ours, tau = trend(x, y), kendalltau(x, y, method="asymptotic")
    with (
        warnings.catch_warnings()
    ):  # the reference warns about its interval under many ties; only its slope is read
        warnings.simplefilter("ignore", RuntimeWarning)
        slope = theilslopes(y, x)[0]
    assert ours.slope == pytest.approx(slope, abs=1e-12)
    assert ours.tau == pytest.approx(tau.statistic, abs=1e-12)
    assert ours.p == pytest.approx(tau.pvalue, abs=1e-12)


def test_below_five_it_says_too_few() -> None:
    assert trend([1, 2, 3, 4], [1, 2, 3, 4]).word == "too few"
    assert trend(list(range(FEWEST)), list(range(FEWEST))).word == "rising"


def test_noise_is_no_trend() -> None:
    rng = np.random.default_rng(4)
    assert trend(list(range(20)), rng.normal(size=20).tolist()).word == "no trend"


def test_one_place_only_is_refused_and_nothing_is_too_few() -> None:
    with pytest.raises(ValueError, match="one place"):
        trend([1, 1], [2, 3])
    with pytest.raises(ValueError, match="places"):
        trend([1, 2], [2])
    assert trend([], []).word == "too few"
