"""Counting what a rule makes of invented fleets: faults caught, in time, in the right channel;
false Act and Watch."""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..core.baseline import NOTHING_PUBLISHED, assess, lens_levels, members, peer_set
from ..core.judge import judge, verdicts
from ..core.laboratory import ANALYTES
from ..core.limits import Policies, default_limits, evaluate
from ..core.record import Fleet, Floats, History
from ..core.terms import CHANNELS, rank
from ..core.verdict import Level
from .by_parts import CLASSES as PARTS_CLASSES
from .by_parts import parts_fleet
from .simulate import CLASSES, Scenario, fleet, grid
from .truth import Truth

PER_FLEET = 60
# What the comparison rules look at.
COMPARED = [a for a in ANALYTES if a.kind == "wear" or a.symbol in ("Si", "Na", "K", "Fuel")]
# A rule turns a fleet into (samples, channels) levels, -1 where it says nothing.
Rule = Callable[[Fleet], NDArray[np.int8]]


@dataclass(frozen=True, slots=True)
class Case:
    """What one rule made of one engine.

    caught : Act in any channel while the fault was there · right : in one it may be named in ·
        left : share of the way from onset to failure that was left at the first Act
    """

    truth: Truth
    healthy: int
    false_act: int
    false_watch: int
    caught: bool
    right: bool
    left: float


def expectation_rule(fleet: Fleet) -> NDArray[np.int8]:
    """The program's default policy, with peers published from the same fleet."""
    limits = default_limits()
    peers = peer_set("bench", members(evaluate(fleet, limits)))
    return _channels([v.channels for v in judge(fleet, limits, peers)])


def without_peers_rule(fleet: Fleet) -> NDArray[np.int8]:
    """The program's default policy before any peers are published."""
    return _channels([v.channels for v in judge(fleet, default_limits(), NOTHING_PUBLISHED)])


def fixed_rule(fleet: Fleet) -> NDArray[np.int8]:
    """Fixed limits alone, as the program applies them."""
    policies = Policies(classes=dict.fromkeys([*CLASSES, *PARTS_CLASSES], "fixed_only"))
    return _channels(
        [v.channels for v in judge(fleet, default_limits(), NOTHING_PUBLISHED, policies)]
    )


def concentration_rule(fleet: Fleet) -> NDArray[np.int8]:
    """Comparison: fixed limits held against concentrations as read, whatever the hours on the
    oil."""
    limits = default_limits()
    out = np.full((len(fleet.value), len(CHANNELS)), -1, dtype=np.int8)
    row = 0
    for history in fleet.histories:
        at = limits.for_engine(history.engine).at
        for _ in (x for x in history.log if x.sample):
            for a in COMPARED:
                watch, act = np.fmin.reduce(
                    at[:2, :, a.index], axis=0
                )  # conc, else rise taken as it stands
                value = fleet.value[row, a.index]
                level = 2 if value >= act else 1 if value >= watch else 0
                out[row, rank(CHANNELS, a.channel)] = max(
                    out[row, rank(CHANNELS, a.channel)], level
                )
            row += 1
    return out


def own_mean_rule(k: float) -> Rule:
    """Comparison: a concentration over its own engine's mean so far by k s is Act, by a third less
    Watch; from 6 samples on."""
    return lambda f: _own_mean(f, k)


def _own_mean(fleet: Fleet, act: float) -> NDArray[np.int8]:
    out = np.full((len(fleet.value), len(CHANNELS)), -1, dtype=np.int8)
    for rows in _rows(fleet):
        for k in range(6, len(rows)):
            before = fleet.value[rows[:k]]
            for a in COMPARED:
                x = before[:, a.index]
                x = x[~np.isnan(x)]
                if len(x) < 6:
                    continue
                s = (fleet.value[rows[k], a.index] - x.mean()) / max(x.std(ddof=1), 1e-9)
                c = rank(CHANNELS, a.channel)
                out[rows[k], c] = max(
                    out[rows[k], c], 2 if s >= act else 1 if s >= act * 2 / 3 else 0
                )
    return out


def at_strictness(strictness: float) -> Rule:
    """The default policy with every threshold of the expectation times `strictness`, for the
    trade-off curve."""

    def rule(fleet: Fleet) -> NDArray[np.int8]:
        limits = default_limits()
        e = evaluate(fleet, limits)
        a = assess(fleet, limits, peer_set("bench", members(e)))
        found = lens_levels(a.evaluation, a.expectation, strictness)
        out = np.array(
            [
                [-1 if c is None else c for c in v.channels]
                for v in verdicts(replace(a, lens_levels=found))
            ],
            dtype=np.int8,
        )
        return out

    return rule


RULES: dict[str, Rule] = {
    "expectation and fixed limits": expectation_rule,
    "the same, no peers published": without_peers_rule,
    "fixed limits, on rates": fixed_rule,
    "fixed limits, on concentrations": concentration_rule,
    "own mean + 3 s": own_mean_rule(3.0),
}


def _channels(found: Iterable[tuple[int | None, ...]]) -> NDArray[np.int8]:
    return np.array([[-1 if c is None else c for c in v] for v in found], dtype=np.int8)


def _rows(fleet: Fleet) -> Iterator[list[int]]:
    for history in fleet.histories:
        yield [
            x.sample.row
            for x in sorted((x for x in history.log if x.sample), key=lambda x: x.dial or 0.0)
            if x.sample
        ]


def cases(fleet: Fleet, truths: list[Truth], rule: Rule) -> list[Case]:
    """What a rule made of every engine of a fleet."""
    level, out = rule(fleet), []
    meters = {x.sample.row: x.dial or 0.0 for h in fleet.histories for x in h.log if x.sample}
    for rows, truth in zip(_rows(fleet), truths, strict=True):
        at = np.array([meters[r] for r in rows])
        top = level[rows].max(axis=1)
        healthy = at < truth.onset if truth.faulty else np.ones(len(at), dtype=np.bool_)
        # What comes after a fault that healed is neither: it may still be in the oil.
        there = ~healthy & (at <= truth.failure)
        hits = [n for n in np.flatnonzero(there) if top[n] >= 2]
        named = [rank(CHANNELS, c) for c in truth.channels]
        right, left = False, float("nan")
        if hits:
            right = bool((level[np.array(rows)[there]][:, named] >= 2).any())
            left = (truth.failure - at[hits[0]]) / (truth.failure - truth.onset)
        out.append(
            Case(
                truth,
                int(healthy.sum()),
                int((top[healthy] >= 2).sum()),
                int((top[healthy] == 1).sum()),
                bool(hits),
                right,
                left,
            )
        )
    return out


def obeyed_cases(scenarios: list[Scenario], seed: int) -> list[Case]:
    """What the program's default policy makes of a fleet whose people draw every resample it asks
    for at Watch.

    The fleet is judged, lived again with those resamples, and judged again; they count as samples
    like all others.
    """
    f, _ = fleet(scenarios, seed)
    limits = default_limits()
    found = judge(f, limits, peer_set("bench", members(evaluate(f, limits))))
    asked = {
        v.sample
        for v in found
        if v.level == Level.WATCH and any(x.code == "resample" for x in v.actions)
    }
    picks = {
        history.engine.code: frozenset(
            n for n, code in enumerate(_samples(history)) if code in asked
        )
        for history in f.histories
    }
    return cases(*fleet(scenarios, seed, picks), expectation_rule)


def _samples(history: History) -> list[str]:
    return [x.sample.code for x in history.log if x.sample]


def batches(seed: int, share: float) -> Iterator[tuple[list[Scenario], int]]:
    """The grid, each scenario about `share` of its repeats, shuffled into parts of `PER_FLEET`
    engines, a seed each."""
    rng = np.random.default_rng(seed)
    every: list[Scenario] = [s for s in grid() for _ in range(max(1, round(s.repeats * share)))]
    mixed = [every[i] for i in rng.permutation(len(every))]
    for n in range(0, len(mixed), PER_FLEET):
        yield mixed[n : n + PER_FLEET], seed * 10_000 + n


def fleets(
    parts: Iterable[tuple[list[Scenario], int]],
) -> Iterator[tuple[Fleet, list[Truth]]]:
    """The fleets those parts make."""
    return (fleet(*part) for part in parts)


PARTS_FLEETS = 40  # of the second generator at a share of 1


def fleets_by_parts(seed: int, share: float) -> Iterator[tuple[Fleet, list[Truth]]]:
    """Fleets of the second generator, on which nothing is tuned."""
    return (parts_fleet(seed * 10_000 + n) for n in range(max(1, round(PARTS_FLEETS * share))))


def median_interval(x: Floats) -> tuple[float, float, float]:
    """(median, low, high), 95 % by order statistics."""
    x = np.sort(x[~np.isnan(x)])
    if not len(x):
        return float("nan"), float("nan"), float("nan")
    half = 0.98 * np.sqrt(len(x))
    low, high = int(max(len(x) / 2 - half, 0)), int(min(len(x) / 2 + half, len(x) - 1))
    return float(np.median(x)), float(x[low]), float(x[high])
