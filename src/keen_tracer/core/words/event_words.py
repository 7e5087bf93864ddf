"""The words of a log row: what happened, with what was written beside it."""

from collections.abc import Mapping
from contextlib import suppress

from ..errors import CoreError
from ..record import (
    DebrisCount,
    LogRow,
    check_kinds,
    checked,
    condition_of,
    debris_types,
    detail_number,
    leak_answer,
    leak_steps,
    oil_words,
    place_words,
)
from ..terms import (
    BOTTLE_EVENTS,
    DEBRIS_AMOUNTS,
    DEBRIS_PLACES,
    DEBRIS_SIZES,
    DETAIL,
    EVENT_KINDS,
    SYMPTOMS,
)
from .amounts import OWN_UNITS, Units

# Of a finding: said where it is and how it is.
_IN_WORDS = {"condition", "position", "side", "order"}
_KINDS = {**EVENT_KINDS, **BOTTLE_EVENTS}


def _facts(details: Mapping[str, str], units: Units) -> list[str]:
    gauge = details.get("pressure_unit", "")
    out = []
    for name, said in sorted(details.items()):
        detail = DETAIL.get(name)
        if name in ("result", "pressure_unit") or not said.strip():
            continue
        if detail is None:
            out.append(f"{name.replace('_', ' ')} {said}")
            continue
        words = (detail.choices or {}).get(said, said)
        if detail.pressure:
            words = f"{words} {gauge or detail.unit}"
        elif detail.shown:
            number = detail_number(details, name)
            words = f"{words} {detail.unit}" if number is None else units.shown(number, detail.unit)
        out.append(detail.said.format(words))
    return out


def event_words(
    kind: str, part: str, note: str, details: Mapping[str, str], units: Units = OWN_UNITS
) -> str:
    """Something that happened, in one line. What a gauge showed keeps the unit of the gauge."""
    said = (
        [SYMPTOMS.get(part) or part.replace("_", " ")]
        if kind == "symptom"
        else [part.replace("_", " ")]
    )
    if kind == "field_check":
        try:
            found, _ = checked(part, details)
            said = [f"{check_kinds()[part].words}: {found.words}"]
        except CoreError:
            said.append(details.get("result", ""))
    if kind == "case_step":
        with suppress(CoreError):
            answer = leak_answer(part, details.get("answer", ""))
            return f"{leak_steps()[part].words}: {answer.words}"
    if kind == "finding":
        with suppress(CoreError):
            how = condition_of(part, details).words
            said = [f"{place_words(part, details)}: {how}"]
            details = {k: v for k, v in details.items() if k not in _IN_WORDS}
    said += _facts(details, units)
    return " · ".join(x for x in (_KINDS.get(kind, kind.replace("_", " ")), *said, note) if x)


def row_words(row: LogRow, units: Units = OWN_UNITS) -> str:
    """A row of the log in one line. Oil and coolant are in `units`; of a look it says
    what was found.

    >>> from datetime import date
    >>> row_words(LogRow("r", date(2026, 1, 5), "top_up", oil="Heavy|15W-40|", litres_in=2.0))
    'top-up · Heavy 15W-40 · 2 L put in'
    >>> from keen_tracer.core.record import DebrisLook
    >>> seen = (DebrisCount("copper_flakes", "0.5-1", 3), DebrisCount("fuzz", "", 0, "dusting"))
    >>> look = DebrisLook("filter", counts=seen)
    >>> row_words(LogRow("r", date(2026, 1, 5), "look", look=look))
    'look at the filter: 3 copper-coloured flakes (0.5 to 1 mm), a dusting of fine magnetic fuzz'
    """
    if row.look is None:
        amounts = ((row.litres_in, "put in"), (row.litres_drained, "drained"))
        said = (
            event_words(row.kind, row.part, "", row.details, units),
            oil_words(row.oil),
            *(f"{units.litres(x)} {word}" for x, word in amounts if x),
            row.note,
        )
        return " · ".join(x for x in said if x)
    found = ", ".join(_count(x) for x in row.look.counts if x.count or x.amount)
    where = DEBRIS_PLACES[row.look.place]
    told = f"look at the {where}: {found or 'nothing found'}"
    return f"{told} · {row.note}" if row.note else told


def _count(seen: DebrisCount) -> str:
    what = debris_types()[seen.type].words
    size = f" ({DEBRIS_SIZES[seen.size_class]})" if seen.size_class else ""
    if seen.count:
        return f"{seen.count} {what}{size}"
    amount = DEBRIS_AMOUNTS[seen.amount]
    return f"{what} {amount}{size}" if seen.amount == "covers" else f"{amount} of {what}{size}"
