"""Who may be on the list, who may put them there, and what a role does not let somebody do."""

import re

import httpx
import pytest

from keen_tracer.api.context import OPEN
from keen_tracer.core.roles import Actor, at_the_machine
from keen_tracer.storage.db import single
from keen_tracer.usecases.errors import CannotRecord
from keen_tracer.usecases.people import MOST, add_person
from tests.server import Server


@pytest.fixture
def fresh(serve, url) -> Server:
    return serve(url)


def test_nobody_without_a_name_adds_people(fresh: Server) -> None:
    with fresh.client(None) as c:
        answer = c.post("/api/people", json={"name": "Eve", "role": "releaser"})
    assert (answer.status_code, answer.json()["code"]) == (401, "who")


def test_the_very_first_person_adds_themselves_but_never_as_administrator(fresh: Server) -> None:
    with single(fresh.url) as c:
        c.execute("update person set active = false")
    with fresh.client(None) as c:
        assert c.post("/api/people", json={"name": "Eve", "role": "analyst"}).status_code == 401
    with single(fresh.url) as c:
        c.execute("reset role")
        c.execute("delete from person")
    with fresh.client(None) as c:
        no = c.post("/api/people", json={"name": "Eve", "role": "admin"})
        assert no.status_code in (403, 422)
        assert c.post("/api/people", json={"name": "Eve", "role": "analyst"}).status_code == 200
        assert c.post("/api/people", json={"name": "Eva", "role": "analyst"}).status_code == 401


@pytest.mark.parametrize("name", ["test releaser", "Tеst Releaser", "Test\u200b Releaser", "  "])
def test_a_name_that_reads_like_another_is_refused(fresh: Server, name: str) -> None:
    with fresh.client() as c:
        answer = c.post("/api/people", json={"name": name, "role": "technician"})
    assert answer.status_code == 422
    assert answer.json()["message"]


def test_the_list_ends(url: str) -> None:
    with single(url) as c:
        for n in range(MOST - 3):
            add_person(c, f"Person {n}", "technician", Actor("Test Analyst", "analyst"))
        with pytest.raises(CannotRecord, match="200 people"):
            add_person(c, "One more", "technician", Actor("Test Analyst", "analyst"))


@pytest.mark.parametrize(
    ("route", "body"),
    [
        ("/api/library/peers", None),
        ("/api/library/longest-drain", {"times": 2}),
        ("/api/library/dial", {"per_100": 1}),
        ("/api/library/dial", {"per_100": None}),
        (
            "/api/library/weights",
            {"name": "x", "rows": [{"mode": "piston", "evidence": "Al", "seen": 1, "origin": "x"}]},
        ),
        (
            "/api/library/policy",
            {"scope": "class", "scope_name": "petrol", "policy": "fixed_only", "reason": "x"},
        ),
        (
            "/api/library/limits",
            {
                "name": "mine",
                "rows": [
                    {
                        "scope": "class",
                        "scope_name": "petrol",
                        "analyte": "Fe_ppm",
                        "basis": "conc",
                        "watch": 900,
                        "act": 999,
                        "origin": "x",
                    }
                ],
            },
        ),
    ],
)
def test_a_technician_changes_nothing_that_judges(fresh: Server, route: str, body) -> None:
    with fresh.client("Test Technician") as c:
        answer = c.post(route, json=body)
    assert (answer.status_code, answer.json()["code"]) == (403, "not_allowed")
    assert "an analyst does" in answer.json()["message"]


def test_errors_say_who_may(fresh: Server) -> None:
    with httpx.Client(base_url=fresh.address) as c:
        assert c.post("/api/library/peers").status_code == 401


def test_a_role_is_given_and_taken_by_an_administrator_alone(fresh: Server) -> None:
    with fresh.client() as c:
        assert c.post("/api/people", json={"name": "Eve", "role": "releaser"}).status_code == 403
        assert c.post("/api/people", json={"name": "Eve", "role": "technician"}).status_code == 200
        assert c.put("/api/people/Eve/role", json={"role": "releaser"}).status_code == 403
    with single(fresh.url) as c:
        add_person(c, "Root", "admin", at_the_machine("root"))
    with fresh.client("Root") as c:
        given = c.put("/api/people/Eve/role", json={"role": "releaser"})
        assert given.json()["role"] == "releaser"
        taken = c.put("/api/people/Eve/role", json={"role": "technician"})
        assert taken.json()["role"] == "technician"
        assert c.put("/api/people/Eve/role", json={"role": "admin"}).status_code == 403
        assert c.put("/api/people/Nobody/role", json={"role": "analyst"}).status_code == 404


def get_routes(server: Server) -> list[str]:
    with server.client(None) as c:
        paths = c.get("/api/openapi.json").json()["paths"]
    return [p for p, ways in paths.items() if "get" in ways and p.startswith("/api/")]


def test_a_stranger_reads_nothing_but_what_choosing_a_name_needs(fresh: Server) -> None:
    """45 routes and whole exports answered strangers once."""
    answered = []
    with fresh.client(None) as c:
        for path in get_routes(fresh):
            filled = re.sub(r"{[^}]+}", "x", path)
            if c.get(filled).status_code != 401:
                answered.append(path)
    assert set(answered) <= {*OPEN, "/api/calendars/{secret}.ics"}
    assert len(get_routes(fresh)) > 50


def test_the_demo_shows_its_pages_and_writes_nothing_before_a_name_is_chosen(changing) -> None:
    with changing.client(None) as c:
        assert c.get("/api/wall").status_code == 200
        assert c.post("/api/engines/G-01/log", json={}).status_code in (401, 422)
        body = {"opened_from": "run", "id": "0b9ff5ea-58a8-4c4f-8d5d-2d0ac0b5f2a1"}
        assert c.post("/api/engines/G-01/cases", json=body).status_code == 401
