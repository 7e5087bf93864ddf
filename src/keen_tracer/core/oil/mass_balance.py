"""Oil mixing: the start of a charge, and wear rates with top-ups (the-trade 3.4, 3.5).

All functions work on arrays, one row a sample. The end value of a charge is linear in the wear
rate, so a charge is described by two numbers: what it would read without wear, and what one unit of
wear adds.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..errors import OutOfRange

Floats = NDArray[np.float64]


def start_of_charge(previous_end: Floats, fresh: Floats, carry_over: Floats | float) -> Floats:
    """Concentration just after a change: f·C_prev_end + (1 - f)·C_fresh. Units of the inputs.

    `carry_over` is litres left behind / sump capacity, 0 to below 1; OutOfRange otherwise. Where
    the previous end is not known (NaN) the fresh oil stands alone.

    >>> float(start_of_charge(np.array([80.0]), np.array([2.0]), 0.10)[0])
    9.8
    """
    f = np.asarray(carry_over, dtype=np.float64)
    if not np.all((f >= 0) & (f < 1)):
        raise OutOfRange("carry-over", float(np.asarray(f).flat[0]), 0, 1, "")
    mixed = f * previous_end + (1 - f) * fresh
    out: Floats = np.where(np.isnan(previous_end), fresh, mixed)
    return out


def rate_continuous(
    c: float, c_start: float, c_fresh: float, t: float, q_l: float, v_l: float, phi: float = 1.0
) -> float:
    """Wear rate [concentration per meter unit] when lost oil is made up all the time.

    c, c_start, c_fresh : concentrations now, after the change, of the fresh oil; t : meter units on
        the
    oil, above 0; q_l : litres lost and replaced per meter unit, from 0; v_l : oil volume [L], above
    0;
    phi : share of its metal that lost oil takes along, 1 for leaks and burnt oil, 0 for
        evaporation.
    Raises OutOfRange. Source: mass balance of a well-mixed volume, the-trade 3.5.

    >>> round(rate_continuous(30, 0, 0, 100, 0.0, 25), 3)
    0.3
    """
    if not t > 0:
        raise OutOfRange("time on oil", t, 0, float("inf"), "meter units")
    if not v_l > 0:
        raise OutOfRange("oil volume", v_l, 0, float("inf"), "L")
    if not (q_l >= 0 and 0 <= phi <= 1):
        raise OutOfRange("oil use", q_l, 0, float("inf"), "L per meter unit")
    x = phi * q_l * t / v_l
    if x < 1e-9:
        return (c - c_start) / t - (q_l / v_l) * c_fresh
    kept = -np.expm1(-x)
    return float((x / t) * (c - c_start * np.exp(-x)) / kept - (q_l / v_l) * c_fresh)


@dataclass(frozen=True)
class Mixing:
    """What a sample's charge does to metal: C = kept·C_start + fresh·C_fresh + gain·g.

    kept, fresh : (samples,) shares [-]; gain : (samples,) [meter units]. Without top-ups kept = 1,
    fresh = 0, gain = t.
    """

    kept: Floats
    fresh: Floats
    gain: Floats

    def end(self, c_start: Floats, c_fresh: Floats, g: Floats) -> Floats:
        """Concentration at the sample for a wear rate `g`, one column an analyte."""
        out: Floats = (
            self.kept[:, None] * c_start + self.fresh[:, None] * c_fresh + self.gain[:, None] * g
        )
        return out

    def rate(self, c: Floats, c_start: Floats, c_fresh: Floats) -> Floats:
        """The wear rate that ends at `c`. NaN where there is no time on the oil."""
        gain = np.where(self.gain > 0, self.gain, np.nan)[:, None]
        out: Floats = (c - self.kept[:, None] * c_start - self.fresh[:, None] * c_fresh) / gain
        return out


def mixing(
    t: Floats, volume_l: Floats, top_up_at: Floats, top_up_l: Floats, phi: float = 1.0
) -> Mixing:
    """Step every sample through its top-ups (the-trade 3.5, discrete form).

    t         : (samples,) meter units on the oil; ≤ 0 or NaN gives gain 0
    volume_l  : (samples,) nominal circulating volume [L], above 0; NaN takes no account of top-ups
    top_up_at : (samples, k) meter units after the change, ascending, NaN-padded
    top_up_l  : (samples, k) litres, NaN-padded
    phi       : share of its metal that lost oil takes along, 0 to 1 (1: leaks and burnt oil)

    Each top-up is taken to restore the full volume, so the oil lost before it is the oil put in;
    after the last one the mean use goes on. The volume never falls below half (our choice: a larger
    loss is a record that does not fit). Checked against scipy.integrate in tests/published.

    >>> m = mixing(np.array([100.0]), np.array([20.0]), np.array([[50.0]]), np.array([[2.0]]))
    >>> [round(float(x[0]), 4) for x in (m.kept, m.fresh, m.gain)]
    [0.9, 0.1, 100.0925]
    """
    if not 0 <= phi <= 1:
        raise OutOfRange("share of metal lost with oil", phi, 0, 1, "")
    n = len(t)
    kept, fresh, gain = np.ones(n), np.zeros(n), np.zeros(n)
    known = np.where(volume_l > 0, volume_l, np.inf)
    last = np.zeros(n)
    total = np.zeros(n)
    for k in range(top_up_at.shape[1] if top_up_at.ndim == 2 else 0):
        at, litres = top_up_at[:, k], top_up_l[:, k]
        here = (at > 0) & (at <= t) & (litres > 0)
        if not here.any():
            break
        span = np.where(here, at - last, 0.0)
        lost = np.where(here, np.minimum(litres, known / 2), 0.0)
        kept, fresh, gain = _run(kept, fresh, gain, span, lost, known, phi)
        share = lost / known  # the top-up brings the volume back to nominal
        kept, fresh, gain = kept * (1 - share), fresh * (1 - share) + share, gain * (1 - share)
        total += lost
        last = np.where(here, at, last)
    span = np.where(t > last, t - last, 0.0)
    use = np.divide(total, last, out=np.zeros(n), where=last > 0)
    return Mixing(*_run(kept, fresh, gain, span, np.minimum(use * span, known / 2), known, phi))


def _run(
    kept: Floats,
    fresh: Floats,
    gain: Floats,
    span: Floats,
    lost: Floats,
    nominal: Floats,
    phi: float,
) -> tuple[Floats, Floats, Floats]:
    """Run `span` meter units while `lost` litres leave a full sump of `nominal` litres.

    Metal mass M, volume V: dM/dt = g·V_nominal - phi·q·M/V with V falling at q, so M goes with
    V**phi. Lost oil that leaves its metal behind (phi < 1) concentrates what was there by
    (V0/V1)**(1-phi).
    """
    share = np.where(np.isfinite(nominal), lost / nominal, 0.0)
    left = 1 - share
    concentrate = left ** (phi - 1)
    # ∫ (V1/V(s))**phi · ds · V0/V1, with V falling linearly from V0 to V1.
    if phi == 1:
        added = np.where(share > 1e-12, -np.log1p(-share) / np.maximum(share, 1e-12), 1.0)
    else:
        over = (1 - left ** (1 - phi)) / ((1 - phi) * np.maximum(share, 1e-12))
        added = np.where(share > 1e-12, over * left ** (phi - 1), 1.0)
    return kept * concentrate, fresh * concentrate, gain * concentrate + span * added
