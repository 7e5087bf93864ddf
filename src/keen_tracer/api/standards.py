"""Routes of the Library: the rate of false alarms a site wants, and what evidence weighs."""

from datetime import date
from typing import Any

from fastapi import APIRouter
from pydantic import BaseModel, Field

from ..core.causes import WeightRow
from ..usecases.judging import dial, weighing
from .context import Acting, Here
from .fields import FalseRate, Text, Weight, Word
from .library import LimitsVersion

router = APIRouter(prefix="/api/library")


class FaultsFound(BaseModel):
    """Planted faults of one kind, and how many are at Act by their third sample."""

    fault: str
    planted: int
    found: int


class DialStep(BaseModel):
    """One factor on the thresholds: false Acts per 100 quiet samples with their 95 % interval."""

    strictness: float
    acts: int
    per_100: float
    low: float
    high: float
    found: list[FaultsFound]


class DialTried(BaseModel):
    """`kept`: whether even the strictest factor keeps to what was wanted."""

    quiet: int
    wanted: float
    kept: bool
    chosen: DialStep
    steps: list[DialStep]


class Dial(BaseModel):
    """The factor in force, and how it was found; only the factor where it is as shipped."""

    strictness: float
    wanted: float | None = None
    quiet: int | None = None
    acts: int | None = None
    by: str = ""
    on: date | None = None


class Wanted(BaseModel):
    """False Acts per 100 quiet samples a site can live with."""

    per_100: FalseRate


class WantedOrShipped(BaseModel):
    """A rate, or null for the thresholds as shipped."""

    per_100: FalseRate | None


@router.get("/dial", response_model=Dial)
def get_dial(here: Here) -> dict[str, Any]:
    with here.database.transaction() as c:
        return dial.current(c)


@router.post("/dial/try", response_model=DialTried)
def post_try_dial(here: Here, who: Acting, body: Wanted) -> dict[str, Any]:
    with here.database.transaction() as c:
        return dial.try_dial(c, body.per_100)


@router.post("/dial", response_model=Dial)
def post_dial(here: Here, who: Acting, body: WantedOrShipped) -> dict[str, Any]:
    with here.database.transaction() as c:
        found = dial.set_dial(c, body.per_100, who)
    here.wake()
    return found


class EvidenceOut(BaseModel):
    code: str
    words: str
    kind: str


class WeightOut(BaseModel):
    """What a piece of evidence adds to a mode's log-odds, seen or known to be absent."""

    evidence: str
    seen: float
    absent: float
    origin: str


class ModeOut(BaseModel):
    """A failure mode: `needs` and `never` name classes, fuels, features and bearings."""

    code: str
    words: str
    channel: str
    needs: list[str]
    never: list[str]
    prior: float
    origin: str
    weights: list[WeightOut]


class WeightsOut(BaseModel):
    version: str
    versions: list[LimitsVersion]
    evidence: list[EvidenceOut]
    modes: list[ModeOut]


class WeightIn(BaseModel):
    """One weight; evidence "prior" is the mode's own, with `absent` 0."""

    mode: Word
    evidence: Word
    seen: Weight
    absent: Weight = 0.0
    origin: Text


class WeightsDraft(BaseModel):
    rows: list[WeightIn] = Field(max_length=2000)


class NewWeights(WeightsDraft):
    name: Word


class LeadChange(BaseModel):
    """A newest sample for which another mode would stand first; "" where none may lead."""

    sample: str
    engine: str
    was: str
    now: str


class WeightsTried(BaseModel):
    tried: int
    changed: int
    changes: list[LeadChange]


class WeightsVersion(BaseModel):
    name: str


def _weights(body: WeightsDraft) -> list[WeightRow]:
    return [WeightRow(**r.model_dump()) for r in body.rows]


@router.get("/weights", response_model=WeightsOut)
def get_weights(here: Here) -> dict[str, Any]:
    with here.database.transaction() as c:
        return weighing.weights(c)


@router.post("/weights/try", response_model=WeightsTried)
def post_try_weights(here: Here, who: Acting, body: WeightsDraft) -> dict[str, Any]:
    with here.database.transaction() as c:
        return weighing.try_weights(c, _weights(body))


@router.post("/weights", response_model=WeightsVersion)
def post_weights(here: Here, who: Acting, body: NewWeights) -> WeightsVersion:
    with here.database.transaction() as c:
        name = weighing.publish(c, body.name, _weights(body), who)
    here.wake()
    return WeightsVersion(name=name)
