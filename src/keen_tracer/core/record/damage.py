"""Which came first: findings of an opened engine as a small graph of causes and consequences. The
program proposes links it knows; a person keeps, turns or cuts them. Page, state and case read this
one graph: what was led to by another finding is no cause."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cache

from .. import tables
from ..errors import CoreError
from .model import Engine, LogRow
from .opened import condition_of
from .timeline import TimeLine


@dataclass(frozen=True, slots=True)
class Known:
    """A link the program knows. Conditions empty: anything from grade 1 up."""

    cause: str
    conditions: frozenset[str]
    effect: str
    effect_conditions: frozenset[str]
    same: bool
    why: str


@dataclass(frozen=True, slots=True)
class Link:
    """From one finding to another, by the ids of their rows; `why` in words, "" where a person
    drew it without."""

    cause: str
    effect: str
    why: str


@cache
def known_links() -> tuple[Known, ...]:
    """Every link. Source: `tables/damage_links.csv`."""

    def listed(cell: str) -> frozenset[str]:
        return frozenset(cell.split("|")) - {""}

    return tuple(
        Known(
            r["cause"],
            listed(r["conditions"]),
            r["effect"],
            listed(r["effect_conditions"]),
            r["same"] == "yes",
            r["why"],
        )
        for r in tables.read("damage_links")
    )


def _graded(row: LogRow) -> tuple[str, int]:
    """(condition, grade); grade 0 for one of another version."""
    try:
        found = condition_of(row.part, row.details)
    except CoreError:
        return "", 0
    return found.code, found.grade


def _fits(wanted: frozenset[str], found: tuple[str, int]) -> bool:
    condition, grade = found
    return grade >= 1 and (not wanted or condition in wanted)


def proposed(findings: Sequence[LogRow]) -> list[Link]:
    """The links the program knows between findings that are not sound, in the order found."""
    graded = [(r, _graded(r)) for r in findings]
    out: list[Link] = []
    for known in known_links():
        causes = [r for r, g in graded if r.part == known.cause and _fits(known.conditions, g)]
        effects = [
            r for r, g in graded if r.part == known.effect and _fits(known.effect_conditions, g)
        ]
        out += [
            Link(a.id, b.id, known.why)
            for a in causes
            for b in effects
            if a.id != b.id
            and (not known.same or a.details.get("position") == b.details.get("position"))
        ]
    return out


def settled(
    links: Iterable[Link], decided: Iterable[tuple[str, str, bool]]
) -> tuple[list[Link], list[Link]]:
    """(links that hold, links a person cut). `decided`: (cause, effect, kept) in order, the newest
    last; a link kept one way cuts the other, and one nobody proposed is a person's own."""
    why = {(x.cause, x.effect): x.why for x in links}
    kept = dict.fromkeys(why, True)
    for cause, effect, keep in decided:
        kept[cause, effect] = keep
        if keep and (effect, cause) in kept:
            kept[effect, cause] = False
    made = [(Link(*pair, why.get(pair, "")), keep) for pair, keep in kept.items()]
    return [x for x, keep in made if keep], [x for x, keep in made if not keep]


def findings_of(line: TimeLine) -> list[LogRow]:
    """The findings of an engine's life, in the order they were found; what another version wrote
    and this one does not know is left out."""
    life = line.moments[-1].life if line.moments else 1
    rows = [m.row for m in line.moments if m.life == life and m.row.kind == "finding"]
    return [r for r in rows if _graded(r)[0]]


def links_of(engine: Engine, findings: Sequence[LogRow]) -> tuple[list[Link], list[Link]]:
    """(links that hold between these findings, links a person cut)."""
    here = {r.id for r in findings}
    decided = [x for x in engine.links if {x[0], x[1]} <= here]
    return settled(proposed(findings), decided)


def consequences(engine: Engine, line: TimeLine) -> frozenset[str]:
    """The rows of findings that another finding led to, whatever stands behind that one. In a
    circle nothing is a consequence of the rest."""
    findings = findings_of(line)
    kept, _ = links_of(engine, findings)
    if not kept:
        return frozenset()
    reached: set[str] = set()
    waiting = roots(findings, kept)
    while waiting:
        at = waiting.pop()
        new = {x.effect for x in kept if x.cause == at} - reached
        reached |= new
        waiting += new
    return frozenset(reached)


def roots(findings: Sequence[LogRow], links: Sequence[Link]) -> list[str]:
    """Findings that lead to others and are led to by none: what is named as cause, those that
    explain most first. In a circle none comes first."""
    effects = {x.effect for x in links}
    leads: dict[str, set[str]] = {}
    for x in links:
        leads.setdefault(x.cause, set()).add(x.effect)

    def reached(start: str) -> set[str]:
        seen: set[str] = set()
        waiting = [start]
        while waiting:
            new = leads.get(waiting.pop(), set()) - seen
            seen |= new
            waiting += new
        return seen

    order = {r.id: n for n, r in enumerate(findings)}
    found = [key for key in order if key in leads and key not in effects]
    return sorted(found, key=lambda key: (-len(reached(key)), order[key]))
