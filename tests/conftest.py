"""Throwaway PostgreSQL for the whole run, an empty migrated database for each test, and servers
over a real port."""

import shutil
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from random import Random
from urllib.parse import urlsplit, urlunsplit
from uuid import uuid4

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
from launcher.machine import BROWSER
from tests.day import DEMO_DAY
from tests.server import Server, ServerProcess

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


# What takes longest comes first, so that no worker is left with it alone at the end.
LONGEST_FIRST = (
    "test_launcher.py",
    "test_fuzz.py",
    "browser",
    "test_faults.py",
    "api",
    "detection",
)


def shuffle(items: list[pytest.Item], chance: Random) -> None:
    """Files in any order, and the tests of each in any order; a file stays together, so that what
    its tests share is made once."""
    chance.shuffle(items)
    places = {path: n for n, path in enumerate(dict.fromkeys(i.path for i in items))}
    items.sort(key=lambda item: places[item.path])


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--shuffle", type=int, help="run the tests in the order of this number")


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    drawn = config.getoption("--shuffle")
    if drawn is not None:
        shuffle(items, Random(drawn))
        return

    def place(item: pytest.Item) -> int:
        parts = item.path.parts
        return next((n for n, word in enumerate(LONGEST_FIRST) if word in parts), 99)

    items.sort(key=place)


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
        found = p.chromium.launch(executable_path=shutil.which(BROWSER), args=CHROMIUM_FLAGS)
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


@contextmanager
def short_copy(template: str, what: str) -> Iterator[str]:
    """A copy that is dropped again when it is no longer used."""
    made = copy_of(template, what)
    yield made
    drop_database(made)


def copy_of(template: str, what: str) -> str:
    """A copy under a name no other test or worker uses."""
    return copy_database(template, f"keen_test_{what}_{uuid4().hex[:12]}")


@pytest.fixture(scope="session")
def new_database(template: str) -> Callable[[], str]:
    """Makes databases: each call a fresh copy of the template. They go with their server."""
    return lambda: copy_of(template, "empty")


@pytest.fixture(scope="session")
def unchanged_url(new_database: Callable[[], str]) -> str:
    """An empty database shared by tests that change nothing in it: what they try is refused or
    rolled back."""
    return new_database()


@pytest.fixture
def url(new_database: Callable[[], str]) -> str:
    """An empty database of this test's own."""
    return new_database()


@pytest.fixture
def serve() -> Iterator[Callable[[str], Server]]:
    """Serves a database in this process; everything started is stopped again."""
    running: list[Server] = []

    def start(url: str) -> Server:
        running.append(Server(url))
        return running[-1]

    yield start
    for server in running:
        server.stop()


@pytest.fixture
def serve_process(
    tmp_path_factory: pytest.TempPathFactory,
) -> Iterator[Callable[[str], ServerProcess]]:
    """Serves a database by a process of its own, for tests of processes; all are ended again."""
    running: list[ServerProcess] = []

    def start(url: str) -> ServerProcess:
        running.append(ServerProcess(url, tmp_path_factory.mktemp("server")))
        return running[-1]

    yield start
    for server in running:
        server.stop()


@pytest.fixture(scope="session")
def demo_template(cluster: str, template: str) -> str:
    """The demo as of a fixed day, to copy from."""

    def make(url: str) -> None:
        copy_database(template, url.rsplit("/", 1)[1])
        load(url, DEMO_DAY, lambda _: None)
        with single(url) as c:
            set_setting(c, "demo_loaded", DEMO_DAY.isoformat())

    return once(cluster, "template_demo", make)


@pytest.fixture(scope="session")
def demo_url(demo_template: str) -> Iterator[str]:
    """The demo as of a fixed day: read it, or copy it with `demo_copy`."""
    with short_copy(demo_template, "demo") as made:
        yield made


@pytest.fixture
def demo_copy(demo_template: str) -> Iterator[str]:
    """A copy of the demo that a test may change."""
    with short_copy(demo_template, "changing") as made:
        yield made
