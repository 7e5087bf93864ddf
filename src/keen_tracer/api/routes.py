"""Routes of the screens: each parses, calls a use case, answers."""

from typing import Annotated, Any
from urllib.parse import quote

from fastapi import Header, Query, Request, Response

from ..core.roles import Actor
from ..core.terms import WallOrder
from ..storage.migrate import available
from ..storage.records import number, rows, run
from ..usecases.answers.engine import EngineOut
from ..usecases.answers.exchange import Amendment
from ..usecases.answers.frame import Found, Health, Person, State
from ..usecases.answers.from_rows import answer, answers
from ..usecases.answers.judge import How, SampleOut
from ..usecases.answers.wall import QueueRow, Runs, Wall
from ..usecases.errors import NotThere
from ..usecases.fields import RowId, Word
from ..usecases.judging import deciding
from ..usecases.pages import engine, exchange, finder, judge, queue, state, wall
from ..usecases.pages import run as run_page
from ..usecases.pages.terms import Terms, vocabulary
from ..usecases.people import add_person, choose, set_role
from . import exchange_models as x
from . import models as m
from .context import Acting, Here, Key, MaybeWho, Press, UnitsOfWho, Who, once
from .routers import open_router, reading_router
from .security import LASTS, new_token, token_hash

router = reading_router("/api")
outside = open_router()


@outside.get("/healthz")
def healthz(here: Here) -> Health:
    with here.database.transaction() as connection:
        return {
            "database": "up",
            "migration": max(n for n, _, _ in available()),
            "stale": number(connection, "stale_count"),
            "stale_s": state.waited(connection).total_seconds(),
            "unjudged": len(rows(connection, "unjudged")),
            **exchange.backups(connection),
        }


@router.get("/state")
def get_state(here: Here, who: MaybeWho) -> State:
    with here.database.transaction() as connection:
        return state.state(connection, who)


@router.get("/terms")
def get_terms() -> Terms:
    return vocabulary()


@router.get("/people")
def get_people(here: Here) -> list[Person]:
    with here.database.transaction() as connection:
        return answers(Person, rows(connection, "people"))


@router.post("/people")
def post_person(here: Here, who: MaybeWho, body: m.NewPerson) -> Person:
    by = Actor(who["name"], who["role"]) if who else None
    with here.database.transaction() as connection:
        return add_person(connection, body.name, body.role, by)


@router.put("/people/{name}/role")
def put_role(here: Here, who: Acting, name: Word, body: m.NewRole) -> Person:
    """Give a role or take one away, by an administrator."""
    with here.database.transaction() as connection:
        return set_role(connection, name, body.role, who)


@router.post("/session")
def post_session(here: Here, body: m.ChosenPerson, response: Response) -> Person:
    token = new_token()
    with here.database.transaction() as connection:
        chosen = next((p for p in rows(connection, "people") if p["id"] == body.person), None)
        if chosen is None:
            raise NotThere("there is no such person on the list")
        run(connection, "session_put", token=token_hash(token), person=body.person)
    response.set_cookie(
        here.cookie,
        token,
        httponly=True,
        samesite="strict",
        max_age=int(LASTS.total_seconds()),
        path="/",
    )
    return answer(Person, chosen)


@router.delete("/session")
def delete_session(here: Here, request: Request, response: Response) -> m.Done:
    """Sign out: the session ends here and on the server."""
    token = request.cookies.get(here.cookie)
    if token:
        with here.database.transaction() as connection:
            run(connection, "session_end", token=token_hash(token))
    response.delete_cookie(here.cookie, path="/")
    return m.Done()


@router.put("/me/{what}")
def put_choice(here: Here, who: Who, what: Word, body: m.Chosen) -> m.Done:
    """What the person who is here chose for himself."""
    with here.database.transaction() as connection:
        choose(connection, who["id"], what, body.chosen)
    return m.Done()


@router.get("/wall", response_model=Wall)
def get_wall(
    here: Here,
    request: Request,
    units: UnitsOfWho,
    depot: Word | None = None,
    find: Annotated[str | None, Query(max_length=60)] = None,
    by: WallOrder = "need",
    offset: Annotated[int, Query(ge=0, le=1_000_000)] = 0,
    limit: Annotated[int, Query(ge=1, le=500)] = 200,
) -> Response:
    return here.held.answer(
        here.database,
        request,
        Wall,
        lambda c: wall.wall(c, depot, find, by, offset, limit, units),
        units,
    )


@router.post("/wall/graver")
def post_graver(here: Here, who: Who, body: m.Seen) -> m.Done:
    """Say that the engines that became graver by new rules were seen."""
    with here.database.transaction() as connection:
        wall.graver_seen(connection, body.codes, who["name"])
    return m.Done()


@router.get("/engines/{code}", response_model=EngineOut)
def get_engine(here: Here, request: Request, units: UnitsOfWho, code: str) -> Response:
    return here.held.answer(
        here.database, request, EngineOut, lambda c: engine.engine(c, code, units), units
    )


@router.get("/queue", response_model=list[QueueRow])
def get_queue(here: Here, request: Request) -> Response:
    return here.held.answer(here.database, request, list[QueueRow], queue.queue)


@router.get("/samples/{code}", response_model=SampleOut, responses={304: {"model": None}})
def get_sample(
    here: Here,
    code: str,
    response: Response,
    units: UnitsOfWho,
    known: Annotated[str | None, Header(alias="If-None-Match")] = None,
) -> Any:
    """A page already held under the same ETag rests on the same facts: nothing is computed."""
    with here.database.transaction() as connection:
        basis = judge.basis(connection, code)
        tag = f'"{basis}-{quote(str(units))}"'
        if basis and known and tag in known:
            return Response(status_code=304, headers={"ETag": tag})
        if basis:
            response.headers["ETag"] = tag
            response.headers["Cache-Control"] = "private, no-cache"
        return judge.sample(connection, code, units)


@router.get("/samples/{code}/how/{column}")
def get_how(here: Here, code: str, column: str) -> How:
    with here.database.transaction() as connection:
        return judge.how(connection, code, column)


@router.post("/samples/{code}/sign")
def post_sign(here: Here, who: Acting, code: str, body: m.SignOff, key: Key = None) -> m.Done:
    with here.database.transaction() as connection:
        return once(
            connection,
            Press(key, who, f"sign {code}", body),
            m.Done,
            lambda: m.Done(
                decision=deciding.sign(
                    connection,
                    code,
                    body.level,
                    body.basis,
                    body.supersedes,
                    body.reason,
                    body.note,
                    who,
                )
            ),
        )


@router.post("/samples/{code}/undo")
def post_undo(here: Here, who: Acting, code: str, body: m.Undo, key: Key = None) -> m.Done:
    with here.database.transaction() as connection:
        return once(
            connection,
            Press(key, who, f"undo {code}", body),
            m.Done,
            lambda: m.Done(decision=deciding.undo_sign(connection, code, body.decision, who)),
        )


@router.get("/runs", response_model=Runs)
def get_runs(
    here: Here,
    request: Request,
    units: UnitsOfWho,
    find: Annotated[str | None, Query(max_length=60)] = None,
    offset: Annotated[int, Query(ge=0, le=1_000_000)] = 0,
    limit: Annotated[int, Query(ge=1, le=500)] = 200,
) -> Response:
    return here.held.answer(
        here.database,
        request,
        Runs,
        lambda c: run_page.runs(c, find, offset, limit, units),
        units,
    )


@router.post("/engines/{code}/run")
def post_run(
    here: Here, who: Acting, code: str, body: deciding.NewRunDecision, key: Key = None
) -> m.Done:
    with here.database.transaction() as connection:
        return once(
            connection,
            Press(key, who, f"run {code}", body),
            m.Done,
            lambda: m.Done(decision=deciding.decide_run(connection, code, body, who)),
        )


@router.get("/find")
def get_find(here: Here, q: Annotated[str, Query(max_length=60)]) -> list[Found]:
    with here.database.transaction() as connection:
        return finder.find(connection, q)


@router.get("/amendments")
def get_amendments(here: Here) -> list[Amendment]:
    with here.database.transaction() as connection:
        return exchange.amendments(connection)


@router.post("/amendments/{report}")
def post_amendment(
    here: Here, who: Acting, report: RowId, body: x.Answer, key: Key = None
) -> m.Done:
    with here.database.transaction() as connection:
        done = once(
            connection,
            Press(key, who, f"amendment {report}", body),
            m.Done,
            lambda: m.Done(
                decision=deciding.answer_amendment(
                    connection, report, body.accept, body.reason, who
                )
            ),
        )
    here.wake()
    return done
