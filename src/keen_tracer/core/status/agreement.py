"""Independent kinds of evidence that point to one trouble raise each other (VERDICT 8.2).

What a laboratory found, what was seen, what was measured at the engine, and what was heard, smelt
or felt are four kinds. Two kinds at Watch make Act; three kinds, or one of them at Act with a
second hard fact, make Stop.
"""

from collections import defaultdict
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass

from ..findings import Finding, payloads
from ..record import (
    Trouble,
    fact_kinds,
    fact_of,
    hot_and_low,
    may_be_wet,
    points_of,
    troubles,
)
from ..verdict import Level, Reason
from ..words import in_short
from .composite import composite

FIGURES = "figures"
# What a person signed or asks about, and what is itself made of others, is no evidence of its own.
_NO_EVIDENCE = frozenset({"signed", "unsettled", "agreement", "in_pieces"})


@dataclass(frozen=True, slots=True)
class _Voice:
    """One open reason as evidence: its kind, whether it is hard, the troubles it points to, and a
    few words."""

    reason: Reason
    kind: str
    hard: bool
    points: frozenset[str]
    said: str


def _voices(reasons: Sequence[Reason]) -> list[_Voice]:
    out = []
    for r in reasons:
        f = r.finding
        if f.code in _NO_EVIDENCE or r.level < Level.WATCH:
            continue
        fact = fact_of(f)
        kind = fact_kinds()[fact].kind if fact else FIGURES
        hard = not (fact and fact_kinds()[fact].soft)
        out.append(_Voice(r, kind, hard, points_of(f), in_short(f)))
    return out


def agreed_level(trouble: Trouble, kinds: Mapping[str, int], hard: Collection[str]) -> int:
    """The level that kinds of evidence come to together; 0 where they are of one kind.

    kinds : kind of `terms.FACT_KINDS` → the worst level it says · hard : those with a hard fact

    >>> from ..record import troubles
    >>> bearing = troubles()["bearing"]
    >>> agreed_level(bearing, {"seen": 1, "figures": 1}, {"seen", "figures"})
    2
    >>> agreed_level(bearing, {"seen": 2, "heard": 1}, {"seen", "heard"})
    3
    >>> agreed_level(bearing, {"seen": 2, "heard": 1}, {"seen"})
    2
    """
    if len(kinds) < 2:
        return 0
    level = Level.ACT
    if len(kinds.keys() & hard) >= 3 or _with_a_second(trouble, kinds, hard):
        level = Level.STOP
    return min(int(level), trouble.highest)


def _with_a_second(trouble: Trouble, kinds: Mapping[str, int], hard: Collection[str]) -> bool:
    """Whether one kind is at Act and another that is hard stands beside it: something seen, heard
    or measured, and for some troubles a figure too."""
    for kind, level in kinds.items():
        if level < Level.ACT:
            continue
        others = (kinds.keys() & hard) - {kind}
        if others - {FIGURES} or (FIGURES in others and trouble.figures_second):
            return True
    return False


def _coolant_level(facts: Collection[str]) -> int:
    """What facts of coolant come to together whatever kind they are of; 0 where to nothing."""
    if may_be_wet(facts):
        return int(Level.STOP)
    return int(Level.ACT) if hot_and_low(facts) else 0


@dataclass(frozen=True, slots=True)
class _Agreed:
    """What points to one trouble or more, and the level it comes to."""

    troubles: tuple[Trouble, ...]
    voices: tuple[_Voice, ...]
    level: int

    @property
    def keys(self) -> frozenset[str]:
        return frozenset(v.reason.key for v in self.voices)


def agreements(reasons: Sequence[Reason]) -> Iterator[Reason]:
    """What open reasons of different kinds come to together where that is more than the worst of
    them says alone; the same pieces are said once, whatever they point to."""
    voices = _voices(reasons)
    found: dict[frozenset[str], _Agreed] = {}
    for trouble in troubles().values():
        mine = tuple(v for v in voices if trouble.code in v.points)
        if trouble.not_alone and all(trouble.not_alone in v.points for v in mine):
            continue
        kinds: dict[str, int] = defaultdict(int)
        for v in mine:
            kinds[v.kind] = max(kinds[v.kind], v.reason.level)
        level = agreed_level(trouble, kinds, {v.kind for v in mine if v.hard})
        if trouble.code == "coolant":
            level = max(level, _coolant_level({fact_of(v.reason.finding) for v in mine}))
        if level <= max(kinds.values(), default=0):
            continue
        one = _Agreed((trouble,), mine, level)
        held = found.get(one.keys)
        named = (*held.troubles, trouble) if held else (trouble,)
        found[one.keys] = _Agreed(named, mine, max(level, held.level if held else 0))
    for one in found.values():
        if not any(one.keys < x.keys and one.level <= x.level for x in found.values()):
            yield _together(one)


def _together(agreed: _Agreed) -> Reason:
    mine, level = agreed.voices, agreed.level
    worst = max(mine, key=lambda v: (v.reason.level, v.reason.on, v.reason.key))
    newest = max((v.reason for v in mine), key=lambda r: (r.on, r.key))
    ordered = sorted(mine, key=lambda v: -v.reason.level)
    return Reason(
        key=composite("agreement", agreed.keys),
        source="agreement",
        level=level,
        channel=worst.reason.channel,
        on=newest.on,
        dial=newest.dial,
        finding=Finding(
            code="agreement",
            channel=worst.reason.channel,
            level=level,
            origin="kinds of evidence that agree, our choice of groups",
            numbers=payloads.Agreement(
                troubles=[x.code for x in agreed.troubles],
                kinds=list(dict.fromkeys(v.kind for v in ordered)),
                said=list(dict.fromkeys(v.said for v in ordered)),
            ),
        ),
    )
