"""A watched folder: reports that are laid there come in by themselves, each all or nothing. What
cannot come in by itself waits in a tray beside, with why; nothing of it is written."""

import tempfile
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

from ... import clock
from ...core.roles import Actor
from ...exchange.cells import BadCell
from ...exchange.layouts import sheets_in
from ...storage.db import single
from ..errors import CannotRecord
from .files import import_files
from .own_files import bring_by_itself
from .task import ImportReport

DONE, TRAY = "brought in", "waiting"


@dataclass(frozen=True, slots=True)
class Came:
    """A file that was looked at. `why`: what keeps it in the tray, "" for one that came in."""

    name: str
    why: str
    added: int = 0


@dataclass(slots=True)
class Watch:
    """A folder and what was seen in it: a file is taken once it has stopped growing."""

    folder: Path
    seen: dict[str, tuple[int, int]] = field(default_factory=dict)

    def look(self, url: str, who: Actor) -> Iterator[Came]:
        """Take every file that lies there as it lay at the look before."""
        files = [f for f in sorted(self.folder.iterdir()) if f.is_file() and f.name[0] != "."]
        now = {f.name: (f.stat().st_size, f.stat().st_mtime_ns) for f in files}
        for file in files:
            if self.seen.get(file.name) == now[file.name]:
                yield self._take(url, file, who)
        self.seen = now

    def _take(self, url: str, file: Path, who: Actor) -> Came:
        try:
            report = bring_file(url, file, file.name, who)
            why = "" if report.written else problems_said(report)
        except (BadCell, CannotRecord) as error:
            report, why = ImportReport(), str(error)
        self._put_away(file, TRAY if why else DONE, why)
        return Came(file.name, why, report.added)

    def _put_away(self, file: Path, where: str, why: str) -> None:
        into = self.folder / where
        into.mkdir(exist_ok=True)
        target = into / f"{clock.today().isoformat()} {file.name}"
        for n in range(2, 1000):
            if not target.exists():
                break
            target = into / f"{clock.today().isoformat()} {n} {file.name}"
        file.replace(target)
        if why:
            target.with_name(f"{target.name}.why.txt").write_text(f"{why}\n", encoding="utf-8")


def problems_said(report: ImportReport) -> str:
    """What keeps a file from coming in by itself."""
    said = [f"row {p.row}, {p.column}: {p.what}; {p.fix}" for p in report.problems]
    return "\n".join(said) or "there is nothing new in it that could be taken without a person"


def bring_file(url: str, file: Path, name: str, who: Actor) -> ImportReport:
    """One of our own files as it is; a laboratory's by the layout somebody kept for its headings.
    `name` is what who sent it calls it.

    Raises BadCell for no table, CannotRecord for one that only a person can bring in.
    """
    own = import_files(url, [(name, file)], who)
    if own.written or any(f.table for f in own.files):
        return own
    with tempfile.TemporaryDirectory(prefix="keen-watched-") as folder:
        sheets = sheets_in(name, file, Path(folder) / "sheet")
        with single(url) as connection:
            paths = bring_by_itself(connection, name, sheets, Path(folder))
        return import_files(url, paths, who)
