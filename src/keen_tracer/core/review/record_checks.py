"""Records that do not fit (the-trade 3.10): each becomes a query to a person, never a silent
correction (`log_checks.Query`)."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..laboratory import ANALYTES, EXACT, LIMIT_FACTOR, columns, idx, standard_deviation
from ..limits import BATCH, SAME_OIL, Evaluation
from ..oil import ADDITIVE_OFF, by_oil, mixture, viscosity_indices
from ..record import Floats, SampleContext, brand
from .exchanged_labels import CODE as LABELS_EXCHANGED
from .log_checks import Query, log_queries
from .log_checks import rounded as _n

# of the nominal drain: reported and recorded hours on the oil may differ by that; our choice
HOURS_APART = 0.05
OLD_AT_ANALYSIS = 30  # days, the-trade 3.10
# of the nominal drain: so soon after a change the oil should be nearly fresh; our choice
EARLY_IN_CHARGE = 0.05
# of the iron before the change: a "new" oil with as much was drawn before it; our choice
LIKE_OLD_OIL = 0.7
# readings that must agree to the last digit before two samples are called the same; our choice
SAME_AT_LEAST = 8
FACTORS = tuple(
    f for s in (10.0, 100.0, 10_000.0) for f in (s, 1 / s)
)  # slips and % against ppm, the-trade 3.10
SLIP_WIDTH = 0.30  # how near a slip's ratio must lie; our choice
BN, CA, ZN, KV40, KV100 = (idx(s) for s in ("BN", "Ca", "Zn", "KV40", "KV100"))
METALS = columns("falls_when_drained")
# What the fresh oil fixes: a power of ten off it is a slip, not wear.
ANCHORED = columns("anchored")
SHARES = columns("share")
HALF = 50.0  # % of fuel, soot or water in an oil that still came as a sample
VI_LOW, VI_HIGH = 80.0, 220.0  # the-trade 3.10
# More than that is asked about before it is believed: % water, % fuel (the-trade 3.10), and a flash
# point that is one in °F; our choice.
UNLIKELY = {idx("Water"): 2.0, idx("Fuel"): 20.0, idx("Flash"): 300.0}
LATE_OIL = (
    1.5  # of the nominal drain, or of the engine's own habit where that is longer; our choice
)
FEWER = 0.5  # of its usual figures: a report that is part of one; our choice
USED = 0.3  # of the nominal drain after which oil no longer reads like fresh oil; our choice
# Figures a resample is held against its first by; it denies it where one falls to less than half.
TOLD = (*METALS, *(idx(s) for s in ("Si", "Na", "K", "Fuel", "Water", "Soot")))
DENIES = 0.5  # our choice


# Queries about whose oil or which figure it is: until they are answered the sample clears nothing.
IDENTITY = ("wrong_oil", "same_figures", "slip", "two_results", LABELS_EXCHANGED)


def _of(code: str, context: SampleContext, **numbers: Any) -> Query:
    return Query(code, context.moment.row.id, context.sample.code, context.moment.row.on, numbers)


def of_draw(context: SampleContext) -> Iterator[Query]:
    """The facts written down with a bottle, against the record."""
    s, row = context.sample, context.moment.row
    said = s.hours_on_oil
    if s.oil_change_dial is not None and row.dial is not None:
        said = row.dial - s.oil_change_dial
    apart = HOURS_APART * context.engine.nominal_drain
    if (
        said is not None
        and context.hours_origin == "recorded change"
        and abs(said - context.hours_on_oil) > apart
    ):
        yield _of("hours_differ", context, reported=_n(said), recorded=_n(context.hours_on_oil))
    if s.oil and context.charge.oil and brand(s.oil) != brand(context.charge.oil):
        yield _of("other_oil", context, reported=brand(s.oil), recorded=brand(context.charge.oil))
    if s.analysed_on is not None and (s.analysed_on - row.on).days > OLD_AT_ANALYSIS:
        yield _of(
            "old_at_analysis",
            context,
            days=(s.analysed_on - row.on).days,
            analysed_on=s.analysed_on.isoformat(),
        )
    if s.drained_after and context.charge.end_on is not None and context.charge.end_on < row.on:
        yield _of(
            "dated_after_drain",
            context,
            drained_on=context.charge.end_on.isoformat(),
            drawn_on=row.on.isoformat(),
        )


def of_method(contexts: list[SampleContext]) -> Iterator[Query]:
    """A way of drawing unlike the three before it: drain-stream and dipstick samples make no one
    baseline."""
    for n, p in enumerate(contexts):
        before = [q.sample.method for q in contexts[max(n - 3, 0) : n]]
        if (
            p.sample.method
            and len(before) == 3
            and len(set(before)) == 1
            and before[0] not in ("", p.sample.method)
        ):
            yield _of("other_method", p, method=p.sample.method, before=before[0])


@dataclass(frozen=True, slots=True)
class Noise:
    """What the queries of figures share, and which samples they are worth asking of: worked out for
    all at once.

    exact : readings with a plain value · apart : how far two results of each may lie apart by
        chance
    known : readings that a fresh-oil reference of the batch or the oil stands beside
    fell, odd, many : samples where a metal fell within a charge; where a figure fits no oil; with
        enough readings
    oils : the catalogue's fingerprints, one an oil
    """

    exact: NDArray[np.bool_]
    apart: Floats
    known: NDArray[np.bool_]
    fell: NDArray[np.bool_]
    odd: NDArray[np.bool_]
    many: NDArray[np.bool_]
    oils: dict[str, Floats]

    @classmethod
    def of(cls, evaluation: Evaluation) -> "Noise":
        exact, apart = (
            evaluation.fleet.censor == EXACT,
            LIMIT_FACTOR * standard_deviation(evaluation.middle),
        )
        known = np.isin(evaluation.fresh_source, (BATCH, SAME_OIL)) & (evaluation.fresh > 0) & exact
        before = np.array([p.before if p.before_here else -1 for p in evaluation.contexts])
        with np.errstate(invalid="ignore"):
            lower = evaluation.middle[before][:, METALS] - evaluation.middle[
                :, METALS
            ] > np.maximum(apart[before][:, METALS], apart[:, METALS])
        both = exact[before][:, METALS] & exact[:, METALS]
        return cls(
            exact,
            apart,
            known,
            (before >= 0) & (lower & both).any(axis=1),
            _odd(evaluation, exact, apart, known),
            exact.sum(axis=1) >= SAME_AT_LEAST,
            by_oil(evaluation.fleet.fresh),
        )


def _odd(
    evaluation: Evaluation, exact: NDArray[np.bool_], apart: Floats, known: NDArray[np.bool_]
) -> NDArray[np.bool_]:
    """Samples some query of `of_reference` will be asked of."""
    v = evaluation.fleet.value
    with np.errstate(invalid="ignore", divide="ignore"):
        ratio, over = v / evaluation.fresh, v - evaluation.fresh
        slipped = np.zeros(len(v), dtype=np.bool_)
        for factor in FACTORS:
            slipped |= (known & (np.abs(ratio / factor - 1) < SLIP_WIDTH))[:, ANCHORED].any(axis=1)
        off = (known & (np.abs(ratio - 1) > ADDITIVE_OFF) & (np.abs(over) > apart))[
            :, [CA, ZN]
        ].any(axis=1)
        above = known[:, BN] & (over[:, BN] > apart[:, BN])
        much = (exact & (v > HALF))[:, SHARES].any(axis=1)
    index = viscosity_indices(v[:, KV40], v[:, KV100])
    thick = exact[:, KV40] & exact[:, KV100] & ~((index >= VI_LOW) & (index <= VI_HIGH))
    out: NDArray[np.bool_] = slipped | off | above | much | thick
    return out


def of_change(evaluation: Evaluation, noise: Noise, context: SampleContext) -> Iterator[Query]:
    """Within one charge wear only rises and the reserve only falls; else the oil was changed, or
    much was topped up."""
    if not noise.fell[context.row]:
        return
    now, was = evaluation.middle[context.row], evaluation.middle[context.before]
    known = noise.exact[context.row] & noise.exact[context.before]
    step = np.maximum(noise.apart[context.row], noise.apart[context.before])
    fell = [a for a in METALS if known[a] and was[a] - now[a] > step[a]]
    fresher = known[BN] and now[BN] - was[BN] > step[BN]
    spent = known[BN] and was[BN] - now[BN] > step[BN]
    if (len(fell) >= 2 and not spent) or (fell and fresher):
        most = max(fell, key=lambda a: (was[a] - now[a]) / step[a])
        yield _of(
            "oil_changed",
            context,
            analyte=ANALYTES[most].column,
            now=_n(now[most]),
            before=_n(was[most]),
            hours=_n(context.hours_on_oil) if np.isfinite(context.hours_on_oil) else None,
            bn=_n(now[BN]) if fresher else None,
            bn_before=_n(was[BN]) if fresher else None,
        )


def of_drain(evaluation: Evaluation, noise: Noise, context: SampleContext) -> Iterator[Query]:
    """Just after a change, yet as full of iron as the oil before it: drawn before the drain, dated
    after it."""
    fe = idx("Fe")
    if context.ended < 0 or not (
        0 <= context.hours_on_oil < EARLY_IN_CHARGE * context.engine.nominal_drain
    ):
        return
    now, was = evaluation.middle[context.row, fe], evaluation.middle[context.ended, fe]
    if (
        now > LIKE_OLD_OIL * was
        and was - evaluation.fresh[context.row, fe] > noise.apart[context.ended, fe]
    ):
        yield _of(
            "like_the_old_oil", context, now=_n(now), before=_n(was), hours=_n(context.hours_on_oil)
        )


def of_reference(evaluation: Evaluation, noise: Noise, context: SampleContext) -> Iterator[Query]:
    """Additives and reserve against the fresh oil, powers of ten, and viscosities that fit no
    oil."""
    if not noise.odd[context.row]:
        return
    v, fresh, exact, known = (
        evaluation.fleet.value[context.row],
        evaluation.fresh[context.row],
        noise.exact[context.row],
        noise.known[context.row],
    )
    slipped = set()
    for a in ANCHORED:
        ratio = v[a] / fresh[a] if known[a] and v[a] > 0 else 1.0
        factor = next((f for f in FACTORS if abs(ratio / f - 1) < SLIP_WIDTH), None)
        if factor:
            slipped.add(a)
            yield _of(
                "slip",
                context,
                analyte=ANALYTES[a].column,
                now=_n(v[a]),
                fresh=_n(fresh[a]),
                factor=factor,
            )
    for a in SHARES:
        if exact[a] and v[a] > HALF:
            yield _of(
                "slip", context, analyte=ANALYTES[a].column, now=_n(v[a]), fresh=None, factor=1e4
            )
    for a in (CA, ZN):
        if (
            known[a]
            and a not in slipped
            and abs(v[a] / fresh[a] - 1) > ADDITIVE_OFF
            and (abs(v[a] - fresh[a]) > noise.apart[context.row, a])
        ):
            yield _oil_query(context, np.where(exact, v, np.nan), a, float(fresh[a]), noise)
            break
    if known[BN] and BN not in slipped and v[BN] - fresh[BN] > noise.apart[context.row, BN]:
        yield _of("bn_above_fresh", context, now=_n(v[BN]), fresh=_n(fresh[BN]))
    kv40, kv100 = v[KV40], v[KV100]
    if exact[KV40] and exact[KV100] and not slipped & {KV40, KV100}:
        index = float(viscosity_indices(v[[KV40]], v[[KV100]])[0])
        if not VI_LOW <= index <= VI_HIGH:
            yield _of(
                "viscosity_index",
                context,
                kv40=_n(kv40),
                kv100=_n(kv100),
                vi=None if np.isnan(index) else round(index),
            )


def _oil_query(
    context: SampleContext, figures: Floats, a: int, fresh: float, noise: Noise
) -> Query:
    """An additive off its reference: with the oil or the mixture that fits, where the catalogue has
    one."""
    registered = brand(context.oil)
    found = mixture(figures, registered, noise.oils)
    said = found.says(registered) if found else "unknown"
    numbers = {"analyte": ANALYTES[a].column, "now": _n(figures[a]), "fresh": _n(fresh)}
    if found is None or said not in ("mixed", "other"):
        return _of("additive_off", context, **numbers)
    other, share = next((o, s) for o, s in found.shares if o != registered)
    return _of(
        "other_oil_in_it" if said == "mixed" else "wrong_oil",
        context,
        **numbers,
        oil=other,
        share=round(share, 2),
        registered=registered,
    )


def of_twins(
    evaluation: Evaluation, noise: Noise, contexts: list[SampleContext]
) -> Iterator[Query]:
    """The same figures to the last digit on two samples of one engine."""
    seen: dict[bytes, SampleContext] = {}
    for p in contexts:
        if not noise.many[p.row]:
            continue
        figures = evaluation.fleet.value[p.row].tobytes() + evaluation.fleet.censor[p.row].tobytes()
        if figures in seen:
            yield _of(
                "same_figures",
                p,
                other=seen[figures].sample.code,
                other_on=seen[figures].moment.row.on.isoformat(),
                readings=int(noise.exact[p.row].sum()),
            )
        seen.setdefault(figures, p)


def of_report(
    evaluation: Evaluation, noise: Noise, contexts: list[SampleContext]
) -> Iterator[Query]:
    """Figures nobody expects: too much, too few, those of fresh oil, or denied by the resample."""
    for n, p in enumerate(contexts):
        v, exact = evaluation.fleet.value[p.row], noise.exact[p.row]
        for a, most in UNLIKELY.items():
            if exact[a] and most < v[a] <= (HALF if a in SHARES else np.inf):
                yield _of("unlikely", p, analyte=ANALYTES[a].column, now=_n(v[a]), most=most)
        same = [
            int(noise.exact[q.row].sum())
            for q in contexts[max(n - 3, 0) : n]
            if q.sample.laboratory == p.sample.laboratory
        ]
        have = int(exact.sum())
        if len(same) == 3 and 0 < have < FEWER * min(same) and min(same) >= SAME_AT_LEAST:
            yield _of("fewer_figures", p, readings=have, usual=int(np.median(same)))
        if p.before_here and p.sample.purpose == "resample":
            yield from _denied(evaluation, noise, p)
        if p.row in evaluation.fleet.other:
            yield from _two_results(evaluation, noise, p)


def _two_results(evaluation: Evaluation, noise: Noise, context: SampleContext) -> Iterator[Query]:
    """Two reports of one bottle that lie further apart than the test's own noise."""
    other, v = evaluation.fleet.other[context.row], evaluation.fleet.value[context.row]
    with np.errstate(invalid="ignore"):
        apart = np.abs(v - other) / noise.apart[context.row]
    apart[~noise.exact[context.row] | np.isnan(apart)] = 0.0
    most = int(apart.argmax())
    if apart[most] > 1:
        column = ANALYTES[most].column
        yield _of("two_results", context, analyte=column, now=_n(v[most]), other=_n(other[most]))


def _denied(evaluation: Evaluation, noise: Noise, context: SampleContext) -> Iterator[Query]:
    """A resample that says far less than what it was to confirm."""
    now, was = evaluation.middle[context.row], evaluation.middle[context.before]
    step = np.maximum(noise.apart[context.row], noise.apart[context.before])
    fell = [
        a
        for a in TOLD
        if noise.exact[context.before, a]
        and evaluation.fleet.censor[context.row, a] >= 0
        and was[a] - now[a] > step[a]
        and now[a] < DENIES * was[a]
    ]
    if fell:
        most = max(fell, key=lambda a: (was[a] - now[a]) / step[a])
        column = ANALYTES[most].column
        yield _of(
            "denied",
            context,
            analyte=column,
            now=_n(now[most]),
            before=_n(was[most]),
            other=evaluation.contexts[context.before].sample.code,
        )


def of_oil_age(
    evaluation: Evaluation, noise: Noise, contexts: list[SampleContext]
) -> Iterator[Query]:
    """Oil far past its drain, and figures of fresh oil where the record says it is used."""
    charges = contexts[0].time_line.charges
    done = [q.end - q.start for q in charges if q.end is not None and q.start is not None]
    drain = contexts[0].engine.nominal_drain
    habit = max([drain, float(np.median(done))] if len(done) >= 3 else [drain])
    late: set[int] = set()
    for p in contexts:
        if p.hours_on_oil > LATE_OIL * habit and p.charge.number not in late:
            late.add(p.charge.number)
            drains = round(p.hours_on_oil / habit, 1)
            yield _of("late_oil", p, hours=_n(p.hours_on_oil), drains=drains, drain=_n(habit))
        if _like_fresh(evaluation, noise, p):
            fe = idx("Fe")
            yield _of(
                "like_fresh",
                p,
                now=_n(evaluation.middle[p.row, fe]),
                fresh=_n(evaluation.fresh[p.row, fe]),
                hours=_n(p.hours_on_oil),
            )


def _like_fresh(evaluation: Evaluation, noise: Noise, context: SampleContext) -> bool:
    """Every wear metal and the reserve as in the can, long after the change, where the sample
    before was clearly used oil."""
    if context.before < 0 or not context.hours_on_oil > USED * context.engine.nominal_drain:
        return False
    now, fresh, apart = (
        evaluation.middle[context.row],
        evaluation.fresh[context.row],
        noise.apart[context.row],
    )
    known = np.isfinite(fresh) & (evaluation.fleet.censor[context.row] >= 0)
    metals = [a for a in METALS if known[a]]
    if len(metals) < 4 or not known[BN] or abs(now[BN] - fresh[BN]) > apart[BN]:
        return False
    fe = idx("Fe")
    used = evaluation.middle[context.before, fe] - fresh[fe] > 3 * apart[fe]
    return bool(used and all(now[a] - fresh[a] <= apart[a] for a in metals))


def record_queries(evaluation: Evaluation) -> dict[str, list[Query]]:
    """Every query of the evaluated samples by engine code, in order of the time line within each
    kind."""
    noise, out = Noise.of(evaluation), dict[str, list[Query]]()
    by_engine: dict[str, list[SampleContext]] = {}
    for p in evaluation.contexts:
        by_engine.setdefault(p.engine.code, []).append(p)
    for code, unordered in by_engine.items():
        line = unordered[0].time_line
        at = {p.row: p for p in unordered}
        contexts = [at[s.row] for _, s in line.samples()]
        found = [
            *log_queries(contexts[0].engine, line, contexts[0].log_facts),
            *of_method(contexts),
            *of_twins(evaluation, noise, contexts),
            *of_report(evaluation, noise, contexts),
            *of_oil_age(evaluation, noise, contexts),
        ]
        for p in contexts:
            found += [
                *of_draw(p),
                *of_change(evaluation, noise, p),
                *of_drain(evaluation, noise, p),
                *of_reference(evaluation, noise, p),
            ]
        out[code] = found
    return out
