"""The program serving one database on a real port: as a thread of the test's own process, or as a
process where the test is about processes."""

import os
import socket
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from tempfile import TemporaryDirectory
from threading import Thread

import httpx
import uvicorn

from keen_tracer.api.app import create_app
from keen_tracer.api.server import GRACE_S, listen
from keen_tracer.cli import prepare
from launcher.paths import BUILD, ROOT

UP_S = 300  # a busy machine only makes the tests slower
PORTS_TRIED = 3


def free_port() -> int:
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return int(s.getsockname()[1])


def wait_until_up(address: str, lives: Callable[[], bool]) -> bool:
    """Whether the server answers, before it ends or the time is up."""
    until = time.monotonic() + UP_S
    while time.monotonic() < until and lives():
        try:
            if httpx.get(f"{address}/healthz").status_code == 200:
                return True
        except httpx.TransportError:
            pass
        time.sleep(0.02)
    return False


class Served:
    """A server with an address, whose clients are somebody."""

    url: str
    address: str

    @contextmanager
    def client(self, person: str | None = "Test Analyst") -> Iterator[httpx.Client]:
        """A client that is somebody, as the page's list of persons makes it."""
        with httpx.Client(base_url=self.address, timeout=120) as c:
            if person:
                found = next(p for p in c.get("/api/people").json() if p["name"] == person)
                c.post("/api/session", json={"person": found["id"]}).raise_for_status()
            yield c


class Server(Served):
    """The program in a thread of this process: no start of an interpreter, no import."""

    def __init__(self, url: str):
        prepare(url)
        self.url = url
        self._uploads = TemporaryDirectory(prefix="keen-test-uploads-")
        self._socket = listen(free_port())
        self.address = f"http://127.0.0.1:{self._socket.getsockname()[1]}"
        app = create_app(url, BUILD, Path(self._uploads.name))
        self._server = uvicorn.Server(
            uvicorn.Config(
                app,
                log_level="warning",
                access_log=False,
                timeout_graceful_shutdown=GRACE_S,
            )
        )
        self._thread = Thread(target=self._server.run, kwargs={"sockets": [self._socket]})
        self._thread.start()
        if not wait_until_up(self.address, self._thread.is_alive):
            raise RuntimeError("the server did not come up")

    def stop(self) -> None:
        self._server.should_exit = True
        self._thread.join()
        self._socket.close()
        self._uploads.cleanup()


class ServerProcess(Served):
    """The program as a process of its own, as the launcher starts it."""

    def __init__(self, url: str, folder: Path):
        self.url, self.home = url, folder / "home"
        address, log = folder / "address", folder / "log"
        env = {
            **os.environ,
            "KEEN_HOME": str(self.home),
            "KEEN_PROCESSES": os.environ.get("KEEN_PROCESSES", "1"),
            "DATABASE_URL": url,
            "KEEN_PAGES": str(BUILD),
            "PYTHONPATH": str(ROOT / "src"),
        }
        # Between finding a port free and taking it another process may take it.
        for _ in range(PORTS_TRIED):
            self.log = log.open("w")
            command = ["-m", "keen_tracer.cli", "serve", "--port", str(free_port())]
            self.process = subprocess.Popen(
                [sys.executable, *command, "--address-file", str(address)],
                env=env,
                stdout=self.log,
                stderr=subprocess.STDOUT,
            )
            if self._came_up(address):
                return
            self.stop()
            if "is taken" not in log.read_text():
                break
        raise RuntimeError(f"the server did not come up: {log.read_text()}")

    def _came_up(self, address: Path) -> bool:
        until = time.monotonic() + UP_S
        while time.monotonic() < until and self.process.poll() is None:
            if address.exists() and address.read_text():
                self.address = address.read_text()
                return wait_until_up(self.address, lambda: self.process.poll() is None)
            time.sleep(0.05)
        return False

    def stop(self) -> None:
        self.process.terminate()
        self.process.wait(timeout=120)
        self.log.close()
