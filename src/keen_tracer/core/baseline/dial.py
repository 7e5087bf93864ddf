"""How eager the expectation is: its thresholds at a rate of false alarms a site can live with,
counted on the fleet's own quiet samples, and what that costs in faults.

A quiet sample is one nobody had anything to say about: routine, past its run-in, under every fixed
limit, nothing seen or heard near it, no fault confirmed and no work done for a drain after it; and
the two samples after it, with nothing done in between, were no alarm either, as a fault that nobody
repaired would have been. What the expectation raises to Act in such a sample is called false.

Faults are planted where the record is as quiet: the elements of one fault climb towards their Watch
limits and stay well under them, so that no fixed limit would have found them.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from ..bounds import check
from ..errors import OutOfRange
from ..laboratory import BELOW, EXACT, idx
from ..limits import AS_SHIPPED, WATCH, Evaluation
from ..record import WORK, Fleet, SampleContext
from ..statistics import wilson
from .assessment import Assessment, lens_levels

# Factors on every threshold that are tried; 1 is as shipped. The ends are our choice.
STEPS = tuple(round(0.8 + 0.1 * n, 1) for n in range(13))
# Share of the way to the Watch limit that a planted fault has come at its three samples; our
# choice: a fixed limit at Watch never sees it.
GROWS = (0.2, 0.4, 0.6)
# What climbs in each planted fault; the patterns of wear_patterns.csv in short. No fuel: how high
# its habit alone may go is bounded by the way to its limit (see `reach`), whatever the dial says.
PLANTED: dict[str, tuple[str, ...]] = {
    "bearing": ("Pb", "Sn", "Cu"),
    "rings": ("Fe", "Cr", "Al"),
    "dirt": ("Si", "Al"),
    "coolant": ("Na", "K"),
}
AT_ACT = 2  # level
FOLLOWED = 2  # samples after a quiet one that must be no alarm; our choice
LEAST_QUIET = 200  # samples: fewer tell nothing of a rate near one in a hundred; our choice


@dataclass(frozen=True, slots=True)
class Step:
    """One factor on the thresholds. `rate`: (false Acts per 100 quiet samples, low, high), 95 %;
    `found`: fault → planted ones at Act by their third sample."""

    strictness: float
    acts: int
    rate: tuple[float, float, float]
    found: dict[str, int]


@dataclass(slots=True)
class Counts:
    """Counted over a fleet, part by part."""

    quiet: int = 0
    acts: NDArray[np.int64] = field(default_factory=lambda: np.zeros(len(STEPS), dtype=np.int64))
    planted: dict[str, int] = field(default_factory=dict)
    found: dict[str, NDArray[np.int64]] = field(default_factory=dict)

    def steps(self) -> list[Step]:
        """What every factor would have done."""
        return [
            Step(
                k,
                int(self.acts[n]),
                wilson(int(self.acts[n]), self.quiet),
                {name: int(x[n]) for name, x in self.found.items()},
            )
            for n, k in enumerate(STEPS)
        ]

    def chosen(self, wanted: float) -> Step:
        """The most eager factor that, like every stricter one, keeps to the wanted rate [false Acts
        per 100 quiet samples]; the strictest where none does. More eager than shipped only where
        the upper end of the interval keeps to it too: few quiet samples prove nothing.

        Raises OutOfRange for a rate that is none, or where too few samples are quiet.
        """
        check("false_rate", wanted)
        if self.quiet < LEAST_QUIET:
            raise OutOfRange("quiet samples", self.quiet, LEAST_QUIET, np.inf, "samples")
        steps = self.steps()
        last = steps[-1]
        for step in reversed(steps):
            share, _, high = step.rate
            if (high if step.strictness < AS_SHIPPED else share) > wanted:
                break
            last = step
        return last


def quiet_samples(assessment: Assessment) -> NDArray[np.bool_]:
    """(samples,) nobody had anything to say about, and that went on so."""
    quiet, under = (
        _undisturbed(assessment.evaluation),
        (assessment.evaluation.level < 1).all(axis=1),
    )
    alarmed: NDArray[np.bool_] = np.asarray(_at_act(assessment, AS_SHIPPED) | ~under)
    before, went_on = assessment.previous, np.arange(len(quiet))
    followed = np.zeros((FOLLOWED, len(quiet)), dtype=np.bool_)
    for n in range(FOLLOWED):
        went_on = np.where(went_on >= 0, before[went_on], -1)
        there = went_on >= 0
        followed[n, went_on[there]] = ~alarmed[there]
    quiet &= followed.all(axis=0)
    return quiet


def _undisturbed(evaluation: Evaluation) -> NDArray[np.bool_]:
    """(samples,) calm by the record and under every fixed limit, whatever came after."""
    calm = np.array([_calm(p) for p in evaluation.contexts], dtype=np.bool_)
    return np.asarray(calm & (evaluation.level < 1).all(axis=1))


def _calm(context: SampleContext) -> bool:
    if context.run_in or context.faulty or context.facts or context.sample.purpose != "routine":
        return False
    now, drain = context.moment, context.engine.nominal_drain
    after = (
        m
        for m in context.time_line.moments
        if m.row.kind in (*WORK, "failure") and m.row.on >= now.row.on
    )
    return not any(
        None in (m.total, now.total) or (m.total or 0) - (now.total or 0) <= drain for m in after
    )


def count(assessment: Assessment, counts: Counts) -> None:
    """Add the false Acts of an assessment at every factor."""
    quiet = quiet_samples(assessment)
    counts.quiet += int(quiet.sum())
    for n, k in enumerate(STEPS):
        counts.acts[n] += int((_at_act(assessment, k) & quiet).sum())


def with_fault(assessment: Assessment, fault: str) -> tuple[Fleet, list[int]]:
    """The same fleet with one fault of PLANTED in the last three samples of every engine whose last
    three are quiet, and the row of the last sample of each."""
    e = assessment.evaluation
    quiet = _undisturbed(e)
    changed = replace(e.fleet, value=e.fleet.value.copy(), censor=e.fleet.censor.copy())
    rows: dict[str, list[int]] = {}
    for p in e.contexts:
        rows.setdefault(p.engine.code, []).append(p.row)
    planted = [
        listed[-1]
        for listed in rows.values()
        if len(listed) > len(GROWS)
        and quiet[listed[-len(GROWS) :]].all()
        and _plant(e, changed, listed[-len(GROWS) :], fault)
    ]
    return changed, planted


def _plant(evaluation: Evaluation, changed: Fleet, rows: list[int], name: str) -> bool:
    """Whether every reading the fault moves was measured and has a Watch limit; a non-detect is
    moved from the middle of what it leaves open, and stays one until it is past its limit."""
    at = np.ix_(np.array(rows), np.array([idx(s) for s in PLANTED[name]]))
    towards, start = evaluation.upper[WATCH][at], evaluation.middle[at]
    if not np.isfinite(towards + start).all():
        return False
    moved = start + np.array(GROWS)[:, None] * (towards - start)
    hidden = (evaluation.fleet.censor[at] == BELOW) & (moved <= evaluation.fleet.value[at])
    changed.value[at] = np.where(hidden, evaluation.fleet.value[at], moved)
    changed.censor[at] = np.where(hidden, BELOW, EXACT)
    return True


def count_found(assessment: Assessment, fault: str, planted: Iterable[int], counts: Counts) -> None:
    """Add how many of a fault's planted ones come to Act by the expectation, at every factor."""
    listed = list(planted)
    counts.planted[fault] = counts.planted.get(fault, 0) + len(listed)
    found = counts.found.setdefault(fault, np.zeros(len(STEPS), dtype=np.int64))
    for n, k in enumerate(STEPS):
        act = _at_act(assessment, k)
        found[n] += sum(any(_of_three(assessment, act, row)) for row in listed)


def _at_act(assessment: Assessment, strictness: float) -> NDArray[np.bool_]:
    """(samples,) the expectation raises it to Act at a factor."""
    return np.asarray(
        (
            lens_levels(assessment.evaluation, assessment.expectation, strictness).level >= AT_ACT
        ).any(axis=1)
    )


def _of_three(assessment: Assessment, act: NDArray[np.bool_], row: int) -> Iterator[bool]:
    """Whether each of the three samples of a fault is at Act, the last first."""
    for _ in GROWS:
        yield bool(act[row])
        row = assessment.evaluation.contexts[row].before
