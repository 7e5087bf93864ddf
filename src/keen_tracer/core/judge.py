"""One entry for one engine or many: `judge(fleet, limits)` (MODEL, "When")."""

import hashlib
from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from .baseline import NOTHING_PUBLISHED, Assessment, PeerSet, assess
from .diagnosis import (
    GLYCOL,
    Marks,
    combinations,
    explanations,
    hard_stops,
    lead,
    marks,
    of_expectation,
    of_readings,
    remarks,
    run_in,
    thickness,
    worth_explaining,
)
from .laboratory import ANALYTES, BY_COLUMN
from .limits import NOTHING_CHOSEN, Evaluation, LimitSet, Policies
from .record import Fleet, Floats, SampleContext
from .terms import CHANNELS, rank
from .verdict import RULES_VERSION, Action, Finding, Level, Verdict

_CHANNEL_COLUMNS = np.array(
    [[a.channel == c for c in CHANNELS] for a in ANALYTES]
)  # (analytes, channels)
RESAMPLE_WITHIN = 0.1  # of the nominal drain: 25 h for a diesel; our choice
WATCH_AGAIN = 0.5  # of the sampling interval; our choice


def _rounded(x: Floats, digits: int = 6) -> Floats:
    """Computed inputs to six digits and one kind of NaN, so that neither another processor's last
    digit nor the number of samples judged together changes the hash."""
    with np.errstate(divide="ignore", invalid="ignore"):
        size = np.where((x == 0) | ~np.isfinite(x), 0.0, np.floor(np.log10(np.abs(x))))
    scale = 10.0 ** (digits - 1 - size)
    out: Floats = np.where(np.isnan(x), np.nan, np.round(x * scale) / scale + 0.0)
    return out


def _expected_bytes(a: Assessment) -> list[bytes]:
    """What peers and history say of each sample, as bytes; the lenses hold what the samples before
    it do to its level."""
    x, said = a.x, a.lens_levels
    columns = _rounded(
        np.concatenate([x.mu, x.variance, x.own_mean, x.peer_mean, x.rise_z, *x.z], axis=1), 4
    )
    lenses = np.concatenate([said.level, said.look, said.held.astype(np.int8)], axis=1)
    return [row.tobytes() + seen.tobytes() for row, seen in zip(columns, lenses, strict=True)]


def _row_bytes(e: Evaluation) -> list[bytes]:
    """What the verdict of each sample depends on, as bytes: readings, fresh oil, start, limits."""
    both = _rounded(np.concatenate([e.fresh, e.start], axis=1))
    limit_bytes: dict[int, bytes] = {}
    out = []
    for i, held in enumerate(e.limits):
        if id(held) not in limit_bytes:
            origins = repr(sorted((k, r.origin) for k, r in held.rows.items())).encode()
            limit_bytes[id(held)] = hashlib.blake2b(
                held.at.tobytes() + origins, digest_size=16
            ).digest()
        out.append(
            e.fleet.value[i].tobytes()
            + e.fleet.censor[i].tobytes()
            + both[i].tobytes()
            + limit_bytes[id(held)]
        )
    return out


def _stands(p: SampleContext) -> tuple[object, ...]:
    """What a rate depends on beside the readings: time on the oil, top-ups, the true meter."""
    return (round(p.hours_on_oil, 3), p.top_ups, p.moment.total)


def input_hash(a: Assessment, i: int, rows: list[bytes], expected: list[bytes]) -> str:
    """Fingerprint of everything sample `i`'s verdict was computed from; equal inputs, equal
    hash."""
    e = a.e
    p = e.contexts[i]
    g = p.engine
    context = (
        RULES_VERSION,
        a.policies[i],
        a.weights,
        g.bearing_type,
        g.engine_class,
        g.meter_unit,
        g.oil_total_l,
        g.allowed_grades,
        g.fuel,
        sorted(g.features),
        g.nominal_drain,
        g.interval_meter,
        _stands(p),
        p.hours_origin,
        p.run_in,
        p.run_in_charges,
        p.smoke,
        p.sample.appearance,
        p.sample.test_method,
        p.sample.glycol_method,
        p.sample.oil_change_dial,
        p.moment.row.dial,
        p.before_here,
        g.coolant,
        e.fleet.coolants.get(g.coolant),
        p.sample.smell,
        [
            (f.kind, f.part, sorted(f.details.items()), f.on.isoformat(), f.dial, f.note, f.look)
            for f in p.facts
        ],
        p.looked,
    )
    digest = hashlib.blake2b(repr(context).encode(), digest_size=16)
    digest.update(rows[i])
    digest.update(expected[i])
    for other in (p.before, p.ended):  # in this order: row numbers depend on who is judged together
        digest.update(
            rows[other] + repr(_stands(e.contexts[other])).encode() if other >= 0 else b"none"
        )
    return digest.hexdigest()


def channel_levels(
    measured: NDArray[np.bool_], findings: Iterable[Finding]
) -> tuple[int | None, ...]:
    """Level per channel. None where nothing was measured that a limit could be held against."""
    raised: dict[str, int] = {}
    for f in findings:
        if f.level > raised.get(f.channel, 0):
            raised[f.channel] = int(f.level)
    return tuple(
        raised.get(c) or (0 if there else None)
        for c, there in zip(CHANNELS, measured.tolist(), strict=True)
    )


def _actions(
    e: Evaluation, i: int, level: int, findings: list[Finding]
) -> tuple[list[Action], str, float | None]:
    """What to do next, and the advice on running: resample before a strip-down, never run on a hard
    stop."""
    context = e.contexts[i]
    dial, engine = context.moment.row.dial, context.engine
    soon = RESAMPLE_WITHIN * engine.nominal_drain
    due = None if dial is None else dial + soon
    if level == Level.STOP:
        channels = {f.channel for f in findings if f.level == Level.STOP}
        first = "drain_coolant_first" if "coolant" in channels else "inspect_before_start"
        return [Action("do_not_run"), Action(first)], "do_not_run", None
    if level == Level.ACT:
        codes = {f.code for f in findings if f.level == Level.ACT}
        actions = [Action("resample", due, soon)]
        if {"low", "bn_below_an", "out_of_grade"} & codes:
            actions.append(Action("change_oil", due, soon))
        if any(f.channel == "coolant" and f.level >= Level.ACT for f in findings):
            actions.append(Action("pressure_test_cooling", due, soon))
        if any(f.channel == "dirt" and f.level >= Level.ACT for f in findings):
            actions.append(Action("check_intake", due, soon))
        if any(f.channel == "wear" and f.level >= Level.ACT for f in findings):
            actions.append(Action("open_filter", due, soon))
        return actions, "run_until", due
    if level == Level.WATCH and any(f.school == "PO" and f.level == Level.WATCH for f in findings):
        return [Action("resample", due, soon)], "runs", None
    if level == Level.WATCH:
        half = WATCH_AGAIN * (engine.interval_meter or engine.nominal_drain)
        return [Action("sample_sooner", None if dial is None else dial + half, half)], "runs", None
    return [], "runs", None


def findings_of(a: Assessment, i: int, known: Marks, explain: bool) -> list[Finding]:
    """Every finding of sample `i`, worst first, each cause once."""
    e = a.e
    out = [
        run_in(e, i, f, BY_COLUMN[f.analyte].index)
        for f in of_readings(a, i)
        if f.analyte and BY_COLUMN[f.analyte].index != GLYCOL
    ]
    out += of_expectation(a, i)
    if explain:
        out += explanations(a, i)
    out += thickness(e, i)
    if known.combination[i]:
        out += combinations(e, i)
    out += hard_stops(e, i)
    out += remarks(e, i, int(known.reference[i]))
    return sorted(out, key=lambda f: -f.level)


def _lead(a: Assessment, i: int, level: int | None) -> str:
    """The failure mode that explains a raised sample best; "" where nothing is raised."""
    return lead(a, i) if level else ""


def verdicts(a: Assessment, rows: Iterable[int] | None = None) -> list[Verdict]:
    """Verdicts of the chosen rows of an assessment (all by default)."""
    e = a.e
    prints, expected, known_marks, explain = (
        _row_bytes(e),
        _expected_bytes(a),
        marks(e),
        worth_explaining(a),
    )
    measured = (
        (e.level >= 0) | (a.level >= 0) | a.compared | known_marks.by_rule
    ) @ _CHANNEL_COLUMNS
    out = []
    for i in range(len(e.contexts)) if rows is None else rows:
        findings = findings_of(a, i, known_marks, bool(explain[i]))
        if e.contexts[i].looked:
            measured[i, rank(CHANNELS, "debris")] = True
        channels = channel_levels(measured[i], findings)
        known = [c for c in channels if c is not None]
        level = max(known) if known else None
        actions, may_run, until = _actions(e, i, level or 0, findings)
        out.append(
            Verdict(
                e.contexts[i].sample.code,
                level,
                channels,
                tuple(findings),
                tuple(actions),
                may_run,
                until,
                input_hash(a, i, prints, expected),
                a.policies[i],
                lead=_lead(a, i, level),
            )
        )
    return out


def judge(
    fleet: Fleet,
    limits: LimitSet,
    peers: PeerSet = NOTHING_PUBLISHED,
    policies: Policies = NOTHING_CHOSEN,
) -> list[Verdict]:
    """A verdict for every sample of the fleet.

    Pure: the same fleet, limits, peers and policies give the same verdicts, whatever the order of
    rows or engines.
    """
    return verdicts(assess(fleet, limits, peers, policies))
