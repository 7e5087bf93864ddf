"""Routes of the plan: the weeks ahead, moves, a proposal, calendars."""

import io
from typing import Annotated
from uuid import UUID

from fastapi import Query, Request, Response

from ..exchange.csvfile import write_table
from ..usecases.answers.plan import FeedOut, PlanOut, ProposalOut
from ..usecases.days import day_at
from ..usecases.fields import Word
from ..usecases.pages import calendar, plan
from ..usecases.recording import finishing, planning
from . import plan_models as m
from .context import Here, Who
from .models import Done
from .routers import reading_router

router = reading_router("/api")


@router.get("/plan")
def get_plan(
    here: Here,
    depot: Word | None = None,
    weeks: m.Weeks = 4,
    offset: Annotated[int, Query(ge=0)] = 0,
    limit: Annotated[int, Query(ge=1, le=500)] = 200,
    by_risk: bool = False,
) -> PlanOut:
    """The weeks ahead of a depot, or of all."""
    with here.database.transaction() as connection:
        return plan.plan(connection, depot, weeks, offset, limit, by_risk)


@router.get("/plan/proposal")
def get_proposal(here: Here, depot: Word | None = None, weeks: m.Weeks = 4) -> ProposalOut:
    """What the program would put where. Nothing is written."""
    with here.database.transaction() as connection:
        return plan.propose(connection, depot, weeks)


@router.post("/plan/moves")
def post_moves(here: Here, who: Who, body: m.NewMoves) -> Done:
    """Move tasks: all of them or none."""
    with here.database.transaction() as connection:
        planning.move_all(connection, body.moves, who["name"])
        return Done()


@router.post("/plan/done")
def post_done(here: Here, who: Who, body: finishing.TaskDone) -> Done:
    """Say that a task was done; it becomes the row it was."""
    with here.database.transaction() as connection:
        finishing.finish(connection, body, who["name"])
        return Done()


@router.post("/plan/hours")
def post_hours(here: Here, who: Who, body: m.NewHours) -> Done:
    """Say what hours a depot has from a day of the year on."""
    with here.database.transaction() as connection:
        planning.say_hours(connection, body.depot, body.starts, body.hours, who["name"])
        return Done()


@router.get("/plan/week.csv", response_class=Response)
def get_table(here: Here, depot: Word | None = None) -> Response:
    """The plan as a table for a spreadsheet."""
    out = io.BytesIO()
    with here.database.transaction() as connection:
        write_table(out, list(calendar.COLUMNS), calendar.table(connection, depot), True)
        on = day_at(connection, depot)
    headers = {"Content-Disposition": f'attachment; filename="plan-{on}.csv"'}
    return Response(out.getvalue(), media_type="text/csv", headers=headers)


@router.get("/calendars")
def get_feeds(here: Here) -> list[FeedOut]:
    """Calendars that leave the house, without their secrets."""
    with here.database.transaction() as connection:
        return planning.feeds(connection)


@router.post("/calendars")
def post_feed(here: Here, who: Who, body: m.NewFeed) -> m.FeedMade:
    """A new calendar; its address is shown once."""
    with here.database.transaction() as connection:
        secret = planning.open_feed(connection, body.id, body.depot, body.person, who["name"])
        return m.FeedMade(path=f"/api/calendars/{secret}.ics")


@router.post("/calendars/{key}/revoke")
def post_revoke(here: Here, who: Who, key: UUID) -> Done:
    """The address of a calendar is no longer any."""
    with here.database.transaction() as connection:
        planning.revoke_feed(connection, key)
        return Done()


@router.get("/calendars/{secret}.ics", response_class=Response)
def get_calendar(request: Request, here: Here, secret: str) -> Response:
    """The calendar of a secret address."""
    with here.database.transaction() as connection:
        depot, person = planning.feed_of(connection, secret)
        made = calendar.calendar(connection, depot, person, str(request.base_url))
    return Response(made, media_type="text/calendar; charset=utf-8")
