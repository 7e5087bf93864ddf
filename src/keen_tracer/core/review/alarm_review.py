"""Were the alarms right? Confirmed, false and missed by what inspections found, per school and
policy (the-trade 3.21)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np
from numpy.typing import NDArray

from ..baseline import Assessment, walk_order
from ..limits import DEFAULT, POLICIES, combine

LOOK_BACK = 3  # samples before an outcome within which an Act foresaw it; our choice


@dataclass(frozen=True, slots=True)
class Outcome:
    """What an inspection found on a day: a failure mode or "nothing"; confirmed "yes", "no" or
    "unclear"."""

    engine: str
    on: date
    found: str
    confirmed: str
    hours_down: float | None = None
    saved: float | None = None

    @property
    def fault(self) -> bool:
        return self.confirmed == "yes" and self.found != "nothing"


@dataclass(frozen=True, slots=True)
class Tally:
    """Alarms (an Act or Stop that begins) of one policy against outcomes.

    confirmed : outcomes with a fault that an alarm came before; missed : faults without one; false
        : alarms that an
    inspection found nothing behind; open : alarms nobody has looked into; saved : what confirmed
    catches saved in all
    """

    policy: str
    confirmed: int
    missed: int
    false: int
    open: int
    saved: float


def act_by_policy(assessment: Assessment) -> dict[str, NDArray[np.bool_]]:
    """(samples,) at Act or more by each policy, from the figures alone: no looks, no symptoms, so
    that schools compare."""
    fixed, peers, own = assessment.evaluation.level, assessment.of_peers[1], assessment.own[1]

    def at_act(level: NDArray[np.int8]) -> NDArray[np.bool_]:
        return np.asarray((level >= 2).any(axis=1), dtype=np.bool_)

    out = {DEFAULT: at_act(fixed) | at_act(assessment.lens_levels.level)}
    return out | {p: at_act(combine(p, fixed, peers, own)) for p in POLICIES if p != DEFAULT}


def tally(
    policy: str, days: Mapping[str, Sequence[tuple[date, bool]]], outcomes: Sequence[Outcome]
) -> Tally:
    """Count one policy's alarms. `days`: engine → (day, at Act) of its samples in order.

    >>> days = ((1, False), (2, True), (3, True))
    >>> acts = {"E": [(date(2026, month, 5), act) for month, act in days]}
    >>> tally("x", acts, [Outcome("E", date(2026, 3, 20), "piston", "yes")])
    Tally(policy='x', confirmed=1, missed=0, false=0, open=0, saved=0.0)
    """
    confirmed = missed = false = still = 0
    saved = 0.0
    for engine, samples in days.items():
        mine = sorted((o for o in outcomes if o.engine == engine), key=lambda o: o.on)
        explained: set[date] = set()
        before: date | None = None
        for o in mine:
            window = [
                (day, act)
                for day, act in samples
                if day <= o.on and (before is None or day > before)
            ]
            acted = [day for day, act in window[-LOOK_BACK:] if act]
            begun = _beginnings(window)
            if o.fault:
                confirmed, missed = confirmed + bool(acted), missed + (not acted)
                saved += (o.saved or 0.0) if acted else 0.0
            elif o.confirmed == "no" or (o.confirmed == "yes" and o.found == "nothing"):
                false += len(begun)
            else:
                still += len(begun)
            explained |= set(begun)
            before = o.on
        still += len(
            [
                d
                for d in _beginnings(samples)
                if d not in explained and (before is None or d > before)
            ]
        )
    return Tally(policy, confirmed, missed, false, still, saved)


def _beginnings(samples: Sequence[tuple[date, bool]]) -> list[date]:
    """Days on which an alarm begins: an Act after a sample that was none."""
    return [
        day for n, (day, act) in enumerate(samples) if act and (n == 0 or not samples[n - 1][1])
    ]


def alarm_days(
    assessment: Assessment, acts: NDArray[np.bool_]
) -> dict[str, list[tuple[date, bool]]]:
    """Engine → (day, at Act) of its samples in order."""
    contexts = assessment.evaluation.contexts
    return {
        contexts[rows[0]].engine.code: [(contexts[r].moment.row.on, bool(acts[r])) for r in rows]
        for rows in walk_order(contexts)
    }
