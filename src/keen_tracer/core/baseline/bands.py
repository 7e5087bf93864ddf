"""What a chart draws behind an engine's readings: what was expected of each, and where sister
engines lie at the same hours."""

from dataclasses import dataclass

import numpy as np

from ..certainty import SURE
from ..record import Floats
from .assessment import Assessment
from .model_inputs import figure_of
from .peers import ELEMENTS

SISTERS = 5  # engines behind a band that is only looked at; our choice


@dataclass(frozen=True, slots=True, kw_only=True)
class Bands:
    """95 % bands [unit of the analyte] of an engine's samples, (samples,); NaN where none can be
    drawn.

    low, high : expected of this engine at this sample's hours, before it was seen; narrows as the
        engine is learnt
    sisters_low, sisters_high : of its peers at the same hours, where enough of them are published
    base, gain : a figure c is a rate of (c - base) / gain a meter unit; gain is NaN on no time
    """

    low: Floats
    high: Floats
    sisters_low: Floats
    sisters_high: Floats
    base: Floats
    gain: Floats


def bands(assessment: Assessment, analyte: int, order: list[int]) -> Bands:
    """The bands of one analyte at the samples of `order`."""
    at = np.flatnonzero(analyte == ELEMENTS)
    none = np.full(len(order), np.nan)
    gain = np.where(
        assessment.evaluation.mix.gain[order] > 0, assessment.evaluation.mix.gain[order], np.nan
    )
    if not len(at):
        return Bands(low=none, high=none, sisters_low=none, sisters_high=none, base=none, gain=gain)
    x, one = assessment.expectation, slice(int(at[0]), int(at[0]) + 1)
    start, scale = x.start[order, one], x.scale[order, one]
    with np.errstate(invalid="ignore"):
        apart = SURE * np.sqrt(x.peer_variance[order, one])
        ends = [
            figure_of(x.peer_mean[order, one] + side * apart, start, scale, one)[:, 0]
            for side in (-1, 1)
        ]
    enough = x.peers[order, int(at[0])] >= SISTERS
    return Bands(
        low=x.low[order, int(at[0])],
        high=x.high[order, int(at[0])],
        sisters_low=np.where(enough, np.minimum(*ends), np.nan),
        sisters_high=np.where(enough, np.maximum(*ends), np.nan),
        base=start[:, 0],
        gain=gain,
    )
