"""What contamination and viscosity mean together: each explanation with its numbers, for and
against (the-trade 3.8, 3.9).

Explanations are findings. Most have level 0: they say what raised readings come from, or that two
tests disagree.
"""

from collections.abc import Iterator
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from ..baseline import SYMBOLS, Assessment, element_ppm
from ..findings import Finding, n_digits, payloads
from ..laboratory import BY_SYMBOL, idx
from ..oil import (
    SHEAR,
    Source,
    allowed_range,
    coolant_litres,
    fuel_from_viscosity,
    fuel_kind,
    with_dust,
)
from ..verdict import Level
from .sample_facts import SampleFacts
from .thresholds import (
    AGREE,
    BEYOND_NOISE,
    FUEL_GOOD,
    FUEL_LIKELY,
    FUEL_WATCH,
    MEASURED_MORE,
    MUCH_WATER,
    OXIDISED,
    SOOTY,
    THICKER,
    THINNER,
    WORTH_A_WORD,
)

ORIGIN = "common practice"


def _said(
    code: str,
    channel: str,
    numbers: payloads.Payload,
    analyte: str | None = None,
    level: int = 0,
) -> Finding:
    return Finding(
        code=code,
        channel=channel,
        level=level,
        analyte=analyte,
        school="X",
        origin=ORIGIN,
        numbers=numbers,
    )


def _dirt(facts: SampleFacts) -> Iterator[Finding]:
    if not facts.up("Si"):
        return
    ratio = facts.dirt_ratio
    if ratio is None or ratio.word == "too little":
        return
    if ratio.word == "unclear" and any(x.low > 0 for x in facts.sources.sources):
        return  # the ratios of all elements together say more than these two
    word = (
        "siloxane"
        if ratio.word == "sealant" and facts.context.engine.engine_class == "gas"
        else ratio.word
    )
    wears = [m for m in ("Fe", "Cr", "Al") if facts.up(m)]
    figures = payloads.DustRatio(
        word=word,
        ratio=n_digits(ratio.ratio or np.nan, 2),
        low=n_digits(ratio.low, 2),
        high=n_digits(ratio.high, 2),
        wears=wears,
    )
    yield _said("dust_ratio", "dirt", figures, "Si_ppm")


def _litres(facts: SampleFacts) -> dict[str, float]:
    """Litres of coolant by each marker that would show of the registered coolant, dust taken off;
    none without the coolant's or the engine's figures."""
    oil = facts.context.engine.oil_total_l or 0.0
    if oil <= 0:
        return {}
    silicon = max(facts.rise("Si"), 0.0) if np.isfinite(facts.rise("Si")) else 0.0
    rises = {m: max(facts.rise(m) - with_dust(silicon, m)[1], 0.0) for m in ("K", "Na")}
    return {
        m: coolant_litres(rise, oil, facts.markers[m])
        for m, rise in rises.items()
        if m in facts.markers and np.isfinite(rise)
    }


def _coolant(facts: SampleFacts) -> Iterator[Finding]:
    na, k = facts.up("Na"), facts.up("K")
    if not (na or k):
        return
    if facts.brazing_flux():
        ratio = payloads.Ratio(ratio=n_digits(facts.rise("K") / facts.rise("Al"), 2))
        yield _said("brazing_flux", "coolant", ratio, "K_ppm")
        return
    wet = facts.found("Water") or facts.found("Glycol")
    if na and not k and facts.expects("K") and facts.usual("K") and not wet:
        rise = payloads.Rise(rise=n_digits(facts.rise("Na"), 3))
        yield _said("sodium_alone", "coolant", rise, "Na_ppm")
        return
    by = _litres(facts)
    agree = len(by) == 2 and max(by.values()) <= AGREE * max(min(by.values()), 1e-9)
    figures = payloads.CoolantIn(
        litres={m: n_digits(x, 2) for m, x in by.items()},
        agree=agree,
        water=facts.found("Water"),
        glycol=facts.found("Glycol"),
        both=na and k,
        marker="Na" if na else "K",
        carries=list(facts.markers),
        metal=[m for m in ("Pb", "Sn", "Cu") if facts.up(m)],
    )
    yield _said("coolant_in", "coolant", figures)


def _fingerprint(facts: SampleFacts) -> Iterator[Finding]:
    """What the markers of dirt and coolant are made of, where one of them is up."""
    up = [m for m in ("Na", "K", "Si") if facts.up(m)]
    if not up:
        return
    fit = facts.sources
    found = sorted((x for x in fit.sources if x.high > 0), key=lambda x: (x.low <= 0, -x.high))
    oil, lead = facts.context.engine.oil_total_l or 0.0, facts.coolant_marker
    # What is not proven is worth a word only where it could be a part of what is up.
    least = min(max(facts.above(m), 0.0) for m in up)
    told = [x for x in found if x.low > 0 or x.high >= WORTH_A_WORD * least]

    def size(source: Source, ppm: float) -> float:
        litres = source.name == "coolant" and oil > 0
        return n_digits(coolant_litres(ppm, oil, lead) if litres else ppm, 2) or 0.0

    figures = payloads.Fingerprint(
        sources=[x.name for x in told],
        amounts=[size(x, x.amount) for x in told],
        lows=[size(x, x.low) for x in told],
        highs=[size(x, x.high) for x in told],
        litres=oil > 0,
        on_record=lead > 0 or up == ["Si"],
        left=[m for m in fit.left if m in up],
        coolants=list(facts.of_coolant),
        unmeasured=facts.unmeasured,
    )
    channel = "dirt" if up == ["Si"] else "coolant"
    yield _said("fingerprint", channel, figures)


def _viscosity(facts: SampleFacts) -> Iterator[Finding]:
    kv, fresh = facts.exact("KV100"), float(facts.evaluation.fresh[facts.row, idx("KV100")])
    fuel, kind = facts.fuel, fuel_kind(facts.context.engine.fuel)
    seen_none = facts.below("Fuel") and not facts.biodiesel
    yield from _with_biodiesel(facts)
    if seen_none:
        fuel = float(facts.evaluation.fleet.value[facts.row, idx("Fuel")])
    if not (1 <= kv <= 100 and 1 <= fresh <= 100):
        return
    most = 100 * fuel_from_viscosity(kv, fresh, kind)
    sheared = 100 * fuel_from_viscosity(max(kv, 1.0), max(fresh * (1 - SHEAR), 1.0), kind)
    if fuel >= FUEL_WATCH and not seen_none:
        yield from _fuel(facts, fuel, most)
    elif facts.thickness() <= THINNER and fuel < FUEL_GOOD and most - fuel >= FUEL_WATCH:
        drop = n_digits(100 * (1 - kv / fresh), 2)
        figures = payloads.Fuel(
            fuel=n_digits(fuel, 2), most=n_digits(most, 2), drop=drop, below=seen_none
        )
        yield _said("thin_little_fuel", "thickness", figures, "KV100_mm2_s")
    elif np.isnan(fuel) and sheared >= FUEL_WATCH:
        figures = payloads.Fuel(most=n_digits(most, 2), least=n_digits(sheared, 2))
        level = Level.ACT if sheared >= FUEL_LIKELY else Level.WATCH
        yield _said("fuel_by_viscosity", "fuel", figures, "KV100_mm2_s", level)
    if facts.thickness() >= THICKER:
        yield _thick(facts, kv / fresh)


def _with_biodiesel(facts: SampleFacts) -> Iterator[Finding]:
    """Biodiesel is fuel: the two together at the fixed limits of fuel, where that is more than fuel
    alone reaches."""
    level = facts.fuel_level()
    if facts.biodiesel and level > max(int(facts.evaluation.level[facts.row, idx("Fuel")]), 0):
        figures = payloads.Biodiesel(
            fame=n_digits(facts.biodiesel, 2), together=n_digits(facts.fuel, 2)
        )
        yield _said("biodiesel_is_fuel", "fuel", figures, "FAME_pct", level)


def _thick(facts: SampleFacts, ratio: float) -> Finding:
    causes = (
        ("oxidation", facts.rise("Oxidation"), OXIDISED),
        ("soot", facts.exact("Soot"), SOOTY),
    )
    why = [word for word, x, mark in causes if x >= mark]
    figures = payloads.Thick(rise=n_digits(100 * (ratio - 1), 2), why=why)
    return _said("thick", "thickness", figures, "KV100_mm2_s")


def _fuel(facts: SampleFacts, fuel: float, most: float) -> Iterator[Finding]:
    """Fuel at Watch or more: viscosity agrees, or something thickens the oil at the same time."""
    before = facts.context.before
    last = float(facts.evaluation.fleet.value[before, idx("Fuel")]) if before >= 0 else float("nan")
    agrees = most >= FUEL_WATCH
    held = allowed_range(facts.context.engine.allowed_grades)
    too_thin = facts.evaluation.level[facts.row, idx("KV100")] == Level.ACT or (
        held is not None and facts.exact("KV100") < held[0]
    )
    both = payloads.Fuel(fuel=n_digits(fuel, 2), most=n_digits(most, 2))
    if fuel - most >= MEASURED_MORE:
        yield _said("fuel_hides_thickening", "fuel", both, "fuel_pct")
    elif agrees and last >= FUEL_WATCH:
        again = replace(both, last=n_digits(last, 2))
        yield _said("fuel_again", "fuel", again, "fuel_pct", Level.ACT)
    elif agrees and too_thin:
        yield _said("fuel_thins", "fuel", both, "fuel_pct", Level.ACT)


def _metals(facts: SampleFacts) -> Iterator[Finding]:
    if facts.copper_alone():
        figures = payloads.CopperAlone(young=facts.context.run_in, brand=facts.brand_changed())
        yield _said("copper_alone", "wear", figures, "Cu_ppm")
    if facts.up("Pb") and facts.usual("Sn") and facts.acid():
        acids = payloads.Reserve(
            an=n_digits(facts.rise("AN"), 2), bn=n_digits(facts.exact("BN"), 2)
        )
        yield _said("corrosive_lead", "wear", acids, "Pb_ppm")


def _drift(facts: SampleFacts) -> Iterator[Finding]:
    """A habit that has risen since the first samples of this life, however slowly
    (docs/judgement.md: keep the first reference)."""
    x, i = facts.assessment.expectation, facts.row
    for n in np.flatnonzero(facts.assessment.drifted[i]):
        first, now = (element_ppm(x, i, int(n), float(y[i, n])) for y in (x.first_mean, x.mu))
        kind = BY_SYMBOL[SYMBOLS[n]]
        if not now - first >= BEYOND_NOISE * facts.sd(kind.symbol):
            continue
        figures = payloads.Drift(name=kind.name, first=n_digits(first, 2), now=n_digits(now, 2))
        yield _said("drift", kind.channel, figures, kind.column)


def _water(facts: SampleFacts) -> Iterator[Finding]:
    if (
        facts.evaluation.level[facts.row, idx("Water")] >= Level.WATCH
        and facts.usual("Na")
        and facts.usual("K")
        and not facts.found("Glycol")
    ):
        water = payloads.Amount(water=n_digits(facts.exact("Water"), 2))
        cold = facts.runs_cold() and facts.exact("Water") < MUCH_WATER
        yield _said("condensation" if cold else "water_in", "coolant", water, "water_pct")
    if facts.biodiesel and facts.evaluation.level[facts.row, idx("Oxidation")] >= Level.WATCH:
        fame = payloads.Amount(fame=n_digits(facts.biodiesel, 2))
        yield _said("biodiesel_reads_as_oxidation", "oil_life", fame, "oxidation_A_cm")


def worth_explaining(assessment: Assessment) -> NDArray[np.bool_]:
    """(samples,) where an explanation may have something to say; elsewhere all figures are as
    usual."""
    kv, fresh = (
        assessment.evaluation.fleet.value[:, idx("KV100")],
        assessment.evaluation.fresh[:, idx("KV100")],
    )
    with np.errstate(invalid="ignore"):
        moved = (kv >= THICKER * fresh) | (kv <= THINNER * fresh)
    out: NDArray[np.bool_] = (
        moved
        | (assessment.evaluation.fleet.value[:, idx("FAME")] > 0)
        | assessment.up.any(axis=1)
        | assessment.drifted.any(axis=1)
        | (assessment.evaluation.level > 0).any(axis=1)
    )
    return out


def explanations(facts: SampleFacts) -> Iterator[Finding]:
    """Every explanation of a sample."""
    for part in (_dirt, _coolant, _fingerprint, _viscosity, _metals, _water, _drift):
        yield from part(facts)
