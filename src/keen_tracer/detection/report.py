"""What `./keen bench detection` prints: every rule on the same fleets, every rate with its
interval."""

import time
from collections.abc import Callable, Iterable

import numpy as np

from .measure import (
    RULES,
    Case,
    at_strictness,
    batches,
    cases,
    fleets,
    median_interval,
    obeyed_cases,
    wilson,
)
from .simulate import fleet

Say = Callable[[str], None]
OBEYED = "the same, resamples drawn as asked"
SPEEDS = ("slow", "moderate", "fast")


def _rate(k: int, n: int) -> str:
    share, low, high = wilson(k, n)
    return f"{share:5.1f} % ({low:.1f} to {high:.1f})"


def _small(k: int, n: int) -> str:
    share, low, high = wilson(k, n)
    return f"{share:.2f} ({low:.2f} to {high:.2f})"


def _faults(say: Say, name: str, found: list[Case]) -> None:
    caught = [x for x in found if x.caught]
    left, low, high = median_interval(np.array([x.left for x in found]))
    say(
        f"    {name:<22} n {len(found):4}  caught {_rate(len(caught), len(found))}  right channel "
        f"{_rate(sum(x.right for x in caught), len(caught))}  way left {left:.2f} ({low:.2f} to "
        f"{high:.2f})"
    )


def _rule(say: Say, name: str, found: list[Case]) -> None:
    healthy = sum(x.healthy for x in found)
    say(f"  {name}")
    say(
        f"    per 100 of {healthy} healthy samples: false Act "
        f"{_small(sum(x.false_act for x in found), healthy)}, "
        f"Watch {_small(sum(x.false_watch for x in found), healthy)} (samples of one engine are "
        "not independent)"
    )
    faults = [x for x in found if x.truth.faulty]
    for speed in SPEEDS:
        _faults(
            say, speed, [x for x in faults if x.truth.visible and x.truth.scenario.speed == speed]
        )
    hidden = [x for x in faults if not x.truth.visible]
    if hidden:
        _faults(say, "never above the noise", hidden)


def _detail(say: Say, found: list[Case]) -> None:
    """Per fault and interval of the moderate part, and per look-alike, for the program's own
    rule."""
    moderate = [
        x
        for x in found
        if x.truth.faulty and x.truth.visible and x.truth.scenario.speed == "moderate"
    ]
    say("  moderate faults, by kind and by interval / (onset to failure)")
    for kind in sorted({x.truth.scenario.kind for x in moderate}):
        _faults(say, kind, [x for x in moderate if x.truth.scenario.kind == kind])
    for ratio in sorted({x.truth.scenario.ratio for x in moderate}):
        _faults(say, f"ratio {ratio:g}", [x for x in moderate if x.truth.scenario.ratio == ratio])
    say("  healthy engines and look-alikes, false Act and Watch per 100 samples")
    for kind in sorted({x.truth.scenario.kind for x in found if not x.truth.faulty}):
        some = [x for x in found if x.truth.scenario.kind == kind]
        n = sum(x.healthy for x in some)
        say(
            f"    {kind:<22} n {n:6}  Act {_small(sum(x.false_act for x in some), n)}  "
            f"Watch {_small(sum(x.false_watch for x in some), n)}"
        )


CURVE = (0.7, 0.8, 0.9, 1.0, 1.1, 1.25)


def _curve(say: Say, seed: int, share: float) -> None:
    """What every threshold times a factor buys and costs."""
    found: dict[float, list[Case]] = {s: [] for s in CURVE}
    for f, truths in fleets(seed, share):
        for strictness in CURVE:
            found[strictness] += cases(f, truths, at_strictness(strictness))
    say(
        f"  trade-off, every threshold of the expectation times a factor (a {share:.0%} share of "
        "the grid)"
    )
    for strictness, some in found.items():
        healthy = sum(x.healthy for x in some)
        moderate = [
            x
            for x in some
            if x.truth.faulty and x.truth.visible and x.truth.scenario.speed == "moderate"
        ]
        left, low, high = median_interval(np.array([x.left for x in moderate]))
        act, watch = (
            _small(sum(x), healthy)
            for x in ([c.false_act for c in some], [c.false_watch for c in some])
        )
        say(
            f"    x {strictness:<5g} false Act {act}  Watch {watch}  caught "
            f"{_rate(sum(x.caught for x in moderate), len(moderate))}  way left {left:.2f} "
            f"({low:.2f} to {high:.2f})"
        )


def run_detection(
    seed: int, share: float, say: Say, rules: Iterable[str] = tuple(RULES), curve: bool = True
) -> int:
    """Simulate the grid once, let every rule judge it, print. 0 when it ran."""
    begun = time.perf_counter()
    found: dict[str, list[Case]] = {name: [] for name in (*rules, OBEYED)}
    for n, part in enumerate(batches(seed, share)):
        f, truths = fleet(*part)
        for name in rules:
            found[name] += cases(f, truths, RULES[name])
        found[OBEYED] += obeyed_cases(*part)
        if n % 10 == 9:
            say(f"{n + 1} fleets, {time.perf_counter() - begun:.0f} s")
    first = next(iter(found.values()))
    say(
        f"seed {seed}: {sum(x.truth.faulty for x in first)} faults, {len(first)} engines; "
        "thresholds were tuned on "
        f"seeds below 100. Routine samples only, but for {OBEYED!r}."
    )
    for name, some in found.items():
        _rule(say, name, some)
    _detail(say, first)
    if curve:
        _curve(say, seed, share / 3)
    return 0
