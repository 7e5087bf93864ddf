"""Noise of a test, and what may be said of a change."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.laboratory import (
    ANALYTES,
    BY_COLUMN,
    N,
    idx,
    limits_of_difference,
    precision_laws,
    significant_change,
    standard_deviation,
)


def at(symbol: str, x: float) -> np.ndarray:
    row = np.full((1, N), np.nan)
    row[0, idx(symbol)] = x
    return row


@given(st.floats(0, 5000), st.floats(0, 10))
def test_another_laboratory_is_never_more_precise(x: float, detection: float) -> None:
    r, big_r = limits_of_difference(np.full((1, N), x), detection)
    assert np.all(big_r >= r)
    assert np.all(r >= detection / 2)


@given(st.floats(0, 1000), st.floats(0, 1000))
def test_noise_never_shrinks_as_the_reading_grows(a: float, b: float) -> None:
    low, high = sorted((a, b))
    assert np.all(
        standard_deviation(np.full((1, N), low))
        <= standard_deviation(np.full((1, N), high)) + 1e-12
    )


def test_same_laboratory_lies_between_repeatability_and_reproducibility() -> None:
    x = at("Fe", 50.0)
    r, big_r = limits_of_difference(x)
    s = standard_deviation(x)
    assert r[0, idx("Fe")] / 2.77 < s[0, idx("Fe")] < big_r[0, idx("Fe")] / 2.77
    assert standard_deviation(x, same_laboratory=False)[0, idx("Fe")] == pytest.approx(
        big_r[0, idx("Fe")] / 2.77
    )


def test_what_is_not_measured_has_no_noise() -> None:
    s = standard_deviation(at("Fe", 10.0))
    assert np.isnan(s[0, idx("Pb")])


def test_every_metal_has_the_law_of_its_table_and_every_law_an_origin() -> None:
    for analyte, law in zip(ANALYTES, precision_laws(), strict=True):
        assert law.origin
        if analyte.symbol in ("Fe", "Pb", "Si", "Ca"):
            assert "D5185" in law.origin
    assert "D445" in precision_laws()[BY_COLUMN["KV100_mm2_s"].index].origin


def test_a_wrong_number_of_columns_is_refused() -> None:
    with pytest.raises(ValueError, match="analytes"):
        limits_of_difference(np.zeros((1, 3)))


def test_a_change_within_noise_gets_no_percentage() -> None:
    c = significant_change(13, 12, 2.0)
    assert not c.distinguishable
    assert c.relative_pct is None


def test_a_change_beyond_noise_has_an_interval() -> None:
    """0.80 → 0.60 is -25 % (the-trade, facts of the trade)."""
    c = significant_change(0.60, 0.80, 0.02)
    assert c.relative_pct == -25
    assert c.relative_half_width_pct is not None
    assert 0 < c.relative_half_width_pct < 10


def test_no_percentage_of_a_reading_at_its_detection_limit() -> None:
    c = significant_change(30, 1, 2.0, detection=2)
    assert c.distinguishable
    assert c.relative_pct is None
    assert "detection" in c.why


def test_no_division_by_an_old_value_of_zero() -> None:
    c = significant_change(30, 0, 2.0)
    assert c.distinguishable
    assert c.relative_pct is None


@pytest.mark.parametrize("s", [0.0, -1.0, float("nan")])
def test_a_change_needs_a_noise_above_zero(s: float) -> None:
    with pytest.raises(ValueError, match="above 0"):
        significant_change(2, 1, s)
