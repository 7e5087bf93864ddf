"""What is known of one sample as evidence for failure modes: figures, debris, symptoms, history."""

from collections.abc import Iterator

import numpy as np

from ..baseline import Assessment, bearing_kind
from ..causes import Causes, Ranking, evidence_table, ranking
from ..laboratory import EXACT, idx, with_role
from ..oil import by_oil, other_oil
from ..record import WORK, Engine, Moment, TimeLine, brand, evidence_of_look
from ..verdict import Level
from .log_evidence import checks_done, of_log
from .reading_combinations import PQ
from .sample_facts import SampleFacts
from .thresholds import LATE, SELDOM, THICKER, THINNER

_WEAR = {a.symbol for a in with_role("evidence") if a.kind == "wear"}


def _laboratory(s: SampleFacts) -> Iterator[tuple[str, bool]]:
    yield from _elements(s)
    yield from _condition(s)
    if s.e.fleet.censor[s.i, PQ] == EXACT:
        yield "large_iron", bool(s.exact("PQ") > s.exact("Fe"))
    if s.up("K"):
        yield "flux_ratio", s.brazing_flux()
    yield from _other_oil(s)


def _elements(s: SampleFacts) -> Iterator[tuple[str, bool]]:
    """Elements up or as usual, alone and against each other."""
    for m in (a.symbol for a in with_role("evidence")):
        if s.up(m):
            yield m, True
        elif s.usual(m):
            yield m, False
    ratio = s.dirt_ratio if s.up("Si") else None
    if ratio is not None and ratio.word in ("dust", "clay", "sealant"):
        yield "dust_ratio", ratio.word in ("dust", "clay")
        yield "sealant_ratio", ratio.word == "sealant"
    if s.up("Na") or s.up("K"):
        yield "coolant_marks", s.up("Na") and s.up("K")
    if s.up("Cu") and s.usual("Sn") and s.usual("Pb"):
        yield "copper_alone", s.usual("Fe")


def _condition(s: SampleFacts) -> Iterator[tuple[str, bool]]:
    """What came into the oil, and what became of it."""
    for code, symbol in (
        ("fuel", "Fuel"),
        ("water", "Water"),
        ("oxidation", "Oxidation"),
        ("soot", "Soot"),
    ):
        level = s.e.level[s.i, idx(symbol)]
        if level >= 0:
            yield code, bool(level >= Level.WATCH)
    if np.isfinite(s.thickness()):
        yield "thin", s.thickness() <= THINNER
        yield "thick", s.thickness() >= THICKER
    if s.e.fleet.censor[s.i, idx("Glycol")] >= 0:
        yield "glycol", s.found("Glycol")
    if np.isfinite(s.rise("AN")) or s.e.level[s.i, idx("BN")] >= 0:
        yield "acid", s.acid()


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
    context = s.context
    moments = [m for m in context.time_line.moments if m.life == context.moment.life]
    at = moments.index(context.moment)
    later = next(
        (n for n, m in enumerate(moments) if n > at and m.row.sample is not None), len(moments)
    )
    last_work = max((n for n, m in enumerate(moments[:at]) if m.row.kind in WORK), default=-1)
    yield from of_log(context.engine, moments[:later], last_work)
    drain = context.engine.nominal_drain
    yield from evidence_of_look(context.sample)
    yield "new_engine", context.run_in
    work = moments[last_work] if last_work >= 0 else None
    since = (
        (context.moment.total or 0) - (work.total or 0)
        if work and work.total is not None
        else np.inf
    )
    yield "sealing_work", bool(since <= 2 * drain) or (context.run_in and context.moment.life > 1)
    if context.ended >= 0:
        yield "brand_changed", s.brand_changed()
    if np.isfinite(context.hours_on_oil):
        yield "late_drain", context.hours_on_oil > LATE * drain
    before = s.e.contexts[context.before] if context.before >= 0 else None
    if before is not None and None not in (before.moment.total, context.moment.total):
        days = (context.moment.row.on - before.moment.row.on).days
        if days >= 14:
            yearly = ((context.moment.total or 0) - (before.moment.total or 0)) / days * 365
            yield "short_runs", yearly <= SELDOM * drain


def _together(*parts: Iterator[tuple[str, bool]]) -> dict[str, bool]:
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
    return _together(_laboratory(s), _again(s), _history(s))


def causes_of(s: SampleFacts) -> Ranking:
    """The failure modes of a sample, best first."""
    engine = s.context.engine
    return ranking(engine, bearing_kind(engine.bearing_type), evidence_of(s), s.a.causes)


def confirmed(s: SampleFacts) -> bool:
    """Whether what is raised now was raised before: the sample is the resample that was asked for,
    or the one before said it too."""
    return s.context.sample.purpose == "resample" or dict(_again(s)).get("again", False)


def causes_now(
    engine: Engine, line: TimeLine, newest: tuple[Assessment, int] | None, causes: Causes
) -> Ranking:
    """The failure modes of an engine today, from its newest sample and everything in its log; from
    the log alone where there is no sample, or work was done since it."""
    life = line.moments[-1].life if line.moments else 1
    moments = [m for m in line.moments if m.life == life]
    work = max((n for n, m in enumerate(moments) if m.row.kind in WORK), default=-1)
    if newest is not None:
        s = SampleFacts(*newest)
        if s.context.moment.life == life and moments.index(s.context.moment) > work:
            return causes_of(s)
    known = _together(of_log(engine, moments, work), _bottles(moments[work + 1 :]))
    return ranking(engine, bearing_kind(engine.bearing_type), known, causes)


def _bottles(moments: list[Moment]) -> Iterator[tuple[str, bool]]:
    """How the newest bottle looked and smelt, where nobody has its figures."""
    for m in reversed(moments):
        if m.row.sample is not None:
            yield from evidence_of_look(m.row.sample)
            return


def done_in(engine: Engine, line: TimeLine) -> frozenset[str]:
    """Checks on record since the last work on an engine: they are not asked again."""
    work = max((n for n, m in enumerate(line.moments) if m.row.kind in WORK), default=-1)
    return checks_done(engine, line.moments[work + 1 :])
