"""Leak isolation: one test after another until one way for the coolant is left."""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache

from .. import tables
from ..errors import UnknownName
from ..terms import WEIGHS

SPEAKS_FOR, SPEAKS_AGAINST = max(WEIGHS), min(WEIGHS)


@dataclass(frozen=True, slots=True, kw_only=True)
class LeakAnswer:
    """What a test can answer. `clears`, `points`: failure modes it speaks against and for; `fact`:
    which it is; `next` is the step that follows, "" where it ends."""

    code: str
    words: str
    clears: tuple[str, ...]
    points: tuple[str, ...]
    fact: str
    next: str


@dataclass(frozen=True, slots=True, kw_only=True)
class LeakStep:
    """One test with its way and its caution."""

    code: str
    words: str
    how: str
    caution: str
    results: tuple[LeakAnswer, ...]


def _listed(cell: str) -> tuple[str, ...]:
    return tuple(x for x in cell.split("|") if x)


@cache
def leak_steps() -> dict[str, LeakStep]:
    """Every step in its order. Source: `tables/leak_isolation.csv`."""
    out: dict[str, LeakStep] = {}
    for r in tables.read("leak_isolation"):
        result = LeakAnswer(
            code=r["answer"],
            words=r["answer_words"],
            clears=_listed(r["clears"]),
            points=_listed(r["points"]),
            fact=r["fact"],
            next=r["next"],
        )
        old = out.get(r["step"])
        out[r["step"]] = LeakStep(
            code=r["step"],
            words=old.words if old else r["words"],
            how=old.how if old else r["how"],
            caution=old.caution if old else r["caution"],
            results=(*(old.results if old else ()), result),
        )
    return out


def leak_answer(step: str, answer: str) -> LeakAnswer:
    """What a test answered. Raises UnknownName.

    >>> leak_answer("cooler", "holds").clears
    ('oil_cooler_leak',)
    """
    found = leak_steps().get(step)
    if found is None:
        raise UnknownName("step of the leak isolation", step, list(leak_steps()))
    for r in found.results:
        if r.code == answer:
            return r
    raise UnknownName(f"answer to {step}", answer, [r.code for r in found.results])


def next_leak_step(answers: Iterable[tuple[str, str]]) -> str:
    """The step to do next after (step, answer) in the order done; "" where there is none left that
    was not done."""
    done = list(answers)
    asked = next(iter(leak_steps())) if not done else leak_answer(*done[-1]).next
    return "" if asked in {s for s, _ in done} else asked
