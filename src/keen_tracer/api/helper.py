"""A second process that serves on the same socket, where there are cores for it.

The first one judges; the helper wakes it through a pipe. A second pipe tells the helper that the
first one is there no more: then it ends too.
"""

import os
import signal
import socket
import subprocess
import sys
import threading
from pathlib import Path

import uvicorn

from ..exchange.processes import child_environment
from .app import create_app
from .logs import log_to_file

AGAIN_S = 1.0  # before a helper that ended by itself is started again; our choice


class Helper:
    """The helper as the first process sees it."""

    def __init__(self, url: str, pages: Path, uploads: Path, listening: socket.socket):
        self._arguments = [str(pages), str(uploads), str(listening.fileno())]
        self._listening, self._url = listening.fileno(), url
        self._woken, self._wakes = os.pipe()
        self._life, self._held = os.pipe()
        self._child: subprocess.Popen[bytes] | None = None
        self._ending = threading.Event()

    def start(self) -> None:
        threading.Thread(target=self._keep, daemon=True).start()

    def _keep(self) -> None:
        while not self._ending.is_set():
            self._child = subprocess.Popen(
                [
                    sys.executable,
                    "-m",
                    __name__,
                    *self._arguments,
                    str(self._wakes),
                    str(self._life),
                ],
                pass_fds=(self._listening, self._wakes, self._life),
                env={**child_environment(), "DATABASE_URL": self._url},
            )
            self._child.wait()
            self._ending.wait(AGAIN_S)

    def wait_for_wake(self) -> bool:
        """Blocks until the helper has something for the judge; False once there is no pipe."""
        return bool(os.read(self._woken, 64))

    def stop(self) -> None:
        self._ending.set()
        if self._child is not None:
            self._child.terminate()
            self._child.wait()


def _end_with(life: int) -> None:
    """Ends this process once nobody holds the other end any more."""
    os.read(life, 1)
    os.kill(os.getpid(), signal.SIGTERM)


def main() -> None:
    pages, uploads, listening, wakes, life = sys.argv[1:]
    log_to_file("keen-helper")
    threading.Thread(target=_end_with, args=(int(life),), daemon=True).start()

    def wake() -> None:
        os.write(int(wakes), b"!")

    app = create_app(os.environ["DATABASE_URL"], Path(pages), Path(uploads), wake)
    config = uvicorn.Config(app, log_level="warning", access_log=False, timeout_graceful_shutdown=2)
    uvicorn.Server(config).run(sockets=[socket.socket(fileno=int(listening))])


if __name__ == "__main__":
    main()
