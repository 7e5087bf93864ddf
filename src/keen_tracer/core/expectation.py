"""What was to be expected of each reading: peers and own history merged by shrinkage, before the sample was seen.

The rule is JUDGEMENT's, with these changes, each shown by `./keen bench detection` (docs/architecture.md):
the own mean and its variance are carried from sample to sample, so that a change of laboratory, oil or sampling
method widens what is known instead of throwing it away; up to `WINDOW` samples are weighed together against what
was expected before the first of them, so that a slow rise cannot teach its own baseline; and the run-in is an
allowance that fades with the hours of a life.
"""

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from .evaluate import SHORTEST_RATE, Evaluation
from .peers import (
    ELEMENTS,
    SPREAD,
    SYMBOLS,
    E,
    PeerSet,
    Prior,
    place,
    prior,
    started_log,
)
from .places import Place
from .precision import LIMIT_FACTOR, laws
from .records import Floats
from .values import Censor

WINDOW = 3  # samples weighed together at most; our choice
SAME_CHARGE = 0.5  # correlation of two samples of one charge; our choice (n_eff of JUDGEMENT)
PRIOR_SAMPLES = 10.0  # how many samples of its own an engine needs to know its spread better than its class
CLIP = 2.0  # a reading teaches the baseline no more than this many standard deviations (JUDGEMENT)
FIRST = 4.0  # independent samples that make the first reference of a life; our choice
SUSPECT, SUSPECT_SAYS = 2.5, 0.25  # sd from which on samples teach less, and how much of a usual one; our choice
OUTLIER = 3.5  # what one sample can add to several weighed together; our choice
OIL_BRAND = np.array([0.5 if s in ("Cu", "Si", "Na") else 0.0 for s in SYMBOLS])  # sd of a change of brand; our choice
SAMPLING_METHOD = 0.3  # sd of a change of sampling method; our choice
# Run-in: the rate of a new life is 1 + RUN_IN·exp(-drains / RUN_IN_FADES) times the later one; our choice.
RUN_IN = np.array([1.6 if s in ("Fe", "Cu", "Si", "Al") else 0.3 if s in ("Cr", "Ni") else 0.0 for s in SYMBOLS])
RUN_IN_FADES, RUN_IN_DOUBT = 0.8, 0.5


@dataclass(frozen=True)
class Expectation:
    """(samples, elements) in the order of `peers.ELEMENTS`; NaN where nothing can be expected or compared.

    mu, variance : of y before the sample was seen; variance holds the engine's spread, the test's noise and doubt
    own_share    : share of mu that is the engine's own history, 0 to 1; `own_n` samples and `peers` engines behind it
    own_mean, own_variance, peer_mean, peer_variance : the same by each school alone (NaN while it has nothing)
    first_mean   : the same by the first few samples of this life, for drift that a moving habit would hide
    z            : (window, samples, elements) how far the last 1, 2, … samples together lie above expectation, in sd
    rise_z       : the same for the rise since the sample before in the same charge
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


@dataclass(frozen=True)
class Given:
    """The samples in the order they are walked through."""

    y: Floats
    exact: NDArray[np.bool_]
    shift: Floats  # expected beside the engine's mean: season, run-in
    shift_doubt: Floats
    noise_scale: Floats  # T_nom / gain: how noise in ppm grows in the rise at the nominal drain
    start: Floats
    learn: NDArray[np.bool_]
    hours: Floats  # on the oil
    nominal: Floats  # drain
    charge: Floats
    wear: Floats  # rate times hours: what came in since the change, without top-ups


@cache
def _noise_law() -> tuple[Floats, Floats]:
    """(factor, power) of s_site of each element: the geometric mean of the power laws of r and R."""
    law = [laws()[a] for a in ELEMENTS]
    factor = np.sqrt(np.array([p.r_factor * max(p.R_factor, 1e-9) for p in law])) / LIMIT_FACTOR
    return factor, np.array([(p.r_power + p.R_power) / 2 for p in law])


def sigma(x: Floats) -> Floats:
    """s_site [ppm] of each element at concentrations `x`, one column an element (as `precision`, without its floor)."""
    factor, power = _noise_law()
    out: Floats = factor * np.maximum(x, 1.0) ** power
    return out


def laboratory_doubt(x: Floats) -> Floats:
    """sd [share of x] between two laboratories that nobody compared: √(R² - r²) / 2.77."""
    law = [laws()[a] for a in ELEMENTS]
    at = np.maximum(x, 1.0)
    r = np.array([p.r_factor for p in law]) * at ** np.array([p.r_power for p in law])
    R = np.array([p.R_factor for p in law]) * at ** np.array([p.R_power for p in law])
    out: Floats = np.sqrt(np.maximum(R**2 - r**2, 0)) / LIMIT_FACTOR / at
    return out


def rises(e: Evaluation) -> Floats:
    """u [ppm]: the rise at the nominal drain, top-up corrected; NaN without enough time on the oil."""
    nominal = np.array([p.engine.nominal_drain for p in e.places])
    hours = np.array([p.hours_on_oil for p in e.places])
    u = e.rate[:, ELEMENTS] * nominal[:, None]
    with np.errstate(invalid="ignore"):
        u[~(hours >= SHORTEST_RATE * nominal)] = np.nan
    leaded = [p.engine.fuel == "petrol_leaded" for p in e.places]
    u[leaded, place("Pb")] = np.nan  # the fuel's lead, not a bearing's
    out: Floats = u
    return out


def scaled(u: Floats) -> Floats:
    """y = ln(max(u, -0.3 a) + a)."""
    a = started_log()
    out: Floats = np.log(np.maximum(u, -0.3 * a) + a)
    return out


def walk_order(places: list[Place]) -> list[list[int]]:
    """Rows of every engine's samples in order, one list an engine."""
    lines = {id(p.time_line): p.time_line for p in places}
    return [[s.row for _, s in line.samples()] for line in lines.values()]


def drains_of_life(p: Place) -> float:
    """How many nominal drains the present life has lasted; infinite where its begin is not on record."""
    if p.moment.total is None or p.moment.life_start is None:
        return np.inf
    return max(p.moment.total - p.moment.life_start, 0.0) / p.engine.nominal_drain


def _shifts(places: list[Place], peers: PeerSet) -> tuple[Floats, Floats]:
    """What season and run-in add to y, and the variance of that."""
    drains = np.array([drains_of_life(p) for p in places])
    allowance = np.log1p(RUN_IN * np.exp(-drains / RUN_IN_FADES)[:, None])
    shift = allowance.copy()
    for i, p in enumerate(places):
        held = peers.seasons.get(p.engine.engine_class)
        if held is not None:
            shift[i] += held[(p.moment.row.on.month % 12) // 3]
    return shift, (RUN_IN_DOUBT * allowance) ** 2


def given_of(e: Evaluation, peers: PeerSet) -> Given:
    places = e.places
    u = rises(e)
    shift, doubt = _shifts(places, peers)
    nominal = np.array([p.engine.nominal_drain for p in places])
    scale = nominal / np.where(e.mix.gain > 0, e.mix.gain, np.nan)
    exact = e.fleet.censor[:, ELEMENTS] != Censor.BELOW
    learn = np.array([not (p.run_in or p.faulty) for p in places])
    start = e.mix.kept[:, None] * e.start[:, ELEMENTS] + e.mix.fresh[:, None] * e.fresh[:, ELEMENTS]
    hours = np.array([p.hours_on_oil for p in places])
    fills: dict[tuple[int, float | None], int] = {}
    charge = np.array([fills.setdefault(p.fill, len(fills)) for p in places], dtype=float)
    return Given(scaled(u), exact, shift, doubt, scale, start, learn, hours, nominal, charge,
                 e.rate[:, ELEMENTS] * hours[:, None])


def _spread(state: _State, factor: Floats, noise2: Floats) -> Floats:
    """si²: what one reading may lie off its engine's mean; the class's figure until the engine has samples enough.

    The larger of habit and test noise, times how much of that was really seen, in the class and then in the engine.
    """
    seen = (PRIOR_SAMPLES * factor + state.squares) / (PRIOR_SAMPLES + state.n)
    out: Floats = seen * np.maximum(SPREAD**2, noise2)
    return out


def _pass_over(state: _State, now: list[Place], before: list[Place | None], priors: list[Prior],
               peers: PeerSet) -> NDArray[np.bool_]:
    """Between two samples: a new life starts over, another laboratory, oil or method widens. True where it started
    over."""
    fresh = np.zeros(len(now), dtype=np.bool_)
    for k, (p, q) in enumerate(zip(now, before, strict=True)):
        if q is None or q.moment.life != p.moment.life:
            state.mean[k], state.doubt[k] = priors[k].mean, priors[k].variance
            state.n[k] = state.squares[k] = state.widened[k] = 0.0
            state.in_charge[k] = state.own[k] = state.own_effective[k] = 0.0
            state.first[k] = np.nan
            fresh[k] = True
            continue
        if q.fill != p.fill:
            state.in_charge[k] = 0.0
        more = np.zeros(E)
        if p.sample.laboratory != q.sample.laboratory:
            known = peers.offsets.get((q.sample.laboratory, p.sample.laboratory))
            guess = laboratory_doubt(np.exp(state.mean[k]))
            shift, sd = (known[0], np.where(np.isnan(known[1]), guess, known[1])) if known else (0.0, guess)
            state.mean[k] += shift
            state.own[k] += shift
            more += sd**2
        if p.sample.test_method != q.sample.test_method:
            more += priors[k].variance
        if p.sample.method != q.sample.method:
            more += SAMPLING_METHOD**2
        if (p.oil or "").split("|")[0] != (q.oil or "").split("|")[0]:
            more += OIL_BRAND**2
        state.doubt[k] += more
        state.widened[k] += more
    return fresh


def _learn(state: _State, residual: Floats, noise2: Floats, spread: Floats, rows: NDArray[np.bool_],
           suspect: NDArray[np.bool_]) -> None:
    """One more sample teaches its engine's mean and spread, clipped so that a fault is not learnt as a habit, and a
    quarter as much where the last samples together are already `suspect`."""
    total = np.sqrt(spread + state.doubt)
    there = rows[:, None] & ~np.isnan(residual)
    innovation = np.where(there, np.clip(residual, -CLIP * total, CLIP * total), 0.0)
    # The second sample of a charge says a third of what the first does, the third a sixth: n_eff of JUDGEMENT.
    says = np.where(there, 2 / ((state.in_charge + 1) * (state.in_charge + 2)), 0.0) * np.where(suspect, SUSPECT_SAYS, 1.0)
    gain = state.doubt * says / (state.doubt * says + spread)
    state.own_effective += says
    state.own += (state.mean + innovation - state.own) * says / np.maximum(state.own_effective, 1.0)
    reached = np.isnan(state.first) & (state.own_effective >= FIRST)
    state.first[reached] = state.own[reached]
    state.mean += gain * innovation
    state.squares += innovation**2 * spread / (spread + state.doubt) / np.maximum(SPREAD**2, noise2)
    state.doubt *= 1 - gain
    state.n += there
    state.in_charge += there


class _Walk:
    """All engines of an evaluation walked through sample by sample, the k-th samples of all of them at once."""

    def __init__(self, e: Evaluation, peers: PeerSet):
        self.e, self.peers, self.given = e, peers, given_of(e, peers)
        self.order = sorted(walk_order(e.places), key=len, reverse=True)
        self.priors = [prior(peers, e.places[rows[0]].engine, e.limits[rows[0]]) for rows in self.order]
        self.mean0, self.var0, self.factor, self.behind = (
            np.array([getattr(p, name) for p in self.priors]).reshape(len(self.order), E)
            for name in ("mean", "variance", "factor", "peers"))
        blank = [np.zeros((len(self.order), E)) for _ in range(6)] + [np.full((len(self.order), E), np.nan)]
        self.state = _State(self.mean0.copy(), self.var0.copy(), *blank)
        self.memory: list[dict[str, Floats]] = []
        shape = self.given.y.shape
        self.out = {f: np.full(shape, np.nan) for f in (
            "mu", "variance", "own_share", "own_n", "peers", "own_mean", "own_variance", "peer_mean", "peer_variance",
            "first_mean", "rise_z")}
        self.z = np.full((WINDOW, *shape), np.nan)

    def _keep(self, n: int) -> None:
        """Engines whose samples are all walked through drop out; the longest come first."""
        self.state = _State(*(getattr(self.state, f)[:n] for f in _State.__dataclass_fields__))
        self.memory = [{name: x[:n] for name, x in m.items()} for m in self.memory]
        self.mean0, self.var0, self.factor, self.behind = (
            x[:n] for x in (self.mean0, self.var0, self.factor, self.behind))

    def step(self, k: int) -> None:
        """The k-th sample of every engine that has one: say what was to be expected, compare, learn."""
        rows = np.array([r[k] for r in self.order if len(r) > k])
        n, places, given = len(rows), self.e.places, self.given
        if n < len(self.state.mean):
            self._keep(n)
        before = [places[r[k - 1]] if k else None for r in self.order[:n]]
        restarted = _pass_over(self.state, [places[i] for i in rows], before, self.priors[:n], self.peers)
        for m in self.memory:
            m["y"][restarted] = np.nan
        state, shift = self.state, given.shift[rows]
        mu, scale = state.mean + shift, given.noise_scale[rows][:, None]
        at = given.start[rows] + np.maximum(np.exp(mu) - started_log(), 0.0) / scale
        noise2 = (sigma(at) * scale / np.exp(mu)) ** 2 + given.shift_doubt[rows]
        spread = _spread(state, self.factor, noise2)
        residual = given.y[rows] - mu
        charge = given.charge[rows][:, None]
        self.memory = [{"y": residual + state.mean, "var": spread, "sd": np.sqrt(spread), "mean": state.mean.copy(),
                        "doubt": state.doubt.copy(), "widened": state.widened.copy(), "charge": charge},
                       *self.memory[: WINDOW - 1]]
        for far, z in enumerate(_together(self.memory)):
            self.z[far, rows] = z
        with np.errstate(divide="ignore", invalid="ignore"):
            own = np.where(state.own_effective > 0, state.own + shift, np.nan)
            own_variance = spread * (1 + 1 / state.own_effective)
        self._note(rows, mu=mu, variance=spread + state.doubt, own_share=np.clip(1 - state.doubt / self.var0, 0, 1),
                   own_n=state.n, peers=self.behind, own_mean=own, own_variance=own_variance,
                   peer_mean=np.where(self.behind > 0, self.mean0 + shift, np.nan), peer_variance=spread + self.var0,
                   first_mean=state.first + shift,
                   rise_z=_rise_z(given, rows, self._then(k, n), mu, spread, state.doubt, at))
        with np.errstate(invalid="ignore"):
            suspect = np.asarray((self.z[:, rows] >= SUSPECT).any(axis=0))
        _learn(state, residual, noise2, spread, given.learn[rows], suspect)

    def _then(self, k: int, n: int) -> NDArray[np.intp]:
        """Row of the sample before each k-th sample where it is of the same charge, else -1."""
        if not k:
            return np.full(n, -1, dtype=np.intp)
        now, then = (np.array([r[at] for r in self.order[:n]]) for at in (k, k - 1))
        return np.where(self.given.charge[now] == self.given.charge[then], then, -1)

    def _note(self, rows: NDArray[np.intp], **figures: Floats) -> None:
        for name, x in figures.items():
            self.out[name][rows] = x


def expectation(e: Evaluation, peers: PeerSet) -> Expectation:
    """The expectation of every sample from its peers and from the samples of its engine before it."""
    walk = _Walk(e, peers)
    for k in range(len(walk.order[0])):
        walk.step(k)
    # "Below 5" is nowhere near proof of "above 3": a non-detect never speaks up.
    exact = walk.given.exact
    z = np.where(exact[None], walk.z, np.minimum(walk.z, 0.0))
    rise = np.where(exact, walk.out.pop("rise_z"), np.nan)
    return Expectation(y=walk.given.y, y_exact=exact, z=z, rise_z=rise, **walk.out, **_in_ppm(walk.given, walk.out))


def _together(memory: list[dict[str, Floats]]) -> list[Floats]:
    """How far the newest 1, 2, … samples of `memory` together lie above what was expected before the oldest of them.

    The newest count most: a fault grows. Two samples of one charge are not independent.
    """
    pairs = {(i, j): np.where(memory[i]["charge"] == memory[j]["charge"], 2 * SAME_CHARGE, 0.0) * memory[i]["sd"]
             * memory[j]["sd"] for j in range(1, len(memory)) for i in range(j)}
    out: list[Floats] = []
    for m, oldest in enumerate(memory, 1):
        weight = 1 - np.arange(m) / (m + 1) if m > 1 else np.ones(1)
        doubt = oldest["doubt"] + np.maximum(memory[0]["widened"] - oldest["widened"], 0)
        variance = weight.sum() ** 2 * doubt
        total: Floats = np.zeros_like(doubt)
        for i, one in enumerate(memory[:m]):
            residual = one["y"] - oldest["mean"]
            total = total + weight[i] * (residual if m == 1 else np.minimum(residual, OUTLIER * one["sd"]))
            variance = variance + weight[i] ** 2 * one["var"]
            for j in range(i + 1, m):
                variance = variance + weight[i] * weight[j] * pairs[i, j]
        out.append(total / np.sqrt(variance))
    return out


def _rise_z(given: Given, rows: NDArray[np.intp], before: NDArray[np.intp], mu: Floats, si2: Floats, doubt: Floats,
            at: Floats) -> Floats:
    """How far the rise since the sample `before`, in the same charge, lies above expectation, in sd."""
    out = np.full(mu.shape, np.nan)
    span = np.where(before >= 0, given.hours[rows] - given.hours[before], np.nan)
    with np.errstate(invalid="ignore"):
        k = np.flatnonzero((before >= 0) & (span >= SHORTEST_RATE * given.nominal[rows]))
    if not len(k):
        return out
    scale = (given.nominal[rows[k]] / span[k])[:, None]
    gained = given.wear[rows[k]] - given.wear[before[k]]
    noise2 = 2 * (sigma(at[k]) * scale / np.exp(mu[k])) ** 2
    out[k] = (scaled(gained * scale) - mu[k]) / np.sqrt(np.maximum(si2[k], noise2) + doubt[k])
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
    return {"expected": to_ppm(out["mu"], start, scale), "low": to_ppm(out["mu"] - sd, start, scale),
            "high": to_ppm(out["mu"] + sd, start, scale), "start": start, "scale": np.broadcast_to(scale, start.shape)}
