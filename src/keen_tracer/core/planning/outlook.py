"""Where an engine is heading: the rise within its charge, and the rates from charge to charge
(the-trade 3.6).

Both views are shown, each with the words it deserves: "too few", "no trend", or a crossing with its
interval.
"""

from dataclasses import dataclass

import numpy as np

from ..certainty import BY_CHANCE
from ..laboratory import ANALYTES, EXACT
from ..limits import ACT, CONC, WATCH, WEAR, Evaluation
from ..record import Floats, SampleContext
from ..statistics import Crossing, Line, Trend, crossing, fit_line, trend

SOON = 0.1  # of the nominal drain; our choice
RATES = 12  # charges looked back on; our choice


@dataclass(frozen=True, slots=True, kw_only=True)
class Outlook:
    """One analyte of one engine.

    within : the line through this charge's readings, over the true meter · crosses : where it
        reaches Act, true meter
    at_drain : (true meter of the nominal drain, expected reading there, low, high), None once it
        lies behind
    until : true meter up to which a crossing matters: the nominal drain, or a tenth of it from now
        where that is past
    across : trend of the rate at the last sample of each charge · level : of the limit `crosses`
        speaks of (1 or 2)
    """

    column: str
    n: int
    within: Line | None
    crosses: Crossing
    level: int
    limit: float | None
    at_drain: tuple[float, float, float, float] | None
    until: float
    across: Trend | None

    def telling(self, looked_at: int) -> bool:
        """Whether it is worth saying by itself. A trend of rates has to be sure among all the
        `looked_at` analytes: of fifteen quiet ones, one would seem to rise or fall in every second
        engine."""
        sure = (
            self.across is not None
            and self.across.word in ("rising", "falling")
            and (self.across.p * looked_at < BY_CHANCE)
        )
        soon = (
            self.crosses.word == "crosses"
            and self.crosses.at is not None
            and self.crosses.at <= self.until
        )
        return self.crosses.word == "reached" or soon or sure


def _within(
    evaluation: Evaluation, here: list[SampleContext], a: int
) -> tuple[list[float], list[float]]:
    """(true meters, readings) of one charge, with the start of the charge as the first point."""
    known = [
        p for p in here if p.moment.total is not None and evaluation.fleet.censor[p.row, a] == EXACT
    ]
    x = [float(p.moment.total or 0) for p in known]
    y = [float(evaluation.middle[p.row, a]) for p in known]
    if (
        known
        and here[0].charge.start is not None
        and np.isfinite(evaluation.start[known[0].row, a])
    ):
        return [here[0].charge.start, *x], [float(evaluation.start[known[0].row, a]), *y]
    return x, y


def _across(evaluation: Evaluation, contexts: list[SampleContext], a: int) -> Trend | None:
    """Trend of the rates of this life, one a charge."""
    last: dict[int, SampleContext] = {}
    for p in contexts:
        if (
            p.moment.total is not None
            and not evaluation.rate_withheld[p.row, a]
            and evaluation.fleet.censor[p.row, a] == EXACT
        ):
            last[p.charge.number] = p
    chosen = list(last.values())[-RATES:]
    if len({p.moment.total for p in chosen}) < 2:
        return None
    return trend(
        [float(p.moment.total or 0) for p in chosen],
        [float(100 * evaluation.rate[p.row, a]) for p in chosen],
    )


def _bounds(evaluation: Evaluation, row: int, a: int, rising: bool) -> Floats:
    """(Watch, Act) the line is held against. A metal's limit is the one at the nominal drain, where
    its line ends; everything else has the limit of the newest sample, which does not move with the
    hours."""
    if WEAR[a]:
        drain: Floats = evaluation.limits[row].at[CONC, :, a]
        return drain
    held: Floats = (evaluation.upper if rising else evaluation.lower)[:, row, a]
    return held


def _one(
    evaluation: Evaluation, mine: list[SampleContext], here: list[SampleContext], a: int, now: float
) -> Outlook:
    newest = here[-1]
    x, y = _within(evaluation, here, a)
    line = fit_line(x, y)
    rising = line is None or line.slope >= 0
    bounds = _bounds(evaluation, newest.row, a, rising)
    past_watch = not (evaluation.middle[newest.row, a] - bounds[WATCH]) * (1 if rising else -1) < 0
    level = ACT if past_watch else WATCH
    limit = float(bounds[level]) if np.isfinite(bounds[level]) else None
    drain, until = None, now + SOON * newest.engine.nominal_drain
    if newest.charge.start is not None:
        end = newest.charge.start + newest.engine.nominal_drain
        drain = (end, *line.at(end)) if line is not None and end > now else None
        until = max(until, end)
    found = Crossing("no limit") if limit is None else crossing(line, limit, now, rising)
    return Outlook(
        column=ANALYTES[a].column,
        n=len(x),
        within=line,
        crosses=found,
        level=level + 1,
        limit=limit,
        at_drain=drain,
        until=until,
        across=_across(evaluation, mine, a),
    )


def outlooks(evaluation: Evaluation, contexts: list[SampleContext]) -> list[Outlook]:
    """The outlook of every measured analyte with a limit, for one engine's places in their order
    (one evaluation)."""
    if not contexts or contexts[-1].moment.total is None:
        return []
    newest = contexts[-1]
    mine = [p for p in contexts if p.moment.life == newest.moment.life]
    here = [p for p in mine if p.charge is newest.charge]
    return [
        _one(evaluation, mine, here, k.index, float(newest.moment.total or 0))
        for k in ANALYTES
        if evaluation.fleet.censor[newest.row, k.index] == EXACT
        and evaluation.level[newest.row, k.index] >= 0
    ]
