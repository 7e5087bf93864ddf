"""Fingerprint of everything a verdict was computed from: equal inputs, equal hash, on any machine
and whoever is judged together."""

import hashlib
from dataclasses import astuple

import numpy as np

from .baseline import Assessment
from .limits import AS_SHIPPED, Evaluation
from .record import DebrisLook, Floats, LogRow, SampleContext
from .verdict import RULES_VERSION


def _rounded(x: Floats, digits: int = 6) -> Floats:
    """Computed inputs to six digits and one kind of NaN, so that neither another processor's last
    digit nor the number of samples judged together changes the hash."""
    with np.errstate(divide="ignore", invalid="ignore"):
        size = np.where((x == 0) | ~np.isfinite(x), 0.0, np.floor(np.log10(np.abs(x))))
    scale = 10.0 ** (digits - 1 - size)
    out: Floats = np.where(np.isnan(x), np.nan, np.round(x * scale) / scale + 0.0)
    return out


def expected_bytes(assessment: Assessment) -> list[bytes]:
    """What peers and history say of each sample, as bytes; the lenses hold what the samples before
    it do to its level."""
    x, said = assessment.expectation, assessment.lens_levels
    columns = _rounded(
        np.concatenate([x.mu, x.variance, x.own_mean, x.peer_mean, x.rise_z, *x.z], axis=1), 4
    )
    lenses = np.concatenate([said.level, said.look, said.held.astype(np.int8)], axis=1)
    return [row.tobytes() + seen.tobytes() for row, seen in zip(columns, lenses, strict=True)]


def row_bytes(evaluation: Evaluation) -> list[bytes]:
    """What the verdict of each sample depends on, as bytes: readings, fresh oil, start, limits."""
    both = _rounded(
        np.concatenate([evaluation.fresh, evaluation.start, evaluation.additives], axis=1)
    )
    limit_bytes: dict[int, bytes] = {}
    out = []
    for i, held in enumerate(evaluation.limits):
        if id(held) not in limit_bytes:
            origins = repr(sorted((k, r.origin) for k, r in held.rows.items())).encode()
            limit_bytes[id(held)] = hashlib.blake2b(
                held.at.tobytes() + origins, digest_size=16
            ).digest()
        out.append(
            evaluation.fleet.value[i].tobytes()
            + evaluation.fleet.censor[i].tobytes()
            + both[i].tobytes()
            + limit_bytes[id(held)]
        )
    return out


def _fact(row: LogRow) -> tuple[object, ...]:
    """A row of the log by what it says."""
    details = sorted(row.details.items())
    on = row.on.isoformat()
    return row.kind, row.part, details, on, row.dial, row.note, _look(row.look)


def _look(look: DebrisLook | None) -> tuple[object, ...] | None:
    """A look by its values, so that no name in the code is part of a hash."""
    return None if look is None else astuple(look)


def _stands(context: SampleContext) -> tuple[object, ...]:
    """What a rate depends on beside the readings: time on the oil, top-ups, the true meter."""
    return (round(context.hours_on_oil, 3), context.top_ups, context.moment.total)


def input_hash(assessment: Assessment, i: int, rows: list[bytes], expected: list[bytes]) -> str:
    """Fingerprint of everything sample `i`'s verdict was computed from; equal inputs, equal
    hash."""
    e = assessment.evaluation
    p = e.contexts[i]
    g = p.engine
    context = (
        RULES_VERSION,
        assessment.policies[i],
        *([assessment.strictness] if assessment.strictness != AS_SHIPPED else []),
        assessment.weights,
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
        [_fact(f.moment.row) for f in p.facts],
        sorted(g.test_limits.items()),
        p.sample.purpose,
        p.sample.analysed_on,
        p.looked,
        *([g.links] if g.links else []),
    )
    digest = hashlib.blake2b(repr(context).encode(), digest_size=16)
    digest.update(rows[i])
    digest.update(expected[i])
    for other in (p.before, p.ended):  # in this order: row numbers depend on who is judged together
        digest.update(
            rows[other] + repr(_stands(e.contexts[other])).encode() if other >= 0 else b"none"
        )
    return digest.hexdigest()
