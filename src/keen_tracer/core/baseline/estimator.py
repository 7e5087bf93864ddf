"""The estimator behind an expectation: peers and own history merged, sample after sample.

A local-level filter with shrinkage to the peers, per engine and element, on y = ln(rise at the
nominal drain + a), season, duty and run-in taken off:

    prior        m_0 = peers' mean,  P_0 = variance between engines       (`peers.prior`)
    observation  y_k = m + ε_k,      ε_k ~ (0, R_k)
                 R_k = b_k (n_0 f + Σ ν²/c) / (n_0 + n)                    b_k = max(habit², test²)
    widening     P ← P + q           at a change of laboratory, oil brand or method; a new life: P_0
    expectation  y_k | before ~ (m, P + R_k)
    gain         K = w P / (w P + R_k)
    learning     m ← m + K ν,        P ← (1 − K) P
                 ν = y_k − m clipped at ± 2 √(P + R_k)

m is `mean`, P `mean_variance`, R `observation_variance`, ν the innovation, f the class's factor on
its spread, c what clipping leaves of a variance. w is below 1 for further samples of one charge
(1, 1/3, 1/6, …) and for samples that stand out already, so that a fault is not learnt as a habit.
Up to `WINDOW` samples are weighed together against what was expected before the first of them: a
slow rise cannot teach its own baseline.

Source: the scalar Kalman filter (R. E. Kalman, 1960; "local level model" of A. C. Harvey, 1989,
from memory) with Huber's clipping; the thresholds are our choice, tried by `./keen bench detection`
(docs/judgement.md).
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.special import log_ndtr

from ..laboratory import ANALYTES
from ..limits import Evaluation
from ..record import Floats, SampleContext, brand
from .composition import shared_rise
from .model_inputs import (
    ModelInputs,
    between_laboratories,
    both_sigmas,
    model_inputs,
    rise_in_charge,
    walk_order,
)
from .peers import (
    ELEMENTS,
    SPREADS,
    E,
    PeerSet,
    Prior,
    prior,
)
from .together import WINDOW, Recent, weighed_together

# how many samples of its own an engine needs to know its spread better than its class
PRIOR_SAMPLES = 10.0
# a reading teaches the baseline no more than this many standard deviations (docs/judgement.md)
CLIP = 2.0
# what that leaves of the variance of normal data: 1 - P - 4 φ(2) + 4 P with P = 0.0455 beyond 2 sd
CLIPPED = 0.92
FIRST = 4.0  # independent samples that make the first reference of a life; our choice
# sd from which on samples teach less, and how much of a usual one; our choice
SUSPECT, SUSPECT_SAYS = 2.5, 0.25
# sd of y at a change of oil brand
OIL_BRAND = np.array([ANALYTES[i].brand_sd for i in ELEMENTS])
SAMPLING_METHOD = 0.3  # sd of a change of sampling method; our choice


@dataclass(kw_only=True)
class EngineState:
    """What is known of each engine at one point of its history; (engines, elements)."""

    mean: Floats
    mean_variance: Floats
    n: Floats
    innovation_squares: Floats
    spread_n: Floats  # samples that told of the spread: those with a figure
    widened: Floats
    in_charge: Floats
    own: Floats  # mean of its own samples alone, and how many independent ones that is
    own_effective: Floats
    first: Floats  # that mean when the first few of this life were in; NaN before

    def part(self, n: int) -> "EngineState":
        """The first `n` engines, in arrays of their own."""
        return EngineState(
            **{f: getattr(self, f)[:n].copy() for f in EngineState.__dataclass_fields__}
        )


@dataclass(frozen=True, slots=True)
class _Passage:
    """Something happened between two samples of one engine (its place among the engines): `before`
    None where a life starts over."""

    engine: int
    now: SampleContext
    before: SampleContext | None


def _passages(order: list[list[int]], contexts: list[SampleContext]) -> dict[int, list[_Passage]]:
    """Step → what happened before it, where anything did that matters to the expectation."""
    out: dict[int, list[_Passage]] = {}
    for engine, rows in enumerate(order):
        before: SampleContext | None = None
        for k, row in enumerate(rows):
            now = contexts[row]
            if before is None or before.moment.life != now.moment.life:
                out.setdefault(k, []).append(_Passage(engine, now, None))
            elif _context(before) != _context(now):
                out.setdefault(k, []).append(_Passage(engine, now, before))
            before = now
    return out


def _context(context: SampleContext) -> tuple[str, ...]:
    return (
        context.sample.laboratory,
        context.sample.test_method,
        context.sample.method,
        _brand(context),
    )


def _brand(context: SampleContext) -> str:
    return brand(context.oil)


def _widen(
    state: EngineState, at: _Passage, before: SampleContext, prior_variance: Floats, peers: PeerSet
) -> None:
    """Another laboratory, oil or method widens what is known of an engine; `vague` is the variance
    of no history."""
    k, p = at.engine, at.now
    more = np.zeros(E)
    if p.sample.laboratory != before.sample.laboratory:
        known = peers.offsets.get((before.sample.laboratory, p.sample.laboratory))
        guess = between_laboratories(np.exp(state.mean[k]))
        shift, sd = (
            (known[0], np.where(np.isnan(known[1]), guess, known[1])) if known else (0.0, guess)
        )
        state.mean[k] += shift
        state.own[k] += shift
        more += sd**2
    if p.sample.test_method != before.sample.test_method:
        more += prior_variance
    if p.sample.method != before.sample.method:
        more += SAMPLING_METHOD**2
    if _brand(p) != _brand(before):
        more += OIL_BRAND**2
    state.mean_variance[k] += more
    state.widened[k] += more


def _below(limit: Floats, total: Floats) -> tuple[Floats, Floats]:
    """(mean, share of the variance that is left) of a normal figure of variance `total` around 0
    once it is known to lie below `limit`."""
    sd = np.sqrt(total)
    at = np.clip(limit / sd, -1e4, 1e4)
    hazard = np.exp(-(at**2) / 2 - 0.5 * np.log(2 * np.pi) - log_ndtr(at))
    return -sd * hazard, np.clip(1 - at * hazard - hazard**2, 0.0, 1.0)


def _learn(
    state: EngineState,
    residual: Floats,
    left: Floats,
    base: Floats,
    observation_variance: Floats,
    rows: NDArray[np.bool_],
    suspect: NDArray[np.bool_],
) -> EngineState:
    """One more sample teaches its engine's mean and spread, clipped so that a fault is not learnt
    as a habit, and a quarter as much where the last samples together are already `suspect`.

    left : share of the doubt a reading leaves, 0 for a figure; a non-detect teaches no spread
    """
    total = observation_variance + state.mean_variance
    most = CLIP * np.sqrt(total)
    there = rows[:, None] & ~np.isnan(residual)
    innovation = np.where(there, np.minimum(np.maximum(residual, -most), most), 0.0)
    # The second sample of a charge says a third of what the first does, the third a sixth: n_eff of
    # docs/judgement.md.
    says = (
        there
        * 2.0
        / ((state.in_charge + 1) * (state.in_charge + 2))
        * np.where(suspect, SUSPECT_SAYS, 1.0)
    )
    gain = state.mean_variance * says
    gain = gain / (gain + observation_variance)
    effective = state.own_effective + says
    own = state.own + (state.mean + innovation - state.own) * says / np.maximum(effective, 1.0)
    return EngineState(
        mean=state.mean + gain * innovation,
        mean_variance=state.mean_variance * (1 - gain * (1 - left)),
        n=state.n + there,
        spread_n=state.spread_n + (there & (left == 0)),
        innovation_squares=state.innovation_squares
        + np.where(left == 0, innovation**2 / CLIPPED * observation_variance / total / base, 0.0),
        widened=state.widened,
        in_charge=state.in_charge + there,
        own=own,
        own_effective=effective,
        first=np.where(np.isnan(state.first) & (effective >= FIRST), own, state.first),
    )


class SequentialEstimator:
    """All engines of an evaluation walked through sample by sample, the k-th samples of all of them
    at once.

    A step costs some hundred array operations however few engines there are, so it holds only what
    the next step needs; everything else is worked out over all samples afterwards, from what was
    noted on the way.
    """

    def __init__(self, evaluation: Evaluation, peers: PeerSet):
        self.peers, self.inputs = peers, model_inputs(evaluation, peers)
        self.order = sorted(walk_order(evaluation.contexts), key=len, reverse=True)
        self.passages = _passages(self.order, evaluation.contexts)
        priors = [
            prior(peers, evaluation.contexts[rows[0]].engine, evaluation.limits[rows[0]])
            for rows in self.order
        ]
        self.prior = Prior(
            *(
                np.array([getattr(p, f) for p in priors]).reshape(len(self.order), E)
                for f in Prior.__dataclass_fields__
            )
        )
        shape = (len(self.order), E)
        blank = (
            "n",
            "spread_n",
            "innovation_squares",
            "widened",
            "in_charge",
            "own",
            "own_effective",
        )
        self.state = EngineState(
            mean=self.prior.mean.copy(),
            mean_variance=self.prior.variance.copy(),
            first=np.full(shape, np.nan),
            **{name: np.zeros(shape) for name in blank},
        )
        self.recent: list[Recent] = []
        self.noted: list[tuple[NDArray[np.intp], EngineState, Floats]] = []
        self.z = np.full((WINDOW, *self.inputs.y.shape), np.nan)

    def _pass_over(self, k: int, charge: Floats) -> None:
        """What happened between the last step and this one: a new life starts over, other things
        widen, and the first sample of a charge is news again."""
        if self.recent:
            self.state.in_charge = np.where(
                charge == self.recent[0].charge, self.state.in_charge, 0.0
            )
        happened = self.passages.get(k)
        if happened is None:
            return
        self.state = state = self.state.part(len(charge))
        for one in happened:
            if one.before is not None:
                _widen(state, one, one.before, self.prior.variance[one.engine], self.peers)
                continue
            at = one.engine
            state.mean[at], state.mean_variance[at] = self.prior.mean[at], self.prior.variance[at]
            for blank in (
                state.n,
                state.spread_n,
                state.innovation_squares,
                state.widened,
                state.in_charge,
                state.own,
                state.own_effective,
            ):
                blank[at] = 0.0
            state.first[at] = np.nan
            for one_before in self.recent:
                one_before.y[at] = np.nan

    def step(self, k: int) -> None:
        """The k-th sample of every engine that has one: say what was to be expected, compare,
        learn."""
        rows = np.array([r[k] for r in self.order if len(r) > k])
        n, inputs = len(rows), self.inputs
        # Engines whose samples are all walked through drop out; the longest come first.
        if n < len(self.state.mean):
            self.state, self.recent = self.state.part(n), [x.part(n) for x in self.recent]
        charge = inputs.charge[rows][:, None]
        self._pass_over(k, charge)
        state = self.state
        noise2, floor2 = _noise(inputs, rows, state.mean)[1:]
        # A sample that cannot be used has no noise either, and must not spoil what is known.
        base = np.fmax(SPREADS**2, noise2)
        # What one reading may lie off its engine's mean: the larger of habit and test noise, times
        # how much of that was really seen, in the class and then in the engine; never less than
        # the test's repeatability.
        observation_variance = np.fmax(
            (PRIOR_SAMPLES * self.prior.factor[:n] + state.innovation_squares)
            / (PRIOR_SAMPLES + state.spread_n)
            * base,
            floor2,
        )
        exact, y = inputs.exact[rows], inputs.y[rows] - inputs.shift[rows]
        left = np.zeros(1)
        if not exact.all():
            below, left = _below(
                inputs.cap[rows] - inputs.shift[rows] - state.mean,
                observation_variance + state.mean_variance,
            )
            y = np.where(exact, y, state.mean + below)
            left = np.where(exact, 0.0, np.nan_to_num(left))
        common = shared_rise(y - state.mean, inputs.speaks[rows])
        self.recent = [
            Recent(
                y - common[:, None],
                observation_variance,
                np.sqrt(observation_variance),
                state.mean,
                state.mean_variance,
                state.widened,
                charge,
            ),
            *self.recent[: WINDOW - 1],
        ]
        z = np.array(weighed_together(self.recent))
        self.z[: len(z), rows] = z
        self.noted.append((rows, state, observation_variance))
        suspect = np.logical_or.reduce(z >= SUSPECT)
        self.state = _learn(
            state, y - state.mean, left, base, observation_variance, inputs.learn[rows], suspect
        )

    def _before(self) -> NDArray[np.intp]:
        """Row of the sample before each sample where it is of the same charge, else -1."""
        out = np.full(len(self.inputs.y), -1, dtype=np.intp)
        for rows in self.order:
            out[rows[1:]] = rows[:-1]
        return np.where(self.inputs.charge[out] == self.inputs.charge, out, -1)

    def _noted(self) -> dict[str, Floats]:
        """What was known before every sample, in the order of the samples."""
        back = np.argsort(np.concatenate([rows for rows, _, _ in self.noted]))
        out = {
            name: np.concatenate([getattr(state, name) for _, state, _ in self.noted])[back]
            for name in ("mean", "mean_variance", "n", "own", "own_effective", "first")
        }
        return out | {
            "observation_variance": np.concatenate(
                [observation_variance for _, _, observation_variance in self.noted]
            )[back]
        }

    def figures(self) -> dict[str, Floats]:
        """Everything that follows from what was noted, for all samples at once."""
        inputs, x, every = self.inputs, self._noted(), np.arange(len(self.inputs.y))
        engine = np.empty(len(every), dtype=np.intp)
        for k, rows in enumerate(self.order):
            engine[rows] = k
        mu = x["mean"] + inputs.shift
        at = _noise(inputs, every, x["mean"])[0]
        behind, prior_variance = self.prior.peers[engine], self.prior.variance[engine]
        with np.errstate(divide="ignore", invalid="ignore"):
            own = np.where(x["own_effective"] > 0, x["own"] + inputs.shift, np.nan)
            own_variance = x["observation_variance"] * (1 + 1 / x["own_effective"])
            residual, slope = rise_in_charge(inputs, every, self._before(), mu, at)
        residual = residual - shared_rise(residual, inputs.speaks)[:, None]
        rise = residual / np.sqrt(
            self.prior.rise_factor[engine] * SPREADS**2 + slope**2 * x["mean_variance"]
        )
        return {
            "mu": mu,
            "variance": x["observation_variance"] + x["mean_variance"],
            "own_share": np.clip(1 - x["mean_variance"] / prior_variance, 0, 1),
            "own_n": x["n"],
            "peers": behind,
            "own_mean": own,
            "own_variance": own_variance,
            "peer_mean": np.where(behind > 0, self.prior.mean[engine] + inputs.shift, np.nan),
            "peer_variance": x["observation_variance"] + prior_variance,
            "first_mean": x["first"] + inputs.shift,
            "rise_z": rise,
        }


def _noise(
    inputs: ModelInputs, rows: NDArray[np.intp], mean: Floats
) -> tuple[Floats, Floats, Floats]:
    """(expected concentration, variance of y by the test and by what run-in may be, the same as far
    as no habit can be steadier)."""
    usual = np.exp(mean + inputs.shift[rows])
    scale = inputs.noise_scale[rows]
    at = inputs.figure(rows, mean + inputs.shift[rows])
    # asinh: the ratio itself where noise is small, and no more than a logarithm where it is not.
    sd = np.hypot(np.maximum(both_sigmas(at), inputs.least[rows]), inputs.start_sd[rows])
    test, floor = np.arcsinh(sd * scale / usual) ** 2
    return at, test + inputs.shift_variance[rows], floor
