"""The application: routes, guard, error handlers, and the built pages."""

from collections.abc import AsyncIterator, Callable, Iterator
from contextlib import ExitStack, asynccontextmanager, contextmanager
from pathlib import Path
from tempfile import TemporaryDirectory

from anyio import to_thread
from fastapi import FastAPI
from fastapi.responses import FileResponse, Response
from starlette.exceptions import HTTPException

from .. import __version__
from ..storage.db import CONNECTIONS, Database
from ..storage.records import run, setting
from ..usecases.bottles.orders import answer_due
from ..usecases.judging.judging import Worker
from ..usecases.judging.publishing import publish_weekly
from . import (
    arrivals,
    bottles,
    box,
    cases,
    collect,
    exchange,
    inspect,
    layouts,
    library,
    papers,
    plan,
    record,
    reports,
    routes,
    standards,
    taking_out,
)
from .bodies import Bounded
from .context import Context
from .errors import add_handlers, foreign, slow, unexpected
from .security import COOKIE, LASTS, content_policy, guard
from .uploads import Uploads


@contextmanager
def _judging(database: Database) -> Iterator[Callable[[], None]]:
    """The thread that judges and does what is due; gives what wakes it."""

    def first() -> None:
        answer_due(database)
        publish_weekly(database)
        with database.transaction() as connection:
            run(connection, "sessions_over", lasts=LASTS)

    worker = Worker(database, first)
    worker.start()
    yield worker.wake
    worker.stop()


@contextmanager
def _served(
    url: str, pages: Path, uploads: Path | None, wake: Callable[[], None] | None
) -> Iterator[Context]:
    with ExitStack() as stack:
        database = stack.enter_context(Database(url))
        if uploads is None:
            uploads = Path(stack.enter_context(TemporaryDirectory(prefix="keen-uploads-")))
        wakes = wake or stack.enter_context(_judging(database))
        cookie, demo = _cookie(database), _is_demo(database)
        yield Context(database, url, wakes, Uploads(uploads), pages, cookie, demo)


def create_app(
    url: str, pages: Path, uploads: Path | None = None, wake: Callable[[], None] | None = None
) -> FastAPI:
    """The server for one database and one build of the pages.

    uploads : a folder that the processes of one server share; None for one of its own
    wake : wakes the process that judges; None where this is the one
    """

    @asynccontextmanager
    async def life(app: FastAPI) -> AsyncIterator[None]:
        # Fewer requests at work than connections: who comes on top waits, and is not refused.
        to_thread.current_default_thread_limiter().total_tokens = CONNECTIONS - 2
        with _served(url, pages, uploads, wake) as context:
            app.state.context = context
            yield

    app = FastAPI(
        title="Keen Tracer",
        version=__version__,
        lifespan=life,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
    )
    app.add_middleware(Bounded)
    app.middleware("http")(guard(content_policy(pages / "index.html"), foreign, unexpected, slow))
    add_handlers(app)
    for each in (
        routes.outside,
        routes.router,
        exchange.router,
        layouts.router,
        papers.router,
        collect.router,
        bottles.router,
        record.router,
        reports.router,
        library.router,
        standards.router,
        inspect.router,
        cases.router,
        plan.router,
        taking_out.router,
        arrivals.router,
        box.router,
    ):
        app.router.routes.extend(each.routes)
    _serve_pages(app, pages)
    return app


def _cookie(database: Database) -> str:
    """The name of this installation's cookie: two on one machine must not sign each other out."""
    with database.transaction() as connection:
        return f"{COOKIE}_{setting(connection, 'installation') or 'one'}"


def _is_demo(database: Database) -> bool:
    """Whether the fleet is the invented one, which anybody at the machine may look at."""
    with database.transaction() as connection:
        return setting(connection, "demo_loaded") is not None


def _serve_pages(app: FastAPI, pages: Path) -> None:
    """The single-page application: a file where there is one, else the page that routes by
    itself."""
    root = pages.resolve()

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> Response:
        if path.startswith(
            "api/"
        ):  # a GET only: another method on a known path is answered 405 by the router
            raise HTTPException(404, "There is nothing here.")
        try:
            file = (root / path).resolve()
            there = path != "" and file.is_relative_to(root) and file.is_file()
        except (OSError, ValueError):  # a name no file can have
            raise HTTPException(404, "There is nothing here.") from None
        if there:
            lasting = path.startswith("_app/immutable/")
            return FileResponse(
                file,
                headers={
                    "Cache-Control": "public, max-age=31536000, immutable"
                    if lasting
                    else "no-cache"
                },
            )
        if path.startswith("_app/"):
            raise HTTPException(404, "There is nothing here.")
        if not (root / "index.html").exists():
            raise HTTPException(503, "The pages are not built; start through ./keen.")
        return FileResponse(root / "index.html", headers={"Cache-Control": "no-cache"})
