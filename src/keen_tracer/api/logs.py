"""The log of a server: when, which route, who, which incident. No readings and no names: what an
error says may hold both, so its kind and its place are kept, not its words."""

import logging
import traceback
from contextvars import ContextVar
from dataclasses import dataclass
from logging.handlers import RotatingFileHandler
from types import TracebackType

from ..storage.backups_kept import home

BYTES, FILES = 2_000_000, 5  # of one file, and how many are kept; our choice


@dataclass
class Asked:
    """What is asked for just now: the route's pattern, and the number of the person."""

    route: str = "-"
    person: str = "-"


asked: ContextVar[Asked | None] = ContextVar("asked", default=None)


class _Who(logging.Filter):
    def filter(self, record: logging.LogRecord) -> bool:
        now = asked.get() or Asked()
        record.route, record.person = now.route, now.person
        return True


class _Plain(logging.Formatter):
    """Kinds of errors and the lines they come from, without what they say."""

    def formatException(  # the name is the standard library's
        self,
        ei: tuple[type[BaseException], BaseException, TracebackType | None]
        | tuple[None, None, None],
    ) -> str:
        kind, _, where = ei
        name = kind.__name__ if kind else "?"
        return "".join([*traceback.format_tb(where), name])


def log_to_file(name: str = "keen") -> None:
    """Write the log of this process into the folder of the installation, a few files of it."""
    folder = home() / "log"
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    handler = RotatingFileHandler(
        folder / f"{name}.log", maxBytes=BYTES, backupCount=FILES, encoding="utf-8"
    )
    (folder / f"{name}.log").chmod(0o600)
    handler.addFilter(_Who())
    handler.setFormatter(
        _Plain("%(asctime)s %(levelname)s %(route)s person=%(person)s %(message)s")
    )
    log = logging.getLogger("keen_tracer")
    log.setLevel(logging.INFO)
    log.addHandler(handler)
