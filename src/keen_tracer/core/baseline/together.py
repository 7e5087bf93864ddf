"""Several samples of one engine weighed together against what was expected before the oldest of
them: a slow rise shows sooner so, and cannot teach its own baseline."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..record import Floats
from .peers import E

WINDOW = 3  # samples weighed together at most; our choice
# correlation of two samples of one charge; our choice (n_eff of docs/judgement.md)
SAME_CHARGE = 0.5
OUTLIER = 3.5  # what one sample can add to several weighed together; our choice


@dataclass(frozen=True)
class Recent:
    """One sample as the next ones remember it; (engines, elements)."""

    y: Floats  # without season, duty and run-in
    variance: Floats
    sd: Floats
    mean: Floats
    mean_variance: Floats
    widened: Floats
    charge: Floats

    def part(self, n: int) -> "Recent":
        return Recent(*(getattr(self, f)[:n] for f in Recent.__dataclass_fields__))


# Weights of the newest 1, 2, … samples together, newest first: a fault grows, so the newest count
# most.
_WEIGHTS = [(1.0,), *(tuple(1 - i / (m + 1) for i in range(m)) for m in range(2, WINDOW + 1))]


def weighed_together(recent: list[Recent]) -> list[Floats]:
    """How far the newest 1, 2, … samples together lie above what was expected before the oldest of
    them.

    Two samples of one charge are not independent.
    """
    newest = recent[0]
    there = [~np.isnan(one.y) for one in recent]
    # What nobody measures has no figure in any sample, and needs no care.
    whole = all((known == there[0]).all() for known in there[1:])
    shared = {
        (i, j): (recent[i].charge == recent[j].charge)
        * (recent[i].sd * recent[j].sd)
        * (2 * SAME_CHARGE)
        for j in range(1, len(recent))
        for i in range(j)
    }
    out: list[Floats] = [(newest.y - newest.mean) / np.sqrt(newest.mean_variance + newest.variance)]
    for m in range(2, len(recent) + 1):
        oldest = recent[m - 1]
        # A sample that could not be used weighs nothing.
        weight: list[Any] = list(_WEIGHTS[m - 1])
        if not whole:
            weight = [w * known for w, known in zip(weight, there, strict=False)]
        total, variance = (
            np.zeros(E),
            sum(weight) ** 2
            * (oldest.mean_variance + np.maximum(newest.widened - oldest.widened, 0)),
        )
        for i, one in enumerate(recent[:m]):
            off = np.minimum(one.y - oldest.mean, OUTLIER * one.sd)
            total = total + weight[i] * (off if whole else np.where(there[i], off, 0.0))
            variance = variance + weight[i] ** 2 * one.variance
            for j in range(i + 1, m):
                variance = variance + weight[i] * weight[j] * shared[i, j]
        z = total / np.sqrt(variance)
        out.append(z if whole else np.where(there[0], z, np.nan))
    return out
