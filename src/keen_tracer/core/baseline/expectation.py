"""What was to be expected of each reading, before the sample was seen."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..certainty import SURE
from ..limits import Evaluation
from ..record import Floats
from .estimator import SequentialEstimator
from .model_inputs import ModelInputs, figure_of
from .peers import PeerSet


@dataclass(frozen=True, kw_only=True)
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
    floor : what a figure must pass to be more than a non-detect may have been; 0 without any
    start, scale : what turns a y into a concentration (see `figure_of`)
    """

    y: Floats
    # False for a non-detect, and for a figure within noise of a detection limit in play
    y_exact: NDArray[np.bool_]
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
    floor: Floats
    start: Floats
    scale: Floats


def expectation(evaluation: Evaluation, peers: PeerSet) -> Expectation:
    """The expectation of every sample from its peers and from the samples of its engine before
    it."""
    estimator = SequentialEstimator(evaluation, peers)
    with np.errstate(invalid="ignore"):
        for k in range(len(estimator.order[0])):
            estimator.step(k)
    # "Below 5" is nowhere near proof of "above 3": a non-detect never speaks up, nor does a figure
    # that a non-detect of the same test may have been.
    speaks, out = estimator.inputs.speaks, estimator.figures()
    z = np.where(speaks[None], estimator.z, np.minimum(estimator.z, 0.0))
    rise = np.where(speaks, out.pop("rise_z"), np.nan)
    return Expectation(
        y=estimator.inputs.y,
        y_exact=speaks,
        z=z,
        rise_z=rise,
        shift=estimator.inputs.shift,
        **out,
        **_in_ppm(estimator.inputs, out),
    )


def element_ppm(expectation: Expectation, i: int, element: int, y: float) -> float:
    """Figure [unit of the analyte] of a y of one element at sample `i`; NaN where there is no
    rate."""
    at = slice(element, element + 1)
    part = figure_of(np.array([y]), expectation.start[i, at], expectation.scale[i, at], at)
    return float(part[0])


def _in_ppm(inputs: ModelInputs, out: dict[str, Floats]) -> dict[str, Floats]:
    """Expected figures with their 95 % interval."""
    start, scale, sd = inputs.start, inputs.noise_scale, SURE * np.sqrt(out["variance"])
    ends = np.stack([figure_of(out["mu"] + k * sd, start, scale) for k in (-1, 0, 1)])
    return {
        "expected": ends[1],
        "low": np.minimum(ends[0], ends[2]),
        "high": np.maximum(ends[0], ends[2]),
        "floor": inputs.floor,
        "start": start,
        "scale": scale,
    }
