"""Backups made by themselves: one a day; seven days, four weeks and twelve months of them are kept,
and the newest is tried once a week."""

import os
import secrets
from collections.abc import Iterable
from datetime import datetime, timedelta
from pathlib import Path
from urllib.parse import urlsplit, urlunsplit

from .backup import backup, restore
from .db import single
from .migrate import drop_database, ensure_database
from .records import row, run

DAYS, WEEKS, MONTHS = 7, 4, 12  # how many are kept of each; our choice
EVERY, TRIED_EVERY = timedelta(days=1), timedelta(days=7)
_NAME = "keen-%Y%m%d-%H%M%S.keen"


def home() -> Path:
    """The folder of this installation."""
    return Path(os.environ.get("KEEN_HOME", ".keen"))


def backup_key() -> bytes:
    """The key this installation signs its backups with; made when first asked for."""
    file = home() / "backup.key"
    home().mkdir(parents=True, exist_ok=True)
    try:
        handle = os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    except FileExistsError:
        return file.read_bytes()
    with os.fdopen(handle, "wb") as out:
        key = secrets.token_bytes(32)
        out.write(key)
    return key


def made_at(file: Path) -> datetime | None:
    """When a kept backup was made, by its name; None for any other file."""
    try:
        return datetime.strptime(file.name, _NAME)
    except ValueError:
        return None


def to_drop(made: Iterable[datetime]) -> set[datetime]:
    """Which of these backups are over: the newest of each of the last days, weeks and months stay.

    >>> from datetime import datetime
    >>> days = [datetime(2026, 11, d, h) for d in range(1, 28) for h in (3, 15)]
    >>> len(days) - len(to_drop(days))
    9
    """
    newest = sorted(made, reverse=True)
    kept: set[datetime] = set()
    for form, most in (("%Y-%m-%d", DAYS), ("%G-%V", WEEKS), ("%Y-%m", MONTHS)):
        first_of: dict[str, datetime] = {}
        for moment in newest:
            first_of.setdefault(moment.strftime(form), moment)
        kept |= set(list(first_of.values())[:most])
    return set(newest) - kept


def _try_newest(url: str, file: Path) -> None:
    """Restore a backup into a database of its own, which is dropped afterwards. Raises where it
    does not come back equal."""
    parts = urlsplit(url)
    scratch = urlunsplit(parts._replace(path=f"{parts.path}_tried_{os.getpid()}"))
    try:
        ensure_database(scratch)
        restore(scratch, file, backup_key())
    finally:
        drop_database(scratch)


def kept(url: str, folder: Path, now: datetime) -> list[str]:
    """Make the backup that is due, drop those that are over, try the newest once a week; says what
    it did."""
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    said = []
    with single(url) as connection:
        last = row(connection, "milestone_get", what="backup")
        tried = row(connection, "milestone_get", what="backup_tried")
    if last is None or now - last["at"] >= EVERY:
        file = folder / now.strftime(_NAME)
        backup(url, file, backup_key())
        with single(url) as connection:
            run(connection, "milestone_put", what="backup")
        said.append(f"daily backup: {file}")
    for left in folder.glob("*.part"):
        left.unlink()  # of a backup that was killed
    there = {at: f for f in folder.iterdir() if (at := made_at(f)) is not None}
    for moment in to_drop(there):
        there.pop(moment).unlink()
    if there and (tried is None or now - tried["at"] >= TRIED_EVERY):
        newest = there[max(there)]
        _try_newest(url, newest)
        with single(url) as connection:
            run(connection, "milestone_put", what="backup_tried")
        said.append(f"tried: {newest.name} comes back equal")
    return said
