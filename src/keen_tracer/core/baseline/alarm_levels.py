"""What peers and own history say of one reading by themselves, as concentrations a ladder can be
drawn with."""

from dataclasses import dataclass

import numpy as np

from .assessment import ENOUGH_OWN, Assessment
from .expectation import element_ppm
from .patterns import AT_ONCE, WATCH
from .peers import ELEMENTS, ENOUGH_PEERS


@dataclass(frozen=True, slots=True)
class School:
    """One school's view of a reading. `why_not` says why it has none; then the rest is None.

    watch, act : concentration at these hours from which one sample is Watch, and Act without
        confirmation
    """

    letter: str
    level: int | None
    n: int
    watch: float | None
    act: float | None
    why_not: str


@dataclass(frozen=True, slots=True)
class Expected:
    """The merged expectation of one reading [unit of the analyte], 95 %, and whose history it
    is."""

    value: float
    low: float
    high: float
    own_share: float
    own_n: int
    peers: int
    sd: float | None


def _finite(x: float) -> float | None:
    return float(x) if np.isfinite(x) else None


def expected(assessment: Assessment, i: int, analyte: int) -> Expected | None:
    """What was expected of a reading; None where nothing can be."""
    at = np.flatnonzero(analyte == ELEMENTS)
    if not len(at) or not np.isfinite(assessment.expectation.expected[i, at[0]]):
        return None
    x, e = assessment.expectation, int(at[0])
    return Expected(
        float(x.expected[i, e]),
        float(x.low[i, e]),
        float(x.high[i, e]),
        float(x.own_share[i, e]),
        int(x.own_n[i, e]),
        int(x.peers[i, e]),
        _finite(x.z[0, i, e]),
    )


def schools(assessment: Assessment, i: int, analyte: int) -> tuple[School, School]:
    """Peers and own history on one reading."""
    at = np.flatnonzero(analyte == ELEMENTS)
    if not len(at):
        return (
            School("P", None, 0, None, None, "no peers are kept of it"),
            School("O", None, 0, None, None, "no history is kept of it"),
        )
    e, x = int(at[0]), assessment.expectation

    def one(
        letter: str, n: int, need: int, what: str, level: int, mean: float, variance: float
    ) -> School:
        if n < need:
            return School(letter, None, n, None, None, f"{what} {n}, need {need}")
        if level < 0:
            return School(letter, None, n, None, None, "no rate at these hours")
        watch, act = (
            _finite(element_ppm(x, i, e, mean + k * np.sqrt(variance)))
            for k in (assessment.strictness * WATCH.single, assessment.strictness * AT_ONCE.single)
        )
        return School(letter, level, n, watch, act, "")

    return (
        one(
            "P",
            int(x.peers[i, e]),
            ENOUGH_PEERS,
            "peers",
            int(assessment.of_peers[1][i, analyte]),
            x.peer_mean[i, e],
            x.peer_variance[i, e],
        ),
        one(
            "O",
            int(x.own_n[i, e]),
            ENOUGH_OWN,
            "own samples",
            int(assessment.own[1][i, analyte]),
            x.own_mean[i, e],
            x.own_variance[i, e],
        ),
    )
