"""Everything the Engine page shows: facts, aligned lanes, events, outlook. Reads only."""

from math import isfinite
from typing import Any

import numpy as np

from ...core.baseline import Assessment, bands
from ...core.laboratory import ANALYTES, Censor, reading_text
from ...core.limits import ACT, CONC, WATCH, Evaluation
from ...core.oil import allowed_range
from ...core.planning import plans_of
from ...core.record import TURNS, Floats, TimeLine, barred_now, build_time_line, oil_words
from ...core.words import OWN_UNITS, Units, row_words, rule_words
from ...storage.db import Connection
from ...storage.records import Row, row, rows, setting
from ..answers.engine import (
    Ahead,
    ChargeOut,
    EngineEvent,
    EngineFacts,
    EngineOut,
    EngineSample,
    Lane,
    LanePoint,
)
from ..answers.from_rows import answer, answers
from ..answers.standing import Decision
from ..days import day_at
from ..errors import NotThere
from ..recording.answering import open_queries
from .assessed import assessed
from .next_up import next_up, waits
from .outlook import control_of, oil_life_words, outlook_of
from .plan_tasks import tasks_of_engine
from .standing import faults_out
from .wall import lines


def _samples(
    line: TimeLine, verdicts: dict[str, Row], signed: dict[str, Row], hours: dict[str, float]
) -> list[EngineSample]:
    """The sticks of the first lane; `hours` are those on the oil."""
    out: list[EngineSample] = []
    for m, s in line.samples():
        v, d = verdicts.get(s.code), signed.get(s.code)
        is_signed = d is not None and d["kind"] == "sign_off"
        out.append(
            {
                "sample": s.code,
                "on": m.row.on,
                "total": m.total,
                "dial": m.row.dial,
                "charge": m.charge,
                "hours": hours.get(s.code),
                "level": d["level"] if d and is_signed else v["level"] if v else None,
                "signed": is_signed,
                "arrived": bool(v and v["level"] is not None),
            }
        )
    return out


def _charges(line: TimeLine) -> list[ChargeOut]:
    return [
        {
            "number": q.number,
            "oil": oil_words(q.oil),
            "litres": q.litres_in,
            "start": q.start,
            "end": q.end,
            "start_on": q.start_on,
            "end_on": q.end_on,
            "top_ups": [{"at": at, "litres": litres} for at, litres in q.top_ups],
        }
        for q in line.charges
        if q.start is not None
    ]


def _events(line: TimeLine, units: Units) -> list[EngineEvent]:
    return [
        {
            "on": m.row.on,
            "total": m.total,
            "dial": m.row.dial,
            "kind": m.row.kind,
            "words": row_words(m.row, units),
        }
        for m in line.moments
        if m.row.sample is None and m.row.kind != "meter_reading"
    ]


def _ahead(
    connection: Connection, assessment: Assessment | None, line: TimeLine, unit: str
) -> Ahead:
    """Lanes and where they are heading; nothing of both for an engine without samples."""
    if assessment is None:
        return {"lanes": [], "outlook": [], "oil_life": None, "control": []}
    order = [s.row for _, s in line.samples()]
    at = {p.row: p for p in assessment.evaluation.contexts}
    contexts = [at[row] for row in order]
    newest = next(
        (m for m in reversed(line.moments) if m.total is not None and m.row.dial is not None), None
    )
    offset = (newest.total or 0.0) - (newest.row.dial or 0.0) if newest else 0.0
    return {
        "lanes": _lanes(assessment),
        "outlook": outlook_of(assessment.evaluation, contexts, offset, unit),
        "oil_life": oil_life_words(
            assessment.evaluation, contexts, offset, unit, longest_drain(connection)
        ),
        "control": control_of(assessment, order),
    }


def engine(connection: Connection, code: str, units: Units = OWN_UNITS) -> EngineOut:
    """Everything the Engine page shows: facts, aligned lanes, history; amounts in
    `units`."""
    known = row(connection, "engine_by_code", code=code)
    if known is None:
        raise NotThere(f"there is no engine {code}")
    loaded, a = assessed(connection, known["id"])
    facts, history = loaded.engines[0], loaded.fleet.histories[0]
    line = a.evaluation.contexts[0].time_line if a else build_time_line(history)
    head = lines(connection, [known["id"]], units)[known["id"]]
    verdicts = {v["sample"]: v for v in rows(connection, "verdicts_of_engine", engine=known["id"])}
    signed = {
        r["sample"]: r for r in rows(connection, "decisions_of_samples", samples=loaded.sample_ids)
    }
    hours = {p.sample.code: p.hours_on_oil for p in a.evaluation.contexts} if a else {}
    hours = {code: h for code, h in hours.items() if isfinite(h)}
    held = allowed_range(history.engine.allowed_grades)
    newest = next((m for m in reversed(line.moments) if m.total is not None), None)
    _, tasks = tasks_of_engine(connection, code)
    today = day_at(connection, facts["depot"])
    return {
        **answer(EngineFacts, facts),
        "unit": facts["meter_unit"],
        "materials": facts["part_materials"],
        "nominal_drain": history.engine.nominal_drain,
        "rules": [
            rule_words(p.kind, p.every, p.said, facts["meter_unit"])
            for p in plans_of(history.engine, loaded.plans.get(known["id"], ()))
        ],
        "known_faults": faults_out(facts["faults_of_model"], facts["serial_number"]),
        "grade_low": held[0] if held else None,
        "grade_high": held[1] if held and np.isfinite(held[1]) else None,
        "today": today,
        "now_total": newest.total if newest else None,
        "dial": newest.row.dial if newest else None,
        "state": head["state"],
        "comb": head["comb"],
        "due": head["due"],
        "next_up": next_up(tasks, today, bool(barred_now((), head["state"]["may_run"]) & TURNS)),
        "waits": waits(tasks),
        "samples": _samples(line, verdicts, signed, hours),
        "charges": _charges(line),
        "events": _events(line, units),
        **_ahead(connection, a, line, facts["meter_unit"]),
        "queries": open_queries(connection, code),
        "trail": answers(Decision, rows(connection, "decision_trail", engine=known["id"])),
    }


def longest_drain(connection: Connection) -> float:
    """How many nominal drains the site's policy allows; 1 keeps to the maker's interval."""
    return float(setting(connection, "longest_drain") or 1.0)


def _listed(figures: Floats) -> list[float | None]:
    """Figures as the page takes them; what is not known is None."""
    return [x if isfinite(x) else None for x in figures.tolist()]


def _limit_rates(
    evaluation: Evaluation, order: list[int], column: int
) -> dict[str, list[float | None]]:
    """The limits of a wear metal as rates per 100 meter units, at each sample's nominal drain."""
    held = np.array([evaluation.limits[i].at[CONC, :, column] for i in order])
    drains = np.array([evaluation.contexts[i].engine.nominal_drain for i in order])
    rates = 100 * (held - evaluation.fresh[order, column][:, None]) / drains[:, None]
    return {"watch_rate": _listed(rates[:, WATCH]), "act_rate": _listed(rates[:, ACT])}


def _bands(
    assessment: Assessment, order: list[int], column: int, wears: bool
) -> dict[str, list[Any]]:
    """What lies behind the readings: expected of this engine, and where its sisters are; of wear
    also as rates per 100 meter units."""
    b = bands(assessment, column, order)
    drawn = {
        "expected": np.stack([b.low, b.high]),
        "sisters": np.stack([b.sisters_low, b.sisters_high]),
    }
    out: dict[str, list[Any]] = {}
    for name, both in drawn.items():
        out[name] = _pairs(both)
        rates = 100 * (both - b.base) / b.gain if wears else np.full_like(both, np.nan)
        out[f"{name}_rate"] = _pairs(rates)
    return out


def _pairs(both: Floats) -> list[list[float] | None]:
    """Low and high ends as the page takes them, with the digits a drawing needs."""
    return [
        None
        if not isfinite(low) or not isfinite(high)
        else [float(f"{low:.4g}"), float(f"{high:.4g}")]
        for low, high in both.T.tolist()
    ]


def _points(
    assessment: Assessment, order: list[int], column: int, wears: bool
) -> dict[str, list[Any]]:
    """What is drawn of one analyte at each of these samples, field by field."""
    e = assessment.evaluation
    censor = e.fleet.censor[order, column]
    withheld = e.rate_withheld[order, column] | (censor != Censor.EXACT)
    value, level = _listed(e.fleet.value[order, column]), e.level[order, column]
    nothing: list[float | None] = [None] * len(order)
    none = {"watch_rate": nothing, "act_rate": nothing}
    return {
        "sample": [e.contexts[i].sample.code for i in order],
        "on": [e.contexts[i].moment.row.on for i in order],
        "total": [e.contexts[i].moment.total for i in order],
        "value": value,
        "text": [reading_text(v, int(c)) for v, c in zip(value, censor, strict=True)],
        "censor": censor.tolist(),
        "rate": _listed(np.where(withheld, np.nan, 100 * e.rate[order, column])),
        "start": _listed(e.start[order, column]),
        "watch": _listed(e.upper[WATCH, order, column]),
        "act": _listed(e.upper[ACT, order, column]),
        "watch_low": _listed(e.lower[WATCH, order, column]),
        "act_low": _listed(e.lower[ACT, order, column]),
        **(_limit_rates(e, order, column) if wears else none),
        **_bands(assessment, order, column, wears),
        "level": [x if x >= 0 else None for x in level.tolist()],
    }


def _lanes(assessed: Assessment) -> list[Lane]:
    """One lane per analyte that was ever measured, its points in order."""
    e = assessed.evaluation
    every = [q.row for _, q in e.contexts[0].time_line.samples()]
    out: list[Lane] = []
    for a in ANALYTES:
        if not (e.fleet.censor[:, a.index] >= 0).any() or not a.channel:
            continue
        order = [i for i in every if e.fleet.censor[i, a.index] >= 0]
        fields = _points(assessed, order, a.index, a.kind == "wear")
        out.append(
            {
                "column": a.column,
                "symbol": a.symbol,
                "name": a.name,
                "unit": a.unit,
                "channel": a.channel,
                "points": [
                    answer(LanePoint, dict(zip(fields, point, strict=True)))
                    for point in zip(*fields.values(), strict=True)
                ],
            }
        )
    return out
