"""Viscosity index: worked examples of ASTM D2270 as the-trade 3.8 gives them, and the open
reference library on a grid."""

import pytest
from chemicals.viscosity import viscosity_index as reference

from keen_tracer.core.errors import OutOfRange
from keen_tracer.core.oil.viscosity import viscosity_index


@pytest.mark.parametrize(
    ("kv40", "kv100", "index"), [(73.30, 8.86, 92), (22.83, 5.05, 156), (53.47, 7.80, 111)]
)
def test_worked_examples(kv40: float, kv100: float, index: int) -> None:
    assert round(viscosity_index(kv40, kv100)) == index


@pytest.mark.parametrize("kv100", [2.0, 2.05, 4.1, 7.77, 12.5, 16.31, 29.9, 55.0, 69.9, 90.0])
@pytest.mark.parametrize("times", [3.0, 5.5, 8.0, 12.0])
def test_over_a_grid_it_is_the_reference(kv100: float, times: float) -> None:
    kv40 = kv100 * times
    assert viscosity_index(kv40, kv100) == pytest.approx(
        reference(kv40 * 1e-6, kv100 * 1e-6), rel=1e-9
    )


@pytest.mark.parametrize(
    ("kv40", "kv100"), [(10, 1.9), (5, 8), (float("nan"), 8), (80, float("nan")), (float("inf"), 9)]
)
def test_outside_the_range_it_refuses(kv40: float, kv100: float) -> None:
    with pytest.raises(OutOfRange):
        viscosity_index(kv40, kv100)
