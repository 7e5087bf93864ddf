"""What a reader must know of the figures, without a level of its own."""

from collections.abc import Iterator

import numpy as np

from ..findings import Finding, n_digits, payloads
from ..laboratory import EXACT, idx, with_role
from ..limits import SHORTEST_RATE, Evaluation
from ..oil import iso_4406
from ..record import SampleContext
from .limit_findings import not_cleared
from .reading_combinations import REFERENCE_WORDS
from .thresholds import HOURS_DIFFER

PARTICLES = [idx(s) for s in ("4 µm", "6 µm", "14 µm")]


def _remark(
    code: str, channel: str, numbers: payloads.Payload, analyte: str | None = None, origin: str = ""
) -> Finding:
    return Finding(
        code=code, channel=channel, level=0, analyte=analyte, origin=origin, numbers=numbers
    )


def _of_hours(context: SampleContext) -> Iterator[Finding]:
    hours = context.hours_on_oil
    if np.isnan(hours):
        yield _remark("hours_unknown", "wear", payloads.Payload())
    elif hours < 0:
        yield _remark("hours_negative", "wear", payloads.HoursOnOil(hours=n_digits(hours)))
    elif hours < SHORTEST_RATE * context.engine.nominal_drain:
        # Said because the expectation of everything that rises is silent then.
        on_oil = payloads.HoursOnOil(hours=n_digits(hours), per=context.engine.meter_unit)
        yield _remark("too_early", "wear", on_oil)


def _hours_differ(context: SampleContext) -> Iterator[Finding]:
    """Hours reported with the sample against those of the record."""
    reported, dial = context.sample.oil_change_dial, context.moment.row.dial
    if reported is None or dial is None or context.charge.start is None:
        return
    said = dial - reported
    if abs(said - context.hours_on_oil) > HOURS_DIFFER:
        both = payloads.HoursDiffer(
            reported=n_digits(said), recorded=n_digits(context.hours_on_oil)
        )
        yield _remark("hours_differ", "wear", both)


def _not_reported(evaluation: Evaluation, i: int) -> Iterator[Finding]:
    """Metals not reported beside others that were: what nobody measured clears nothing."""
    leaded = evaluation.contexts[i].engine.fuel == "petrol_leaded"
    needed = [a for a in with_role("clears_wear") if not (leaded and a.symbol == "Pb")]
    there = [a for a in needed if evaluation.fleet.censor[i, a.index] >= 0]
    missing = [a.column for a in needed if a not in there]
    if there and missing:
        yield _remark("not_reported", "wear", payloads.NotReported(missing=missing))


def _cleanliness(evaluation: Evaluation, i: int) -> Iterator[Finding]:
    counts = [float(evaluation.fleet.value[i, a]) for a in PARTICLES]
    exact = all(evaluation.fleet.censor[i, a] == EXACT for a in PARTICLES)
    if exact and counts == sorted(counts, reverse=True):
        code = payloads.Cleanliness(code=iso_4406(*counts))
        yield _remark("cleanliness", "debris", code, origin="ISO 4406:2017, recalled")


def remarks(evaluation: Evaluation, i: int, reference: int) -> Iterator[Finding]:
    """What a reader must know of the figures; `reference` is the place in REFERENCE_WORDS of the
    best fresh-oil figure that was used."""
    context = evaluation.contexts[i]
    yield from _of_hours(context)
    yield from _not_reported(evaluation, i)
    if context.engine.fuel == "petrol_leaded" and evaluation.fleet.censor[i, idx("Pb")] >= 0:
        yield _remark("leaded", "wear", payloads.Payload(), "Pb_ppm")
    if reference:
        used = payloads.Reference(used=REFERENCE_WORDS[reference])
        yield _remark("no_reference", "oil_life", used)
    yield from _cleanliness(evaluation, i)
    if evaluation.leaves_open[i]:
        yield from not_cleared(evaluation, i)
    if context.run_in:
        yield _remark("run_in", "wear", payloads.RunInCharge(charge=context.run_in_charges + 1))
    yield from _hours_differ(context)
