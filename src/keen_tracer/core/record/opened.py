"""What is found in an opened engine: parts, the scale each is graded on, and what a condition says.
A finding is a row of the log; it is an inspection and never work: nothing here lifts a Stop."""

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any

from .. import tables
from ..errors import OutOfRange, UnknownName
from ..terms import LAYOUTS, LayoutKind
from .clearances import Figure, clearances
from .event_details import detail_number
from .fact_kinds import FactKind, Word, fact_kinds, trouble_of_mode, word

MOST_CYLINDERS = 16


@dataclass(frozen=True, slots=True, kw_only=True)
class Part:
    """A part of an engine. `many`: "cylinder", "main" or "one"; `answers`: the check that finding
    it answers; `mode`: the failure mode it is as a cause; "" for none. `opens`: the engine is open
    while one looks at it. `measured`: the details its readings are written in."""

    code: str
    words: str
    many: str
    scale: str
    sides: tuple[str, ...]
    channel: str
    answers: str
    mode: str
    opens: bool
    measured: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Condition:
    """A condition on a scale: which fact it is, with the parts for which it is another. `mode`: the
    failure mode it is as a cause, "" takes that of the part; `work`: of WORK_KINDS, what it asks
    for; "" for nothing."""

    code: str
    words: str
    fact: str
    facts: Mapping[str, str]
    mode: str
    clears: str
    work: str

    def fact_of(self, part: str) -> FactKind:
        """The fact it is at a part."""
        return fact_kinds()[self.facts.get(part, self.fact)]

    @property
    def grade(self) -> int:
        """0 sound, 1 watch it, 2 act, 3 it must not run; whatever the part."""
        return fact_kinds()[self.fact].level


# Of a part that was measured, or of which only a note was made: it is not said to be sound.
UNSEEN = Condition(
    code="unseen",
    words="not judged by eye",
    fact="part_unseen",
    facts={},
    mode="",
    clears="",
    work="",
)


@cache
def parts() -> dict[str, Part]:
    """Every part. Source: `tables/parts.csv`."""
    return {
        r["part"]: Part(
            code=r["part"],
            words=r["words"],
            many=r["many"],
            scale=r["scale"],
            sides=tuple(x for x in r["sides"].split("|") if x),
            channel=r["channel"],
            answers=r["answers"],
            mode=r["mode"],
            opens=r["opens"] == "yes",
            measured=tuple(r["measured"].split("|")),
        )
        for r in tables.read("parts")
    }


@cache
def _part_names() -> tuple[tuple[re.Pattern[str], str], ...]:
    """How people write each part, longest first, so that a relief valve is no valve."""
    names = {name: p.code for p in parts().values() for name in (p.words, p.code.replace("_", " "))}
    ordered = sorted(names.items(), key=lambda x: (-len(x[0]), x))
    return tuple((re.compile(rf"\b{re.escape(name)}s?\b"), code) for name, code in ordered)


def parts_named(text: str) -> frozenset[str]:
    """The parts a text names.

    >>> sorted(parts_named("Oil cooler, relief valve")), parts_named("rocker cover resealed")
    (['cooler', 'relief_valve'], frozenset())
    """
    left, found = text.lower().replace("_", " "), set()
    for name, code in _part_names():
        left, times = name.subn(" ", left)
        if times:
            found.add(code)
    return frozenset(found)


@cache
def conditions() -> dict[str, dict[str, Condition]]:
    """Scale → its conditions, soundest first, and last that nobody judged it by eye. Source:
    `tables/part_conditions.csv`."""
    out: dict[str, dict[str, Condition]] = {}
    for r in tables.read("part_conditions"):
        *others, fact = r["fact"].split("|")
        out.setdefault(r["scale"], {})[r["condition"]] = Condition(
            code=r["condition"],
            words=r["words"],
            fact=fact,
            facts=dict(x.split("=") for x in others),
            mode=r["mode"],
            clears=r["clears"],
            work=r["work"],
        )
    return {scale: {**listed, UNSEEN.code: UNSEEN} for scale, listed in out.items()}


def condition_of(part: str, details: Mapping[str, str]) -> Condition:
    """The condition somebody wrote down of a part. Raises UnknownName for a part or a condition
    that is not in the tables.

    >>> condition_of("rod_bearing", {"condition": "copper"}).grade
    3
    """
    known = parts().get(part)
    if known is None:
        raise UnknownName("part", part, list(parts()))
    scale = conditions()[known.scale]
    said = details.get("condition", "")
    if said not in scale:
        raise UnknownName(f"condition of the {known.words}", said, list(scale))
    return scale[said]


def check_finding(part: str, details: Mapping[str, str]) -> None:
    """Refuse a finding that cannot be meant: UnknownName, OutOfRange."""
    condition_of(part, details)
    side, known = details.get("side", ""), parts()[part]
    if side and side not in known.sides:
        raise UnknownName(f"side of the {known.words}", side, list(known.sides))
    position = detail_number(details, "position")
    if position is not None and position != int(position):
        raise OutOfRange("position", position, 1, MOST_CYLINDERS + 1, "")


def place_words(part: str, details: Mapping[str, str]) -> str:
    """Where a finding is, in words.

    >>> place_words("rod_bearing", {"position": "3", "side": "cap side"})
    'rod bearing 3, cap side'
    """
    known = parts()[part]
    number, side = details.get("position", "").strip(), details.get("side", "")
    return ", ".join(x for x in (f"{known.words} {number}".strip(), side) if x)


def outside(details: Mapping[str, str]) -> list[Figure]:
    """Figures of a finding that are surely outside their limits."""
    return [f for f in clearances(details) if f.verdict == "outside"]


def mode_of(part: str, details: Mapping[str, str]) -> str:
    """The failure mode a finding is as a cause; "" for none, and for a sound part.

    >>> mode_of("bore", {"condition": "pitted"}), mode_of("bore", {"condition": "like_new"})
    ('liner_cavitation', '')
    """
    found = condition_of(part, details)
    if not found.fact_of(part).level and not outside(details):
        return ""
    return found.mode or parts()[part].mode


def words_of_finding(part: str, details: Mapping[str, str]) -> Iterator[Word]:
    """What a finding says by itself: its condition where it was judged by eye, and every figure
    surely outside its limit."""
    found, known = condition_of(part, details), parts()[part]
    points = trouble_of_mode(found.mode or known.mode)
    at: dict[str, Any] = {"code": "finding", "channel": known.channel, "points": points}
    where, fact = place_words(part, details), found.fact_of(part)
    out = outside(details)
    if found is not UNSEEN and (fact.level or not out):
        yield word(fact.fact, **at, numbers={"where": where, "condition": found.words})
    for f in out:
        yield word("outside_limit", **at, numbers={"where": where, "condition": f.words})


def evidence_of_finding(part: str, details: Mapping[str, str]) -> Iterator[tuple[str, bool]]:
    """(evidence, seen or known to be absent) of a finding."""
    found = condition_of(part, details)
    if evidence := found.fact_of(part).evidence:
        yield evidence, True
    if found.clears and not outside(details):
        yield found.clears, False


@dataclass(frozen=True, slots=True)
class Layout:
    """How an engine is built: `kind` of LAYOUTS, and its cylinders."""

    kind: LayoutKind
    cylinders: int

    @property
    def mains(self) -> int:
        """Main bearings: one more than throws; in a vee two rods share one."""
        throws = (self.cylinders + 1) // 2 if self.kind == "vee" else self.cylinders
        return throws + 1


def layout_of(text: str) -> Layout | None:
    """The layout in a model's words; None where they do not say it, and three questions are asked.

    >>> [(x.kind, x.cylinders) for x in map(layout_of, ("in line 6", "V8", "opposed twin 2")) if x]
    [('line', 6), ('vee', 8), ('opposed', 2)]
    """
    said = text.lower().replace("-", " ")
    number = next((int(n) for n in _numbers(said) if 1 <= int(n) <= MOST_CYLINDERS), None)
    if number is None:
        return Layout("line", 1) if "single" in said else None
    if "oppos" in said or "flat" in said or "boxer" in said:
        return Layout("opposed", number)
    if said.strip().startswith("v") or " v" in said or "vee" in said:
        return Layout("vee", number)
    return Layout("line", number) if "line" in said or "single" in said else None


def _numbers(text: str) -> list[str]:
    return "".join(x if x.isdigit() else " " for x in text).split()


def many(part: Part, layout: Layout) -> int:
    """How many of a part an engine of a layout has."""
    assert layout.kind in LAYOUTS
    return {"cylinder": layout.cylinders, "main": layout.mains, "one": 1}[part.many]
