"""Servers for the tests of the contract."""

import pytest

from keen_tracer.storage.migrate import drop_database
from tests.conftest import copy_of
from tests.server import Server


@pytest.fixture(scope="module")
def server(demo_template):
    """One server for the tests that leave the demo as it is; on a copy, since nobody else may be on
    a source of copies."""
    mine = copy_of(demo_template, "api")
    running = Server(mine)
    yield running
    running.stop()
    drop_database(mine)


@pytest.fixture
def changing(demo_copy, serve):
    """A server on a copy of the demo that a test may change."""
    return serve(demo_copy)
