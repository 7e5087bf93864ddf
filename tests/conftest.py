"""Throwaway PostgreSQL for the whole run, an empty migrated database for each test, and servers
over a real port."""

import os
import socket
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import date
from pathlib import Path
from urllib.parse import urlsplit, urlunsplit
from uuid import uuid4

import httpx
import psycopg
import pytest
from hypothesis import settings
from playwright.sync_api import Browser, sync_playwright

from keen_tracer.core.limits import default_limits
from keen_tracer.demo.load import load
from keen_tracer.storage.db import single
from keen_tracer.storage.migrate import copy_database, drop_database, ensure_database, migrate
from keen_tracer.storage.records import publish_limits, run, set_setting
from keen_tracer.usecases.judging.judging import follow_rules
from launcher.cluster import Cluster
from launcher.paths import BUILD, ROOT

# The same examples every time, and no test may fail for being slow.
settings.register_profile("keen", deadline=None, derandomize=True)
settings.load_profile("keen")

PEOPLE = [
    ("Test Analyst", "analyst"),
    ("Test Technician", "technician"),
    ("Test Releaser", "releaser"),
]


def pytest_configure_node(node) -> None:  # type: ignore[no-untyped-def]
    """Several workers share one server: the process that leads them starts it for the first."""
    if not hasattr(node.config, "keen_cluster"):
        node.config.keen_cluster = Cluster.temporary()
        node.config.keen_cluster.start()
    node.workerinput["cluster"] = node.config.keen_cluster.url("postgres")


def pytest_unconfigure(config: pytest.Config) -> None:
    if hasattr(config, "keen_cluster"):
        config.keen_cluster.stop()


CHROMIUM_FLAGS = [
    f"--{flag}"
    for flag in (
        "headless",
        "no-sandbox",
        "disable-gpu",
        "disable-quic",
        "no-first-run",
        "disable-background-networking",
        "disable-component-update",
        "disable-sync",
    )
]


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    """Headless Chromium from Debian's package."""
    with sync_playwright() as p:
        found = p.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM_FLAGS)
        yield found
        found.close()


@pytest.fixture(scope="session")
def cluster(request: pytest.FixtureRequest) -> Iterator[str]:
    """The address of the maintenance database of a throwaway server, shared by all workers."""
    shared = getattr(request.config, "workerinput", {}).get("cluster")
    if shared:
        yield shared
        return
    made = Cluster.temporary()
    try:
        made.start()
        yield made.url("postgres")
    finally:
        made.stop()


def at(url: str, name: str) -> str:
    return urlunsplit(urlsplit(url)._replace(path=f"/{name}"))


def once(cluster: str, name: str, make: Callable[[str], None]) -> str:
    """A database that the first worker to want it makes, and that nobody connects to afterwards."""
    url = at(cluster, name)
    with psycopg.connect(cluster, autocommit=True) as c:
        c.execute("select pg_advisory_lock(hashtext('keen tests'))")
        if not c.execute("select 1 from pg_database where datname = %s", [name]).fetchone():
            make(url)
    return url


def _empty(url: str) -> None:
    ensure_database(url)
    migrate(url)
    with single(url) as c:
        limits = default_limits()
        publish_limits(c, limits.name, "Keen Tracer", limits.rows)
        follow_rules(c)
        for name, role in PEOPLE:
            run(c, "person_put", name=name, role=role)


@pytest.fixture(scope="session")
def template(cluster: str) -> str:
    """A migrated database with the default limits and three persons, to copy from."""
    return once(cluster, "template_keen", _empty)


def copy_of(template: str, what: str) -> str:
    """A copy under a name no other test or worker uses."""
    return copy_database(template, f"keen_test_{what}_{uuid4().hex[:12]}")


@pytest.fixture(scope="session")
def new_database(template: str) -> Iterator[Callable[[], str]]:
    """Makes databases: each call a fresh copy of the template."""
    made: list[str] = []

    def make() -> str:
        made.append(copy_of(template, "empty"))
        return made[-1]

    yield make
    for url in made:
        drop_database(url)


@pytest.fixture
def url(new_database: Callable[[], str]) -> str:
    """An empty database of this test's own."""
    return new_database()


PORTS_TRIED = 3


class Server:
    """The program serving one database on a real port, as a process of its own."""

    def __init__(self, url: str, address: Path, log: Path):
        self.url, self.home = url, address.parent / "home"
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
        until = time.monotonic() + 300
        while time.monotonic() < until and self.process.poll() is None:
            if address.exists() and address.read_text():
                self.address = address.read_text()
                try:
                    if httpx.get(f"{self.address}/healthz").status_code == 200:
                        return True
                except httpx.TransportError:
                    pass
            time.sleep(0.05)
        return False

    def stop(self) -> None:
        self.process.terminate()
        self.process.wait(timeout=120)
        self.log.close()

    @contextmanager
    def client(self, person: str | None = "Test Analyst") -> Iterator[httpx.Client]:
        """A client that is somebody, as the page's list of persons makes it."""
        with httpx.Client(base_url=self.address, timeout=120) as c:
            if person:
                found = next(p for p in c.get("/api/people").json() if p["name"] == person)
                c.post("/api/session", json={"person": found["id"]}).raise_for_status()
            yield c


def free_port() -> int:
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return int(s.getsockname()[1])


@pytest.fixture
def serve(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Callable[[str], Server]]:
    """Serves a database; everything started is stopped again."""
    running: list[Server] = []

    def start(url: str) -> Server:
        folder = tmp_path_factory.mktemp("server")
        running.append(Server(url, folder / "address", folder / "log"))
        return running[-1]

    yield start
    for server in running:
        server.stop()


@pytest.fixture(scope="session")
def demo_template(cluster: str, template: str) -> str:
    """The demo as of a fixed day, to copy from."""

    def make(url: str) -> None:
        copy_database(template, url.rsplit("/", 1)[1])
        load(url, date(2026, 11, 24), lambda _: None)
        with single(url) as c:
            set_setting(c, "demo_loaded", "2026-11-24")

    return once(cluster, "template_demo", make)


@pytest.fixture(scope="session")
def demo_url(demo_template: str) -> Iterator[str]:
    """The demo as of a fixed day: read it, or copy it with `demo_copy`."""
    made = copy_of(demo_template, "demo")
    yield made
    drop_database(made)


@pytest.fixture
def demo_copy(demo_template: str) -> Iterator[str]:
    """A copy of the demo that a test may change."""
    made = copy_of(demo_template, "changing")
    yield made
    drop_database(made)
