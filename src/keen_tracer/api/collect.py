"""Routes of Collect: the round, bottles, events, and taking the last thing back."""

from uuid import UUID

from fastapi import Request, Response

from ..core.words import Units
from ..storage.db import Connection
from ..usecases.answers.collect import CheckSays, OutcomeOut, Round, StopAlone
from ..usecases.days import day_at
from ..usecases.errors import NotThere
from ..usecases.fields import Day, Word
from ..usecases.pages import collect
from ..usecases.pages.wall import lines
from ..usecases.recording import log_rows, outcomes
from ..usecases.recording.answering import open_queries
from ..usecases.recording.log_rows import engine_id
from . import collect_models as m
from .context import Here, UnitsOfWho, Who, of_engine
from .models import Done
from .routers import reading_router

router = reading_router("/api")


def recorded(
    connection: Connection, engine: str, key: UUID, sample: str | None, units: Units
) -> m.Recorded:
    """What was recorded, with the queries it raises: asked at once, while the dial is still in
    sight."""
    asked = [q for q in open_queries(connection, engine) if q["log"] == str(key)]
    found = engine_id(connection, engine)
    stands = lines(connection, [found], units)[found]["state"]
    return m.Recorded(id=key, sample=sample, queries=asked, state=stands)


@router.get("/round", response_model=Round)
def get_round(
    here: Here,
    request: Request,
    units: UnitsOfWho,
    depot: Word | None = None,
    on: Day | None = None,
) -> Response:
    with here.database.transaction() as connection:
        day = on or day_at(connection, depot)
    return here.held.answer(
        here.database,
        request,
        Round,
        lambda c: collect.round_of(c, depot, day, units),
        f"{day} {units}",
    )


@router.get("/stops/{code}")
def get_stop(here: Here, units: UnitsOfWho, code: str, on: Day | None = None) -> StopAlone:
    with here.database.transaction() as connection:
        found = collect.one_stop(connection, code, on, units)
    if found is None:
        raise NotThere(f"there is no engine {code}")
    return found


@router.post("/bottles")
def post_bottle(here: Here, who: Who, units: UnitsOfWho, body: log_rows.Bottle) -> m.Recorded:
    with here.database.transaction() as connection:
        sample = log_rows.register_bottle(connection, body, who["name"])
        return recorded(connection, body.engine, body.id, sample, units)


@router.post("/engines/{code}/log")
def post_event(
    here: Here, who: Who, units: UnitsOfWho, code: str, body: log_rows.NewEvent
) -> m.Recorded:
    with here.database.transaction() as connection:
        log_rows.record_event(connection, of_engine(log_rows.Event, code, body), who["name"])
        return recorded(connection, code, body.id, None, units)


@router.post("/engines/{code}/check")
def post_try(here: Here, who: Who, code: str, body: m.TriedCheck) -> CheckSays:
    """What a check would say; nothing is written."""
    with here.database.transaction() as connection:
        return log_rows.try_check(connection, code, body.check, body.details)


@router.get("/engines/{code}/outcomes")
def get_outcomes(here: Here, code: str) -> list[OutcomeOut]:
    with here.database.transaction() as connection:
        return outcomes.outcomes(connection, code)


@router.post("/engines/{code}/outcomes")
def post_outcome(here: Here, who: Who, code: str, body: outcomes.NewOutcome) -> Done:
    with here.database.transaction() as connection:
        outcomes.record_outcome(connection, of_engine(outcomes.Outcome, code, body), who["name"])
    return Done()


@router.post("/log/{key}/undo")
def post_undo(here: Here, who: Who, key: UUID) -> m.Recorded:
    with here.database.transaction() as connection:
        log_rows.undo_record(connection, key, who["name"])
    return m.Recorded(id=key, sample=None)
