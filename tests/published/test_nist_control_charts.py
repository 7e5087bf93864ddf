"""EWMA and CUSUM against the worked tables of the NIST/SEMATECH e-Handbook (values as printed;
recalled)."""

import pytest

from keen_tracer.core.statistics import cusum, ewma


def test_ewma_worked_table() -> None:
    """6.3.2.4: target 50, s 2.0539, weight 0.3."""
    data = [
        52.0,
        47.0,
        53.0,
        49.3,
        50.1,
        47.0,
        51.0,
        50.1,
        51.2,
        50.5,
        49.6,
        47.6,
        49.9,
        51.3,
        47.8,
        51.2,
        52.6,
        52.4,
        53.6,
        52.1,
    ]
    printed = [
        50.60,
        49.52,
        50.56,
        50.18,
        50.16,
        49.21,
        49.75,
        49.85,
        50.26,
        50.33,
        50.11,
        49.36,
        49.52,
        50.05,
        49.38,
        49.92,
        50.73,
        51.23,
        51.94,
        51.99,
    ]
    found = ewma(data, 50, 2.0539, 0.3)
    assert found.values == pytest.approx(printed, abs=0.0051)
    assert (found.high, found.low) == (
        pytest.approx(52.5884, abs=2e-4),
        pytest.approx(47.4115, abs=2e-4),
    )


def test_cusum_worked_table() -> None:
    """6.3.2.3: target 325, k 0.3175, h 4.1959."""
    data = [
        324.925,
        324.675,
        324.725,
        324.350,
        325.350,
        325.225,
        324.125,
        324.525,
        325.225,
        324.600,
        324.625,
        325.150,
        328.325,
        327.250,
        327.825,
        328.500,
        326.675,
        327.775,
        326.875,
        328.350,
    ]
    upper = [
        0,
        0,
        0,
        0,
        0.03,
        0,
        0,
        0,
        0,
        0,
        0,
        0,
        3.01,
        4.94,
        7.45,
        10.63,
        11.99,
        14.44,
        16.00,
        19.04,
    ]
    lower = [0, 0.01, 0, 0.33, 0, 0, 0.56, 0.72, 0.17, 0.25, 0.31, 0, 0, 0, 0, 0, 0, 0, 0, 0]
    found = cusum(data, 325, 0.3175, 4.1959)
    assert found.upper == pytest.approx(upper, abs=0.011)
    assert found.lower == pytest.approx(lower, abs=0.011)
    assert next(n for n, v in enumerate(found.upper, 1) if v > found.h) == 14


@pytest.mark.parametrize(
    "call",
    [
        lambda: ewma([1], 0, 1, 0),
        lambda: ewma([1], 0, 0),
        lambda: cusum([1], 0, -1, 1),
        lambda: cusum([1], 0, 1, 0),
        lambda: ewma([1], 0, float("nan")),
    ],
)
def test_what_makes_no_chart_is_refused(call) -> None:
    with pytest.raises(ValueError, match="must"):
        call()


def test_nothing_measured_draws_nothing() -> None:
    assert ewma([], 0, 1).values == ()
    assert cusum([], 0, 1, 1).upper == ()
