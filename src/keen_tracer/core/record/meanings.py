"""What words for what is seen and heard mean by themselves (`tables/seen_and_heard.csv`)."""

from dataclasses import dataclass, field
from functools import cache

from .. import tables


@dataclass(frozen=True, slots=True)
class Word:
    """What something seen, heard or checked at the engine says by itself. Level 0: it was looked
    at, and its channel is steady as far as that goes."""

    code: str
    channel: str
    level: int
    numbers: dict[str, str] = field(default_factory=dict, hash=False)


@dataclass(frozen=True, slots=True)
class Meaning:
    """One row of `tables/seen_and_heard.csv`: `word` None where it says nothing by itself; `steady`
    the channel that then looks as it should, "" for none."""

    word: Word | None
    evidence: str
    steady: str = ""


@cache
def meanings(where: str) -> dict[str, Meaning]:
    """What every word of one place means: appearance, smell, symptom, failure,
    overheating; and, beside a symptom or a test, which smoke and where the air is heard.

    >>> meanings("symptom")["power_down"].evidence
    'power_down'
    """
    return {
        r["word"]: Meaning(
            Word(r["code"], r["channel"], int(r["level"])) if r["level"] != "0" else None,
            r["evidence"],
            r["channel"] if r["level"] == "0" else "",
        )
        for r in tables.read("seen_and_heard")
        if r["where"] == where
    }
