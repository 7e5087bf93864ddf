"""Routes of the Library: limits with their origin, a draft tried out, a version published."""

from datetime import date, datetime
from typing import Any, Literal

from fastapi import APIRouter
from pydantic import BaseModel, Field

from ..core.limits import LimitRow
from ..usecases.judging import library
from .context import Acting, Here
from .fields import Limit, Text, Word
from .models import LevelNumber

router = APIRouter(prefix="/api/library")


class LimitIn(BaseModel):
    """One limit of a draft; without figures it switches a wider one off."""

    scope: Literal["class", "model", "engine"]
    scope_name: Word
    analyte: Word
    basis: Literal["conc", "rise", "rate", "pct_fresh"]
    watch: Limit | None = None
    act: Limit | None = None
    unit: Word = ""
    origin: Text


class LimitOut(LimitIn):
    symbol: str
    name: str


class LimitsVersion(BaseModel):
    name: str
    published_at: datetime
    published_by: str


class PeersVersion(LimitsVersion):
    """A published version of peers; `changes` is what publishing it changed."""

    changes: dict[str, Any]


class LimitAnalyte(BaseModel):
    column: str
    name: str
    unit: str


class Limits(BaseModel):
    version: str
    versions: list[LimitsVersion]
    rows: list[LimitOut]
    scopes: dict[str, list[str]]
    analytes: list[LimitAnalyte]
    peers: list["PeersVersion"]
    policies: dict[str, dict[str, str]]
    policy_words: dict[str, str]
    default_policy: str
    longest_drain: float


class Draft(BaseModel):
    rows: list[LimitIn] = Field(max_length=2000)


class NewVersion(Draft):
    name: Word


class VerdictChange(BaseModel):
    """A verdict a draft would change; a signed one is never altered, it comes back if higher."""

    sample: str
    engine: str
    on: date
    was: LevelNumber | None
    now: LevelNumber | None
    signed: bool


class TriedOut(BaseModel):
    engines: int
    tried: int
    samples: int
    raised: int
    lowered: int
    changes: list[VerdictChange]


class Published(BaseModel):
    engines: int


class PeersOut(TriedOut):
    name: str


class PolicyIn(BaseModel):
    """Which schools decide for a class or an engine."""

    scope: Literal["class", "engine"]
    scope_name: Word
    policy: Word


def _rows(body: Draft) -> list[LimitRow]:
    return [LimitRow(**r.model_dump()) for r in body.rows]


@router.get("/limits", response_model=Limits)
def get_limits(here: Here) -> dict[str, Any]:
    with here.database.transaction() as c:
        return library.limits(c)


@router.post("/limits/try", response_model=TriedOut)
def post_try(here: Here, who: Acting, body: Draft) -> dict[str, Any]:
    with here.database.transaction() as c:
        return library.try_out(c, _rows(body))


@router.post("/limits", response_model=Published)
def post_limits(here: Here, who: Acting, body: NewVersion) -> Published:
    with here.database.transaction() as c:
        engines = library.publish(c, body.name, _rows(body), who)
    here.wake()
    return Published(engines=engines)


@router.post("/policy", response_model=Published)
def post_policy(here: Here, who: Acting, body: PolicyIn) -> Published:
    with here.database.transaction() as c:
        engines = library.choose(c, body.scope, body.scope_name, body.policy, who)
    here.wake()
    return Published(engines=engines)


class LongestDrain(BaseModel):
    times: float = Field(ge=1, le=5, allow_inf_nan=False)


@router.post("/longest-drain", response_model=LongestDrain)
def post_longest_drain(here: Here, who: Acting, body: LongestDrain) -> LongestDrain:
    with here.database.transaction() as c:
        library.set_longest_drain(c, body.times, who)
    return body


@router.post("/peers/try", response_model=PeersOut)
def post_try_peers(here: Here, who: Acting) -> dict[str, Any]:
    with here.database.transaction() as c:
        return library.publish_peers(c, who, preview=True)


@router.post("/peers", response_model=PeersOut)
def post_peers(here: Here, who: Acting) -> dict[str, Any]:
    with here.database.transaction() as c:
        found = library.publish_peers(c, who, preview=False)
    here.wake()
    return found
