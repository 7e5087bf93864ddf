"""Everything the schools say of a fleet's samples: fixed limits, expectation, peers and own history
by themselves."""

import hashlib
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..causes import Causes, WeightRow, shipped, with_weights
from ..laboratory import N
from ..limits import (
    AS_SHIPPED,
    CANNOT,
    DEFAULT,
    NOTHING_CHOSEN,
    Evaluation,
    LimitSet,
    Policies,
    combine,
    evaluate,
)
from ..record import Fleet, Floats
from .company import company_of
from .expectation import Expectation, expectation
from .patterns import NEVER, Levels, bearing_kind, levels, persistent
from .peers import ELEMENTS, ENOUGH_PEERS, EXPECTED, NOTHING_PUBLISHED, E, PeerSet
from .reach import reach_of

UP, AS_USUAL = 2.0, 1.0  # sd above expectation: up, and not up; our choice
DRIFT, DRIFT_SAMPLES = (
    0.4,
    12,
)  # ln: a habit 1.5 times the first one, from so many own samples on; our choice
ENOUGH_OWN = 5  # own samples from which on school O speaks by itself; our choice


@dataclass(frozen=True)
class Assessment:
    """An evaluation by the fixed limits with what was to be expected, and the policy of each
    sample's engine."""

    evaluation: Evaluation
    expectation: Expectation
    lens_levels: Levels
    policies: tuple[str, ...]
    peers: str  # name of the published version
    causes: Causes
    strictness: float = AS_SHIPPED  # factor on the thresholds of the expectation
    weights: str = ""  # mark of the published weights, "" for those that ship with the program

    @cached_property
    def previous(self) -> NDArray[np.intp]:
        return previous_rows(self.evaluation)

    def _school(
        self, mean: Floats, variance: Floats, enough: NDArray[np.bool_]
    ) -> tuple[Floats, NDArray[np.int8]]:
        """(z, level) of a school by itself over all analytes; -1 where it has none."""
        z = (self.expectation.y - mean) / np.sqrt(variance)
        z = np.where(self.expectation.y_exact, z, np.minimum(z, 0.0))
        known, none = np.where(enough & ~np.isnan(z), z, NEVER), np.zeros(E, dtype=np.bool_)
        level = persistent(known, self.previous, none, self.strictness)
        wide_z, wide = np.full((len(z), N), np.nan), np.full((len(z), N), CANNOT, dtype=np.int8)
        wide_z[:, ELEMENTS], wide[:, ELEMENTS] = z, level
        return wide_z, wide

    @cached_property
    def own(self) -> tuple[Floats, NDArray[np.int8]]:
        """School O: (z, level), (samples, analytes)."""
        return self._school(
            self.expectation.own_mean,
            self.expectation.own_variance,
            self.expectation.own_n >= ENOUGH_OWN,
        )

    @cached_property
    def of_peers(self) -> tuple[Floats, NDArray[np.int8]]:
        """School P: (z, level), (samples, analytes)."""
        return self._school(
            self.expectation.peer_mean,
            self.expectation.peer_variance,
            self.expectation.peers >= ENOUGH_PEERS,
        )

    @cached_property
    def level(self) -> NDArray[np.int8]:
        """(samples, analytes) level of each reading by the schools the policy names; by the default
        policy F's."""
        out = self.evaluation.level.copy()
        for policy in set(self.policies) - {DEFAULT, "fixed_only"}:
            rows = np.array([p == policy for p in self.policies])
            out[rows] = combine(
                policy, self.evaluation.level[rows], self.of_peers[1][rows], self.own[1][rows]
            )
        return out

    @cached_property
    def raised(self) -> NDArray[np.bool_]:
        """(samples, lenses) where the expectation raises something and the policy lets it."""
        heard = np.array([p == DEFAULT for p in self.policies])
        out: NDArray[np.bool_] = (self.lens_levels.level > 0) & heard[:, None]
        return out

    @cached_property
    def lately(self) -> Floats:
        """(samples, elements) sd above expectation, by the sample or by the last two together;
        NEVER where none."""
        out: Floats = np.fmax(self.expectation.z[0], self.expectation.z[1])
        return np.nan_to_num(out, nan=NEVER)

    @cached_property
    def up(self) -> NDArray[np.bool_]:
        """(samples, elements) above expectation, or at a fixed limit."""
        return np.asarray((self.lately >= UP) | (self.evaluation.level[:, ELEMENTS] >= 1))

    @cached_property
    def usual(self) -> NDArray[np.bool_]:
        """(samples, elements) measured and where it was expected, under every fixed limit."""
        near = (self.lately < AS_USUAL) & (self.lately > NEVER)
        return np.asarray(near & (self.evaluation.level[:, ELEMENTS] < 1))

    @cached_property
    def drifted(self) -> NDArray[np.bool_]:
        """(samples, elements) of which the habit has left the first reference of the life for
        good; of elements, whose scale is a rise."""
        x = self.expectation
        with np.errstate(invalid="ignore"):
            moved = (x.mu - x.first_mean >= DRIFT) & (x.own_n >= DRIFT_SAMPLES)
        return np.asarray(moved & [a.precision == "icp" for a in EXPECTED])

    @cached_property
    def compared(self) -> NDArray[np.bool_]:
        """(samples, analytes) readings an expectation was held against."""
        out = np.zeros(self.evaluation.level.shape, dtype=np.bool_)
        heard = np.array([p == DEFAULT for p in self.policies])
        out[:, ELEMENTS] = (self.lens_levels.level[:, :E] >= 0) & heard[:, None]
        return out


def previous_rows(evaluation: Evaluation) -> NDArray[np.intp]:
    """Row of the sample before in the same life, -1 where there is none."""
    return np.array([p.before for p in evaluation.contexts], dtype=np.intp)


def lens_levels(
    evaluation: Evaluation, expectation: Expectation, strictness: float = AS_SHIPPED
) -> Levels:
    """What every lens says of an evaluation's samples."""
    kinds = np.array([bearing_kind(p.engine.bearing_type) for p in evaluation.contexts])
    repeats = np.array([p.sample.purpose == "resample" for p in evaluation.contexts])
    company = company_of(
        evaluation, expectation.expected, expectation.high, expectation.floor, expectation.y
    )
    return levels(
        expectation,
        previous_rows(evaluation),
        kinds,
        repeats,
        company,
        reach_of(evaluation, expectation),
        strictness,
    )


def assess(
    fleet: Fleet,
    limits: LimitSet,
    peers: PeerSet = NOTHING_PUBLISHED,
    policies: Policies = NOTHING_CHOSEN,
    weights: Iterable[WeightRow] = (),
) -> Assessment:
    """All schools over all samples of a fleet. Pure: same input, same output."""
    e = evaluate(fleet, limits)
    x = expectation(e, peers)
    inputs = tuple(weights)
    return Assessment(
        e,
        x,
        lens_levels(e, x, policies.strictness),
        tuple(policies.of(p.engine) for p in e.contexts),
        peers.name,
        Causes(with_weights(inputs)) if inputs else shipped(),
        policies.strictness,
        hashlib.blake2b(repr(inputs).encode(), digest_size=8).hexdigest() if inputs else "",
    )
