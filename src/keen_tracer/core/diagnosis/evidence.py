"""What is known of one sample as evidence for failure modes: figures, debris, symptoms, history."""

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from ..baseline import NEVER, Assessment, bearing_kind, element_place
from ..causes import Causes, Ranking, evidence_table, ranking
from ..laboratory import EXACT, idx, with_role
from ..oil import by_oil, other_oil
from ..record import Coolant, Engine, Fact, Moment, TimeLine, brand, evidence_of_look
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


def _laboratory(facts: SampleFacts) -> Iterator[tuple[str, bool]]:
    yield from _elements(facts)
    yield from _condition(facts)
    if facts.evaluation.fleet.censor[facts.row, PQ] == EXACT:
        yield "large_iron", bool(facts.exact("PQ") > facts.exact("Fe"))
    if facts.up("K"):
        yield "flux_ratio", facts.brazing_flux()
    yield from _other_oil(facts)
    yield from _additives(facts)
    yield from _coolant(facts)


def _elements(facts: SampleFacts) -> Iterator[tuple[str, bool]]:
    """Elements up or as usual, alone and against each other."""
    for m in (a.symbol for a in with_role("evidence")):
        if m == "Si" and facts.silicon_of_coolant():
            continue
        if facts.up(m):
            yield m, True
        elif facts.usual(m):
            yield m, False
    ratio = facts.dirt_ratio if facts.up("Si") else None
    if ratio is not None and ratio.word in ("dust", "clay", "sealant"):
        yield "dust_ratio", ratio.word in ("dust", "clay")
        yield "sealant_ratio", ratio.word == "sealant"
    if facts.up("Na") or facts.up("K"):
        yield "coolant_marks", (facts.up("Na") and facts.up("K")) or bool(facts.of_coolant)
    if facts.up("Cu") and facts.up("Pb"):
        yield "copper_over_lead", facts.above("Cu") > facts.above("Pb")
    if facts.up("Cu") and facts.usual("Sn") and facts.usual("Pb"):
        yield "copper_alone", facts.usual("Fe")


def _condition(facts: SampleFacts) -> Iterator[tuple[str, bool]]:
    """What came into the oil, and what became of it."""
    for code, symbol in CONDITION.items():
        level = facts.evaluation.level[facts.row, idx(symbol)]
        unknown = facts.assessment.lately[facts.row, element_place(symbol)] <= NEVER
        if level >= Level.WATCH or facts.up(symbol) or (code == "fuel" and facts.fuel_level()):
            yield code, True
        elif facts.usual(symbol) or (level >= 0 and unknown):
            yield code, False
    if np.isfinite(facts.thickness()):
        yield "thin", facts.thickness() <= THINNER
        yield "thick", facts.thickness() >= THICKER
    marks = (("much_water", "Water", MUCH_WATER), ("biodiesel", "FAME", BIODIESEL))
    for code, symbol, mark in marks:
        if np.isfinite(facts.exact(symbol)):
            yield code, facts.exact(symbol) >= mark
    if facts.evaluation.fleet.censor[facts.row, idx("Glycol")] >= 0:
        yield "glycol", facts.found("Glycol")
    if np.isfinite(facts.rise("AN")) or facts.evaluation.level[facts.row, idx("BN")] >= 0:
        yield "acid", facts.acid()


def _additives(facts: SampleFacts) -> Iterator[tuple[str, bool]]:
    """Elements of an additive that stand above the fresh oil, its own fills' scatter in it."""
    for symbol in ("B", "Mg", "Zn"):
        rise, sd = facts.risen(symbol)
        if np.isfinite(rise):
            yield symbol, rise >= ADDED * sd


def _coolant(facts: SampleFacts) -> Iterator[tuple[str, bool]]:
    """What the coolant on record can bring along, and whether sea water explains the markers."""
    known = facts.evaluation.fleet.coolants.get(facts.context.engine.coolant)
    if known is not None and None not in (known.na, known.k):
        yield "plain_coolant", max(known.markers.values(), default=0.0) < PLAIN
    if facts.up("Na"):
        yield "sea_ratio", facts.amount_of("sea_water") is not None


def _other_oil(facts: SampleFacts) -> Iterator[tuple[str, bool]]:
    """Whether the additives are those of another oil than the registered one; only said when so."""
    figures = np.where(
        facts.evaluation.fleet.censor[facts.row] == EXACT,
        facts.evaluation.fleet.value[facts.row],
        np.nan,
    )
    registered = brand(facts.context.oil)
    if other_oil(
        figures, facts.evaluation.fresh[facts.row], registered, by_oil(facts.evaluation.fleet.fresh)
    ):
        yield "other_oil", True


def _again(facts: SampleFacts) -> Iterator[tuple[str, bool]]:
    """Whether the sample before was raised in a channel that is raised now."""
    before = facts.context.before
    if before >= 0:
        now, then = facts.assessment.raised[facts.row], facts.assessment.raised[before]
        limits = (facts.evaluation.level[facts.row] > 0) & (facts.evaluation.level[before] > 0)
        yield "again", bool((now & then).any() or limits.any())


def _history(facts: SampleFacts) -> Iterator[tuple[str, bool]]:
    """Symptoms and debris since the last repair of this life, and what the engine has been
    through."""
    context, line = facts.context, facts.context.time_line
    last_work = line.last_work(before=context.at)
    yield from of_log(context.log_facts, line, facts.places, last_work)
    yield from evidence_of_look(context.sample)
    yield from facts.life.items()
    if context.ended >= 0:
        yield "brand_changed", facts.brand_changed()


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


def evidence_of(facts: SampleFacts) -> dict[str, bool]:
    """Everything known of a sample: evidence → seen, or known to be absent."""
    return together(_laboratory(facts), _again(facts), _history(facts))


def causes_of(facts: SampleFacts) -> Ranking:
    """The failure modes of a sample, best first."""
    engine = facts.context.engine
    bearings = bearing_kind(engine.bearing_type)
    held = facts.evaluation.fleet.coolants.get(engine.coolant)
    known = could_be_seen(evidence_of(facts), bearings, held)
    return ranking(engine, bearings, known, facts.assessment.causes)


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


def confirmed(facts: SampleFacts) -> bool:
    """Whether what is raised now was raised before: the sample is the resample that was asked for,
    or the one before said it too."""
    return facts.context.sample.purpose == "resample" or dict(_again(facts)).get("again", False)


def causes_now(
    engine: Engine,
    line: TimeLine,
    facts: Sequence[Fact],
    newest: tuple[Assessment, int] | None,
    causes: Causes,
) -> Ranking:
    """The failure modes of an engine today, from its newest sample with figures and everything in
    its log; from the log alone where there is no sample, or work was done since it."""
    places = line.places_of(line.newest_life)
    work = line.last_work(before=len(line.moments))
    bearings, since = bearing_kind(engine.bearing_type), line.moments[max(work + 1, places.start) :]
    told = [
        of_log(facts, line, places, work),
        bottles_in(since),
        of_life(engine, line, line.moments[places.start :]),
    ]
    if newest is not None:
        s = SampleFacts(*newest)
        if s.context.at in places and s.context.at > work:
            held = s.evaluation.fleet.coolants.get(engine.coolant)
            known = together(iter(evidence_of(s).items()), *told)
            return ranking(engine, bearings, could_be_seen(known, bearings, held), causes)
    return ranking(engine, bearings, together(*told), causes)


def bottles_in(moments: Sequence[Moment]) -> Iterator[tuple[str, bool]]:
    """How the newest bottle looked and smelt, where nobody has its figures."""
    for m in reversed(moments):
        if m.row.sample is not None:
            yield from evidence_of_look(m.row.sample)
            return


def done_at(facts: SampleFacts) -> frozenset[str]:
    """Checks on record between the last work and the next sample: they are not asked again."""
    places = facts.places
    work = facts.context.time_line.last_work(before=places.stop)
    return checks_done(facts.context.log_facts, range(max(places.start, work + 1), places.stop))


def done_in(facts: Sequence[Fact], line: TimeLine) -> frozenset[str]:
    """Checks on record since the last work on an engine: they are not asked again."""
    work = line.last_work(before=len(line.moments))
    return checks_done(facts, range(work + 1, len(line.moments)))
