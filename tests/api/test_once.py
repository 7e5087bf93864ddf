"""A press sent twice, a session that ends, headers on every answer, and a log without names."""

import re
import threading
from collections.abc import Iterator
from pathlib import Path
from uuid import uuid4

import httpx
import pytest

from keen_tracer.api.bodies import FILES, JSON_LIMIT
from keen_tracer.storage.db import single
from tests.server import Server

HEADERS = (
    "content-security-policy",
    "x-content-type-options",
    "referrer-policy",
    "x-frame-options",
)


@pytest.fixture
def fresh(serve, url) -> Server:
    with single(url) as c:
        c.execute("insert into engine (code, class) values ('E-1', 'petrol'), ('E-2', 'petrol')")
    return serve(url)


def hold(c: httpx.Client, key: str, engine: str = "E-1", reason: str = "seen") -> httpx.Response:
    return c.post(
        f"/api/engines/{engine}/run",
        json={"state": "hold", "reason": reason},
        headers={"Idempotency-Key": key},
    )


def decisions(server: Server) -> int:
    with single(server.url) as c:
        found = c.execute("select count(*) from decision").fetchone()
    return int(found[0]) if found else 0


def test_the_same_press_gets_the_first_answer_and_another_one_is_told(fresh: Server) -> None:
    key = str(uuid4())
    with fresh.client() as c, fresh.client("Test Technician") as other:
        first = hold(c, key)
        assert hold(c, key).json() == first.json()
        for answer in (hold(c, key, engine="E-2"), hold(c, key, reason="x"), hold(other, key)):
            assert (answer.status_code, answer.json()["constraint"]) == (409, "key_reused")
    assert decisions(fresh) == 1


def test_a_row_that_is_there_is_no_answer_for_an_engine_that_is_not(fresh: Server) -> None:
    look = {"id": str(uuid4()), "on": "2026-01-05", "place": "filter"}
    with fresh.client() as c:
        for engine, status in (("E-1", 200), ("E-1", 200), ("E-9", 422)):
            answer = c.post(f"/api/engines/{engine}/looks", json=look)
            assert answer.status_code == status, answer.text
        assert answer.json()["message"] == "There is no engine E-9. Nothing was written."


def test_the_loser_of_a_race_gets_the_first_answer(fresh: Server) -> None:
    key, answers = str(uuid4()), []

    def press() -> None:
        with fresh.client() as c:
            answers.append(hold(c, key))

    both = [threading.Thread(target=press) for _ in range(6)]
    for one in both:
        one.start()
    for one in both:
        one.join()
    assert {a.status_code for a in answers} == {200}
    assert len({a.json()["decision"] for a in answers}) == 1
    assert decisions(fresh) == 1


def test_signing_out_ends_the_session_on_the_server_too(fresh: Server) -> None:
    with fresh.client() as c:
        cookies = dict(c.cookies)
        assert c.get("/api/state").json()["person"]["name"] == "Test Analyst"
        assert c.delete("/api/session").status_code == 200
        with httpx.Client(base_url=fresh.address, cookies=cookies) as again:
            assert again.get("/api/state").json()["person"] is None


def test_a_session_ends_by_itself(fresh: Server) -> None:
    with fresh.client() as c:
        with single(fresh.url) as db:
            db.execute("update session set created_at = keen_now() - interval '31 days'")
        assert c.get("/api/state").json()["person"] is None


def test_two_installations_do_not_sign_each_other_out(fresh: Server, serve, new_database) -> None:
    """Cookies know no ports: both run on 127.0.0.1."""
    other = new_database()
    with single(other) as c:
        c.execute("""update setting set value = '"ffff0000"' where key = 'installation'""")
    second = serve(other)
    with fresh.client() as one, second.client("Test Technician") as two:
        jar = {**dict(one.cookies), **dict(two.cookies)}
    assert len(jar) == 2
    for server, name in ((fresh, "Test Analyst"), (second, "Test Technician")):
        with httpx.Client(base_url=server.address, cookies=jar) as c:
            assert c.get("/api/state").json()["person"]["name"] == name


@pytest.mark.parametrize(
    ("path", "headers"),
    [
        ("/api/state", {}),
        ("/wall", {}),
        ("/api/nothing", {}),
        ("/" + "x" * 300, {}),
        ("/%00", {}),
        ("/api/engines/%00", {}),
        ("/api/wall", {"Host": "evil.example"}),
        ("/api/round?on=9999-12-31", {}),
        ("/api/labels/99999999999999999999.pdf", {}),
    ],
)
def test_security_headers_stand_on_every_answer(server: Server, path: str, headers) -> None:
    answer = httpx.get(f"{server.address}{path}", headers=headers)
    assert answer.status_code < 500
    assert all(name in answer.headers for name in HEADERS)


def test_what_nobody_foresaw_is_told_with_its_headers_and_found_in_the_log(
    url: str, serve_process
) -> None:
    fresh = serve_process(url)
    with single(fresh.url) as c:
        c.execute("reset role")
        c.execute("drop view decision_now cascade")
    with fresh.client() as c:
        answer = c.get("/api/runs")
    assert answer.status_code == 500
    assert all(name in answer.headers for name in HEADERS)
    assert "before you write it a second time" in answer.json()["message"]
    log = Path(fresh.home) / "log" / "keen.log"
    said = log.read_text()
    assert answer.json()["incident"] in said
    assert re.search(r"/api/session person=\S+ POST 200", said)
    assert log.stat().st_mode & 0o077 == 0
    assert "Test Analyst" not in said
    assert "decision_now" not in said.split("comes from here")[-1].rsplit("\n", 1)[-1]


def test_the_openapi_says_what_can_go_wrong_and_who_is_asked_for(fresh: Server) -> None:
    with fresh.client(None) as c:
        contract = c.get("/api/openapi.json").json()
    assert contract["components"]["securitySchemes"]["session"]["in"] == "cookie"
    sign = contract["paths"]["/api/samples/{code}/sign"]["post"]
    assert {"401", "403", "404", "409", "413", "422", "503"} <= set(sign["responses"])
    for status in ("401", "409", "422"):
        said = sign["responses"][status]["content"]["application/json"]["schema"]
        assert said["$ref"].endswith("/ErrorOut")


def test_a_body_without_end_is_refused_before_it_is_taken(fresh: Server) -> None:
    def parts() -> Iterator[bytes]:
        yield b'{"state": "hold", "reason": "'
        for _ in range(64):
            yield b"x" * 65_536

    where = "/api/engines/E-1/run"
    with fresh.client() as c:
        told = c.post(where, content=b"x" * (JSON_LIMIT + 1))
        counted = c.post(where, content=parts())
        typed = c.post(
            where, content=b"x" * (JSON_LIMIT + 1), headers={"content-type": "text/plain"}
        )
    assert [a.status_code for a in (told, counted, typed)] == [413, 413, 413]
    assert "takes up to 2 MB" in counted.json()["message"]
    assert all(told.headers[h] for h in HEADERS)
    assert decisions(fresh) == 0


def test_every_route_that_takes_a_file_counts_it_itself(fresh: Server) -> None:
    """A route that reads its body by itself is one of those the limit of JSON leaves to it."""
    with fresh.client(None) as c:
        paths = c.get("/api/openapi.json").json()["paths"]
    bodiless = {
        path
        for path, methods in paths.items()
        if "application/octet-stream"
        in methods.get("post", {}).get("requestBody", {}).get("content", {})
    }
    assert bodiless
    assert all(FILES.fullmatch(re.sub(r"\{\w+\}", "x", path)) for path in bodiless)
