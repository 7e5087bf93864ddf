"""Keeps PostgreSQL up for as long as somebody uses it, and ends it when nobody does any more.

Whoever uses the server holds a shared lock on the file `users` of its folder; the kernel lets go of
it when they end, however they end. The keeper is a process of its own: it starts the server again
on the same port when it dies, with a pause that grows, and stops it once it gets the lock alone. So
no command can take the server away from another, and a killed launcher leaves nothing behind.
"""

import contextlib
import ctypes
import fcntl
import os
import pwd
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import IO

LOOK_S = 0.2
LONGEST_PAUSE_S, LONG_UP_S = 30.0, 60.0  # our choice
_PR_SET_PDEATHSIG = 1  # of prctl(2)
_libc = ctypes.CDLL(None)


def ends_with_parent(how: int) -> Callable[[], None]:
    """For a new process, before it becomes its program: it gets signal `how` when its parent ends,
    also when that is killed."""

    def ask() -> None:
        _libc.prctl(_PR_SET_PDEATHSIG, how)

    return ask


def pauses() -> Iterator[float]:
    """Seconds to wait before the next try: 1, 2, 4 and so on up to the longest."""
    pause = 1.0
    while True:
        yield pause
        pause = min(2 * pause, LONGEST_PAUSE_S)


@contextlib.contextmanager
def locked(file: Path, how: int) -> Iterator[IO[str] | None]:
    """Hold a lock on a file; None where it cannot be had (only with LOCK_NB)."""
    with file.open("a+") as f:
        try:
            fcntl.flock(f, how)
        except BlockingIOError:
            yield None
            return
        yield f


def server_user() -> dict[str, object]:
    """As whom the server runs: never root."""
    if os.geteuid() != 0:
        return {}
    postgres = pwd.getpwnam("postgres")
    return {"user": postgres.pw_uid, "group": postgres.pw_gid, "extra_groups": []}


SERVER_ENV = {"PATH": "/usr/bin:/bin", "LC_ALL": "C.UTF-8", "HOME": "/tmp"}


class Keeper:
    """One server under care."""

    def __init__(self, folder: Path, command: list[str]):
        self.folder, self.command = folder, command
        self.child: subprocess.Popen[bytes] | None = None
        self.begun, self.next_try = 0.0, 0.0
        self.pauses = pauses()
        self.ending = False

    def _start(self) -> None:
        with (self.folder / "postgresql" / "server.log").open("ab") as log:
            self.child = subprocess.Popen(
                self.command,
                cwd="/",
                env=SERVER_ENV,
                stdin=subprocess.DEVNULL,
                stdout=log,
                stderr=log,
                preexec_fn=ends_with_parent(signal.SIGINT),
                **server_user(),
            )  # type: ignore[call-overload]
        self.begun = time.monotonic()

    def _look_after(self) -> None:
        """Start the server where it is not up: at once, then after pauses that grow."""
        now = time.monotonic()
        if self.child is not None:
            if self.child.poll() is None:
                return
            if now - self.begun > LONG_UP_S:
                self.pauses = pauses()
            self.child, self.next_try = None, now + next(self.pauses)
        if now >= self.next_try and not (self.folder / "paused").exists():
            self._start()

    def run(self) -> None:
        """Until nobody uses it, or somebody ends the keeper itself."""
        signal.signal(signal.SIGTERM, lambda *_: setattr(self, "ending", True))
        while not self.ending:
            with locked(self.folder / "users", fcntl.LOCK_EX | fcntl.LOCK_NB) as alone:
                if alone is not None:
                    self._stop()
                    return
            self._look_after()
            time.sleep(LOOK_S)
        self._stop()

    def _stop(self) -> None:
        if self.child is not None and self.child.poll() is None:
            self.child.send_signal(signal.SIGINT)  # "fast": PostgreSQL, "Shutting Down the Server"
            self.child.wait()


def main() -> int:
    folder = Path(sys.argv[1])
    with locked(folder / "keeper", fcntl.LOCK_EX | fcntl.LOCK_NB) as mine:
        if mine is None:
            return 3
        Keeper(folder, sys.argv[2:]).run()
    return 0


if __name__ == "__main__":
    sys.exit(main())
