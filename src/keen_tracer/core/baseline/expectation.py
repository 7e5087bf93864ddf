"""What was to be expected of each reading: peers and own history merged by shrinkage, before the
sample was seen.

The rule is JUDGEMENT's, with these changes, each shown by `./keen bench detection`
(docs/architecture.md): the own mean and its variance are carried from sample to sample, so that a
change of laboratory, oil or sampling method widens what is known instead of throwing it away; up to
`WINDOW` samples are weighed together against what was expected before the first of them, so that a
slow rise cannot teach its own baseline; and the run-in is an allowance that fades with the hours of
a life.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..laboratory import ANALYTES
from ..limits import Evaluation
from ..record import Floats, SampleContext
from .model_inputs import Given, given_of, laboratory_doubt, rise_in_charge, sigma, walk_order
from .peers import ELEMENTS, SPREAD, E, PeerSet, Prior, prior, started_log

WINDOW = 3  # samples weighed together at most; our choice
SAME_CHARGE = 0.5  # correlation of two samples of one charge; our choice (n_eff of JUDGEMENT)
# how many samples of its own an engine needs to know its spread better than its class
PRIOR_SAMPLES = 10.0
CLIP = 2.0  # a reading teaches the baseline no more than this many standard deviations (JUDGEMENT)
# what that leaves of the variance of normal data: 1 - P - 4 φ(2) + 4 P with P = 0.0455 beyond 2 sd
CLIPPED = 0.92
FIRST = 4.0  # independent samples that make the first reference of a life; our choice
# sd from which on samples teach less, and how much of a usual one; our choice
SUSPECT, SUSPECT_SAYS = 2.5, 0.25
OUTLIER = 3.5  # what one sample can add to several weighed together; our choice
# sd of y at a change of oil brand
OIL_BRAND = np.array([ANALYTES[i].brand_sd for i in ELEMENTS])
SAMPLING_METHOD = 0.3  # sd of a change of sampling method; our choice


@dataclass(frozen=True)
class Expectation:
    """(samples, elements) in the order of `peers.ELEMENTS`; NaN where nothing can be expected or
    compared.

    mu, variance : of y before the sample was seen; variance holds the engine's spread, the test's
        noise and doubt
    own_share    : share of mu that is the engine's own history, 0 to 1; `own_n` samples and `peers`
        engines behind it
    own_mean, own_variance, peer_mean, peer_variance : the same by each school alone (NaN while it
        has nothing)
    first_mean   : the same by the first few samples of this life, for drift that a moving habit
        would hide
    z            : (window, samples, elements) how far the last 1, 2, … samples together lie above
        expectation, in sd
    rise_z       : the same for the rise since the sample before in the same charge
    shift        : what season, duty and run-in add to the means above, in y
    expected, low, high : concentrations at this sample's hours and top-ups, 95 %
    start, scale : what turns a y into a concentration (see `to_ppm`)
    """

    y: Floats
    y_exact: NDArray[np.bool_]  # False for a non-detect
    mu: Floats
    variance: Floats
    own_share: Floats
    own_n: Floats
    peers: Floats
    own_mean: Floats
    own_variance: Floats
    peer_mean: Floats
    peer_variance: Floats
    first_mean: Floats
    z: Floats
    rise_z: Floats
    shift: Floats
    expected: Floats
    low: Floats
    high: Floats
    start: Floats
    scale: Floats


@dataclass
class _State:
    """What is known of each engine at one point of its history; (engines, elements)."""

    mean: Floats
    doubt: Floats
    n: Floats
    squares: Floats
    widened: Floats
    in_charge: Floats
    own: Floats  # mean of its own samples alone, and how many independent ones that is
    own_effective: Floats
    first: Floats  # that mean when the first few of this life were in; NaN before

    def part(self, n: int) -> "_State":
        """The first `n` engines, in arrays of their own."""
        return _State(*(getattr(self, f)[:n].copy() for f in _State.__dataclass_fields__))


@dataclass(frozen=True)
class _Look:
    """One sample as the next ones remember it; (engines, elements)."""

    y: Floats  # without season, duty and run-in
    variance: Floats
    sd: Floats
    mean: Floats
    doubt: Floats
    widened: Floats
    charge: Floats

    def part(self, n: int) -> "_Look":
        return _Look(*(getattr(self, f)[:n] for f in _Look.__dataclass_fields__))


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


def _context(p: SampleContext) -> tuple[str, ...]:
    return p.sample.laboratory, p.sample.test_method, p.sample.method, _brand(p)


def _brand(p: SampleContext) -> str:
    return (p.oil or "").split("|")[0]


def _widen(
    state: _State, at: _Passage, before: SampleContext, vague: Floats, peers: PeerSet
) -> None:
    """Another laboratory, oil or method widens what is known of an engine; `vague` is the variance
    of no history."""
    k, p = at.engine, at.now
    more = np.zeros(E)
    if p.sample.laboratory != before.sample.laboratory:
        known = peers.offsets.get((before.sample.laboratory, p.sample.laboratory))
        guess = laboratory_doubt(np.exp(state.mean[k]))
        shift, sd = (
            (known[0], np.where(np.isnan(known[1]), guess, known[1])) if known else (0.0, guess)
        )
        state.mean[k] += shift
        state.own[k] += shift
        more += sd**2
    if p.sample.test_method != before.sample.test_method:
        more += vague
    if p.sample.method != before.sample.method:
        more += SAMPLING_METHOD**2
    if _brand(p) != _brand(before):
        more += OIL_BRAND**2
    state.doubt[k] += more
    state.widened[k] += more


def _learn(
    state: _State,
    residual: Floats,
    base: Floats,
    spread: Floats,
    rows: NDArray[np.bool_],
    suspect: NDArray[np.bool_],
) -> _State:
    """One more sample teaches its engine's mean and spread, clipped so that a fault is not learnt
    as a habit, and a quarter as much where the last samples together are already `suspect`."""
    total = spread + state.doubt
    most = CLIP * np.sqrt(total)
    there = rows[:, None] & ~np.isnan(residual)
    innovation = np.where(there, np.minimum(np.maximum(residual, -most), most), 0.0)
    # The second sample of a charge says a third of what the first does, the third a sixth: n_eff of
    # JUDGEMENT.
    says = (
        there
        * 2.0
        / ((state.in_charge + 1) * (state.in_charge + 2))
        * np.where(suspect, SUSPECT_SAYS, 1.0)
    )
    gain = state.doubt * says
    gain = gain / (gain + spread)
    effective = state.own_effective + says
    own = state.own + (state.mean + innovation - state.own) * says / np.maximum(effective, 1.0)
    return _State(
        mean=state.mean + gain * innovation,
        doubt=state.doubt * (1 - gain),
        n=state.n + there,
        squares=state.squares + innovation**2 / CLIPPED * spread / total / base,
        widened=state.widened,
        in_charge=state.in_charge + there,
        own=own,
        own_effective=effective,
        first=np.where(np.isnan(state.first) & (effective >= FIRST), own, state.first),
    )


class _Walk:
    """All engines of an evaluation walked through sample by sample, the k-th samples of all of them
    at once.

    A step costs some hundred array operations however few engines there are, so it holds only what
    the next step needs; everything else is worked out over all samples afterwards, from what was
    noted on the way.
    """

    def __init__(self, e: Evaluation, peers: PeerSet):
        self.peers, self.given = peers, given_of(e, peers)
        self.order = sorted(walk_order(e.contexts), key=len, reverse=True)
        self.passages = _passages(self.order, e.contexts)
        priors = [
            prior(peers, e.contexts[rows[0]].engine, e.limits[rows[0]]) for rows in self.order
        ]
        self.prior = Prior(
            *(
                np.array([getattr(p, f) for p in priors]).reshape(len(self.order), E)
                for f in Prior.__dataclass_fields__
            )
        )
        blank = [np.zeros((len(self.order), E)) for _ in range(6)] + [
            np.full((len(self.order), E), np.nan)
        ]
        self.state = _State(self.prior.mean.copy(), self.prior.variance.copy(), *blank)
        self.looks: list[_Look] = []
        shape = self.given.y.shape
        self.noted: list[tuple[NDArray[np.intp], _State, Floats]] = []
        self.z = np.full((WINDOW, *shape), np.nan)

    def _pass_over(self, k: int, charge: Floats) -> None:
        """What happened between the last step and this one: a new life starts over, other things
        widen, and the first sample of a charge is news again."""
        if self.looks:
            self.state.in_charge = np.where(
                charge == self.looks[0].charge, self.state.in_charge, 0.0
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
            state.mean[at], state.doubt[at] = self.prior.mean[at], self.prior.variance[at]
            for blank in (
                state.n,
                state.squares,
                state.widened,
                state.in_charge,
                state.own,
                state.own_effective,
            ):
                blank[at] = 0.0
            state.first[at] = np.nan
            for look in self.looks:
                look.y[at] = np.nan

    def step(self, k: int) -> None:
        """The k-th sample of every engine that has one: say what was to be expected, compare,
        learn."""
        rows = np.array([r[k] for r in self.order if len(r) > k])
        n, given = len(rows), self.given
        if n < len(
            self.state.mean
        ):  # engines whose samples are all walked through drop out; the longest come first
            self.state, self.looks = self.state.part(n), [x.part(n) for x in self.looks]
        charge = given.charge[rows][:, None]
        self._pass_over(k, charge)
        state = self.state
        noise2 = _noise(given, rows, state.mean)[1]
        base = np.maximum(SPREAD**2, noise2)
        # What one reading may lie off its engine's mean: the larger of habit and test noise, times
        # how much of that was really seen, in the class and then in the engine.
        spread = (
            (PRIOR_SAMPLES * self.prior.factor[:n] + state.squares)
            / (PRIOR_SAMPLES + state.n)
            * base
        )
        y = given.y[rows] - given.shift[rows]
        self.looks = [
            _Look(y, spread, np.sqrt(spread), state.mean, state.doubt, state.widened, charge),
            *self.looks[: WINDOW - 1],
        ]
        z = np.array(_together(self.looks))
        self.z[: len(z), rows] = z
        self.noted.append((rows, state, spread))
        suspect = np.logical_or.reduce(z >= SUSPECT)
        self.state = _learn(state, y - state.mean, base, spread, given.learn[rows], suspect)

    def _before(self) -> NDArray[np.intp]:
        """Row of the sample before each sample where it is of the same charge, else -1."""
        out = np.full(len(self.given.y), -1, dtype=np.intp)
        for rows in self.order:
            out[rows[1:]] = rows[:-1]
        return np.where(self.given.charge[out] == self.given.charge, out, -1)

    def _noted(self) -> dict[str, Floats]:
        """What was known before every sample, in the order of the samples."""
        back = np.argsort(np.concatenate([rows for rows, _, _ in self.noted]))
        out = {
            name: np.concatenate([getattr(state, name) for _, state, _ in self.noted])[back]
            for name in ("mean", "doubt", "n", "own", "own_effective", "first")
        }
        return out | {"spread": np.concatenate([spread for _, _, spread in self.noted])[back]}

    def figures(self) -> dict[str, Floats]:
        """Everything that follows from what was noted, for all samples at once."""
        given, x, every = self.given, self._noted(), np.arange(len(self.given.y))
        engine = np.empty(len(every), dtype=np.intp)
        for k, rows in enumerate(self.order):
            engine[rows] = k
        mu = x["mean"] + given.shift
        at, _ = _noise(given, every, x["mean"])
        behind, vague = self.prior.peers[engine], self.prior.variance[engine]
        with np.errstate(divide="ignore", invalid="ignore"):
            own = np.where(x["own_effective"] > 0, x["own"] + given.shift, np.nan)
            own_variance = x["spread"] * (1 + 1 / x["own_effective"])
            residual, slope = rise_in_charge(given, every, self._before(), mu, at)
        rise = residual / np.sqrt(
            self.prior.rise_factor[engine] * SPREAD**2 + slope**2 * x["doubt"]
        )
        return {
            "mu": mu,
            "variance": x["spread"] + x["doubt"],
            "own_share": np.clip(1 - x["doubt"] / vague, 0, 1),
            "own_n": x["n"],
            "peers": behind,
            "own_mean": own,
            "own_variance": own_variance,
            "peer_mean": np.where(behind > 0, self.prior.mean[engine] + given.shift, np.nan),
            "peer_variance": x["spread"] + vague,
            "first_mean": x["first"] + given.shift,
            "rise_z": rise,
        }


def _noise(given: Given, rows: NDArray[np.intp], mean: Floats) -> tuple[Floats, Floats]:
    """(expected concentration, variance of y by the test and by what run-in may be)."""
    usual = np.exp(mean + given.shift[rows])
    scale = given.noise_scale[rows][:, None]
    at = given.start[rows] + np.maximum(usual - started_log(), 0.0) / scale
    return at, (sigma(at) * scale / usual) ** 2 + given.shift_doubt[rows]


def expectation(e: Evaluation, peers: PeerSet) -> Expectation:
    """The expectation of every sample from its peers and from the samples of its engine before
    it."""
    walk = _Walk(e, peers)
    with np.errstate(invalid="ignore"):
        for k in range(len(walk.order[0])):
            walk.step(k)
    # "Below 5" is nowhere near proof of "above 3": a non-detect never speaks up.
    exact, out = walk.given.exact, walk.figures()
    z = np.where(exact[None], walk.z, np.minimum(walk.z, 0.0))
    rise = np.where(exact, out.pop("rise_z"), np.nan)
    return Expectation(
        y=walk.given.y,
        y_exact=exact,
        z=z,
        rise_z=rise,
        shift=walk.given.shift,
        **out,
        **_in_ppm(walk.given, out),
    )


# Weights of the newest 1, 2, … samples together, newest first: a fault grows, so the newest count
# most.
_WEIGHTS = [(1.0,), *(tuple(1 - i / (m + 1) for i in range(m)) for m in range(2, WINDOW + 1))]


def _together(looks: list[_Look]) -> list[Floats]:
    """How far the newest 1, 2, … samples together lie above what was expected before the oldest of
    them.

    Two samples of one charge are not independent.
    """
    newest = looks[0]
    shared = {
        (i, j): (looks[i].charge == looks[j].charge)
        * (looks[i].sd * looks[j].sd)
        * (2 * SAME_CHARGE)
        for j in range(1, len(looks))
        for i in range(j)
    }
    out: list[Floats] = [(newest.y - newest.mean) / np.sqrt(newest.doubt + newest.variance)]
    for m in range(2, len(looks) + 1):
        weight, oldest = _WEIGHTS[m - 1], looks[m - 1]
        variance = sum(weight) ** 2 * (
            oldest.doubt + np.maximum(newest.widened - oldest.widened, 0)
        )
        total = np.zeros(E)
        for i, one in enumerate(looks[:m]):
            total = total + weight[i] * np.minimum(one.y - oldest.mean, OUTLIER * one.sd)
            variance = variance + weight[i] ** 2 * one.variance
            for j in range(i + 1, m):
                variance = variance + weight[i] * weight[j] * shared[i, j]
        out.append(total / np.sqrt(variance))
    return out


def to_ppm(y: Floats, start: Floats, scale: Floats) -> Floats:
    """Concentration of a y, one column an element: `start` without wear, `scale` T_nom / gain."""
    out: Floats = np.maximum(start + np.maximum(np.exp(y) - started_log(), 0.0) / scale, 0.0)
    return out


def element_ppm(x: Expectation, i: int, element: int, y: float) -> float:
    """Concentration [ppm] of a y of one element at sample `i`; NaN where there is no rate."""
    rise = max(float(np.exp(y)) - float(started_log()[element]), 0.0)
    return max(float(x.start[i, element]) + rise / float(x.scale[i, element]), 0.0)


def _in_ppm(given: Given, out: dict[str, Floats]) -> dict[str, Floats]:
    """Expected concentrations with their 95 % interval."""
    start, scale, sd = given.start, given.noise_scale[:, None], 1.96 * np.sqrt(out["variance"])
    return {
        "expected": to_ppm(out["mu"], start, scale),
        "low": to_ppm(out["mu"] - sd, start, scale),
        "high": to_ppm(out["mu"] + sd, start, scale),
        "start": start,
        "scale": np.broadcast_to(scale, start.shape),
    }
