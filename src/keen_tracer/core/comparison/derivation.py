"""How a figure was reached: formula, inputs with units, numbers put in, source and origin, for a
person to follow."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..baseline import ELEMENTS, EXPECTED, PRIOR_SAMPLES, SPREADS, Assessment, expected, started_log
from ..certainty import SURE
from ..diagnosis import SOURCES
from ..laboratory import ANALYTES, analyte, precision_laws, standard_deviation
from ..limits import WATCH, Evaluation


@dataclass(frozen=True, slots=True)
class DerivationStep:
    """One step of a derivation. `given` holds the numbers put in, by name with unit; `result` None:
    cannot be said."""

    what: str
    formula: str
    given: dict[str, Any]
    result: float | None
    unit: str
    origin: str


def _n(x: float) -> float | None:
    return float(x) if np.isfinite(x) else None


def _start(evaluation: Evaluation, i: int, a: int, unit: str) -> DerivationStep:
    return DerivationStep(
        "Start of charge",
        "C0 = f · C_end of the charge before + (1 − f) · C_fresh",
        {
            "f": evaluation.contexts[i].engine.carry_over,
            f"C_fresh [{unit}]": _n(evaluation.fresh[i, a]),
            "fresh from": SOURCES[int(evaluation.fresh_source[i, a])],
        },
        _n(evaluation.start[i, a]),
        unit,
        "mass balance; f 0.10 our choice unless set",
    )


def _rate(evaluation: Evaluation, i: int, a: int, unit: str) -> DerivationStep:
    context = evaluation.contexts[i]
    per = context.engine.meter_unit
    return DerivationStep(
        "Rate",
        "C = kept · C0 + fresh · C_fresh + gain · g, solved for g",
        {
            f"C [{unit}]": _n(evaluation.middle[i, a]),
            "kept": _n(evaluation.mix.kept[i]),
            "fresh": _n(evaluation.mix.fresh[i]),
            f"gain [{per}]": _n(evaluation.mix.gain[i]),
            f"on oil [{per}]": _n(context.hours_on_oil),
            "top-ups [at, L]": [list(x) for x in context.top_ups],
        },
        _n(100 * evaluation.rate[i, a]),
        f"{unit} per 100 {per}",
        "mass balance stepped through the top-ups; lost oil takes its metal along",
    )


def _interval(evaluation: Evaluation, i: int, a: int, unit: str) -> DerivationStep:
    law = precision_laws()[a]
    return DerivationStep(
        "Interval",
        f"value ± {SURE} · √(r · R) / 2.77",
        {
            "r": f"{law.r_factor:g} · X^{law.r_power:g}",
            "R": f"{law.R_factor:g} · X^{law.R_power:g}",
        },
        _n(SURE * standard_deviation(evaluation.middle[i])[a]),
        unit,
        law.origin,
    )


def _fixed(evaluation: Evaluation, i: int, a: int, unit: str) -> list[DerivationStep]:
    rows = evaluation.limits[i].rows
    row = rows.get((int(evaluation.upper_basis[WATCH, i, a]), a)) or rows.get((0, a))
    if row is None:
        return []
    drain = evaluation.contexts[i].engine.nominal_drain
    return [
        DerivationStep(
            "Fixed limit",
            f"{row.basis}: Watch {row.watch}, Act {row.act} {row.unit}",
            {"scope": f"{row.scope} {row.scope_name}", "nominal drain": drain},
            _n(evaluation.upper[WATCH, i, a]),
            f"{unit}, Watch at these hours",
            row.origin,
        )
    ]


def how_reached(assessed: Assessment, i: int, column: str) -> list[DerivationStep]:
    """The steps behind one reading of sample `i`: start of charge, rate, interval, fixed limit,
    expectation."""
    e, kind = assessed.evaluation, analyte(column)
    a, unit = kind.index, kind.unit
    return [
        _start(e, i, a, unit),
        _rate(e, i, a, unit),
        _interval(e, i, a, unit),
        *_fixed(e, i, a, unit),
        *_expected(assessed, i, a),
    ]


# How a reading is held against habit and peers, by the kind of its scale.
_SCALES = {
    "rise": "y = ln(max(g · T_nom, −0.3 a) + a), g the rise an hour",
    "fall": "y = ln(max(g · T_nom, −0.3 a) + a), g the fall an hour",
    "level": "y = ln(C + a), as it was read",
    "share": "y = ln(100 · C / fresh + a)",
}


def _expected(assessed: Assessment, i: int, a: int) -> list[DerivationStep]:
    """The steps behind the expected value."""
    found = expected(assessed, i, a)
    if found is None:
        return []
    x, context, unit = assessed.expectation, assessed.evaluation.contexts[i], ANALYTES[a].unit
    k = int(np.flatnonzero(a == ELEMENTS)[0])
    how = EXPECTED[k].expected
    log_unit = "ln(% of fresh + a)" if how == "share" else f"ln({unit} + a)"
    return [
        DerivationStep(
            "On the scale of the expectation",
            _SCALES[how],
            {"a": float(started_log()[k]), "T_nom": context.engine.nominal_drain},
            _n(x.y[i, k]),
            log_unit,
            "started logarithm; a from the test's noise at 1 ppm, or our choice",
        ),
        DerivationStep(
            "Expected",
            "µ = w · own mean + (1 − w) · peers, then season, duty and run-in",
            {
                "w": round(found.own_share, 3),
                "own mean": _n(x.own_mean[i, k]),
                "own samples": found.own_n,
                "peers' mean": _n(x.peer_mean[i, k]),
                "peers": found.peers,
                "season, duty and run-in [ln]": _n(x.shift[i, k]),
                "version": assessed.peers,
            },
            found.value,
            f"{unit} at these hours",
            "shrinkage of the own mean towards peers, weights by variance",
        ),
        DerivationStep(
            "How far off",
            "z = (y − µ) / √(spread² + doubt²)",
            {
                "spread² + doubt²": _n(x.variance[i, k]),
                "assumed spread": float(SPREADS[k]),
                "weight of the class's spread [samples]": PRIOR_SAMPLES,
                f"95 % [{unit}]": [round(found.low, 2), round(found.high, 2)],
            },
            found.sd,
            "standard deviations",
            "spread as seen in the class and the engine; thresholds our choice",
        ),
    ]
