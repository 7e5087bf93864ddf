"""Which facts a row of the log holds, and which evidence they are: a look, a check, a symptom, a
failure, a finding of the opened engine.

One word for one thing: flakes told as a symptom and flakes counted in a look, a pressure told as a
symptom and one read by gauge, are the same fact at the same level.
"""

from collections.abc import Iterator, Mapping
from contextlib import suppress
from math import isfinite

from ..errors import CoreError
from ..laboratory import plain_text
from ..terms import DEBRIS_AMOUNTS, DEBRIS_SIZES
from .debris import DebrisLook, Said, debris_evidence, debris_types, flakes_told, large_flakes
from .event_details import detail_number
from .fact_kinds import Word, fact_kinds, word
from .field_checks import Result, on_record
from .isolation import leak_answer
from .ladders import COOLANT_L, OVER_FULL_ACT_MM, level_of
from .meanings import fact_told, told
from .measured import Measured, ways_out
from .model import LogRow, Sample
from .opened import evidence_of_finding, mode_of, words_of_finding

Limits = Mapping[str, float]
NO_LIMITS: Limits = {}
# Evidence that a part was found bad by eye, followed by the failure mode it is: at Act and more,
# and at Watch.
FOUND, FOUND_WATCH, LED_TO = "found:", "found_watch:", "led_to:"
# Evidence that a part was worked on and the trouble went on, followed by the part.
RENEWED = "renewed:"


def telling_look(sample: Sample) -> list[Word]:
    """What the look and the smell of a sample say; one word a channel, the worst."""
    found: list[Word] = []
    for where, said in (("appearance", sample.appearance), ("smell", sample.smell)):
        fact = fact_told(where, said)
        if fact and fact_kinds()[fact].level:
            one = word(fact)
            if all(one.channel != w.channel for w in found):
                found.append(one)
    return found


def steady_look(sample: Sample) -> str:
    """The channel that looks as it should by how a bottle looked; "" for none. Without figures it
    is no verdict of the sample, but it was looked at."""
    fact = fact_told("appearance", sample.appearance)
    return fact_kinds()[fact].channel if fact and not fact_kinds()[fact].level else ""


def _number(row: LogRow, name: str) -> float | None:
    """A figure beside a row; None where it was not said, or by another version."""
    with suppress(CoreError):
        return detail_number(row.details, name)
    return None


def gauge(row: LogRow) -> Mapping[str, str] | None:
    """The readings of a pressure gauge, in whichever form they were entered; None without any."""
    if row.kind == "field_check" and row.part == "oil_pressure":
        return row.details
    hot = row.details.get("pressure_hot_bar", "").strip()
    return {"hot_idle": hot} if row.kind == "symptom" and hot else None


def _of_result(row: LogRow, result: Result, figures: Measured | None) -> Iterator[Word]:
    if not result.fact:
        return
    numbers = {"check": result.check, "result": result.code}
    if figures:
        numbers |= {"figures": figures.said, "limit_from": figures.limit_from}
    level = None
    over = _number(row, "above_full_mm") if result.fact == "over_full" else None
    if over is not None:
        level = 1 + int(over >= OVER_FULL_ACT_MM)
    yield word(result.fact, code="field_check", level=level, numbers=numbers)


def of_check(row: LogRow, limits: Limits = NO_LIMITS) -> list[Word]:
    """What a field check says."""
    found = on_record(row.part, row.details, limits)
    return list(_of_result(row, *found)) if found else []


def of_symptom(row: LogRow, limits: Limits = NO_LIMITS) -> list[Word]:
    """What a symptom, a failure or an overheating says."""
    read = gauge(row)
    if read is not None and row.part == "oil_pressure":
        found = on_record("oil_pressure", read, limits)
        return list(_of_result(row, *found)) if found else []
    fact = fact_told(row.kind, row.part)
    if row.part == "smoke":
        fact = told("smoke").get(row.details.get("smoke", ""), fact)
    if row.part == "noise":
        fact = told("heard").get(row.details.get("heard", ""), fact)
    if not fact:
        return []
    level = None
    if fact == "bearing_flakes":
        level = flakes_told(row.details.get("largest", ""))
    litres = _number(row, "coolant_l") if fact == "coolant_use" else None
    if litres is not None:
        level = max(1, level_of(litres, *COOLANT_L))
    return [word(fact, level=level)]


def of_look(look: DebrisLook, said: Mapping[str, Said]) -> list[Word]:
    """Every telling type of a look; one with nothing in it is a look all the same."""
    seen = plain_text(look.share)
    out = []
    for kind, one in said.items():
        numbers = {"place": look.place, "type": kind, "count": _how_much(look, kind), "seen": seen}
        if one.size:
            numbers["size"] = DEBRIS_SIZES[one.size]
        if one.grown:
            numbers["grown"] = "yes"
        fact = debris_types()[kind].fact
        out.append(word(fact, code="look", level=one.level, numbers=numbers))
    return out or [
        word("place_clean", code="clean_look", numbers={"place": look.place, "seen": seen})
    ]


def _how_much(look: DebrisLook, kind: str) -> str:
    """The count, and what nobody could count, in words."""
    counted, amount = look.found().get(kind), look.amounts().get(kind, "")
    said = (str(counted) if counted else "", DEBRIS_AMOUNTS.get(amount, ""))
    return " and ".join(x for x in said if x)


def of_case_step(row: LogRow) -> list[Word]:
    """What a step of a leak isolation found; one of another version says nothing."""
    with suppress(CoreError):
        said = leak_answer(row.part, row.details.get("answer", ""))
        numbers = {"step": row.part, "answer": said.code}
        return [word(said.fact, code="case_step", numbers=numbers)]
    return []


def of_finding(row: LogRow) -> list[Word]:
    """What a finding says; one of another version is kept on record and says nothing here."""
    with suppress(CoreError):
        return list(words_of_finding(row.part, row.details))
    return []


def evidence_of_row(row: LogRow, limits: Limits = NO_LIMITS) -> Iterator[tuple[str, bool]]:
    """(evidence, seen or known to be absent) of one log row."""
    if row.look is not None:
        yield from debris_evidence(row.look).items()
        if large_flakes(row.look):
            yield "large_flakes", True
    elif row.kind == "field_check":
        found = on_record(row.part, row.details, limits)
        if found:
            yield from _evidence_of_check(*found)
            if found[1] is None:  # a leak by its word alone has its way out all the same
                yield from ways_out(row.details.get("air_heard", ""), found[0].level > 0)
    elif row.kind == "case_step":
        with suppress(CoreError):
            yield from _evidence_of_step(row)
    elif row.kind == "finding":
        with suppress(CoreError):
            yield from evidence_of_finding(row.part, row.details)
            yield from _found(row)
    else:
        yield from _evidence_of_symptom(row, limits)


def _evidence_of_symptom(row: LogRow, limits: Limits) -> Iterator[tuple[str, bool]]:
    read = gauge(row)
    if read is not None and row.part == "oil_pressure":
        found = on_record("oil_pressure", read, limits)
        if found:
            yield from _evidence_of_check(*found)
        return
    for one in of_symptom(row, limits):
        if evidence := fact_kinds()[one.fact].evidence:
            yield evidence, True
    size = row.details.get("largest", "")
    if row.part == "bearing_flakes" and size in ("1-3", "over 3"):
        yield "large_flakes", True


def _evidence_of_step(row: LogRow) -> Iterator[tuple[str, bool]]:
    """Evidence a step of a leak isolation found, and the one way in that is left."""
    said = leak_answer(row.part, row.details.get("answer", ""))
    if evidence := fact_kinds()[said.fact].evidence:
        yield evidence, True
    head = FOUND if len(said.points) == 1 else FOUND_WATCH
    for mode in said.points:
        yield head + mode, True


def _found(row: LogRow) -> Iterator[tuple[str, bool]]:
    """The failure mode a part was found to be, by eye."""
    mode = mode_of(row.part, row.details)
    if mode:
        level = max(w.level for w in of_finding(row))
        yield (FOUND if level > 1 else FOUND_WATCH) + mode, True


def _evidence_of_check(result: Result, figures: Measured | None) -> Iterator[tuple[str, bool]]:
    if result.evidence:
        yield result.evidence, True
    if result.clears and not (figures and figures.blunt):
        yield result.clears, False
    if figures:
        yield from figures.evidence


def evidence_of_look(sample: Sample) -> Iterator[tuple[str, bool]]:
    """The evidence in how a sample looked and smelt."""
    for where, said in (("appearance", sample.appearance), ("smell", sample.smell)):
        fact = fact_told(where, said)
        if fact and fact_kinds()[fact].evidence:
            yield fact_kinds()[fact].evidence, True


def hot_pressures(row: LogRow) -> dict[str, float]:
    """The hot oil pressures of a row [bar], by where they were read."""
    read = gauge(row) or {}
    out: dict[str, float] = {}
    for name in ("hot_idle", "hot_rated"):
        with suppress(CoreError):
            bar = detail_number(read, name)
            if bar is not None and isfinite(bar):
                out[name] = bar
    return out
