"""Pages ask for little again and again: what is held is not sent twice, what was written shows."""

import httpx
import pytest

from keen_tracer.core.terms import SYMPTOMS
from keen_tracer.usecases.pages.terms import SERVED
from tests.server import Server


@pytest.fixture(scope="module")
def reader(server: Server):
    with server.client("Mira Ostrand") as c:
        yield c


def mark(c: httpx.Client) -> int:
    return int(c.get("/api/state").json()["mark"])


def test_the_mark_stands_while_nothing_is_written(reader: httpx.Client) -> None:
    before = mark(reader)
    for path in ("/api/wall", "/api/queue", "/api/runs", "/api/engines/G-07"):
        assert reader.get(path).status_code == 200
    assert mark(reader) == before


def test_the_mark_moves_with_what_was_written_and_the_counts_with_it(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        before = c.get("/api/state").json()
        first = c.get("/api/queue").json()[0]
        body = {"level": first["level"], "basis": first["basis"], "supersedes": first["standing"]}
        assert c.post(f"/api/samples/{first['sample']}/sign", json=body).status_code == 200
        after = c.get("/api/state").json()
    assert after["mark"] > before["mark"]
    assert after["queue"] == before["queue"] - 1


def test_a_refused_write_leaves_the_mark(changing: Server) -> None:
    with changing.client("Runa Skarsel") as c:
        before = mark(c)
        assert c.post("/api/engines/G-01/run", json={"state": "hold"}).status_code == 422
        assert mark(c) == before


def test_a_sample_that_is_held_is_not_sent_again(reader: httpx.Client) -> None:
    code = reader.get("/api/queue").json()[0]["sample"]
    first = reader.get(f"/api/samples/{code}")
    again = reader.get(f"/api/samples/{code}", headers={"If-None-Match": first.headers["ETag"]})
    assert (again.status_code, again.content) == (304, b"")
    other = reader.get(f"/api/samples/{code}", headers={"If-None-Match": '"another"'})
    assert other.json() == first.json()


def test_a_signature_makes_the_held_page_old(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        first = c.get("/api/queue").json()[0]
        path = f"/api/samples/{first['sample']}"
        held = c.get(path).headers["ETag"]
        body = {"level": first["level"], "basis": first["basis"], "supersedes": first["standing"]}
        assert c.post(f"{path}/sign", json=body).status_code == 200
        now = c.get(path, headers={"If-None-Match": held})
        assert now.status_code == 200
        assert now.json()["decision"]["decided_by"] == "Mira Ostrand"
        assert now.headers["ETag"] != held


def test_the_runs_are_a_window_of_the_same_order(reader: httpx.Client) -> None:
    whole = reader.get("/api/runs").json()
    part = reader.get("/api/runs", params={"offset": 4, "limit": 3}).json()
    assert part["total"] == whole["total"] == len(whole["rows"])
    assert part["rows"] == whole["rows"][4:7]
    found = reader.get("/api/runs", params={"find": "G-07"}).json()
    assert [r["code"] for r in found["rows"]] == ["G-07"]


def test_the_vocabulary_names_every_word_the_pages_offer(reader: httpx.Client) -> None:
    terms = reader.get("/api/terms").json()
    assert [s["code"] for s in terms["symptoms"]] == [*SYMPTOMS]
    for name, choices in SERVED.items():
        assert [c["code"] for c in terms["lists"][name]] == [*choices]
