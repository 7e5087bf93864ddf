"""Least squares, its intervals and its prediction interval against statsmodels (OLS,
get_prediction)."""

import numpy as np
import pytest
import statsmodels.api as sm
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.statistics import fit_line
from keen_tracer.core.statistics.regression import LEVEL

FIGURES = st.tuples(st.integers(0, 60), st.floats(-50, 50).map(lambda v: round(v, 2)))
POINTS = st.lists(FIGURES, min_size=4, max_size=25).filter(lambda v: len({x for x, _ in v}) > 2)


@given(POINTS, st.integers(-20, 120))
def test_slope_interval_and_prediction_interval_agree_with_the_reference(points, at) -> None:
    x, y = np.array([float(a) for a, _ in points]), np.array([b for _, b in points])
    line = fit_line(x.tolist(), y.tolist())
    assert line is not None
    found = sm.OLS(y, sm.add_constant(x)).fit()
    near = {"rel": 1e-6, "abs": 1e-6}
    assert (line.intercept, line.slope) == (
        pytest.approx(found.params[0], **near),
        pytest.approx(found.params[1], **near),
    )
    assert (line.slope_low, line.slope_high) == pytest.approx(
        tuple(found.conf_int(alpha=1 - LEVEL)[1]), **near
    )
    frame = (
        found.get_prediction(np.array([[1.0, float(at)]])).summary_frame(alpha=1 - LEVEL).iloc[0]
    )
    assert line.at(float(at)) == pytest.approx(
        (frame["mean"], frame["obs_ci_lower"], frame["obs_ci_upper"]), **near
    )


def test_the_standard_error_of_a_noisy_metal_agrees() -> None:
    """Iron at the drains of ten charges, invented."""
    x, y = np.arange(0, 2500, 250.0), np.array([24, 25.5, 23, 27, 26, 28.5, 27, 30, 29, 31.0])
    line, found = fit_line(x.tolist(), y.tolist()), sm.OLS(y, sm.add_constant(x)).fit()
    assert line is not None
    assert line.slope_se == pytest.approx(found.bse[1], rel=1e-9)
    assert line.s == pytest.approx(np.sqrt(found.mse_resid), rel=1e-9)
