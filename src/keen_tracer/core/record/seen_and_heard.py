"""What is seen, heard, checked or measured at the engine: the level each says by itself, and which
evidence it is (`tables/seen_and_heard.csv`, `field_checks.csv`, `debris_types.csv`).

One word for one thing: flakes told as a symptom and flakes counted in a look, a pressure told as a
symptom and one read by gauge, are judged by the same rule.
"""

from collections.abc import Iterator, Mapping, Sequence
from contextlib import suppress

from ..errors import CoreError
from ..terms import DEBRIS_AMOUNTS
from .debris import DebrisLook, debris_evidence, flakes_told, large_flakes, look_says
from .field_checks import Result, checked
from .meanings import Meaning, Word, meanings
from .measured import Measured, measured
from .model import LogRow, Sample
from .opened import evidence_of_finding, telling_finding


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


def steady_look(sample: Sample) -> str:
    """The channel that looks as it should by how a bottle looked; "" for none. Without figures it
    is no verdict of the sample, but it was looked at."""
    meaning = _meaning("appearance", sample.appearance)
    return meaning.steady if meaning else ""


Limits = Mapping[str, float]
NO_LIMITS: Limits = {}


def _checked(row: LogRow, limits: Limits) -> tuple[Result, Measured | None] | None:
    """The result of a field check; None for one of another version, which is kept on record and
    says nothing here."""
    try:
        return checked(row.part, row.details, limits)
    except CoreError:
        return None


def _of_check(row: LogRow, limits: Limits) -> Iterator[Word]:
    found = _checked(row, limits)
    if found is None or not found[0].channel:
        return
    result, figures = found
    numbers = {"check": result.check, "result": result.code}
    if figures:
        numbers |= {"figures": figures.said, "limit_from": figures.limit_from}
    yield Word("field_check", result.channel, result.level, numbers)


def _gauge(row: LogRow, limits: Limits) -> Measured | None:
    """A hot oil pressure written beside a symptom, read as the gauge test it is."""
    hot = row.details.get("pressure_hot_bar", "").strip()
    if row.kind != "symptom" or not hot:
        return None
    try:
        return measured("oil_pressure", {"hot_idle": hot}, limits)
    except CoreError:
        return None


def _of_symptom(row: LogRow, limits: Limits) -> Iterator[Word]:
    meaning, gauge = _meaning(row.kind, row.part), _gauge(row, limits)
    if gauge is not None and row.part == "oil_pressure":
        level = 3 if gauge.result == "low" else 0
        numbers = {"check": "oil_pressure", "result": gauge.result, "figures": gauge.said}
        yield Word("field_check", "wear", level, numbers)
    elif row.part == "bearing_flakes" and row.kind == "symptom":
        yield Word("bearing_flakes", "debris", flakes_told(row.details.get("largest", "")))
    elif meaning and meaning.word:
        yield meaning.word


def _of_look(look: DebrisLook, earlier: Sequence[DebrisLook]) -> Iterator[Word]:
    """Every telling type of a look speaks; one with nothing in it is a look all the same."""
    said = look_says(look, earlier)
    for kind, level in said.items():
        numbers = {
            "place": look.place,
            "type": kind,
            "count": _how_much(look, kind),
            "seen": f"{look.share:.3g}",
        }
        yield Word("look", "debris", level, numbers)
    if not said:
        yield Word("clean_look", "debris", 0, {"place": look.place, "seen": f"{look.share:.3g}"})


def _how_much(look: DebrisLook, kind: str) -> str:
    """The count, and what nobody could count, in words."""
    counted, amount = look.found().get(kind), look.amounts().get(kind, "")
    said = (str(counted) if counted else "", DEBRIS_AMOUNTS.get(amount, ""))
    return " and ".join(x for x in said if x)


def _of_finding(row: LogRow) -> Iterator[Word]:
    """What a finding says; one of another version is kept on record and says nothing here."""
    try:
        yield telling_finding(row.part, row.details)
    except CoreError:
        return


def tellings(
    row: LogRow, earlier: Sequence[DebrisLook] = (), limits: Limits = NO_LIMITS
) -> list[Word]:
    """What a symptom, a failure, a look or a check says by itself, worst first; empty where it says
    nothing.

    earlier : looks of the engine before this one · limits : its model's pass criteria
    """
    if row.look is not None:
        words = _of_look(row.look, earlier)
    elif row.kind == "field_check":
        words = _of_check(row, limits)
    elif row.kind == "finding":
        words = _of_finding(row)
    else:
        words = _of_symptom(row, limits)
    return sorted(words, key=lambda w: -w.level)


def evidence_of_row(row: LogRow, limits: Limits = NO_LIMITS) -> Iterator[tuple[str, bool]]:
    """(evidence, seen or known to be absent) of one log row."""
    if row.look is not None:
        yield from debris_evidence(row.look).items()
        if large_flakes(row.look):
            yield "large_flakes", True
        return
    if row.kind == "field_check":
        found = _checked(row, limits)
        if found:
            yield from _evidence_of_check(*found)
        return
    if row.kind == "finding":
        with suppress(CoreError):
            yield from evidence_of_finding(row.part, row.details)
        return
    gauge, meaning = _gauge(row, limits), _meaning(row.kind, row.part)
    if gauge is not None:
        yield "low_pressure", gauge.result == "low"
    elif row.part == "smoke" and (colour := meanings("smoke").get(row.details.get("smoke", ""))):
        yield colour.evidence, True
    elif meaning and meaning.evidence:
        yield meaning.evidence, True
    if row.part == "bearing_flakes" and flakes_told(row.details.get("largest", "")) > 1:
        yield "large_flakes", True


def _evidence_of_check(result: Result, figures: Measured | None) -> Iterator[tuple[str, bool]]:
    if result.evidence:
        yield result.evidence, True
    if result.clears:
        yield result.clears, False
    if figures:
        yield from figures.evidence


def evidence_of_look(sample: Sample) -> Iterator[tuple[str, bool]]:
    """The evidence in how a sample looked and smelt."""
    for where, said in (("appearance", sample.appearance), ("smell", sample.smell)):
        meaning = _meaning(where, said)
        if meaning and meaning.evidence:
            yield meaning.evidence, True
