"""What an oil holds of its additives: by its reference, else by the engine's own samples of it."""

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


def usual_additives(
    fleet: Fleet,
    contexts: Sequence[SampleContext],
    fresh: Floats,
    source: NDArray[np.int8],
) -> Floats:
    """(samples, ADDITIVES) what the oil of each sample holds: its reference's figure, else the
    median of the last of the engine's earlier samples that are said to be of the same oil; NaN
    where neither is known."""
    out = np.where(np.isin(source[:, COLUMNS], (BATCH, SAME_OIL)), fresh[:, COLUMNS], np.nan)
    read = np.where(fleet.censor == EXACT, fleet.value, np.nan)[:, COLUMNS]
    oil = {p.row: p.oil for p in contexts}
    for line in {id(p.time_line): p.time_line for p in contexts}.values():
        before: dict[str | None, deque[Floats]] = defaultdict(lambda: deque(maxlen=LAST))
        for _, sample in line.samples():
            earlier = before[oil[sample.row]]
            if len(earlier) >= FEWEST:
                known = np.array(earlier)
                enough = np.isfinite(known).sum(axis=0) >= FEWEST
                if enough.any():
                    usual = np.full(len(COLUMNS), np.nan)
                    usual[enough] = np.nanmedian(known[:, enough], axis=0)
                    row = out[sample.row]
                    out[sample.row] = np.where(np.isnan(row), usual, row)
            earlier.append(read[sample.row])
    return out
