"""Routes of the Library: limits with their origin, a draft tried out, a version published."""

from typing import Literal

from pydantic import BaseModel, Field

from ..core.limits import LimitRow
from ..storage.peers import Choice
from ..usecases.answers.library import AverageRow, Limits, PeersOut, TriedOut
from ..usecases.fields import Limit, Text, Word
from ..usecases.judging import library, second_person
from ..usecases.judging.currency import set_currency
from ..usecases.recording import averages
from .context import Acting, Here
from .routers import reading_router

router = reading_router("/api/library")


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


class Draft(BaseModel):
    rows: list[LimitIn] = Field(max_length=2000)


class NewVersion(Draft):
    name: Word


class Published(BaseModel):
    engines: int


class PolicyIn(BaseModel):
    """Which schools decide for a class or an engine."""

    scope: Literal["class", "engine"]
    scope_name: Word
    policy: Word
    reason: Text = ""

    def choice(self) -> Choice:
        return Choice(self.scope, self.scope_name, self.policy, self.reason)


def _rows(body: Draft) -> list[LimitRow]:
    return [LimitRow(**r.model_dump()) for r in body.rows]


@router.get("/limits")
def get_limits(here: Here) -> Limits:
    with here.database.transaction() as connection:
        return library.limits(connection)


@router.post("/limits/try")
def post_try(here: Here, who: Acting, body: Draft) -> TriedOut:
    with here.database.transaction() as connection:
        return library.try_out(connection, _rows(body))


@router.post("/limits")
def post_limits(here: Here, who: Acting, body: NewVersion) -> Published:
    with here.database.transaction() as connection:
        engines = library.publish(connection, body.name, _rows(body), who)
    here.wake()
    return Published(engines=engines)


@router.post("/policy/try")
def post_try_policy(here: Here, who: Acting, body: PolicyIn) -> TriedOut:
    """Which verdicts would change. Nothing is written."""
    with here.database.transaction() as connection:
        return library.try_choice(connection, body.choice())


@router.post("/policy")
def post_policy(here: Here, who: Acting, body: PolicyIn) -> Published:
    with here.database.transaction() as connection:
        engines = library.choose(connection, body.choice(), who)
    here.wake()
    return Published(engines=engines)


class LongestDrain(BaseModel):
    times: float = Field(ge=1, le=5, allow_inf_nan=False)


@router.post("/longest-drain")
def post_longest_drain(here: Here, who: Acting, body: LongestDrain) -> LongestDrain:
    with here.database.transaction() as connection:
        library.set_longest_drain(connection, body.times, who)
    return body


class SecondPerson(BaseModel):
    asked: bool


@router.post("/second-person")
def post_second_person(here: Here, who: Acting, body: SecondPerson) -> SecondPerson:
    """Whether a Stop is lifted only by somebody who neither signed it nor did the work."""
    with here.database.transaction() as connection:
        second_person.ask(connection, body.asked, who)
    return body


class Currency(BaseModel):
    currency: Word = ""


@router.post("/currency")
def post_currency(here: Here, who: Acting, body: Currency) -> Currency:
    """The sign or code shown beside amounts of money; nothing is converted."""
    with here.database.transaction() as connection:
        return Currency(currency=set_currency(connection, body.currency, who))


@router.post("/peers/try")
def post_try_peers(here: Here, who: Acting) -> PeersOut:
    with here.database.transaction() as connection:
        return library.publish_peers(connection, who, preview=True)


@router.post("/peers")
def post_peers(here: Here, who: Acting) -> PeersOut:
    with here.database.transaction() as connection:
        found = library.publish_peers(connection, who, preview=False)
    here.wake()
    return found


class AveragesPut(BaseModel):
    new: int


@router.get("/averages")
def get_averages(here: Here) -> list[AverageRow]:
    with here.database.transaction() as connection:
        return list(averages.averages(connection))


@router.post("/averages")
def post_averages(here: Here, who: Acting, body: averages.AverageSheet) -> AveragesPut:
    with here.database.transaction() as connection:
        return AveragesPut(new=averages.put_sheet(connection, body, who))
