"""What an oil holds of its additives: by its reference, else by the engine's own samples of it,
else by the least that an oil of the engine's class holds."""

from collections import defaultdict, deque
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ..laboratory import EXACT, idx
from ..record import Fleet, Floats, SampleContext
from .fresh_oil import BATCH, SAME_OIL

ADDITIVES = ("Zn", "P", "Ca", "Mg")  # those that nearly every engine oil holds much of
COLUMNS = [idx(s) for s in ADDITIVES]
LAST, FEWEST = 5, 3  # earlier samples of the same oil that say what is usual; our choice
# Least phosphorus of an oil for road engines [ppm]: ILSAC GF-6, from memory; its zinc comes with it
# in one compound, about as much by weight. Oils of gas, two-stroke and marine engines hold less.
LEAST_HELD = {"Zn": 600.0, "P": 600.0}
HOLDS_IT = frozenset({"heavy_diesel", "light_diesel", "petrol"})


def usual_additives(
    fleet: Fleet,
    contexts: Sequence[SampleContext],
    fresh: Floats,
    source: NDArray[np.int8],
) -> tuple[Floats, NDArray[np.bool_]]:
    """(samples, ADDITIVES) what the oil of each sample holds: its reference's figure, else the
    median of the last of the engine's earlier samples that are said to be of the same oil, else
    the least of its class; NaN where nothing is known. And which of it is the least of its
    class."""
    out = np.where(np.isin(source[:, COLUMNS], (BATCH, SAME_OIL)), fresh[:, COLUMNS], np.nan)
    read = np.where(fleet.censor == EXACT, fleet.value, np.nan)[:, COLUMNS]
    oil = {p.row: p.oil for p in contexts}
    for line in {id(p.time_line): p.time_line for p in contexts}.values():
        before: dict[str | None, deque[Floats]] = defaultdict(lambda: deque(maxlen=LAST))
        for _, sample in line.samples():
            earlier = before[oil[sample.row]]
            if len(earlier) >= FEWEST:
                known = np.array(earlier)
                row = out[sample.row]
                for n in np.flatnonzero(np.isnan(row)):
                    figures = known[np.isfinite(known[:, n]), n]
                    if len(figures) >= FEWEST:
                        row[n] = np.median(figures)
            earlier.append(read[sample.row])
    road = np.zeros((len(out), 1), dtype=np.bool_)
    road[[p.row for p in contexts if p.engine.engine_class in HOLDS_IT]] = True
    least = np.where(road, [LEAST_HELD.get(a, np.nan) for a in ADDITIVES], np.nan)
    by_class = np.isnan(out) & np.isfinite(least)
    return np.where(by_class, least, out), by_class
