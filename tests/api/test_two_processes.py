"""Two processes on one socket are one server: what one takes in the other knows, and both end
together."""

import subprocess
from collections.abc import Iterator

import httpx
import pytest

from keen_tracer.storage.db import single
from keen_tracer.storage.records import number
from tests.server import ServerProcess
from tests.test_launcher import alive, wait_for


@pytest.fixture
def two(serve_process, url, monkeypatch: pytest.MonkeyPatch) -> ServerProcess:
    monkeypatch.setenv("KEEN_PROCESSES", "2")
    server = serve_process(url)
    wait_for(lambda: len(helpers(server)) == 1, "the helper did not start")
    return server


def helpers(server: ServerProcess) -> list[int]:
    found = subprocess.run(
        ["pgrep", "-P", str(server.process.pid), "-f", "api.helper"], capture_output=True, text=True
    )
    return [int(x) for x in found.stdout.split()]


def asked(server: ServerProcess) -> Iterator[httpx.Client]:
    """Clients on connections of their own: the system gives each to one of the two."""
    while True:
        with server.client() as c:
            yield c


def test_a_file_taken_in_by_one_is_imported_and_judged_by_either(two: ServerProcess) -> None:
    clients = asked(two)
    for n in range(8):
        text = f"engine,class\nE-{n},petrol\n"
        token = next(clients).post(
            "/api/exchange/files", params={"name": "engines.csv"}, content=text.encode()
        )
        body = {"tokens": [token.json()["token"]], "accept": False}
        seen = next(clients).post("/api/exchange/preview", json=body)
        assert seen.status_code == 200, seen.text
        done = next(clients).post("/api/exchange/import", json=body).json()
        assert (done["written"], done["problem_count"]) == (True, 0)

    def judged() -> bool:
        with single(two.url) as c:
            return number(c, "stale_count") == 0

    wait_for(judged, "what came in by the helper is never judged")
    totals = [next(clients).get("/api/wall").json()["total"] for _ in range(8)]
    assert totals == [8] * 8


def test_the_helper_comes_back_and_ends_with_its_server(two: ServerProcess) -> None:
    first = helpers(two)[0]
    subprocess.run(["kill", "-9", str(first)], check=True)
    wait_for(lambda: helpers(two) not in ([], [first]), "the helper did not come back")
    again = helpers(two)[0]
    two.process.kill()
    two.process.wait()
    wait_for(lambda: not alive(again), "the helper stayed behind")
