"""Where a trouble begins: with the first of the raised samples that led to what stands open."""

from collections.abc import Iterable, Sequence
from datetime import date

from ..verdict import Level


def beginning(
    raised: Iterable[date], samples: Sequence[tuple[date, int | None]], today: date
) -> date:
    """The day a trouble began.

    raised : days of the reasons that stand open · samples : (day, level) of the engine's samples in
    order, None while figures are out · today : where nothing is raised

    From the oldest open reason back through samples raised without a quiet one between them.

    >>> days = [date(2026, 11, d) for d in (1, 7, 20, 25)]
    >>> beginning([days[3]], list(zip(days, (0, 2, 2, 1))), days[3]).day
    7
    """
    begins = min(raised, default=None)
    if begins is None:
        return today
    for on, level in reversed(samples):
        if on > begins or level is None:
            continue
        if level < Level.WATCH:
            break
        begins = on
    return begins
