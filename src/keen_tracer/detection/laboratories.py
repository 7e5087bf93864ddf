"""Invented laboratories of the second generator: each with detection limits, offsets and a drift of
its own, tails heavier than normal, slips and rounding. Every figure here is invented."""

from dataclasses import dataclass

import numpy as np

from ..core.laboratory import Censor, N, idx
from ..core.record import Floats

METALS = (
    "Fe",
    "Cr",
    "Pb",
    "Cu",
    "Sn",
    "Al",
    "Ni",
    "Si",
    "Na",
    "K",
    "B",
    "Mg",
    "Mo",
    "Ca",
    "Zn",
    "P",
)
AT = [idx(m) for m in METALS]
M = {m: n for n, m in enumerate(METALS)}
OTHERS = ("KV100", "BN", "AN", "Fuel", "Soot", "Water", "Oxidation", "Nitration", "PQ")
# Of a reading: share, and what is left near nothing.
NOISE = {
    "KV100": (0.009, 0.02),
    "BN": (0.05, 0.1),
    "AN": (0.07, 0.08),
    "Fuel": (0.12, 0.12),
    "Soot": (0.08, 0.04),
    "Water": (0.15, 0.01),
    "Oxidation": (0.05, 0.5),
    "Nitration": (0.05, 0.5),
    "PQ": (0.10, 2.0),
}
BELOW = {"Water": 0.05, "Fuel": 0.5}  # reported as "<" under this
SLIP, DIRTY = 0.001, 0.004  # a figure ten times off; a bottle that was not clean


@dataclass(frozen=True)
class Laboratory:
    """Detection limits, offset and scatter of every metal; `decimals` it reports with."""

    name: str
    detection: Floats
    offset: Floats
    scatter: Floats
    phase: float
    decimals: int

    def sd(self, true: Floats) -> Floats:
        """What one reading of `true` may lie off by chance."""
        out: Floats = np.sqrt((self.scatter * true) ** 2 + (0.35 * self.detection) ** 2)
        return out

    def metals(self, true: Floats, day: float, rng: np.random.Generator) -> Floats:
        """Readings of metals, before the detection limit."""
        drift = 1 + 0.03 * np.sin(2 * np.pi * day / 540 + self.phase + np.arange(len(true)))
        tails = rng.standard_t(5, len(true)) / np.sqrt(5 / 3)
        seen = true * self.offset * drift + tails * self.sd(true)
        if rng.random() < DIRTY:
            seen[[M["Si"], M["Al"], M["Na"], M["K"]]] += rng.uniform(1, 3) * np.array(
                [6, 1.5, 4, 2]
            )
        if rng.random() < SLIP:
            seen[int(rng.integers(10))] *= 10
        return np.asarray(seen)


def laboratories(rng: np.random.Generator) -> list[Laboratory]:
    """Three laboratories: two that report whole figures over 1 or 2 ppm, one with decimals."""
    out = []
    for name, limit, decimals in (("Alpha", 1.0, 0), ("Beta", 2.0, 0), ("Gamma", 0.2, 1)):
        detection = np.full(len(METALS), limit)
        detection[[M["Na"], M["K"], M["Sn"]]] *= 2 if limit < 2 else 1
        out.append(
            Laboratory(
                name,
                detection,
                np.exp(rng.normal(0, 0.05, len(METALS))),
                rng.uniform(0.04, 0.11, len(METALS)),
                float(rng.uniform(0, 6)),
                decimals,
            )
        )
    return out


def report(
    laboratory: Laboratory,
    metals: Floats,
    others: dict[str, float],
    day: float,
    rng: np.random.Generator,
) -> tuple[Floats, np.ndarray]:
    """(values, censors) of one sheet, as the laboratory writes it."""
    value, censor = np.full(N, np.nan), np.full(N, -1, dtype=np.int8)
    for place, x, limit in zip(
        AT, laboratory.metals(metals, day, rng), laboratory.detection, strict=True
    ):
        below = x < limit
        value[place] = limit if below else round(float(x), laboratory.decimals if x < 100 else 0)
        censor[place] = Censor.BELOW if below else Censor.EXACT
    for symbol, true in others.items():
        share, least = NOISE[symbol]
        x = max(true + rng.normal(0, 1) * float(np.hypot(share * true, least)), 0.0)
        limit = BELOW.get(symbol, 0.0)
        value[idx(symbol)] = limit if x < limit else round(x, 0 if symbol == "PQ" else 2)
        censor[idx(symbol)] = Censor.BELOW if x < limit else Censor.EXACT
    return value, censor
