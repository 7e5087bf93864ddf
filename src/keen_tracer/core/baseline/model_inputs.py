"""What an expectation starts from: rises on their scale, the test's noise, what season, duty and
run-in add."""

import math
from dataclasses import dataclass
from datetime import date
from functools import cache
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from ..laboratory import ANALYTES, LIMIT_FACTOR, Censor, precision_laws
from ..limits import FRESH_SD, SHORTEST_RATE, Evaluation
from ..record import Floats, Moment, SampleContext
from .peers import ELEMENTS, EXPECTED, SPREADS, PeerSet, element_place, month_of, started_log

# Run-in: the rate of a new life is 1 + RUN_IN·exp(-drains / RUN_IN_FADES) times the later one; our
# choice.
RUN_IN = np.array([ANALYTES[i].run_in for i in ELEMENTS])
RUN_IN_FADES, RUN_IN_SD = 0.8, 0.5
DUTY_DAYS, DUTY_RANGE = (
    3,
    1.5,
)  # fewer days say nothing of how hard an engine works; ln of the largest change; our choice


@dataclass(frozen=True, kw_only=True)
class ModelInputs:
    """The samples in the order they are walked through."""

    y: Floats
    cap: Floats  # y at the detection limit, for a non-detect: it lies somewhere below; else NaN
    exact: NDArray[np.bool_]
    floor: Floats  # what a figure must pass to be more than a non-detect may have been; 0: nothing
    speaks: NDArray[np.bool_]  # exact, and past its floor
    least: Floats  # ppm: sd that a reading has at least, by the detection limits in play
    start_sd: Floats  # ppm: what the start of the charge may be off
    shift: Floats  # expected beside the engine's mean: season, duty, run-in
    shift_variance: Floats
    noise_scale: Floats  # what a unit of the analyte is on the scale: T_nom / gain for a rise
    start: Floats
    learn: NDArray[np.bool_]
    hours: Floats  # on the oil
    nominal: Floats  # drain
    charge: Floats
    wear: Floats  # rate times hours: what came in since the change, without top-ups
    hidden: Floats  # ppm: how much more a non-detect may be than it is taken for

    def figure(self, rows: NDArray[np.intp], y: Floats) -> Floats:
        """Figures [unit of the analyte] of y at samples, one column an element."""
        return figure_of(y, self.start[rows], self.noise_scale[rows])


RISE, FALL, LEVEL, SHARE = (
    np.array([a.expected == how for a in EXPECTED]) for how in ("rise", "fall", "level", "share")
)
SIGN = np.where(FALL, -1.0, 1.0)
PERCENT = 100.0
HIGHEST = 30.0  # of y, past any figure there can be: e^30 is ten millions of millions
# A reading of nothing scatters by a quarter of the constant that its scale is given; our choice.
LEAST_SD = np.where(SHARE, 0.0, [0.25 * a.started for a in EXPECTED])


def figure_of(y: Floats, start: Floats, scale: Floats, at: slice = slice(None)) -> Floats:
    """Figure of a y: `start` without wear, `scale` units of the scale in one of the analyte; one
    column an element, or those `at`."""
    moved = SIGN[at] * (np.exp(np.minimum(y, HIGHEST)) - started_log()[at]) / scale
    out: Floats = np.maximum(start + moved, 0.0)
    return out


# Metals are never taken as under 1 ppm by their law; other scales know no such floor.
_FROM = np.array([1.0 if a.precision == "icp" else 0.0 for a in EXPECTED])


@cache
def _noise_law() -> tuple[Floats, Floats]:
    """(factor, power) of s_site of each element: the geometric mean of the power laws of r and
    R."""
    law = [precision_laws()[a] for a in ELEMENTS]
    factor = np.sqrt(np.array([p.r_factor * max(p.R_factor, 1e-9) for p in law])) / LIMIT_FACTOR
    return factor, np.array([(p.r_power + p.R_power) / 2 for p in law])


def sigma(x: Floats) -> Floats:
    """s_site [ppm] of each element at concentrations `x`, one column an element (as `precision`,
    without its floor)."""
    factor, power = _noise_law()
    out: Floats = factor * np.maximum(x, _FROM) ** power
    return out


@cache
def _both_laws() -> tuple[Floats, Floats]:
    """(factor, power) of `sigma` and of one laboratory on one day, (2, 1, elements)."""
    law, (factor, power) = [precision_laws()[a] for a in ELEMENTS], _noise_law()
    r = np.array([p.r_factor for p in law]) / LIMIT_FACTOR
    r_power = np.array([p.r_power for p in law])
    return np.stack([factor, r])[:, None], np.stack([power, r_power])[:, None]


def both_sigmas(x: Floats) -> Floats:
    """(2, samples, elements) sd [ppm] at concentrations `x` in one laboratory over days, and on one
    day: what no habit can be steadier than."""
    factor, power = _both_laws()
    out: Floats = factor * np.maximum(x, _FROM) ** power
    return out


def between_laboratories(x: Floats) -> Floats:
    """sd [share of x] between two laboratories that nobody compared: √(R² - r²) / 2.77."""
    law = [precision_laws()[a] for a in ELEMENTS]
    at = np.maximum(x, 1.0)
    r = np.array([p.r_factor for p in law]) * at ** np.array([p.r_power for p in law])
    R = np.array([p.R_factor for p in law]) * at ** np.array([p.R_power for p in law])
    out: Floats = np.sqrt(np.maximum(R**2 - r**2, 0)) / LIMIT_FACTOR / at
    return out


def _as_level(evaluation: Evaluation) -> NDArray[np.bool_]:
    """(samples, elements) held against habit as they were read: what has no rise by its nature, and
    where nobody knows the fresh oil."""
    out: NDArray[np.bool_] = LEVEL | (RISE & np.isnan(evaluation.fresh[:, ELEMENTS]))
    return out


def _per_cent(evaluation: Evaluation) -> Floats:
    """What a unit of each analyte is in per cent of the fresh oil; NaN where nobody knows that."""
    fresh = evaluation.fresh[:, ELEMENTS]
    return PERCENT / np.where(SHARE & (fresh > 0), fresh, np.nan)


def rises(evaluation: Evaluation) -> Floats:
    """u, one column an element: the rise (or fall) at the nominal drain, top-up corrected, NaN
    without enough time on the oil; or the reading itself, or its share of the fresh oil [%]."""
    nominal = np.array([p.engine.nominal_drain for p in evaluation.contexts])
    hours = np.array([p.hours_on_oil for p in evaluation.contexts])
    u = SIGN * evaluation.rate[:, ELEMENTS] * nominal[:, None]
    with np.errstate(invalid="ignore"):
        u[~(hours >= SHORTEST_RATE * nominal)] = np.nan
    read = evaluation.middle[:, ELEMENTS]
    u = np.where(_as_level(evaluation), read, np.where(SHARE, read * _per_cent(evaluation), u))
    leaded = [p.engine.fuel == "petrol_leaded" for p in evaluation.contexts]
    u[leaded, element_place("Pb")] = np.nan  # the fuel's lead, not a bearing's
    out: Floats = u
    return out


def scaled(u: Floats) -> Floats:
    """y = ln(max(u, -0.3 a) + a)."""
    a = started_log()
    out: Floats = np.log(np.maximum(u, -0.3 * a) + a)
    return out


def y_of(figure: Floats, start: Floats, scale: Floats) -> Floats:
    """The y of a figure, the way back from `figure_of`; one column an element."""
    return scaled(SIGN * (figure - start) * scale)


def walk_order(contexts: list[SampleContext]) -> list[list[int]]:
    """Rows of every engine's samples in order, one list an engine."""
    lines = {id(p.time_line): p.time_line for p in contexts}
    return [[s.row for _, s in line.samples()] for line in lines.values()]


def drains_of_life(context: SampleContext) -> float:
    """How many nominal drains the present life has lasted; infinite where its begin is not on
    record."""
    if context.moment.total is None or context.moment.life_start is None:
        return np.inf
    return max(context.moment.total - context.moment.life_start, 0.0) / context.engine.nominal_drain


# A detection limit is about three sd of a reading of nothing: common practice, after L. A. Currie
# (Anal. Chem. 40, 1968), from memory.
LIMIT_SD = 1 / 3
CARRIED_SD = (
    0.35  # share by which what is left behind differs from what it is taken for; our choice
)


def limits_in_play(evaluation: Evaluation) -> Floats:
    """The highest detection limit [ppm] seen so far in an engine's reports, (samples, elements); 0
    where none was."""
    seen = np.where(
        evaluation.fleet.censor[:, ELEMENTS] == Censor.BELOW,
        evaluation.fleet.value[:, ELEMENTS],
        0.0,
    )
    for rows in walk_order(evaluation.contexts):
        seen[rows] = np.maximum.accumulate(seen[rows], axis=0)
    return seen


def _start_sd(evaluation: Evaluation) -> Floats:
    """sd [ppm] of the start of the charge in what is left of it at the sample: a large fresh figure
    and what the charge before left behind are both known roughly only."""
    fresh, start = evaluation.fresh[:, ELEMENTS], evaluation.start[:, ELEMENTS]
    carried = evaluation.mix.kept[:, None] * np.abs(start - fresh) * CARRIED_SD
    new = (evaluation.mix.kept + evaluation.mix.fresh)[:, None] * fresh * FRESH_SD
    out: Floats = np.nan_to_num(np.hypot(carried, new))
    return out


def duty(contexts: list[SampleContext]) -> Floats:
    """How much harder than usual each engine was worked since its sample before: ln(meter per day /
    its mean so far).

    The only word on duty that every log holds. 0 where nothing can be said: a first sample, less
    than `DUTY_DAYS` between two, a meter that did not move, a storage in between: parked is not
    worked gently.
    """
    out = np.zeros(len(contexts))
    for rows in walk_order(contexts):
        parked = [
            m.row.on
            for m in contexts[rows[0]].time_line.moments
            if m.row.kind in ("storage_start", "storage_end")
        ]
        total, n = 0.0, 0
        for before, now in pairwise(rows):
            use = _use(contexts[before].moment, contexts[now].moment, parked)
            if use is None:
                continue
            if n:
                out[now] = min(max(use - total / n, -DUTY_RANGE), DUTY_RANGE)
            total, n = total + use, n + 1
    return out


def _use(p: Moment, q: Moment, parked: list[date]) -> float | None:
    """ln of the meter per day between two samples; None where it says nothing of how hard the
    engine worked."""
    days = (q.row.on - p.row.on).days
    if p.total is None or q.total is None or days < DUTY_DAYS or q.total <= p.total:
        return None
    if any(p.row.on <= on <= q.row.on for on in parked):
        return None
    return math.log((q.total - p.total) / days)


def _shifts(contexts: list[SampleContext], peers: PeerSet) -> tuple[Floats, Floats]:
    """What season, duty and run-in add to y, and the variance of that."""
    drains = np.array([drains_of_life(p) for p in contexts])
    allowance = np.log1p(RUN_IN * np.exp(-drains / RUN_IN_FADES)[:, None])
    shift, worked = allowance.copy(), duty(contexts)
    for i, p in enumerate(contexts):
        kind = p.engine.engine_class
        if kind in peers.seasons:
            shift[i] += peers.seasons[kind][(p.moment.row.on.month % 12) // 3]
        shared = peers.neighbours.get((p.engine.depot, month_of(p.moment.row.on)))
        if shared is not None:
            shift[i] += shared
        if kind in peers.duties:
            shift[i] += peers.duties[kind] * worked[i]
    return shift, (RUN_IN_SD * allowance) ** 2


def model_inputs(evaluation: Evaluation, peers: PeerSet) -> ModelInputs:
    contexts = evaluation.contexts
    u = rises(evaluation)
    shift, shift_variance = _shifts(contexts, peers)
    nominal = np.array([p.engine.nominal_drain for p in contexts])
    of_rise = nominal / np.where(evaluation.mix.gain > 0, evaluation.mix.gain, np.nan)
    as_level = _as_level(evaluation)
    scale = np.where(SHARE, _per_cent(evaluation), of_rise[:, None])
    scale = np.where(as_level, 1.0, scale)
    exact = (evaluation.fleet.censor[:, ELEMENTS] != Censor.BELOW) | FALL
    hidden = np.where(exact, 0.0, evaluation.fleet.value[:, ELEMENTS] / 2)
    limit = limits_in_play(evaluation)
    least = np.maximum(LIMIT_SD * limit, LEAST_SD)
    floor = np.where(
        limit > 0, limit + LIMIT_FACTOR * np.maximum(sigma(limit), LIMIT_SD * limit), 0.0
    )
    with np.errstate(invalid="ignore"):
        speaks = exact & (evaluation.fleet.value[:, ELEMENTS] > floor)
    learn = np.array([not (p.run_in or p.faulty) for p in contexts])
    start = (
        evaluation.mix.kept[:, None] * evaluation.start[:, ELEMENTS]
        + evaluation.mix.fresh[:, None] * evaluation.fresh[:, ELEMENTS]
    )
    start = np.where(as_level | SHARE, 0.0, start)
    hours = np.array([p.hours_on_oil for p in contexts])
    fills: dict[tuple[int, float | str | None], int] = {}
    charge = np.array([fills.setdefault(p.fill, len(fills)) for p in contexts], dtype=float)
    return ModelInputs(
        y=scaled(u),
        cap=np.where(exact, np.nan, scaled(u + hidden * scale)),
        exact=exact,
        floor=floor,
        speaks=speaks,
        least=least,
        start_sd=np.where(as_level | SHARE, 0.0, _start_sd(evaluation)),
        shift=shift,
        shift_variance=shift_variance,
        noise_scale=scale,
        start=start,
        learn=learn,
        hours=hours,
        nominal=nominal,
        charge=charge,
        wear=np.where(RISE & ~as_level, evaluation.rate[:, ELEMENTS] * hours[:, None], np.nan),
        hidden=hidden,
    )


def rise_in_charge(
    inputs: ModelInputs,
    rows: NDArray[np.intp],
    before: NDArray[np.intp],
    mu: Floats,
    at: Floats,
) -> tuple[Floats, Floats]:
    """How far the rise since the sample `before` (-1: none) in the same charge lies above
    expectation, and its slope.

    Between two samples of one charge little time passes, so the test's noise sd n in the rise u is
    large, and a logarithm would make little of a large u. asinh(u s / n) has the same scatter s (of
    one engine's habit) at every u: it is the logarithm where habit rules and a straight line where
    noise does.

    Returns (residual, slope d/d ln u at the expected), both NaN where too little time lies between.
    `at` is the expected concentration. A non-detect is taken for all it may hide: it must not make
    a rise.
    """
    residual, slope = np.full(mu.shape, np.nan), np.full(mu.shape, np.nan)
    span = np.where(before >= 0, inputs.hours[rows] - inputs.hours[before], np.nan)
    with np.errstate(invalid="ignore"):
        k = np.flatnonzero((before >= 0) & (span >= SHORTEST_RATE * inputs.nominal[rows]))
    if len(k):
        scale = (inputs.nominal[rows[k]] / span[k])[:, None]
        gained = inputs.wear[rows[k]] - inputs.wear[before[k]] - inputs.hidden[before[k]]
        bend = np.sqrt(2) * sigma(at[k]) * scale / SPREADS
        usual = np.maximum(np.exp(mu[k]) - started_log(), 0.0)
        residual[k] = np.arcsinh(gained * scale / bend) - np.arcsinh(usual / bend)
        slope[k] = (usual + started_log()) / np.sqrt(usual**2 + bend**2)
    return residual, slope
