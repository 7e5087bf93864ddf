"""What `./keen bench detection` prints: every rule on the same fleets of both generators, every
rate with its interval."""

import time
from collections.abc import Callable, Iterable, Iterator

import numpy as np

from ..core.record import Fleet
from ..core.statistics import wilson
from .measure import (
    RULES,
    Case,
    Rule,
    at_strictness,
    batches,
    cases,
    fleets,
    fleets_by_parts,
    median_interval,
    obeyed_cases,
    own_mean_rule,
)
from .truth import Truth

Say = Callable[[str], None]
Fleets = Iterator[tuple[Fleet, list[Truth]]]
OBEYED = "the same, resamples drawn as asked"
# samples of a fault that show it: how many it must be named by
SHOWN = (("shown once", 1, 1), ("shown twice", 2, 2), ("shown three times or more", 3, 10**6))
GRID, PARTS = (
    "first generator (grid; tuned on its seeds below 100)",
    "second generator (parts; nothing tuned)",
)


def _rate(k: int, n: int) -> str:
    share, low, high = wilson(k, n)
    return f"{share:5.1f} % ({low:.1f} to {high:.1f})"


def _small(k: int, n: int) -> str:
    share, low, high = wilson(k, n)
    return f"{share:.2f} ({low:.2f} to {high:.2f})"


def _faults(say: Say, name: str, found: list[Case]) -> None:
    if not found:
        return
    caught = [x for x in found if x.caught]
    left, low, high = median_interval(np.array([x.left for x in found]))
    say(
        f"    {name:<26} n {len(found):4}  "
        f"named right {_rate(sum(x.right for x in found), len(found))}"
        f"  caught {_rate(len(caught), len(found))}  way left {left:.2f} ({low:.2f} to {high:.2f})"
    )


def _quiet(say: Say, name: str, found: list[Case]) -> None:
    """False Act and Watch per 100 healthy samples."""
    n = sum(x.healthy for x in found)
    if n:
        say(
            f"    {name:<26} n {n:6}  false Act {_small(sum(x.false_act for x in found), n)}  "
            f"Watch {_small(sum(x.false_watch for x in found), n)}"
        )


def _rule(say: Say, name: str, found: list[Case]) -> None:
    say(f"  {name}; per 100 healthy samples (those of one engine are not independent)")
    _quiet(say, "plain", [x for x in found if x.truth.plain])
    _quiet(say, "look-alikes", [x for x in found if not x.truth.plain])
    for shown, low, high in SHOWN:
        _faults(say, shown, [x for x in found if low <= x.truth.shows <= high])
    _faults(say, "never shown", [x for x in found if x.truth.faulty and not x.truth.visible])


def _groups(found: list[Case], what: str) -> Iterator[tuple[str, list[Case]]]:
    for name in sorted({getattr(x.truth, what) for x in found}):
        yield name, [x for x in found if getattr(x.truth, what) == name]


def _detail(say: Say, found: list[Case]) -> None:
    """By fault, growth, class, sampling and look-alike, for the program's own rule."""
    shown = [x for x in found if x.truth.shows >= 2]
    for what in ("kind", "growth", "engine_class", "sampling"):
        say(f"  faults shown twice or more, by {what.replace('_', ' ')}")
        for name, some in _groups(shown, what):
            _faults(say, name, some)
    say("  look-alikes")
    for name, some in _groups([x for x in found if not x.truth.plain], "kind"):
        _quiet(say, name, some)


CURVE = (0.7, 0.8, 0.9, 1.0, 1.1, 1.25)
SIGMAS = (2.5, 3.0, 4.0, 5.0, 7.0, 10.0)


def _curve(say: Say, some: Callable[[], Fleets]) -> None:
    """What every threshold times a factor buys and costs, beside own mean + k s."""
    rules: list[tuple[str, Rule]] = [(f"x {s:g}", at_strictness(s)) for s in CURVE]
    rules += [(f"own mean + {k:g} s", own_mean_rule(k)) for k in SIGMAS]
    found: dict[str, list[Case]] = {name: [] for name, _ in rules}
    for f, truths in some():
        for name, rule in rules:
            found[name] += cases(f, truths, rule)
    say("  trade-off: every threshold of the expectation times a factor, and the plain rule")
    for name, every in found.items():
        n = sum(x.healthy for x in every)
        shown = [x for x in every if x.truth.shows >= 2]
        act = _small(sum(x.false_act for x in every), n)
        say(
            f"    {name:<18} false Act {act}  named right "
            f"{_rate(sum(x.right for x in shown), len(shown))}"
        )


def _one(
    say: Say, name: str, found: dict[str, list[Case]], curve: Callable[[], Fleets] | None
) -> None:
    first = next(iter(found.values()))
    say(f"{name}: {sum(x.truth.faulty for x in first)} faults, {len(first)} engines")
    for rule, some in found.items():
        _rule(say, rule, some)
    _detail(say, first)
    if curve is not None:
        _curve(say, curve)


def run_detection(
    seed: int, share: float, say: Say, rules: Iterable[str] = tuple(RULES), curve: bool = True
) -> int:
    """Let every rule judge the fleets of both generators, print. 0 when it ran."""
    begun = time.perf_counter()
    by_grid: dict[str, list[Case]] = {name: [] for name in (*rules, OBEYED)}
    by_parts: dict[str, list[Case]] = {name: [] for name in rules}
    for part in batches(seed, share):
        for f, truths in fleets([part]):
            for name in rules:
                by_grid[name] += cases(f, truths, RULES[name])
        by_grid[OBEYED] += obeyed_cases(*part)
    say(f"the grid took {time.perf_counter() - begun:.0f} s")
    for f, truths in fleets_by_parts(seed, share):
        for name in rules:
            by_parts[name] += cases(f, truths, RULES[name])
    say(f"seed {seed}. Routine samples only, but for {OBEYED!r}.")
    third = share / 3
    _one(say, GRID, by_grid, (lambda: fleets(batches(seed, third))) if curve else None)
    _one(say, PARTS, by_parts, (lambda: fleets_by_parts(seed, third)) if curve else None)
    return 0
