"""How a run-in goes: what must fall from charge to charge, whether it does, and until when."""

from dataclasses import dataclass

import numpy as np

from ..baseline import Assessment
from ..laboratory import ANALYTES
from .limit_findings import RUN_IN_METALS, falling

# First changes of a new or rebuilt engine, in shares of its nominal drain: what the machining left
# comes out with them. Our choice, after common practice; the maker's manual comes first.
FIRST_CHANGES = (0.1, 0.4)


@dataclass(frozen=True, slots=True)
class Falling:
    """A metal of the run-in: what came per 100 meter units in each sample, oldest first; `word`:
    "falls", "does_not_fall", "first" where there is one charge alone."""

    symbol: str
    per_100: tuple[float | None, ...]
    word: str


@dataclass(frozen=True, slots=True)
class RunIn:
    """A life that is being run in. Meter units of its own: `at` how old it is, `until` how long it
    counts as run-in; `changes`: when the first oil changes should be, those behind it too."""

    at: float
    until: float
    changes: tuple[float, ...]
    metals: tuple[Falling, ...]


_WORDS = {None: "first", True: "falls", False: "does_not_fall"}


def run_in_course(assessment: Assessment) -> RunIn | None:
    """The course of the newest life's run-in; None where it is over, or never was."""
    e = assessment.evaluation
    newest = e.contexts[0].time_line.moments[-1]
    rows = [
        q.row
        for m, q in e.contexts[0].time_line.samples()
        if m.life == newest.life and e.contexts[q.row].run_in
    ]
    if not rows:
        return None
    last = e.contexts[rows[-1]]
    began = last.moment.life_start or 0.0
    # Without a meter since, it is as old as it was at its newest sample.
    latest = newest.total if newest.total is not None else last.moment.total or began
    if latest - began > last.engine.run_in:
        return None
    drain = last.engine.nominal_drain
    return RunIn(
        at=latest - began,
        until=last.engine.run_in,
        changes=tuple(share * drain for share in FIRST_CHANGES),
        metals=tuple(
            Falling(
                ANALYTES[m].symbol, _rates(assessment, rows, m), _WORDS[falling(e, rows[-1], m)]
            )
            for m in RUN_IN_METALS
            if np.isfinite(e.rate[rows, m]).any()
        ),
    )


def _rates(assessment: Assessment, rows: list[int], metal: int) -> tuple[float | None, ...]:
    per_100 = 100 * assessment.evaluation.rate[rows, metal]
    return tuple(float(x) if np.isfinite(x) else None for x in per_100)
