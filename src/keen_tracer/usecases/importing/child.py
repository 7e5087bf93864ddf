"""Imports in a process of their own: with an end to the memory and time they may take, with word of
how far they are, and with a way to stop them."""

import resource
from dataclasses import dataclass
from multiprocessing import get_context
from multiprocessing.connection import Connection as Pipe
from multiprocessing.context import BaseContext
from pathlib import Path
from time import monotonic
from typing import Protocol

from ...core.roles import Actor
from .files import import_files
from .task import ImportReport

MEMORY = 1_500_000_000  # bytes of its own, several times what 200 000 rows take; our choice
LONGEST_S = 600  # seconds; our choice
LOOK_S = 0.2  # how often it is asked whether somebody wants it stopped


class TooMuch(Exception):
    """A file that asks for more memory or time than a page may take."""


class Stopped(Exception):
    """Somebody stopped the import; nothing was written."""


class Progress(Protocol):
    """An import under way, as others see it: it is told how far it is, and asked whether to
    stop."""

    def told(self, rows: int) -> None: ...
    def stopped(self) -> bool: ...


@dataclass(frozen=True, slots=True)
class Wanted:
    """What is to be imported, by whom and how."""

    url: str
    paths: tuple[tuple[str, Path], ...]
    actor: Actor
    accept: bool
    preview: bool
    most_rows: int
    memory: int = MEMORY


def _context() -> BaseContext:
    """A clean process that has loaded the program forks each child: none costs a start."""
    context = get_context("forkserver")
    context.set_forkserver_preload([__name__])
    return context


def _work(pipe: Pipe, wanted: Wanted) -> None:
    resource.setrlimit(resource.RLIMIT_DATA, (wanted.memory, wanted.memory))
    try:
        report = import_files(
            wanted.url,
            list(wanted.paths),
            wanted.actor,
            wanted.accept,
            wanted.preview,
            wanted.most_rows,
            tell=lambda rows: pipe.send(rows),
        )
    except MemoryError:
        pipe.send(TooMuch("it needs more memory than an import on a page may take"))
    except Exception as error:
        pipe.send(error)
    else:
        pipe.send(report)


def import_in_child(wanted: Wanted, progress: Progress) -> ImportReport:
    """Import in a process of its own. Raises what the import raises, TooMuch, Stopped."""
    context = _context()
    ours, theirs = context.Pipe(duplex=False)
    child = context.Process(target=_work, args=(theirs, wanted), daemon=True)  # type: ignore[attr-defined]
    child.start()
    theirs.close()
    until = monotonic() + LONGEST_S
    try:
        while True:
            if progress.stopped():
                raise Stopped("the import was stopped")
            if monotonic() > until:
                raise TooMuch(f"it took over {LONGEST_S // 60} minutes")
            if not ours.poll(LOOK_S):
                continue
            try:
                said = ours.recv()
            except EOFError:
                raise TooMuch("it needs more memory than an import on a page may take") from None
            if isinstance(said, int):
                progress.told(said)
            elif isinstance(said, Exception):
                raise said
            else:
                report: ImportReport = said
                return report
    finally:
        child.terminate()
        child.join()
        ours.close()
