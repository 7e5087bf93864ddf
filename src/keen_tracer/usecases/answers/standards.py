"""Answers of the Library: the dial and weights."""

from datetime import date

from typing_extensions import TypedDict

from .library import LimitsVersion


class FaultsFound(TypedDict):
    """Planted faults of one kind, and how many are at Act by their third sample."""

    fault: str
    planted: int
    found: int


class DialStep(TypedDict):
    """One factor on the thresholds: false Acts per 100 quiet samples with their 95 % interval."""

    strictness: float
    acts: int
    per_100: float
    low: float
    high: float
    found: list[FaultsFound]


class DialTried(TypedDict):
    """`kept`: whether even the strictest factor keeps to what was wanted."""

    quiet: int
    wanted: float
    kept: bool
    chosen: DialStep
    steps: list[DialStep]


class Dial(TypedDict):
    """The factor in force, and how it was found; only the factor where it is as shipped."""

    strictness: float
    wanted: float | None
    quiet: int | None
    acts: int | None
    by: str
    on: date | None


class EvidenceOut(TypedDict):
    code: str
    words: str
    kind: str


class WeightOut(TypedDict):
    """What a piece of evidence adds to a mode's log-odds, seen or known to be absent."""

    evidence: str
    seen: float
    absent: float
    origin: str


class ModeOut(TypedDict):
    """A failure mode: `needs` and `never` name classes, fuels, features and bearings."""

    code: str
    words: str
    channel: str
    needs: list[str]
    never: list[str]
    prior: float
    origin: str
    weights: list[WeightOut]


class WeightsOut(TypedDict):
    version: str
    versions: list[LimitsVersion]
    evidence: list[EvidenceOut]
    modes: list[ModeOut]


class LeadChange(TypedDict):
    """A newest sample for which another mode would stand first; "" where none may lead."""

    sample: str
    engine: str
    was: str
    now: str


class WeightsTried(TypedDict):
    tried: int
    changed: int
    changes: list[LeadChange]
