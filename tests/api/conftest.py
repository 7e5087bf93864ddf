"""Servers for the tests of the contract."""

import pytest

from keen_tracer.storage.migrate import drop_database
from tests.conftest import Server, copy_of


@pytest.fixture(scope="module")
def server(demo_url, tmp_path_factory):
    """One server for the tests that leave the demo as it is; on a copy, since nobody else may be on
    a source of copies."""
    folder = tmp_path_factory.mktemp("server")
    mine = copy_of(demo_url, "api")
    running = Server(mine, folder / "address", folder / "log")
    yield running
    running.stop()
    drop_database(mine)


@pytest.fixture
def changing(demo_copy, serve):
    """A server on a copy of the demo that a test may change."""
    return serve(demo_copy)
