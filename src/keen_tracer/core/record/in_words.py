"""What people write in their own words, as facts: "one cylinder is wet" is liquid in a cylinder,
wherever it is written (`tables/in_words.csv`).

It is recognised to be asked about, never to be written down unasked: words can be a denial, a
question or a memory.
"""

import re
from dataclasses import dataclass
from functools import cache

from .. import tables
from .field_checks import field_checks
from .meanings import told

# Words that make a clause say that it is not so, or not known.
_DENIES = re.compile(
    r"\b(no|not|never|without|none|nothing|isn't|wasn't|doesn't|didn't|if|was it)\b"
)
_CLAUSE = re.compile(r"[.;:!?\n]|\bbut\b|,")


@dataclass(frozen=True, slots=True)
class Told:
    """The row of the log by which a fact is recorded at the engine."""

    kind: str
    part: str = ""
    detail: tuple[str, str] | None = None

    @property
    def details(self) -> dict[str, str]:
        return dict([self.detail]) if self.detail else {}


@cache
def _phrases() -> list[tuple[str, list[list[re.Pattern[str]]]]]:
    """(fact, its alternatives, each the words that must all stand in a clause)."""
    return [
        (
            r["fact"],
            [
                [re.compile(rf"\b{re.escape(w)}") for w in alternative.split()]
                for alternative in r["words"].split("|")
            ],
        )
        for r in tables.read("in_words")
    ]


@cache
def told_in_words() -> frozenset[str]:
    """The facts that can be known from words."""
    return frozenset(fact for fact, _ in _phrases())


def facts_in(text: str) -> tuple[str, ...]:
    """The facts that words say, in the order of the table; what a clause denies is not said.

    >>> facts_in("One cylinder is wet, and it smells of diesel")
    ('wet_cylinder', 'fuel_smell')
    >>> facts_in("no knock, cylinder 3 is not wet")
    ()
    """
    out = []
    clauses = [c for c in _CLAUSE.split(text.lower()) if c.strip()]
    for fact, alternatives in _phrases():
        for clause in clauses:
            denied = _DENIES.search(clause)
            said = any(
                all(word.search(clause) for word in words)
                and not (denied and not any(w.pattern == r"\bno" for w in words))
                for words in alternatives
            )
            if said:
                out.append(fact)
                break
    return tuple(x for x in out if not _milder(x, out))


# A general fact that a particular one beside it says already.
_GENERAL = {
    "noise": frozenset({"knock", "cold_rattle"}),
    "level_rising": frozenset({"level_rising_coolant"}),
    "coolant_visible": frozenset({"wet_cylinder", "level_rising_coolant"}),
}


def _milder(fact: str, said: list[str]) -> bool:
    return bool(_GENERAL.get(fact, frozenset()) & set(said))


@cache
def told_as(fact: str) -> Told | None:
    """The row of the log a fact is told by at the engine; None for one that is only found or
    measured with more than a word.

    >>> told_as("knock"), told_as("fuel_smell")
    (Told(kind='symptom', part='knock', detail=None), Told(kind='field_check', part='smell', \
detail=('result', 'fuel')))
    """
    for word, known in told("symptom").items():
        if known == fact:
            return Told("symptom", word)
    if fact in told("overheating").values():
        return Told("overheating")
    for word, known in told("smoke").items():
        if known == fact:
            return Told("symptom", "smoke", ("smoke", word))
    for word, known in told("heard").items():
        if known == fact:
            return Told("symptom", "noise", ("heard", word))
    for check, results in field_checks().items():
        for r in results:
            if r.fact == fact:
                return Told("field_check", check, ("result", r.code))
    return None
