"""Imports in a process of their own: with an end to the memory and time they may take, with word of
how far they are, and with a way to stop them."""

import errno
import resource
from collections.abc import Callable
from dataclasses import dataclass
from multiprocessing import get_context
from multiprocessing.connection import Connection as Pipe
from multiprocessing.context import BaseContext
from pathlib import Path
from time import monotonic
from typing import Any, Protocol

from ...core.roles import Actor
from ...exchange.cells import BadCell
from ...exchange.layouts import Sheet, pdf_text, sheets_in
from ...storage.errors import Unavailable
from ..errors import CannotRecord
from .files import import_files
from .task import ImportReport
from .watched import bring_file, problems_said

MEMORY = 1_500_000_000  # bytes of its own, several times what 200 000 rows take; our choice
NEARLY_ALL = 0.9  # of that, past which a lost connection is put down to it; our choice
LONGEST_S = 600  # seconds; our choice
NO_MEMORY = "it needs more memory than an import on a page may take"
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


def _found_no_memory(error: Exception, memory: int) -> bool:
    """Whether the import failed because it ran out of memory. The system reports that as an error
    number and the database library in words; a lost connection counts where the process holds
    nearly all the memory it may have."""
    if isinstance(error, Unavailable) and _bytes_in_use() > NEARLY_ALL * memory:
        return True
    by_number = isinstance(error, OSError) and error.errno == errno.ENOMEM
    return by_number or "out of memory" in str(error)


def _bytes_in_use() -> int:
    """What this process holds of the memory that `RLIMIT_DATA` counts."""
    pages = Path("/proc/self/statm").read_text(encoding="ascii").split()[5]
    return int(pages) * resource.getpagesize()


def _limited(
    pipe: Pipe, memory: int, does: Callable[..., object], args: tuple[object, ...]
) -> None:
    """What the child does: its answer, or what it raised, goes through the pipe."""
    resource.setrlimit(resource.RLIMIT_DATA, (memory, memory))
    try:
        said = does(pipe, *args)
    except MemoryError:
        pipe.send(TooMuch(NO_MEMORY))
    except Exception as error:
        pipe.send(TooMuch(NO_MEMORY) if _found_no_memory(error, memory) else error)
    else:
        pipe.send(said)


def _import(pipe: Pipe, wanted: Wanted) -> ImportReport:
    return import_files(
        wanted.url,
        list(wanted.paths),
        wanted.actor,
        wanted.accept,
        wanted.preview,
        wanted.most_rows,
        tell=lambda rows: pipe.send(rows),
    )


def _sheets(_: Pipe, name: str, path: Path, into: Path) -> list[Sheet]:
    return sheets_in(name, path, into)


def _pdf(_: Pipe, path: Path) -> str:
    return pdf_text(path)


def _bring(_: Pipe, url: str, path: Path, name: str, who: Actor) -> str:
    try:
        report = bring_file(url, path, name, who)
    except (BadCell, CannotRecord) as error:
        return str(error)
    return "" if report.written else problems_said(report)


class _Unwatched:
    """Nobody looks, nobody stops it."""

    def told(self, rows: int) -> None: ...
    def stopped(self) -> bool:
        return False


def import_in_child(wanted: Wanted, progress: Progress) -> ImportReport:
    """Import in a process of its own. Raises what the import raises, TooMuch, Stopped."""
    report: ImportReport = _in_child(_import, (wanted,), wanted.memory, progress)
    return report


def sheets_in_child(name: str, path: Path, into: Path) -> list[Sheet]:
    """The sheets of a file, unpacked in a process of its own. Raises BadCell, TooMuch."""
    found: list[Sheet] = _in_child(_sheets, (name, path, into), MEMORY, _Unwatched())
    return found


def pdf_in_child(path: Path) -> str:
    """The text of a PDF, read in a process of its own. Raises BadCell, TooMuch."""
    found: str = _in_child(_pdf, (path,), MEMORY, _Unwatched())
    return found


def bring_in_child(url: str, path: Path, name: str, who: Actor) -> str:
    """A file brought in without a person, in a process of its own: why it cannot be, "" where it
    was. Raises TooMuch."""
    why: str = _in_child(_bring, (url, path, name, who), MEMORY, _Unwatched())
    return why


def _in_child(
    does: Callable[..., object], args: tuple[object, ...], memory: int, progress: Progress
) -> Any:
    context = _context()
    ours, theirs = context.Pipe(duplex=False)
    child = context.Process(  # type: ignore[attr-defined]
        target=_limited, args=(theirs, memory, does, args), daemon=True
    )
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
                raise TooMuch(NO_MEMORY) from None
            if isinstance(said, int):
                progress.told(said)
            elif isinstance(said, Exception):
                raise said
            else:
                return said
    finally:
        child.terminate()
        child.join()
        ours.close()
