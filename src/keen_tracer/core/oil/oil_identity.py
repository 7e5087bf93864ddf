"""Which oil is it: the additive fingerprint against the register and the catalogue, and mixtures
(the-trade 3.9)."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ..laboratory import ANALYTES, idx, standard_deviation
from ..record import Floats

# The fingerprint of an oil.
ADDITIVE_COLUMNS = [a.index for a in ANALYTES if a.drift]
DRIFT = np.array([a.drift for a in ANALYTES if a.drift])
# Calcium or zinc off its reference by more: another oil is thought of (the-trade 3.10).
ADDITIVE_OFF = 0.15
FLOOR_PPM = 3.0  # below that an element says nothing of the oil; our choice
FEWEST = 4  # elements that must be known on both sides; our choice
# mean squared distance up to which an oil or a mixture fits: chance gives 1 with a spread of 0.6;
# our choice
FITS = 3.0
# by which the sum of squares must fall for a mixture to be believed: chi-square, 2 degrees, 0.1 %
BETTER = 13.8
LEAST_SHARE = 0.10  # of another oil that can be told apart; our choice


@dataclass(frozen=True, slots=True)
class Mixture:
    """What a sample's additives say of its oil.

    shares : oil → share of the nearest mixture, largest first, adding up to 1
    off_registered, off_mixture : mean squared distance in standard deviations; about 1 is a good
        fit
    """

    shares: tuple[tuple[str, float], ...]
    off_registered: float
    off_mixture: float
    elements: int

    def says(self, registered: str) -> str:
        """ "registered", "mixed", "other" (it is another oil of the catalogue), or "unknown" (none
        fits)."""
        others = sum(share for oil, share in self.shares if oil != registered)
        nearer = self.elements * (self.off_registered - self.off_mixture) > BETTER
        if not nearer or others < LEAST_SHARE:
            return "registered" if self.off_registered <= FITS else "unknown"
        return "unknown" if self.off_mixture > FITS else "other" if others > 0.75 else "mixed"


def by_oil(fresh: Mapping[str, Floats]) -> dict[str, Floats]:
    """One fingerprint an oil: the mean of its batches."""
    found: dict[str, list[Floats]] = {}
    for key, figures in fresh.items():
        found.setdefault(key.split("|")[0], []).append(figures[ADDITIVE_COLUMNS])
    out = {}
    for oil, batches in found.items():
        stacked = np.array(batches)
        known = np.isfinite(stacked)
        total = np.where(known, stacked, 0.0).sum(axis=0)
        out[oil] = np.where(known.any(axis=0), total / np.maximum(known.sum(axis=0), 1), np.nan)
    return out


def mixture(figures: Floats, registered: str, catalogue: Mapping[str, Floats]) -> Mixture | None:
    """The mixture of catalogue oils nearest to a sample, None when too little is known of either.

    figures : (analytes,) of the sample, NaN where not known · catalogue : from `by_oil`
    Source: non-negative least squares, every element weighted by its own spread; shares are made to
    add up to 1.
    """
    mine = figures[ADDITIVE_COLUMNS]
    reference = catalogue.get(registered)
    if reference is None:
        return None
    use = np.isfinite(mine) & np.isfinite(reference) & (np.maximum(mine, reference) > FLOOR_PPM)
    oils = [o for o, f in catalogue.items() if np.isfinite(f[use]).all()]
    if use.sum() < FEWEST or registered not in oils:
        return None
    full = np.full(len(figures), np.nan)
    full[ADDITIVE_COLUMNS] = np.maximum(mine, reference)
    noise = standard_deviation(full[None, :], same_laboratory=False)[0][ADDITIVE_COLUMNS]
    s = np.sqrt(noise**2 + (DRIFT * np.maximum(mine, reference)) ** 2)[use]
    columns = np.stack([catalogue[o][use] / s for o in oils], axis=1)
    target = mine[use] / s
    heavy = 1e3 * max(1.0, float(np.abs(target).max()))
    from scipy.optimize import nnls  # half the start of the program, and seldom asked

    shares, _ = nnls(np.vstack([columns, np.full(len(oils), heavy)]), np.append(target, heavy))
    shares = shares / shares.sum()
    n = int(use.sum())
    off = float(((columns @ shares - target) ** 2).mean())
    alone = float(((columns[:, oils.index(registered)] - target) ** 2).mean())
    found = sorted(
        ((o, float(x)) for o, x in zip(oils, shares, strict=True) if x > 0.005),
        key=lambda p: (-p[1], p[0]),
    )
    return Mixture(tuple(found), alone, off, n)


def other_oil(figures: Floats, fresh: Floats, registered: str, oils: Mapping[str, Floats]) -> bool:
    """Whether a sample's additives are rather those of another oil of the catalogue, or a mixture.

    figures, fresh : (analytes,) readings and the registered oil's reference, NaN where not known
    oils : oil → (additives,) fingerprint, as `by_oil` makes them
    """
    ratio = [figures[idx(s)] / fresh[idx(s)] for s in ("Ca", "Zn") if fresh[idx(s)] > 0]
    if not any(abs(r - 1) > ADDITIVE_OFF for r in ratio):
        return False  # the usual case, for a fraction of what telling oils apart costs
    found = mixture(figures, registered, oils)
    return found is not None and found.says(registered) in ("mixed", "other")
