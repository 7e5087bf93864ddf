"""From evaluated readings to findings: limits, combinations of readings, hard stops, run-in."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..laboratory import ABOVE, ANALYTES, BELOW, EXACT, POSITIVE, columns, idx
from ..limits import (
    ACT,
    BASIS_NAMES,
    BATCH,
    CONC,
    LOWEST_EARLY,
    PCT,
    PCT_LOW,
    RATE,
    RISE,
    RISE_LOW,
    SAME_OIL,
    TAKEN_AS_ZERO,
    UNKNOWN,
    WATCH,
    Evaluation,
)
from ..oil import allowed_range, grades_of, iso_4406
from ..record import LogRow, SampleContext, telling_look
from ..verdict import Finding, Level

REFERENCE_WORDS = ("batch", "same_oil", "lowest_early", "none")
BN, AN, PQ, FE, GLYCOL, WATER = (idx(x) for x in ("BN", "AN", "PQ", "Fe", "Glycol", "Water"))
PARTICLES = [idx(s) for s in ("4 µm", "6 µm", "14 µm")]
RUN_IN_METALS = set(columns("run_in_excused"))
BEARING_METALS = columns("bearing_metal")
SOURCES = {
    BATCH: "batch",
    SAME_OIL: "same_oil",
    LOWEST_EARLY: "lowest_early",
    TAKEN_AS_ZERO: "zero",
    UNKNOWN: "unknown",
}
FUEL_STOP, WATER_STOP = 5.0, 0.5  # % mass, common practice (DOMAIN 3.12)
GLYCOL_BY_CHROMATOGRAPHY = ("gc", "chromatography", "astm d7922")  # methods that prove glycol


def n_digits(x: float, digits: int = 4) -> float | None:
    """A number as it is stored: enough digits to say it again, few enough to be the same on any
    machine."""
    return float(f"{float(x):.{digits}g}") if np.isfinite(x) else None


def limit_finding(e: Evaluation, i: int, a: int) -> Finding:
    """The finding of one reading at or past a fixed limit."""
    analyte, context = ANALYTES[a], e.contexts[i]
    level = int(e.level[i, a])
    value, censor = float(e.fleet.value[i, a]), int(e.fleet.censor[i, a])
    if censor == POSITIVE:
        return Finding(
            "seen_without_figure",
            analyte.channel,
            level,
            analyte.column,
            numbers={"limit": n_digits(e.upper[WATCH, i, a])},
        )
    mark = ACT if level == Level.ACT else WATCH
    low_side = not value >= e.upper[mark, i, a]
    threshold = (e.lower if low_side else e.upper)[mark, i, a]
    basis = int((e.lower_basis if low_side else e.upper_basis)[mark, i, a])
    # A rate limit may come from the concentration limit at the nominal drain: then that row is its
    # origin.
    row = e.limits[i].rows.get((basis, a)) or e.limits[i].rows.get((CONC, a))
    numbers: dict[str, object] = {
        "value": n_digits(value),
        "censor": censor,
        "threshold": n_digits(threshold),
        "basis": BASIS_NAMES[basis],
        "fresh": n_digits(e.fresh[i, a]),
        "fresh_from": SOURCES[int(e.fresh_source[i, a])],
    }
    if row is not None:
        numbers |= {
            "limit": row.act if mark == ACT else row.watch,
            "limit_basis": row.basis,
            "scope": row.scope_name,
        }
    if basis == RATE:
        numbers |= {
            "per_100": n_digits(100 * e.rate[i, a]),
            "per": context.engine.meter_unit,
            "hours": n_digits(context.hours_on_oil),
        }
    if basis in (PCT, PCT_LOW):
        numbers["pct_fresh"] = n_digits(100 * value / e.fresh[i, a])
    if basis in (RISE, RISE_LOW):
        numbers["rise"] = n_digits(value - e.fresh[i, a])
    code = "low" if low_side else "high"
    if e.unproven[i, a]:
        code = "unproven"
    elif e.at_limit[i, a]:
        code += "_at_limit"
    return Finding(
        code,
        analyte.channel,
        level,
        analyte.column,
        origin=row.origin if row else "",
        numbers=numbers,
    )


def falling(e: Evaluation, i: int, a: int) -> bool | None:
    """Whether a run-in metal came in slower than in the charge before; None in the first charge."""
    before = e.contexts[i].ended
    if before < 0 or np.isnan(e.rate[i, a]) or np.isnan(e.rate[before, a]):
        return None
    return bool(e.rate[i, a] < e.rate[before, a])


def run_in(e: Evaluation, i: int, found: Finding, a: int) -> Finding:
    """During run-in Fe, Cu, Si and Al are expected high and must fall from charge to charge.

    In the first charge, and while they fall, a limit passed gives Watch at most; a metal that does
    not fall keeps its full level. Lead, tin, sodium, potassium, fuel and water are never excused.
    """
    if not e.contexts[i].run_in or a not in RUN_IN_METALS or found.level < Level.WATCH:
        return found
    falls = falling(e, i, a)
    if falls is False:
        return Finding(
            "run_in_not_falling",
            found.channel,
            found.level,
            found.analyte,
            found.school,
            found.origin,
            found.numbers,
        )
    code = "run_in_first" if falls is None else "run_in_falling"
    return Finding(
        code,
        found.channel,
        min(found.level, Level.WATCH),
        found.analyte,
        found.school,
        found.origin,
        found.numbers,
    )


def _rises(e: Evaluation, i: int, a: int) -> bool:
    """Whether a metal comes in faster than at the sample before, beyond noise, or is at a limit
    already.

    Every metal rises within a charge; what counts is the rate.
    """
    if e.level[i, a] >= Level.WATCH:
        return True
    before = e.contexts[i].before
    if before < 0 or e.rate_withheld[i, a] or e.rate_withheld[before, a]:
        return False
    noise = 1.96 * float(np.hypot(e.rate_sigma[i, a], e.rate_sigma[before, a]))
    return bool(e.rate[i, a] - e.rate[before, a] > noise)


def thickness(e: Evaluation, i: int) -> Iterator[Finding]:
    """KV100 outside every grade the maker allows is Act (DOMAIN 3.7, 3.8)."""
    kv, context = e.fleet.value[i, idx("KV100")], e.contexts[i]
    held = allowed_range(context.engine.allowed_grades)
    if held is None or not 1.0 <= kv <= 100.0 or e.fleet.censor[i, idx("KV100")] != EXACT:
        return
    if not held[0] <= kv < held[1]:
        yield Finding(
            "out_of_grade",
            "thickness",
            Level.ACT,
            "KV100_mm2_s",
            origin="SAE J300",
            numbers={
                "value": n_digits(kv),
                "low": held[0],
                "high": held[1] if np.isfinite(held[1]) else None,
                "allowed": list(context.engine.allowed_grades),
                "is": grades_of(float(kv)),
            },
        )


@dataclass(frozen=True, slots=True)
class Marks:
    """What is cheap to know of all samples at once, so that a rule is only run where it can speak.

    combination : (samples,) some rule of `combinations` fires
    by_rule     : (samples, analytes) readings a rule of `combinations` was held against
    reference   : (samples,) place in REFERENCE_WORDS of the best fresh-oil figure that was used
    """

    combination: NDArray[np.bool_]
    by_rule: NDArray[np.bool_]
    reference: NDArray[np.int8]


def marks(e: Evaluation) -> Marks:
    """The marks of an evaluation."""
    v, censor = e.fleet.value, e.fleet.censor
    exact, above = censor == EXACT, censor == ABOVE
    with np.errstate(invalid="ignore"):
        spent = exact[:, BN] & exact[:, AN] & (v[:, BN] < v[:, AN])
        large = exact[:, PQ] & exact[:, FE] & (v[:, PQ] > v[:, FE])
        glycol = (censor[:, GLYCOL] == POSITIVE) | ((exact | above)[:, GLYCOL] & (v[:, GLYCOL] > 0))
        water = (exact | above)[:, WATER] & (v[:, WATER] >= WATER_STOP)
        by_rule = np.zeros(v.shape, dtype=np.bool_)
        # "<L" speaks as long as L itself would not be above iron.
        by_rule[:, PQ] = exact[:, FE] & (
            exact[:, PQ] | ((censor[:, PQ] == BELOW) & (v[:, PQ] <= v[:, FE]))
        )
    by_rule[:, GLYCOL] = censor[:, GLYCOL] >= 0
    measured = censor >= 0
    best = np.full(len(v), len(REFERENCE_WORDS) - 1, dtype=np.int8)
    for n, source in reversed(list(enumerate((BATCH, SAME_OIL, LOWEST_EARLY)))):
        best[(measured & (e.fresh_source == source)).any(axis=1)] = n
    return Marks(spent | large | glycol | water, by_rule, best)


def combinations(e: Evaluation, i: int) -> Iterator[Finding]:
    """Findings that need more than one reading."""
    v, censor = e.fleet.value[i], e.fleet.censor[i]
    exact = censor == EXACT
    if exact[BN] and exact[AN] and v[BN] < v[AN]:
        yield Finding(
            "bn_below_an",
            "oil_life",
            Level.ACT,
            "BN_mgKOH_g",
            origin="common practice, from memory",
            numbers={"bn": n_digits(v[BN]), "an": n_digits(v[AN])},
        )
    if exact[PQ] and exact[FE] and v[PQ] > v[FE]:
        yield Finding(
            "large_iron",
            "debris",
            Level.WATCH,
            "PQ_index",
            origin="common practice, from memory",
            numbers={"pq": n_digits(v[PQ]), "fe": n_digits(v[FE])},
        )
    if censor[GLYCOL] == POSITIVE or (censor[GLYCOL] in (EXACT, ABOVE) and v[GLYCOL] > 0):
        yield from _glycol(e, i)
    if censor[WATER] in (EXACT, ABOVE) and v[WATER] >= WATER_STOP:
        yield Finding(
            "water_stop",
            "coolant",
            Level.STOP,
            "water_pct",
            origin="common practice",
            numbers={"value": n_digits(v[WATER]), "limit": WATER_STOP},
        )


def _glycol(e: Evaluation, i: int) -> Iterator[Finding]:
    """Glycol by chromatography is Act; by strip Watch until sodium, potassium or boron agree."""
    proven = e.contexts[i].sample.glycol_method.lower() in GLYCOL_BY_CHROMATOGRAPHY
    agree = any(e.level[i, idx(s)] >= Level.WATCH for s in ("Na", "K"))
    level = Level.ACT if proven or agree else Level.WATCH
    numbers: dict[str, object] = {"proven": proven, "agree": agree}
    if level == Level.ACT and any(_rises(e, i, a) for a in BEARING_METALS):
        yield Finding(
            "glycol_with_bearing_metal",
            "coolant",
            Level.STOP,
            "glycol_pct",
            origin="common practice",
            numbers=numbers,
        )
    else:
        yield Finding(
            "glycol",
            "coolant",
            level,
            "glycol_pct",
            origin="common practice, from memory",
            numbers=numbers,
        )


def _has(facts: list[LogRow], *parts: str) -> LogRow | None:
    return next((f for f in facts if f.part in parts), None)


def hard_stops(e: Evaluation, i: int) -> Iterator[Finding]:
    """Facts that speak by themselves: what was seen, heard, checked or measured at the engine."""
    context, v = e.contexts[i], e.fleet.value[i]
    for seen in telling_look(context.sample):
        yield Finding(
            seen.code,
            seen.channel,
            seen.level,
            origin="common practice",
            numbers={"on": context.moment.row.on.isoformat()},
        )
    for fact in context.facts:
        word = context.words.get(fact.id)
        if word:
            yield Finding(
                word.code,
                word.channel,
                word.level,
                origin="common practice",
                numbers={
                    "on": fact.on.isoformat(),
                    "dial": fact.dial,
                    "note": fact.note,
                    **word.numbers,
                },
            )
    fuel, kv = v[idx("Fuel")], v[idx("KV100")]
    held = allowed_range(context.engine.allowed_grades)
    if fuel >= FUEL_STOP and held is not None and kv < held[0]:
        yield Finding(
            "fuel_stop",
            "fuel",
            Level.STOP,
            "fuel_pct",
            origin="common practice",
            numbers={"value": n_digits(fuel), "kv": n_digits(kv), "low": held[0]},
        )
    yield from _threefold(e, i)


def _threefold(e: Evaluation, i: int) -> Iterator[Finding]:
    """Fe, Cr and Al each threefold in under 50 h, with blow-by or smoke."""
    context = e.contexts[i]
    if context.before < 0 or context.engine.meter_unit != "h":
        return
    now, before = context.moment.total, e.contexts[context.before].moment.total
    if not context.smoke or now is None or before is None or not 0 < now - before < 50:
        return
    ratios = [
        e.middle[i, a] / e.middle[context.before, a] if e.middle[context.before, a] > 0 else np.nan
        for a in (idx("Fe"), idx("Cr"), idx("Al"))
    ]
    if all(r >= 3 for r in ratios):
        yield Finding(
            "ring_scuff",
            "wear",
            Level.STOP,
            origin="common practice",
            numbers={
                "fe": n_digits(ratios[0], 2),
                "cr": n_digits(ratios[1], 2),
                "al": n_digits(ratios[2], 2),
                "hours": n_digits(now - before, 3),
            },
        )


def remarks(e: Evaluation, i: int, reference: int) -> Iterator[Finding]:
    """What a reader must know of the figures, without a level of its own."""
    context: SampleContext = e.contexts[i]
    if np.isnan(context.hours_on_oil):
        yield Finding("hours_unknown", "wear", 0)
    elif context.hours_on_oil < 0:
        yield Finding(
            "hours_negative", "wear", 0, numbers={"hours": n_digits(context.hours_on_oil)}
        )
    if context.engine.fuel == "petrol_leaded" and e.fleet.censor[i, idx("Pb")] >= 0:
        yield Finding("leaded", "wear", 0, "Pb_ppm")
    if reference:
        yield Finding("no_reference", "oil_life", 0, numbers={"used": REFERENCE_WORDS[reference]})
    counts = [float(e.fleet.value[i, a]) for a in PARTICLES]
    if all(e.fleet.censor[i, a] == EXACT for a in PARTICLES) and counts == sorted(
        counts, reverse=True
    ):
        yield Finding(
            "cleanliness",
            "debris",
            0,
            numbers={"code": iso_4406(*counts)},
            origin="ISO 4406:2017, recalled",
        )
    if context.run_in:
        yield Finding("run_in", "wear", 0, numbers={"charge": context.run_in_charges + 1})
    reported = context.sample.oil_change_dial
    if (
        reported is not None
        and context.charge.start is not None
        and context.moment.row.dial is not None
    ):
        said = context.moment.row.dial - reported
        if abs(said - context.hours_on_oil) > 1:
            yield Finding(
                "hours_differ",
                "wear",
                0,
                numbers={"reported": n_digits(said), "recorded": n_digits(context.hours_on_oil)},
            )
