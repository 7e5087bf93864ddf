"""Cases that were like this one: the same model, the same leading evidence."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

SAME_MODEL = 0.3  # added for an engine of the same model; our choice
LIKE = 0.35  # from here on it is called alike; our choice


@dataclass(frozen=True, slots=True)
class Past:
    """A case that ended: what was known when it was opened, and whether its engine is of the same
    model."""

    key: str
    carried: frozenset[str]
    same_model: bool


def likeness(known: frozenset[str], past: Past) -> float:
    """Shared evidence over all of both (Jaccard), more for the same model.

    >>> likeness(frozenset({"K", "Na"}), Past("a", frozenset({"K", "Na", "Cu"}), True))
    0.967
    """
    both = known | past.carried
    shared = len(known & past.carried) / len(both) if both else 0.0
    return round(shared + SAME_MODEL * past.same_model, 3)


def similar(known: Iterable[str], ended: Sequence[Past]) -> list[str]:
    """Keys of the cases that were alike, most alike first. Without shared evidence none is."""
    mine = frozenset(known)
    alike = [(likeness(mine, p), p.key) for p in ended if mine & p.carried]
    return [key for how, key in sorted(alike, key=lambda x: (-x[0], x[1])) if how >= LIKE]
