"""The application for `./keen dev`: uvicorn makes it anew whenever a file changes."""

import os
from pathlib import Path

from fastapi import FastAPI

from .api.app import create_app
from .cli import prepare


def app() -> FastAPI:
    """The server on the database of the environment."""
    prepare(os.environ["DATABASE_URL"])
    return create_app(os.environ["DATABASE_URL"], Path(os.environ["KEEN_PAGES"]))
