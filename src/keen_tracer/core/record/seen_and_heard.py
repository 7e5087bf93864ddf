"""What is seen, heard or checked at the engine: the level each says by itself, and which evidence
it is (`tables/seen_and_heard.csv`, `field_checks.csv`)."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cache

from .. import tables
from ..errors import CoreError, UnknownName
from .event_details import detail_number
from .field_checks import Result, check_result
from .model import LogRow, Sample

# Hot oil pressure at idle below which bearings are thought of. Common practice ("10 psi at idle"),
# from memory; the maker's own figure comes first.
PRESSURE_FLOOR_BAR = 0.7


@dataclass(frozen=True, slots=True)
class Word:
    """What something seen, heard or checked at the engine says by itself."""

    code: str
    channel: str
    level: int
    numbers: dict[str, str] = field(default_factory=dict, hash=False)


@dataclass(frozen=True, slots=True)
class Meaning:
    """One row of `tables/seen_and_heard.csv`: `word` None where it says nothing by itself."""

    word: Word | None
    evidence: str


@cache
def meanings(where: str) -> dict[str, Meaning]:
    """What every word of one place means: appearance, smell, symptom, failure, overheating.

    >>> meanings("symptom")["power_down"].evidence
    'power_down'
    """
    return {
        r["word"]: Meaning(
            Word(r["code"], r["channel"], int(r["level"])) if r["level"] != "0" else None,
            r["evidence"],
        )
        for r in tables.read("seen_and_heard")
        if r["where"] == where
    }


def _meaning(where: str, said: str) -> Meaning | None:
    known = meanings(where)
    return known.get(said) or known.get("*")


def telling_look(sample: Sample) -> list[Word]:
    """What the look and the smell of a sample say; one word a channel, the worst."""
    found: list[Word] = []
    for where, said in (("appearance", sample.appearance), ("smell", sample.smell)):
        meaning = _meaning(where, said)
        if meaning and meaning.word and all(meaning.word.channel != w.channel for w in found):
            found.append(meaning.word)
    return found


def _checked(row: LogRow) -> Result | None:
    """The result of a field check; None for a word of another version, which is kept on record and
    says nothing here."""
    try:
        return check_result(row.part, row.details.get("result", ""))
    except UnknownName:
        return None


def telling(row: LogRow) -> Word | None:
    """What a symptom, a failure or a field check says by itself, if anything."""
    if row.kind == "field_check":
        one = _checked(row)
        if one is None or not one.level:
            return None
        return Word("field_check", one.channel, one.level, {"check": one.check, "result": one.code})
    meaning = _meaning(row.kind, row.part)
    return meaning.word if meaning else None


def _hot_pressure(row: LogRow) -> float | None:
    """The hot oil pressure written beside a row [bar]; None where there is none to read."""
    try:
        return detail_number(row.details, "pressure_hot_bar")
    except CoreError:
        return None


def evidence_of_row(row: LogRow) -> Iterator[tuple[str, bool]]:
    """(evidence, seen or known to be absent) of one log row."""
    if row.kind == "field_check":
        one = _checked(row)
        if one and one.evidence:
            yield one.evidence, True
        if one and one.clears:
            yield one.clears, False
        return
    pressure = _hot_pressure(row)
    meaning = _meaning(row.kind, row.part)
    if pressure is not None:
        yield "low_pressure", pressure < PRESSURE_FLOOR_BAR
    elif meaning and meaning.evidence:
        yield meaning.evidence, True


def evidence_of_look(sample: Sample) -> Iterator[tuple[str, bool]]:
    """The evidence in how a sample looked and smelt."""
    for where, said in (("appearance", sample.appearance), ("smell", sample.smell)):
        meaning = _meaning(where, said)
        if meaning and meaning.evidence:
            yield meaning.evidence, True
