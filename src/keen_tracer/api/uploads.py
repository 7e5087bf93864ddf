"""Files on their way in, in a folder that every process of this server shares."""

import hashlib
import re
from pathlib import Path
from time import time
from uuid import uuid4

KEPT_S, MOST_FILES = 86_400, 100  # of uploads nobody imported; our choice


def safe_name(name: str) -> str:
    """A name of a file as it may be kept and shown.

    >>> safe_name("C:\\\\lab\\\\N 881*.csv"), safe_name("../../etc")
    ('N 881_.csv', 'etc')
    """
    return re.sub(r"[^\w. ()-]", "_", name.rsplit("/", 1)[-1].rsplit("\\", 1)[-1]) or "file"


class Uploads:
    """The uploads of one server. A token is all a page gets of a file."""

    def __init__(self, folder: Path):
        self.folder = folder

    def _name(self, token: str) -> Path:
        return self.folder / f"{token}.name"

    def new(self, name: str) -> tuple[str, Path]:
        """A token, and where the file goes. Files nobody imported go after a day, and the oldest
        once there are many."""
        aged = sorted(self.folder.glob("*.name"), key=lambda f: f.stat().st_mtime)
        old = [f for f in aged if time() - f.stat().st_mtime > KEPT_S]
        for file in {*old, *aged[: max(0, len(aged) - MOST_FILES + 1)]}:
            self.drop(file.stem)
        token = uuid4().hex
        self._name(token).write_text(name, encoding="utf-8")
        return token, self.folder / token

    def get(self, token: str) -> tuple[str, Path] | None:
        """The name and the place of a file, if it is still here."""
        path = self.folder / token
        if not re.fullmatch(r"[0-9a-f]{32}", token) or not path.is_file():
            return None
        return self._name(token).read_text(encoding="utf-8"), path

    def beside(self, token: str) -> Path:
        """Where what is made of a file goes; it goes with the file."""
        return self.folder / f"{token}.made"

    def drop(self, token: str) -> None:
        for file in (self.folder / token, *self.folder.glob(f"{token}.*")):
            file.unlink(missing_ok=True)


class SharedProgress:
    """How far one person's import is, and whether it is to stop: known to every process."""

    def __init__(self, folder: Path, person: str):
        mark = hashlib.sha256(person.encode()).hexdigest()[:16]
        self._rows, self._stop = folder / f"{mark}.rows", folder / f"{mark}.stop"

    def begin(self) -> None:
        self._stop.unlink(missing_ok=True)
        self.told(0)

    def end(self) -> None:
        self._rows.unlink(missing_ok=True)
        self._stop.unlink(missing_ok=True)

    @property
    def rows(self) -> int | None:
        """Rows read so far; None where no import is under way."""
        try:
            return int(self._rows.read_text() or 0)
        except FileNotFoundError:
            return None

    def told(self, rows: int) -> None:
        self._rows.write_text(str(rows))

    def stop(self) -> None:
        if self._rows.exists():
            self._stop.touch()

    def stopped(self) -> bool:
        return self._stop.exists()
