"""Serve on loopback, on the wanted port or the next free one."""

import os
import socket
from pathlib import Path

import uvicorn

from .app import create_app

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


def run_server(url: str, port: int | None, address_file: Path | None) -> int:
    """Serve until stopped. The address is printed on a line of its own once the port is ours."""
    pages = Path(os.environ.get("KEEN_PAGES", "web/build"))
    with listen(port) as s:
        address = f"http://127.0.0.1:{s.getsockname()[1]}"
        if address_file:
            address_file.write_text(address)
        config = uvicorn.Config(create_app(url, pages), log_level="warning", access_log=False,
                                timeout_graceful_shutdown=2)
        server = uvicorn.Server(config)
        print(f"\n{address}\n\n  Keen Tracer is up. Stop it with Ctrl-C.", flush=True)
        server.run(sockets=[s])
    return 0
