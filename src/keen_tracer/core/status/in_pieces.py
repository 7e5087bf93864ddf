"""An opened engine is in pieces until a signed closing: it may not be started while it is open,
however sound what was found in it (VERDICT 8.1)."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ..findings import Finding, payloads
from ..record import Fact, parts
from ..verdict import Level, Reason
from .composite import composite, is_within


def _opens(fact: Fact) -> bool:
    row = fact.moment.row
    return row.kind == "finding" and row.part in parts() and parts()[row.part].opens


def finding_name(fact: Fact) -> str:
    """A finding of the opened engine, by the identity of its row."""
    return f"row:{fact.moment.row.id}"


def _older_name(fact: Fact) -> str:
    """The same as versions named it that went by what the record says."""
    row = fact.moment.row
    at = (row.part, row.details.get("position", ""), row.details.get("side", ""))
    said = (row.on.isoformat(), f"{row.seq}", *at, row.details.get("condition", ""))
    return ":".join(said)


def _is_named(fact: Fact, lifted: frozenset[str]) -> bool:
    """Whether a signed closing named a finding."""
    names = (finding_name(fact), _older_name(fact))
    return any(is_within(composite("open", [name]), lifted) for name in names)


@dataclass(frozen=True, slots=True)
class NotSound:
    """A part that was found not sound and that a closing says of what became of it; `row` is the
    finding's."""

    row: str
    words: str


def not_sound(facts: Sequence[Fact], life: int, lifted: frozenset[str]) -> list[NotSound]:
    """What a closing has to name: findings no signed closing has named that are not sound, each
    part once, as it was found last."""
    return [
        NotSound(f.moment.row.id, f"{said.get('where', '')}, {said.get('condition', '')}")
        for f in facts
        if f.moment.life == life and _opens(f) and f.level > 0 and not f.answered
        if not _is_named(f, lifted)
        for said in [f.words[0].numbers or {}]
    ]


def in_pieces(facts: Sequence[Fact], life: int, lifted: frozenset[str]) -> Iterator[Reason]:
    """That the engine is open: one reason for all findings no signed closing has named.

    lifted : keys that releases named
    """
    opened = [f for f in facts if f.moment.life == life and _opens(f)]
    still = [f for f in opened if not _is_named(f, lifted)]
    if not still:
        return
    first, last = still[0].moment, still[-1].moment
    yield Reason(
        key=composite("open", [finding_name(f) for f in still]),
        source="log",
        level=int(Level.STOP),
        channel="wear",
        on=first.row.on,
        dial=last.row.dial,
        finding=Finding(
            code="in_pieces",
            channel="wear",
            level=int(Level.STOP),
            origin="common practice",
            numbers=payloads.InPieces(
                on=first.row.on.isoformat(),
                parts=len(still),
                bad=sum(f.level > 0 for f in still),
            ),
        ),
    )
