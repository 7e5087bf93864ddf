"""What can be known of an engine by eye, ear, nose, hand and gauge: every kind of fact, and the
troubles facts point to (`tables/facts.csv`, `troubles.csv`).

A fact has one level, one kind and one meaning, through whichever door it is told.
"""

from dataclasses import dataclass
from functools import cache
from typing import cast

from .. import tables
from ..terms import FactKindCode


@dataclass(frozen=True, slots=True, kw_only=True)
class FactKind:
    """One kind of fact.

    kind : "seen", "heard" (smelt and felt too) or "measured" · channel, points : "" and empty take
        those of the part it is found at · level : what it says alone
    ends : the check whose newer answer ends it while it is no Stop; "" for none
    soft : it may agree to Act, and is no second hard fact to Stop
    next : checks it asks for first, in order · mend : the action that mends it on the spot, before
        the same checks again; "" for none · code : of its finding
    """

    fact: str
    words: str
    kind: FactKindCode
    channel: str
    level: int
    points: frozenset[str]
    soft: bool
    evidence: str
    ends: str
    next: tuple[str, ...]
    mend: str
    code: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Trouble:
    """What facts and figures of different kinds can agree on.

    highest : the level that agreement may come to · figures_second : whether a laboratory's figure
        at Watch is a second to something at Act that was seen, heard or measured
    not_alone : pieces that all point to this other trouble too do not agree on this one
    modes, analytes, patterns : what belongs to it
    """

    code: str
    words: str
    highest: int
    figures_second: bool
    not_alone: str
    modes: frozenset[str]
    analytes: frozenset[str]
    patterns: frozenset[str]


def _listed(cell: str) -> frozenset[str]:
    return frozenset(cell.split("|")) - {""}


@cache
def fact_kinds() -> dict[str, FactKind]:
    """Every kind of fact. Source: `tables/facts.csv`.

    >>> fact_kinds()["knock"].level
    3
    """
    return {
        r["fact"]: FactKind(
            fact=r["fact"],
            words=r["words"],
            kind=cast(FactKindCode, r["kind"]),
            channel=r["channel"],
            level=int(r["level"]),
            points=_listed(r["points"]),
            soft=r["soft"] == "yes",
            evidence=r["evidence"],
            ends=r["ends"],
            next=tuple(x for x in r["next"].split("|") if x),
            mend=r["mend"],
            code=r["code"] or r["fact"],
        )
        for r in tables.read("facts")
    }


@cache
def troubles() -> dict[str, Trouble]:
    """Every trouble. Source: `tables/troubles.csv`."""
    return {
        r["trouble"]: Trouble(
            code=r["trouble"],
            words=r["words"],
            highest=int(r["highest"]),
            figures_second=r["figures_second"] == "yes",
            not_alone=r["not_alone"],
            modes=_listed(r["modes"]),
            analytes=_listed(r["analytes"]),
            patterns=_listed(r["patterns"]),
        )
        for r in tables.read("troubles")
    }


@cache
def trouble_of_mode(mode: str) -> frozenset[str]:
    """The troubles a failure mode belongs to.

    >>> sorted(trouble_of_mode("ring_liner"))
    ['rings']
    """
    return frozenset(t.code for t in troubles().values() if mode in t.modes)


@dataclass(frozen=True, slots=True, kw_only=True)
class Word:
    """What something seen, heard, measured or found at the engine says by itself.

    fact : of `fact_kinds` · code : of its finding · level 0: it was looked at, and its channel is
        steady as far as that goes · points : the troubles it points to · numbers : what its
        sentence needs
    """

    fact: str
    code: str
    channel: str
    level: int
    points: frozenset[str] = frozenset()
    numbers: dict[str, str] | None = None

    @property
    def kind(self) -> FactKindCode:
        return fact_kinds()[self.fact].kind


def word(
    fact: str,
    *,
    code: str = "",
    channel: str = "",
    level: int | None = None,
    points: frozenset[str] = frozenset(),
    numbers: dict[str, str] | None = None,
) -> Word:
    """A fact as it is told; what is not given is as the table has it. `channel` and `points` are
    of the part where the fact takes those.

    >>> word("knock").code, word("broken", code="finding", channel="wear").channel
    ('knock', 'wear')
    """
    kind = fact_kinds()[fact]
    return Word(
        fact=fact,
        code=code or kind.code,
        channel=kind.channel or channel,
        level=kind.level if level is None else level,
        points=kind.points or points,
        numbers=numbers,
    )
