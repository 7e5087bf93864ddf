"""Routes of the Library: the rate of false alarms a site wants, and what evidence weighs."""

from pydantic import BaseModel, Field

from ..core.causes import WeightRow
from ..usecases.answers.standards import Dial, DialTried, WeightsOut, WeightsTried
from ..usecases.fields import FalseRate, Text, Weight, Word
from ..usecases.judging import dial, weighing
from .context import Acting, Here
from .routers import reading_router

router = reading_router("/api/library")


class Wanted(BaseModel):
    """False Acts per 100 quiet samples a site can live with."""

    per_100: FalseRate


class WantedOrShipped(BaseModel):
    """A rate, or null for the thresholds as shipped."""

    per_100: FalseRate | None


@router.get("/dial")
def get_dial(here: Here) -> Dial:
    with here.database.transaction() as connection:
        return dial.current(connection)


@router.post("/dial/try")
def post_try_dial(here: Here, who: Acting, body: Wanted) -> DialTried:
    with here.database.transaction() as connection:
        return dial.try_dial(connection, body.per_100)


@router.post("/dial")
def post_dial(here: Here, who: Acting, body: WantedOrShipped) -> Dial:
    with here.database.transaction() as connection:
        found = dial.set_dial(connection, body.per_100, who)
    here.wake()
    return found


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


class WeightsVersion(BaseModel):
    name: str


def _weights(body: WeightsDraft) -> list[WeightRow]:
    return [WeightRow(**r.model_dump()) for r in body.rows]


@router.get("/weights")
def get_weights(here: Here) -> WeightsOut:
    with here.database.transaction() as connection:
        return weighing.weights(connection)


@router.post("/weights/try")
def post_try_weights(here: Here, who: Acting, body: WeightsDraft) -> WeightsTried:
    with here.database.transaction() as connection:
        return weighing.try_weights(connection, _weights(body))


@router.post("/weights")
def post_weights(here: Here, who: Acting, body: NewWeights) -> WeightsVersion:
    with here.database.transaction() as connection:
        name = weighing.publish(connection, body.name, _weights(body), who)
    here.wake()
    return WeightsVersion(name=name)
