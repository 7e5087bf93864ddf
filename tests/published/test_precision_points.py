"""Precision formulas at hand-worked points.

Source: ASTM D5185 (ICP), D445 (used-oil viscosity), D2896 (base number), all recalled from memory,
about 80 % sure; the points were worked by hand with natural logarithms, X^p = exp(p ln X), to four
figures.
"""

import numpy as np
import pytest

from keen_tracer.core.laboratory import N, idx, limits_of_difference, standard_deviation

POINTS = [
    # symbol, X, r, R
    ("Fe", 50, 2.972, 11.89),  # 50^0.80 = 22.87
    ("Pb", 20, 4.173, 8.820),  # 20^0.32 = 2.608; 20^0.36 = 2.940
    ("Cu", 30, 2.651, 7.200),  # 30^0.91 = 22.09
    ("Si", 15, 2.629, 8.337),  # 15^0.26 = 2.022; 15^0.39 = 2.875
    ("Ca", 2000, 83.64, 293.4),  # 2000^1.4 = 41821; 2000^1.3 = 19558
    ("Na", 25, 4.101, 10.81),  # 25^0.66 = 8.369; 25^0.71 = 9.830
    ("Cr", 1, 0.17, 0.81),
    ("KV100", 14, 0.04779, 0.1598),  # 14^1.4633 = 47.55
    ("KV40", 95, 0.5931, 1.512),  # 95^1.722 = 2545
    ("BN", 8, 1.92, 2.56),  # D2896 on used oil by back titration: 24 and 32 %
    ("AN", 2, 0.234, 0.88),  # D664 on used oil: 11.7 and 44 %
    ("Water", 0.2, 0.02868, 0.1702),  # D6304: 0.2^0.7 = 0.3241
    ("Oxidation", 10, 1.0, 1.0),  # other tests 10 %, our choice
]


@pytest.mark.parametrize(("symbol", "x", "r", "big_r"), POINTS)
def test_points_worked_by_hand(symbol: str, x: float, r: float, big_r: float) -> None:
    row = np.full((1, N), np.nan)
    row[0, idx(symbol)] = x
    got_r, got_R = limits_of_difference(row)
    assert got_r[0, idx(symbol)] == pytest.approx(r, rel=2e-3)
    assert got_R[0, idx(symbol)] == pytest.approx(big_r, rel=2e-3)


def test_below_one_the_figure_at_one_is_used() -> None:
    row = np.full((1, N), np.nan)
    row[0, idx("Fe")] = 0.2
    assert limits_of_difference(row)[0][0, idx("Fe")] == pytest.approx(0.13)


def test_one_site_over_days_is_the_geometric_mean() -> None:
    """s_site = sqrt(r R) / 2.77 (our choice): Fe 50, sqrt(2.972 * 11.89) / 2.77 = 2.146."""
    row = np.full((1, N), np.nan)
    row[0, idx("Fe")] = 50
    assert standard_deviation(row)[0, idx("Fe")] == pytest.approx(2.146, rel=2e-3)
