"""The application: routes, guard, error handlers, and the built pages."""

import tempfile
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import FastAPI
from fastapi.responses import FileResponse, Response
from starlette.exceptions import HTTPException

from .. import __version__
from ..storage.db import Database
from ..usecases.bottles.orders import answer_due
from ..usecases.judging.judging import Worker
from ..usecases.judging.publishing import publish_weekly
from . import bottles, collect, exchange, library, record, routes
from .context import Context
from .errors import add_handlers
from .security import content_policy, guard


def create_app(url: str, pages: Path) -> FastAPI:
    """The server for one database and one build of the pages."""

    @asynccontextmanager
    async def life(app: FastAPI) -> AsyncIterator[None]:
        with (
            Database(url) as database,
            tempfile.TemporaryDirectory(prefix="keen-uploads-") as uploads,
        ):

            def first() -> None:
                answer_due(database)
                publish_weekly(database)

            worker = Worker(database, first)
            worker.start()
            app.state.context = Context(database, url, worker, Path(uploads), pages)
            yield
            worker.stop()

    app = FastAPI(
        title="Keen Tracer",
        version=__version__,
        lifespan=life,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
    )
    app.middleware("http")(guard(content_policy(pages / "index.html")))
    add_handlers(app)
    app.include_router(routes.outside)
    app.include_router(routes.router)
    app.include_router(exchange.router)
    app.include_router(collect.router)
    app.include_router(bottles.router)
    app.include_router(record.router)
    app.include_router(library.router)
    _serve_pages(app, pages)
    return app


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
        file = (root / path).resolve()
        if path and file.is_relative_to(root) and file.is_file():
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
