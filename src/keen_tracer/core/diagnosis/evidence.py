"""What is known of one sample as evidence for failure modes: figures, debris, symptoms, history."""

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from ..baseline import NEVER, Assessment, bearing_kind, element_place
from ..causes import Causes, Ranking, evidence_table, ranking
from ..laboratory import EXACT, idx, with_role
from ..oil import by_oil, other_oil
from ..record import WORK, Coolant, Engine, Fact, Moment, TimeLine, brand, evidence_of_look
from ..verdict import Level
from .life_evidence import of_life
from .log_evidence import checks_done, of_log
from .reading_combinations import PQ
from .sample_facts import SampleFacts
from .thresholds import ADDED, BIODIESEL, MUCH_WATER, PLAIN, THICKER, THINNER, WEAK

# Evidence → the reading it is up by: at its Watch limit, or above its habit.
CONDITION = {
    "fuel": "Fuel",
    "water": "Water",
    "oxidation": "Oxidation",
    "nitration": "Nitration",
    "soot": "Soot",
    "PQ": "PQ",
}
_WEAR = {a.symbol for a in with_role("evidence") if a.kind == "wear"}


def _laboratory(s: SampleFacts) -> Iterator[tuple[str, bool]]:
    yield from _elements(s)
    yield from _condition(s)
    if s.e.fleet.censor[s.i, PQ] == EXACT:
        yield "large_iron", bool(s.exact("PQ") > s.exact("Fe"))
    if s.up("K"):
        yield "flux_ratio", s.brazing_flux()
    yield from _other_oil(s)
    yield from _additives(s)
    yield from _coolant(s)


def _elements(s: SampleFacts) -> Iterator[tuple[str, bool]]:
    """Elements up or as usual, alone and against each other."""
    for m in (a.symbol for a in with_role("evidence")):
        if m == "Si" and s.silicon_of_coolant():
            continue
        if s.up(m):
            yield m, True
        elif s.usual(m):
            yield m, False
    ratio = s.dirt_ratio if s.up("Si") else None
    if ratio is not None and ratio.word in ("dust", "clay", "sealant"):
        yield "dust_ratio", ratio.word in ("dust", "clay")
        yield "sealant_ratio", ratio.word == "sealant"
    if s.up("Na") or s.up("K"):
        yield "coolant_marks", (s.up("Na") and s.up("K")) or bool(s.of_coolant)
    if s.up("Cu") and s.up("Pb"):
        yield "copper_over_lead", s.above("Cu") > s.above("Pb")
    if s.up("Cu") and s.usual("Sn") and s.usual("Pb"):
        yield "copper_alone", s.usual("Fe")


def _condition(s: SampleFacts) -> Iterator[tuple[str, bool]]:
    """What came into the oil, and what became of it."""
    for code, symbol in CONDITION.items():
        level = s.e.level[s.i, idx(symbol)]
        unknown = s.a.lately[s.i, element_place(symbol)] <= NEVER
        if level >= Level.WATCH or s.up(symbol) or (code == "fuel" and s.fuel_level()):
            yield code, True
        elif s.usual(symbol) or (level >= 0 and unknown):
            yield code, False
    if np.isfinite(s.thickness()):
        yield "thin", s.thickness() <= THINNER
        yield "thick", s.thickness() >= THICKER
    marks = (("much_water", "Water", MUCH_WATER), ("biodiesel", "FAME", BIODIESEL))
    for code, symbol, mark in marks:
        if np.isfinite(s.exact(symbol)):
            yield code, s.exact(symbol) >= mark
    if s.e.fleet.censor[s.i, idx("Glycol")] >= 0:
        yield "glycol", s.found("Glycol")
    if np.isfinite(s.rise("AN")) or s.e.level[s.i, idx("BN")] >= 0:
        yield "acid", s.acid()


def _additives(s: SampleFacts) -> Iterator[tuple[str, bool]]:
    """Elements of an additive that stand above the fresh oil, its own fills' scatter in it."""
    for symbol in ("B", "Mg", "Zn"):
        rise, sd = s.risen(symbol)
        if np.isfinite(rise):
            yield symbol, rise >= ADDED * sd


def _coolant(s: SampleFacts) -> Iterator[tuple[str, bool]]:
    """What the coolant on record can bring along, and whether sea water explains the markers."""
    known = s.e.fleet.coolants.get(s.context.engine.coolant)
    if known is not None and None not in (known.na, known.k):
        yield "plain_coolant", max(known.markers.values(), default=0.0) < PLAIN
    if s.up("Na"):
        yield "sea_ratio", s.amount_of("sea_water") is not None


def _other_oil(s: SampleFacts) -> Iterator[tuple[str, bool]]:
    """Whether the additives are those of another oil than the registered one; only said when so."""
    figures = np.where(s.e.fleet.censor[s.i] == EXACT, s.e.fleet.value[s.i], np.nan)
    registered = brand(s.context.oil)
    if other_oil(figures, s.e.fresh[s.i], registered, by_oil(s.e.fleet.fresh)):
        yield "other_oil", True


def _again(s: SampleFacts) -> Iterator[tuple[str, bool]]:
    """Whether the sample before was raised in a channel that is raised now."""
    before = s.context.before
    if before >= 0:
        now, then = s.a.raised[s.i], s.a.raised[before]
        limits = (s.e.level[s.i] > 0) & (s.e.level[before] > 0)
        yield "again", bool((now & then).any() or limits.any())


def _history(s: SampleFacts) -> Iterator[tuple[str, bool]]:
    """Symptoms and debris since the last repair of this life, and what the engine has been
    through."""
    context, moments, at = s.context, s.moments, s.at
    last_work = max((n for n, m in enumerate(moments[:at]) if m.row.kind in WORK), default=-1)
    yield from of_log(context.log_facts, moments[: s.until], last_work)
    yield from evidence_of_look(context.sample)
    yield from s.life.items()
    if context.ended >= 0:
        yield "brand_changed", s.brand_changed()


def together(*parts: Iterator[tuple[str, bool]]) -> dict[str, bool]:
    """Nothing that was seen is unseen by a look that did not find it again."""
    out: dict[str, bool] = {}
    for part in parts:
        for code, seen in part:
            out[code] = out.get(code, False) or bool(seen)
    debris = {code for code, e in evidence_table().items() if e.kind == "debris"}
    if any(seen and code in debris for code, seen in out.items()):
        # What can be seen is too large for the spectrometer: its quiet metals clear nothing.
        return {code: seen for code, seen in out.items() if seen or code not in _WEAR}
    return out


def evidence_of(s: SampleFacts) -> dict[str, bool]:
    """Everything known of a sample: evidence → seen, or known to be absent."""
    return together(_laboratory(s), _again(s), _history(s))


def causes_of(s: SampleFacts) -> Ranking:
    """The failure modes of a sample, best first."""
    engine = s.context.engine
    bearings = bearing_kind(engine.bearing_type)
    held = s.e.fleet.coolants.get(engine.coolant)
    known = could_be_seen(evidence_of(s), bearings, held)
    return ranking(engine, bearings, known, s.a.causes)


def could_be_seen(
    known: Mapping[str, bool], bearings: str, coolant: Coolant | None
) -> dict[str, bool]:
    """Evidence without what is absent and could not have been there: a marker the coolant on record
    does not carry, lead in an engine of which nobody knows whether it has any.

    >>> could_be_seen({"K": False, "Na": True}, "leaded", Coolant(5200, 90))
    {'Na': True}
    """
    cannot = {"Pb"} if bearings == "unknown" else set()
    if coolant is not None and coolant.markers:
        strongest = max(coolant.markers.values())
        weak = {m for m in ("Na", "K", "B") if coolant.markers.get(m, 0.0) < WEAK * strongest}
        cannot |= weak | ({"coolant_marks"} if weak & {"Na", "K"} else set())
    return {code: seen for code, seen in known.items() if seen or code not in cannot}


def confirmed(s: SampleFacts) -> bool:
    """Whether what is raised now was raised before: the sample is the resample that was asked for,
    or the one before said it too."""
    return s.context.sample.purpose == "resample" or dict(_again(s)).get("again", False)


def causes_now(
    engine: Engine,
    line: TimeLine,
    facts: Sequence[Fact],
    newest: tuple[Assessment, int] | None,
    causes: Causes,
) -> Ranking:
    """The failure modes of an engine today, from its newest sample with figures and everything in
    its log; from the log alone where there is no sample, or work was done since it."""
    life = line.moments[-1].life if line.moments else 1
    moments = [m for m in line.moments if m.life == life]
    work = max((n for n, m in enumerate(moments) if m.row.kind in WORK), default=-1)
    bearings, since = bearing_kind(engine.bearing_type), moments[work + 1 :]
    told = [of_log(facts, moments, work), bottles_in(since), of_life(engine, line, moments)]
    if newest is not None:
        s = SampleFacts(*newest)
        if s.context.moment.life == life and s.at > work:
            held = s.e.fleet.coolants.get(engine.coolant)
            known = together(iter(evidence_of(s).items()), *told)
            return ranking(engine, bearings, could_be_seen(known, bearings, held), causes)
    return ranking(engine, bearings, together(*told), causes)


def bottles_in(moments: list[Moment]) -> Iterator[tuple[str, bool]]:
    """How the newest bottle looked and smelt, where nobody has its figures."""
    for m in reversed(moments):
        if m.row.sample is not None:
            yield from evidence_of_look(m.row.sample)
            return


def done_at(s: SampleFacts) -> frozenset[str]:
    """Checks on record between the last work and the next sample: they are not asked again."""
    moments = s.moments[: s.until]
    work = max((n for n, m in enumerate(moments) if m.row.kind in WORK), default=-1)
    return checks_done(s.context.log_facts, moments[work + 1 :])


def done_in(facts: Sequence[Fact], line: TimeLine) -> frozenset[str]:
    """Checks on record since the last work on an engine: they are not asked again."""
    work = max((n for n, m in enumerate(line.moments) if m.row.kind in WORK), default=-1)
    return checks_done(facts, line.moments[work + 1 :])
