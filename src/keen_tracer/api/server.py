"""Serve on loopback, on the wanted port or the next free one."""

import os
import socket
from pathlib import Path

import uvicorn

from .app import create_app
from .logs import log_to_file

FIRST_PORT = 8000


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


def run_server(url: str, port: int | None, address_file: Path | None) -> int:
    """Serve until stopped. The address is printed on a line of its own once the server answers."""
    pages = Path(os.environ.get("KEEN_PAGES", "web/build"))
    log_to_file()
    with listen(port) as s:
        config = uvicorn.Config(
            create_app(url, pages),
            log_level="warning",
            access_log=False,
            timeout_graceful_shutdown=2,
        )
        Announcing(config, f"http://127.0.0.1:{s.getsockname()[1]}", address_file).run(sockets=[s])
    return 0
