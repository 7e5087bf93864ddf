"""Dust, coolant, fuel and debris counts against figures from outside the project."""

import numpy as np
import pytest
from scipy import stats

from keen_tracer.core.errors import OutOfRange
from keen_tracer.core.oil import (
    allowed_range,
    coolant_litres,
    dust_ratio,
    fuel_from_viscosity,
    grades_of,
    with_dust,
)
from keen_tracer.core.oil.contamination import dust_of_iso_12103
from keen_tracer.core.record.debris import on_the_whole, poisson_interval
from keen_tracer.core.review.before_after import holm, welch


def test_iso_12103_1_test_dust_has_silicon_to_aluminium_of_4_to_6_7() -> None:
    """ISO 12103-1: SiO2 68-76 %, Al2O3 10-15 %; by molar masses Si/Al is 4.0 to 6.7 by mass."""
    low, high = dust_of_iso_12103()
    assert low == pytest.approx(4.0, abs=0.05)
    assert high == pytest.approx(6.7, abs=0.05)


@pytest.mark.parametrize(
    ("fuel", "share", "drop"),
    [
        ("diesel", 0.02, 8.2),
        ("diesel", 0.05, 18.9),
        ("biodiesel", 0.02, 6.1),
        ("biodiesel", 0.05, 14.6),
        ("petrol", 0.02, 13.2),
        ("petrol", 0.05, 29.0),
    ],
)
def test_fuel_from_viscosity_by_the_blend_rule_of_d7152(
    fuel: str, share: float, drop: float
) -> None:
    """the-trade 3.8, calculated there by hand from ASTM D7152 for a 14.5 mm²/s oil."""
    assert fuel_from_viscosity(14.5 * (1 - drop / 100), 14.5, fuel) == pytest.approx(
        share, abs=0.0006
    )


def test_d7152_five_per_cent_diesel_in_a_14_5_oil_is_11_76() -> None:
    """the-trade 3.8: 14.5 mm²/s with 5 % diesel gives 11.76."""
    assert fuel_from_viscosity(11.76, 14.5) == pytest.approx(0.05, abs=0.0003)


def test_fuel_from_viscosity_is_an_upper_bound_that_shear_alone_can_reach() -> None:
    """the-trade 3.8: 10 % shear looks like 2.5 % diesel."""
    assert fuel_from_viscosity(0.9 * 14.5, 14.5) == pytest.approx(0.025, abs=0.001)
    assert fuel_from_viscosity(15.0, 14.5) == 0.0
    with pytest.raises(OutOfRange, match="KV100"):
        fuel_from_viscosity(float("nan"), 14.5)


def test_coolant_litres_by_mass_balance() -> None:
    """the-trade 3.9: 50 mg/kg in 20 L from a coolant of 4 000 mg/kg is 0.203 L."""
    assert coolant_litres(50, 20, 4000) == pytest.approx(0.203, abs=0.0005)
    for bad in ((50, 0, 4000), (50, 20, 0), (float("nan"), 20, 4000), (-1, 20, 4000)):
        with pytest.raises(OutOfRange):
            coolant_litres(*bad)


def test_fiellers_interval_covers_the_true_ratio_as_often_as_it_says() -> None:
    """Against simulation: 95 % of intervals hold the true ratio (Fieller 1954)."""
    rng = np.random.default_rng(5)
    held = [
        dust_ratio(s, 1.5, a, 0.8)
        for s, a in zip(rng.normal(40, 1.5, 2000), rng.normal(8, 0.8, 2000), strict=True)
    ]
    share = np.mean([x.low <= 5.0 <= x.high for x in held])
    assert 0.935 < share < 0.965


@pytest.mark.parametrize(
    ("silicon", "aluminium", "word"),
    [
        (40, 8, "dust"),
        (30, 10, "clay"),
        (60, 0.2, "sealant"),
        (60, 4, "sealant"),
        (6, 20, "casting"),
        (4, 1, "too little"),
        (6, 1, "unclear"),
    ],
)
def test_the_dust_ratio_in_words(silicon: float, aluminium: float, word: str) -> None:
    """The ratios of the-trade 3.9, common practice."""
    assert dust_ratio(silicon, 0.8, aluminium, 0.5).word == word


def test_dust_brings_its_own_potassium_and_sodium() -> None:
    """the-trade 3.9: per 50 ppm of silicon about 2 to 6 ppm potassium and 2 to 5 sodium."""
    assert with_dust(50, "K") == (2, 6)
    assert with_dust(100, "Na") == (4, 10)
    assert with_dust(-5, "Fe") == (0, 0)


@pytest.mark.parametrize("n", [0, 1, 3, 10, 57])
def test_poisson_intervals_against_scipy(n: int) -> None:
    """Garwood's exact interval, by inverting the tail sums of scipy.stats.poisson."""
    low, high = poisson_interval(n)
    if n:
        assert stats.poisson.sf(n - 1, low) == pytest.approx(0.025, abs=1e-9)
        assert stats.poisson.cdf(n, high) == pytest.approx(0.025, abs=1e-9)
    else:
        assert stats.poisson.pmf(0, high) == pytest.approx(0.05, abs=0.001)


def test_counts_scale_to_the_whole_element() -> None:
    """the-trade 3.14: N·A_total/A_seen, nothing seen up to 3/A_seen."""
    assert on_the_whole(10, 0.25)[0] == 40
    assert on_the_whole(0, 0.5) == (0, 0, 6)


def test_welch_against_scipy() -> None:
    """scipy.stats.ttest_ind with unequal variances, and its confidence interval."""
    rng = np.random.default_rng(2)
    x, y = rng.normal(0, 1, 9), rng.normal(0.8, 2, 14)
    d, low, high, p = welch(x, y)
    reference = stats.ttest_ind(y, x, equal_var=False)
    interval = reference.confidence_interval()
    assert p == pytest.approx(reference.pvalue, rel=1e-9)
    assert (low, high) == (pytest.approx(interval.low), pytest.approx(interval.high))
    assert d == pytest.approx(y.mean() - x.mean())


def test_holm_on_the_example_of_its_description() -> None:
    """Worked by hand after Holm 1979: 0.005 < 0.05/4, 0.01 < 0.05/3, 0.03 > 0.05/2: two hold."""
    assert holm([0.01, 0.04, 0.03, 0.005]) == [True, False, False, True]
    assert holm([]) == []


def test_a_9_mm2_s_oil_is_below_grade_30_and_valid_where_20_is_allowed() -> None:
    """A fact of the trade (common practice) by SAE J300: 30 begins at 9.3, 20 ends there."""
    assert "30" not in grades_of(9.0)
    assert "20" in grades_of(9.0)
    only_30, with_20 = allowed_range(("30",)), allowed_range(("30", "20"))
    assert only_30 is not None
    assert with_20 is not None
    assert not only_30[0] <= 9.0
    assert with_20[0] <= 9.0 < with_20[1]
