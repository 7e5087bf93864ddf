"""Two bottles of one round that carry each other's label, told by the figures alone: each holds
what was to be expected of the other engine rather than what was expected of its own.

Bottles of different oils tell it by their additives (`record_checks`); this is for those of one
oil.
"""

from bisect import bisect_left, bisect_right
from collections.abc import Collection, Iterator

import numpy as np
from numpy.typing import NDArray

from ..baseline import ELEMENTS, Assessment, y_of
from ..laboratory import EXACT
from ..record import Floats, SampleContext, brand
from .log_checks import Query

CODE = "labels_exchanged"
SAME_ROUND = 7  # days between two draws whose labels may have been exchanged; our choice
FEWEST = 6  # elements that must be known of both engines; our choice
CLIP = 3.5  # sd that one element can add, so that none decides alone; our choice
# Mean square of sd, of which chance gives 1: as far off is hardly a sample of that engine, and as
# near may be one. Our choice, tried on fleets whose labels were exchanged (docs/judgement.md).
STRANGE, FITS = 2.5, 2.2
# By how much the sum of squares must fall when the labels are exchanged, for both bottles together
# and for each; our choice, tried likewise.
BETTER, EACH_BETTER = 30.0, 3.0


def misfit(assessment: Assessment, bottles: NDArray[np.intp], places: NDArray[np.intp]) -> Floats:
    """(n, elements) how far the figures of `bottles` lie from what was expected at `places` [sd];
    NaN where a figure is missing, is a non-detect, or nothing was expected."""
    x, readings = assessment.expectation, assessment.evaluation.fleet
    exact = readings.censor[bottles] == EXACT
    figures = np.where(exact, readings.value[bottles], np.nan)[:, ELEMENTS]
    y = y_of(figures, x.start[places], x.scale[places])
    out: Floats = np.clip((y - x.mu[places]) / np.sqrt(x.variance[places]), -CLIP, CLIP)
    return out


def strangers(assessment: Assessment) -> list[SampleContext]:
    """The samples whose figures as a whole are not those of their engine, in order of their
    rows."""
    contexts = sorted(assessment.evaluation.contexts, key=lambda p: p.row)
    rows = np.array([p.row for p in contexts], dtype=np.intp)
    z = misfit(assessment, rows, rows)
    known = np.isfinite(z)
    n = known.sum(axis=1)
    far = np.where(known, z**2, 0.0).sum(axis=1) / np.maximum(n, 1)
    return [contexts[k] for k in np.flatnonzero((n >= FEWEST) & (far >= STRANGE))]


def exchanged(
    assessment: Assessment, settled: Collection[frozenset[str]] = ()
) -> list[tuple[SampleContext, SampleContext]]:
    """Pairs of samples of one round whose labels were exchanged, as far as the figures tell; each
    sample is in one pair at most, the one that fits best.

    settled : pairs of bottles somebody has answered for; they are not asked about again
    """
    pairs = [
        (p, q)
        for p, q in _of_one_round(assessment)
        if brand(p.oil) == brand(q.oil) and frozenset((p.sample.code, q.sample.code)) not in settled
    ]
    taken: set[int] = set()
    out = []
    for _, p, q in sorted(_fitting(assessment, pairs), key=lambda found: found[0]):
        if not taken & {p.row, q.row}:
            taken |= {p.row, q.row}
            out.append((p, q))
    return out


def _of_one_round(assessment: Assessment) -> Iterator[tuple[SampleContext, SampleContext]]:
    """Each sample that is not its engine's own with every one of another engine about its day."""
    odd = strangers(assessment)
    if not odd:
        return
    by_day = sorted(assessment.evaluation.contexts, key=lambda p: (p.moment.row.on, p.row))
    days = [p.moment.row.on.toordinal() for p in by_day]
    for p in odd:
        day = p.moment.row.on.toordinal()
        near = slice(bisect_left(days, day - SAME_ROUND), bisect_right(days, day + SAME_ROUND))
        yield from ((p, q) for q in by_day[near] if q.engine.code != p.engine.code)


def _fitting(
    assessment: Assessment, pairs: list[tuple[SampleContext, SampleContext]]
) -> Iterator[tuple[float, SampleContext, SampleContext]]:
    """The pairs that fit better the other way round, with how far off they are then."""
    if not pairs:
        return
    one = np.array([p.row for p, _ in pairs], dtype=np.intp)
    two = np.array([q.row for _, q in pairs], dtype=np.intp)
    own = misfit(assessment, one, one), misfit(assessment, two, two)
    other = misfit(assessment, one, two), misfit(assessment, two, one)
    # A figure that is missing at one of the two says nothing of either.
    known = np.isfinite((*own, *other)).all(axis=0)
    n = known.sum(axis=1)
    off = np.array([np.where(known, z**2, 0.0).sum(axis=1) for z in own])
    then = np.array([np.where(known, z**2, 0.0).sum(axis=1) for z in other])
    gain = off - then
    fits = (
        (n >= FEWEST)
        & (off.max(axis=0) >= STRANGE * n)
        & (then.max(axis=0) <= FITS * n)
        & (gain.sum(axis=0) >= BETTER)
        & (gain.min(axis=0) >= EACH_BETTER)
    )
    for k in np.flatnonzero(fits):
        yield float(then[:, k].sum() / n[k]), *pairs[k]


def label_queries(
    assessment: Assessment, settled: Collection[frozenset[str]] = ()
) -> dict[str, list[Query]]:
    """A query of each of the two samples, which names the other, by engine code; `settled` as in
    `exchanged`."""
    out: dict[str, list[Query]] = {}
    for pair in exchanged(assessment, settled):
        for mine, other in (pair, pair[::-1]):
            named = {
                "other": other.sample.code,
                "other_engine": other.engine.code,
                "other_on": other.moment.row.on.isoformat(),
            }
            asked = Query(CODE, mine.moment.row.id, mine.sample.code, mine.moment.row.on, named)
            out.setdefault(mine.engine.code, []).append(asked)
    return out
