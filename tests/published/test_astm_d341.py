"""ASTM D341, viscosity against temperature.

Outside check: the forward equation Z = v + 0.7 + exp(-1.47 - 1.84 v - 0.51 v²) solved by root
finding with scipy.optimize, so that neither the program's code nor its closed inverse is used; and
the viscosity index of the library `chemicals` (ASTM D2270) on the worked examples of D2270, which
need a consistent pair of viscosities.
"""

import math

import pytest
from chemicals.viscosity import viscosity_index
from scipy.optimize import brentq

from keen_tracer.core.oil.viscosity import viscosity_at


def z(nu: float) -> float:
    return nu + 0.7 + math.exp(-1.47 - 1.84 * nu - 0.51 * nu * nu)


def by_root_finding(t_c: float, kv40: float, kv100: float) -> float:
    def w(nu: float) -> float:
        return math.log10(math.log10(z(nu)))

    t1, t2, t = (math.log10(x + 273.15) for x in (40.0, 100.0, t_c))
    b = (w(kv40) - w(kv100)) / (t2 - t1)
    a = w(kv40) + b * t1
    return brentq(lambda nu: w(nu) - (a - b * t), 0.3, 1e7, xtol=1e-12)


@pytest.mark.parametrize(
    ("kv40", "kv100"), [(95.0, 14.0), (68.0, 11.6), (73.3, 8.86), (22.83, 5.05), (160.0, 15.0)]
)
@pytest.mark.parametrize("t", [-10, 0, 20, 40, 60, 90, 100, 120, 150])
def test_against_root_finding(t: float, kv40: float, kv100: float) -> None:
    assert viscosity_at(t, kv40, kv100) == pytest.approx(by_root_finding(t, kv40, kv100), rel=2e-4)


@pytest.mark.parametrize(
    ("kv40", "kv100", "vi"), [(73.30, 8.86, 92), (22.83, 5.05, 156), (53.47, 7.80, 111)]
)
def test_the_pairs_of_d2270_pass_through_unchanged(kv40: float, kv100: float, vi: int) -> None:
    """ASTM D2270 worked examples: at 40 °C and 100 °C the law gives back what it was given."""
    back40, back100 = viscosity_at(40, kv40, kv100), viscosity_at(100, kv40, kv100)
    assert round(viscosity_index(back40 * 1e-6, back100 * 1e-6)) == vi
