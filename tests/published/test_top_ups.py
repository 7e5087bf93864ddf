"""Wear with top-ups against the mass balance itself.

Outside check: scipy.integrate.solve_ivp runs dM/dt = g V0 - phi q M / V with V falling between
top-ups and a top-up as a jump; the program's closed forms must meet it for phi = 0, 1/2 and 1, and
in their limits.
"""

import math

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from keen_tracer.core.oil import mixing
from keen_tracer.core.oil.mass_balance import rate_continuous

V0, FRESH = 28.0, 3.0


def integrate(
    c0: float, g: float, t_end: float, ups: list[tuple[float, float]], phi: float
) -> float:
    """Concentration at `t_end`: oil is lost evenly between top-ups, each of which fills up
    again."""
    mass, last, total = c0 * V0, 0.0, sum(q for _, q in ups)
    stretches = [
        (at, litres / (at - before))
        for (at, litres), before in zip(ups, [0.0, *(a for a, _ in ups)], strict=False)
    ]
    volume = V0
    for (at, use), (_, litres) in zip(stretches, ups, strict=True):
        mass, volume = run(mass, g, at - last, use, phi)
        mass, volume, last = mass + litres * FRESH, V0, at
    use = total / last if last else 0.0
    mass, volume = run(mass, g, t_end - last, use, phi)
    return mass / volume


def run(mass: float, g: float, span: float, use: float, phi: float) -> tuple[float, float]:
    if span <= 0:
        return mass, V0
    done = solve_ivp(
        lambda t, m: g * V0 - phi * use * m / (V0 - use * t),
        (0, span),
        [mass],
        rtol=1e-10,
        atol=1e-12,
    )
    return float(done.y[0, -1]), V0 - use * span


CASES = [
    (200.0, []),
    (200.0, [(100.0, 2.0)]),
    (240.0, [(60.0, 1.5), (130.0, 2.0), (200.0, 3.0)]),
    (90.0, [(90.0, 4.0)]),
    (250.0, [(40.0, 1.0), (80.0, 1.0), (120.0, 1.0), (160.0, 1.0), (200.0, 1.0), (240.0, 1.0)]),
]


@pytest.mark.parametrize("phi", [0.0, 0.5, 1.0])
@pytest.mark.parametrize(("t", "ups"), CASES)
def test_discrete_top_ups_against_the_integral(
    t: float, ups: list[tuple[float, float]], phi: float
) -> None:
    m = mixing(
        np.array([t]),
        np.array([V0]),
        np.array([[a for a, _ in ups]]),
        np.array([[q for _, q in ups]]),
        phi,
    )
    ours = m.end(np.array([[6.0]]), np.array([[FRESH]]), np.array([[0.2]]))[0, 0]
    assert ours == pytest.approx(integrate(6.0, 0.2, t, ups, phi), rel=1e-7)


@pytest.mark.parametrize("phi", [0.0, 0.5, 1.0])
@pytest.mark.parametrize("q", [0.002, 0.02, 0.1])
def test_continuous_make_up_against_the_integral(q: float, phi: float) -> None:
    """V constant: dC/dt = g - phi q C / V + q C_f / V."""
    g, t, c0 = 0.15, 220.0, 5.0
    done = solve_ivp(
        lambda _, c: g - phi * q * c / V0 + q * FRESH / V0, (0, t), [c0], rtol=1e-10, atol=1e-12
    )
    assert rate_continuous(float(done.y[0, -1]), c0, FRESH, t, q, V0, phi) == pytest.approx(
        g, rel=1e-7
    )


def test_no_use_is_the_limit_of_little_use() -> None:
    bare = rate_continuous(40, 4, FRESH, 200, 0.0, V0)
    assert bare == pytest.approx((40 - 4) / 200)
    assert rate_continuous(40, 4, FRESH, 200, 1e-9, V0) == pytest.approx(bare, rel=1e-6)


def test_with_much_use_the_reading_becomes_a_balance() -> None:
    """x large: wear equals what the lost oil carries away, g = (q/V)(C - C_f)."""
    q, t = 1.0, 2000.0
    assert rate_continuous(40, 4, FRESH, t, q, V0) == pytest.approx(q / V0 * (40 - FRESH), rel=1e-6)


def test_taking_loss_for_evaporation_overstates_by_the_known_factor() -> None:
    """phi = 1 taken for 0 overstates by x / (1 - e^-x): 1.16 at x = 0.3 (clean start, clean fresh
    oil)."""
    x, t = 0.3, 200.0
    q = x * V0 / t
    truth = rate_continuous(20, 0, 0, t, q, V0, phi=0.0)
    taken = rate_continuous(20, 0, 0, t, q, V0, phi=1.0)
    assert taken / truth == pytest.approx(x / (1 - math.exp(-x)), rel=1e-9)
    assert taken / truth == pytest.approx(1.16, abs=0.003)


def test_the_continuous_form_is_off_just_before_a_top_up() -> None:
    """At x = 0.6 in six top-ups the continuous form reads about a tenth high: why the program steps
    through them."""
    t, g, litres = 240.0, 0.2, 0.1 * V0
    ups = [(n * t / 6, litres) for n in range(1, 6)]
    mass, volume = 0.0, V0
    for _ in range(6):
        mass, volume = run(mass, g, t / 6, litres / (t / 6), 1.0)
        before_top_up = mass / volume
        mass, volume = mass, V0  # clean oil brings the volume back
    continuous = rate_continuous(before_top_up, 0, 0, t, 6 * litres / t, V0)
    assert 1.08 < continuous / g < 1.13
    m = mixing(
        np.array([t]),
        np.array([V0]),
        np.array([[a for a, _ in ups]]),
        np.array([[q for _, q in ups]]),
    )
    stepped = m.rate(np.array([[before_top_up]]), np.array([[0.0]]), np.array([[0.0]]))[0, 0]
    assert stepped == pytest.approx(g, rel=1e-7)
