"""Serve on loopback, on the wanted port or the next free one."""

import os
import socket
import threading
from collections.abc import Callable
from pathlib import Path
from tempfile import TemporaryDirectory

import uvicorn

from .app import create_app
from .helper import Helper
from .logs import log_to_file

FIRST_PORT = 8000
GRACE_S = 2  # for answers under way when the server ends; our choice


def listen(port: int | None) -> socket.socket:
    """A listening socket on 127.0.0.1: `port`, else 8000 or the next free one."""
    for candidate in [port] if port else range(FIRST_PORT, FIRST_PORT + 200):
        s = socket.socket()
        s.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            s.bind(("127.0.0.1", candidate))
            s.listen(128)
            return s
        except OSError:
            s.close()
    raise OSError(f"port {port or FIRST_PORT} is taken; choose another with --port")


class Announcing(uvicorn.Server):
    """Says where it is once it answers; by then a Ctrl-C is its own to handle."""

    def __init__(self, config: uvicorn.Config, address: str, address_file: Path | None):
        super().__init__(config)
        self._address, self._file = address, address_file

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        await super().startup(sockets)
        if self.started:
            if self._file:
                self._file.write_text(self._address)
            print(f"\n{self._address}\n\n  Keen Tracer is up. Stop it with Ctrl-C.", flush=True)


def _woken_by(helper: Helper, wake: Callable[[], None]) -> None:
    def listen() -> None:
        while helper.wait_for_wake():
            wake()

    threading.Thread(target=listen, daemon=True).start()


def _processes() -> int:
    """How many processes serve: two where there are cores for it, else as KEEN_PROCESSES says."""
    return int(os.environ.get("KEEN_PROCESSES") or min(2, os.cpu_count() or 1))


def run_server(url: str, port: int | None, address_file: Path | None) -> int:
    """Serve until stopped, by two processes where there are cores for it. The address is printed on
    a line of its own once the server answers."""
    pages = Path(os.environ.get("KEEN_PAGES", "web/build"))
    log_to_file()
    with listen(port) as s, TemporaryDirectory(prefix="keen-uploads-") as folder:
        app = create_app(url, pages, Path(folder))
        config = uvicorn.Config(
            app, log_level="warning", access_log=False, timeout_graceful_shutdown=GRACE_S
        )
        address = f"http://127.0.0.1:{s.getsockname()[1]}"
        helper = Helper(url, pages, Path(folder), s) if _processes() > 1 else None
        server = Announcing(config, address, address_file)
        if helper is not None:
            _woken_by(helper, lambda: app.state.context.wake())
            helper.start()
        try:
            server.run(sockets=[s])
        finally:
            if helper is not None:
                helper.stop()
    return 0
