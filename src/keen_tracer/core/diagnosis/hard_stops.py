"""Facts that stop an engine by themselves: seen, heard, checked at the engine, or measured
(the-trade 3.12)."""

from collections.abc import Iterator
from datetime import date
from typing import Any

import numpy as np

from ..findings import Finding, n_digits, payloads
from ..laboratory import idx
from ..limits import Evaluation
from ..oil import allowed_range
from ..record import Fact, LogRow, Sample, Word, telling_look
from ..verdict import Level
from .fuel_in_all import fuel_in_all
from .thresholds import FUEL_STOP, SCUFF_HOURS, SCUFF_RISE

ORIGIN = "common practice"


_KINDS: dict[str, type[payloads.SeenOn]] = {
    "field_check": payloads.CheckedOn,
    "look": payloads.LookedOn,
    "finding": payloads.OpenedOn,
    "case_step": payloads.SteppedOn,
    "coolant_added": payloads.ToppedUp,
    "oil_added": payloads.ToppedUp,
}


def _seen(word: Word, on: str, row: LogRow | None = None) -> Finding:
    """What a word says, with the day and whatever was written beside it."""
    beside: dict[str, Any] = {"dial": row.dial, "note": row.note, "logged": True} if row else {}
    beside |= word.numbers or {}
    beside |= {"fact": word.fact, "points": sorted(word.points)}
    kind = _KINDS.get(word.code, payloads.SeenOn)
    return Finding(
        code=word.code,
        channel=word.channel,
        level=word.level,
        origin=ORIGIN,
        numbers=kind(on=on, **beside),
    )


def of_bottle(sample: Sample, on: date) -> Iterator[Finding]:
    """What the look and the smell of a bottle say."""
    yield from (_seen(word, on.isoformat()) for word in telling_look(sample))


def of_fact(fact: Fact) -> Iterator[Finding]:
    """What a row of the log says; nothing where it only shows its channel to be steady."""
    row = fact.moment.row
    yield from (_seen(word, row.on.isoformat(), row) for word in fact.words if word.level)


def hard_stops(evaluation: Evaluation, i: int) -> Iterator[Finding]:
    """Facts that need no figure beside them: what was seen, heard, checked or measured."""
    context = evaluation.contexts[i]
    yield from of_bottle(context.sample, context.moment.row.on)
    for fact in context.facts:
        yield from of_fact(fact)
    yield from _thinned(evaluation, i)
    yield from _threefold(evaluation, i)


def _thinned(evaluation: Evaluation, i: int) -> Iterator[Finding]:
    """Fuel that has thinned the oil below the thinnest allowed grade."""
    fuel, kv = fuel_in_all(evaluation.fleet, i), evaluation.fleet.value[i, idx("KV100")]
    held = allowed_range(evaluation.contexts[i].engine.allowed_grades)
    if fuel >= FUEL_STOP and held is not None and kv < held[0]:
        yield Finding(
            code="fuel_stop",
            channel="fuel",
            level=Level.STOP,
            analyte="fuel_pct",
            origin=ORIGIN,
            numbers=payloads.FuelStop(value=n_digits(fuel), kv=n_digits(kv), low=held[0]),
        )


def _threefold(evaluation: Evaluation, i: int) -> Iterator[Finding]:
    """Fe, Cr and Al each threefold in under 50 h, with blow-by or smoke."""
    context = evaluation.contexts[i]
    if context.before < 0 or context.engine.meter_unit != "h" or not context.smoke:
        return
    now, before = context.moment.total, evaluation.contexts[context.before].moment.total
    if now is None or before is None or not 0 < now - before < SCUFF_HOURS:
        return
    old = evaluation.middle[context.before]
    fe, cr, al = (
        evaluation.middle[i, a] / old[a] if old[a] > 0 else np.nan
        for a in map(idx, ("Fe", "Cr", "Al"))
    )
    if min(fe, cr, al) >= SCUFF_RISE:
        yield Finding(
            code="ring_scuff",
            channel="wear",
            level=Level.STOP,
            origin=ORIGIN,
            numbers=payloads.RingScuff(
                fe=n_digits(fe, 2),
                cr=n_digits(cr, 2),
                al=n_digits(al, 2),
                hours=n_digits(now - before, 3),
            ),
        )
