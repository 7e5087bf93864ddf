"""A laboratory that exists only here: it answers bottles with figures, noise, detection limits and
the odd mischief.

It knows an engine's last figures and how long the oil has run; everything else it makes up, from a
seed. Its figures go back through the same import as any laboratory's.
"""

import csv
import io
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date

import numpy as np

NAME = "Simulated laboratory"
MISCHIEF = ("none", "now_and_then", "swap", "late", "amended")
# In every twentieth order something goes wrong by itself; our choice.
NOW_AND_THEN = 0.05


@dataclass(frozen=True)
class Laboratory:
    """A made-up laboratory: error of one result, detection limit of its metals, bias, what it
    reports, its days."""

    name: str
    error: float
    lowest: float
    bias: float = 1.0
    reports_pq: bool = True
    days: int = 0

    def reading(self, rng: np.random.Generator, true: float, digits: int, lowest: float) -> str:
        """What it writes for a true value: rounded, with its error, `<L` below its detection limit
        `lowest`."""
        value = true * self.bias * math.exp(rng.normal(0, self.error)) + rng.normal(0, lowest / 4)
        return f"<{lowest:g}" if value < lowest else f"{round(max(value, 0.0), digits):g}"


HERE = Laboratory(NAME, 0.04, 1.0, 1.02)
# Analyte column → (gain over one whole drain, decimals, detection limit, share of error). Invented;
# metals per class below.
GAIN: dict[str, tuple[float, int, float]] = {
    "Fe_ppm": (20, 0, 1),
    "Cr_ppm": (2, 1, 1),
    "Pb_ppm": (3.5, 1, 2),
    "Cu_ppm": (5, 1, 1),
    "Sn_ppm": (1.5, 1, 1),
    "Al_ppm": (3.5, 1, 1),
    "Ni_ppm": (0.8, 1, 1),
    "Si_ppm": (2.5, 1, 1),
    "Na_ppm": (3, 0, 2),
    "K_ppm": (1.2, 1, 2),
    "B_ppm": (-5, 0, 1),
    "Mo_ppm": (0, 0, 1),
    "Mg_ppm": (0, 0, 1),
    "Ca_ppm": (0, 0, 5),
    "P_ppm": (-40, 0, 5),
    "Zn_ppm": (-40, 0, 5),
    "KV40_mm2_s": (-6, 1, 1),
    "KV100_mm2_s": (-0.7, 2, 1),
    "BN_mgKOH_g": (-3, 1, 0.1),
    "AN_mgKOH_g": (0.8, 1, 0.1),
    "fuel_pct": (0.4, 1, 0.3),
    "soot_pct": (0.8, 2, 0.1),
    "water_pct": (0, 2, 0.05),
    "oxidation_A_cm": (5, 1, 1),
    "nitration_A_cm": (4.5, 1, 1),
    "PQ_index": (7, 0, 1),
}
FRESH = {
    "Fe_ppm": 1.0,
    "Al_ppm": 1.0,
    "Si_ppm": 5.0,
    "Na_ppm": 4.0,
    "K_ppm": 1.0,
    "B_ppm": 40.0,
    "Mo_ppm": 40.0,
    "Mg_ppm": 60.0,
    "Ca_ppm": 2600.0,
    "P_ppm": 950.0,
    "Zn_ppm": 1050.0,
    "KV40_mm2_s": 108.0,
    "KV100_mm2_s": 14.4,
    "BN_mgKOH_g": 10.0,
    "AN_mgKOH_g": 1.8,
    "oxidation_A_cm": 2.0,
    "nitration_A_cm": 2.0,
}
# However old the oil: a share of it that can still be poured; invented.
MOST = {"fuel_pct": 15.0, "soot_pct": 12.0, "water_pct": 5.0}
PRECISE = ("KV40_mm2_s", "KV100_mm2_s")


@dataclass(frozen=True)
class BottleIn:
    """What the laboratory finds in a bottle, as far as anybody knows: the engine's last figures,
    and the oil's age.

    drains : hours on the oil as a share of the nominal drain · last, last_drains : the newest
        figures and their age
    fresh : the oil's reference · reference : whether the bottle holds fresh oil
    """

    sample: str
    drains: float
    last: Mapping[str, float] = field(default_factory=dict)
    last_drains: float = 0.0
    fresh: Mapping[str, float] = field(default_factory=dict)
    reference: bool = False


def truth(bottle: BottleIn, rng: np.random.Generator) -> dict[str, float]:
    """What the oil really is: from fresh oil along the engine's own gain, or a healthy engine's
    where none is known."""
    out = {}
    for column, (gain, _, _) in GAIN.items():
        start = bottle.fresh.get(column, FRESH.get(column, 0.0))
        if column in bottle.last and bottle.last_drains > 0.1:
            gain = (bottle.last[column] - start) / bottle.last_drains
        grown = 0.0 if bottle.reference else gain * bottle.drains * math.exp(rng.normal(0, 0.08))
        out[column] = min(max(start + grown, 0.0), MOST.get(column, math.inf))
    return out


def analyse(
    bottle: BottleIn, rng: np.random.Generator, laboratory: Laboratory = HERE
) -> dict[str, str]:
    """The figures of one bottle as the laboratory writes them: column → cell."""
    true = truth(bottle, rng)
    quiet = Laboratory(laboratory.name, 0.012, 0, 1.0)
    return {
        column: (quiet if column in PRECISE else laboratory).reading(
            rng, true[column], digits, lowest
        )
        for column, (_, digits, lowest) in GAIN.items()
    }


@dataclass(frozen=True)
class Answer:
    """What comes back for an order: files of the canonical form, and what went wrong on purpose, in
    words."""

    files: tuple[tuple[str, str], ...]
    outcome: str
    held_back: tuple[str, ...] = ()


def _chosen(mischief: str, bottles: int, rng: np.random.Generator) -> str:
    if mischief == "now_and_then":
        mischief = (
            str(rng.choice(["swap", "late", "amended"])) if rng.random() < NOW_AND_THEN else "none"
        )
    return "none" if mischief == "swap" and bottles < 2 else mischief


def answer(order: str, bottles: Sequence[BottleIn], mischief: str, seed: int, on: date) -> Answer:
    """Analyse an order's bottles and write readings.csv; the same seed gives the same files.

    mischief : one of `MISCHIEF`; "swap" exchanges the labels of two bottles, "late" keeps one
        bottle back,
    "amended" sends a second revision of one report.
    """
    rng = np.random.default_rng(seed)
    figures = [(b.sample, analyse(b, rng)) for b in bottles]
    what = _chosen(mischief, len(bottles), rng)
    outcome, held, second = "as analysed", tuple[str, ...](), list[tuple[str, dict[str, str]]]()
    if what == "swap":
        one, other = (int(x) for x in rng.choice(len(figures), 2, replace=False))
        (a, x), (b, y) = figures[one], figures[other]
        figures[one], figures[other] = (a, y), (b, x)
        outcome = f"labels of {a} and {b} exchanged"
    elif what == "late" and figures:
        held = (figures.pop(int(rng.integers(len(figures))))[0],)
        outcome = f"{held[0]} held back"
    elif what == "amended" and figures:
        sample, was = figures[int(rng.integers(len(figures)))]
        second = [(sample, {**was, "Si_ppm": f"{float(was['Si_ppm'].lstrip('<')) + 6:g}"})]
        outcome = f"{sample} amended"
    files = [(f"readings-{order}.csv", _csv(order, figures, 1, on))] if figures else []
    if second:
        files.append((f"readings-{order}-2.csv", _csv(order, second, 2, on)))
    return Answer(tuple(files), outcome, held)


def _csv(
    order: str, figures: Sequence[tuple[str, Mapping[str, str]]], revision: int, on: date
) -> str:
    out = io.StringIO()
    write = csv.writer(out, lineterminator="\n").writerow
    write(["laboratory", "report", "revision", "sample", "analyte", "reading", "analysed_on"])
    for sample, cells in figures:
        for column, cell in cells.items():
            write([NAME, f"{order}-{sample}", revision, sample, column, cell, on.isoformat()])
    return out.getvalue()
