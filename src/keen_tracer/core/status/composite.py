"""Keys of reasons that are made of others: they grow with what they are made of, and what lifts a
larger one lifts every smaller one of the same kind."""

from collections.abc import Iterable
from hashlib import sha256

from ..verdict import Reason

_BETWEEN = "+"


def composite(head: str, parts: Iterable[str]) -> str:
    """The key of a reason made of others, short whatever they are.

    >>> composite("open", ["log:2026-11-24:finding:rod_bearing"])
    'open:5579f1c0'
    """
    named = sorted({sha256(p.encode()).hexdigest()[:8] for p in parts})
    return f"{head}:{_BETWEEN.join(named)}"


def _parts(key: str) -> tuple[str, frozenset[str]]:
    head, _, named = key.rpartition(":")
    return head, frozenset(named.split(_BETWEEN))


def is_within(key: str, others: Iterable[str]) -> bool:
    """Whether everything a composite reason is made of is named by others of its kind together.

    >>> is_within("open:a+b", ["open:a+c", "open:b"]), is_within("open:a+b", ["open:a"])
    (True, False)
    """
    head, named = _parts(key)
    known: set[str] = set()
    for other in others:
        other_head, other_named = _parts(other)
        if other_head == head:
            known |= other_named
    return named <= known


def made_of(reason: Reason, others: Iterable[Reason]) -> list[Reason]:
    """The reasons a composite one is made of; none for one that is not."""
    if not is_composite(reason):
        return []
    head, named = _parts(reason.key)
    return [r for r in others if _parts(composite(head, [r.key]))[1] <= named]


def is_composite(reason: Reason) -> bool:
    """Whether a reason is made of others."""
    return reason.finding.code in ("agreement", "in_pieces")
