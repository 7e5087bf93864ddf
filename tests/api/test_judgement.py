"""Expectation, parts, peers, policies and oil life over the wire."""

import httpx
import pytest


@pytest.fixture(scope="module")
def reader(server):
    with server.client("Mira Ostrand") as c:
        yield c


def newest(c: httpx.Client, engine: str) -> dict:
    samples = c.get(f"/api/engines/{engine}").json()["samples"]
    code = next(x["sample"] for x in reversed(samples) if x["arrived"])
    return c.get(f"/api/samples/{code}").json()


def test_a_ladder_carries_schools_and_expectation(reader: httpx.Client) -> None:
    found = newest(reader, "G-07")
    lead = next(x for x in found["ladders"] if x["symbol"] == "Pb")
    assert [s["letter"] for s in lead["schools"]] == ["P", "O"]
    assert lead["schools"][0]["why_not"].startswith("peers ")
    assert lead["schools"][1]["level"] in (0, 1, 2)
    assert lead["expected"]["low"] < lead["expected"]["value"] < lead["expected"]["high"]
    viscosity = next(x for x in found["ladders"] if x["symbol"] == "KV100")
    assert viscosity["expected"]["low"] < viscosity["expected"]["high"]
    calcium = next(x for x in found["ladders"] if x["symbol"] == "Ca")
    assert calcium["expected"] is None
    assert calcium["schools"][0]["why_not"]


def test_parts_are_scored_and_their_evidence_adds_up(reader: httpx.Client) -> None:
    found = newest(reader, "G-07")
    scores = [p["score"] for p in found["parts"]]
    assert scores == sorted(scores, reverse=True)
    for p in found["parts"]:
        told = sum(e["weight"] for e in (*p["speaks_for"], *p["against"]))
        assert p["score"] == pytest.approx(p["prior"] + told)
    # G-07 is opened: what could be looked at in it at rest was. P-03 has its cooler to test.
    assert newest(reader, "P-03")["checks"]
    assert found["verdict"]["peers"].startswith("peers ")


def test_a_quiet_sample_points_to_nothing(reader: httpx.Client) -> None:
    found = newest(reader, "G-06")
    assert found["verdict"]["level"] == 0
    assert found["parts"] == found["checks"] == []


def test_every_step_of_an_expectation_has_an_origin(reader: httpx.Client) -> None:
    code = newest(reader, "G-07")["sample"]
    steps = reader.get(f"/api/samples/{code}/how/Pb_ppm").json()["steps"]
    assert len(steps) == 7
    assert all(s["origin"] and s["formula"] for s in steps)


def test_an_engine_says_when_to_drain_and_draws_its_distance(reader: httpx.Client) -> None:
    engine = reader.get("/api/engines/G-07").json()
    assert engine["oil_life"]["drain"] in ("now", "at", "extend")
    assert engine["oil_life"]["words"].endswith(".")
    control = next(x for x in engine["control"] if x["symbol"] == "Fe")
    assert (
        len(control["z"])
        == len(control["ewma"])
        == len(control["cusum"])
        == len(control["samples"])
    )


def _weight(**more: object) -> dict[str, object]:
    return {"mode": "piston", "evidence": "Al", "seen": 1.0, "origin": "a test", **more}


@pytest.mark.parametrize(
    ("path", "body", "status"),
    [
        ("policy", {"scope": "engine", "scope_name": "G-99", "policy": "fixed_only"}, 422),
        ("policy", {"scope": "class", "scope_name": "boats", "policy": "fixed_only"}, 422),
        ("policy", {"scope": "class", "scope_name": "petrol", "policy": "by the moon"}, 422),
        ("policy", {"scope": "model", "scope_name": "x", "policy": "fixed_only"}, 422),
        ("longest-drain", {"times": 0.5}, 422),
        ("longest-drain", {"times": 9}, 422),
        ("longest-drain", {}, 422),
        ("second-person", {}, 422),
        ("second-person", {"asked": True}, 403),
        ("currency", {"currency": "kr"}, 403),
        ("currency", {"currency": "x" * 61}, 422),
        ("dial", {"per_100": 0}, 422),
        ("dial", {"per_100": 11}, 422),
        ("dial", {}, 422),
        ("dial/try", {"per_100": None}, 422),
        ("weights", {"name": "x", "rows": []}, 422),
        ("weights", {"name": "x", "rows": [_weight(mode="none")]}, 422),
        ("weights", {"name": "x", "rows": [_weight(evidence="none")]}, 422),
        ("weights", {"name": "x", "rows": [_weight(seen=11)]}, 422),
        ("weights", {"name": "x", "rows": [_weight(origin=" ")]}, 422),
        ("weights", {"name": " ", "rows": [_weight()]}, 422),
    ],
)
def test_what_makes_no_sense_is_refused(
    reader: httpx.Client, path: str, body: dict, status: int
) -> None:
    answer = reader.post(f"/api/library/{path}", json=body)
    assert answer.status_code == status, answer.text
    assert reader.get("/api/library/limits").json()["policies"]["class"] == {}


def test_nobody_in_particular_cannot_publish(server) -> None:
    with server.client(None) as c:
        assert c.post("/api/library/peers").status_code == 401


def test_publishing_over_the_wire_makes_a_version_with_what_it_changed(changing) -> None:
    with changing.client("Mira Ostrand") as c:
        before = c.get("/api/library/limits").json()["peers"]
        tried = c.post("/api/library/peers/try").json()
        assert c.get("/api/library/limits").json()["peers"] == before
        assert tried["samples"] > 400
        published = c.post("/api/library/peers").json()
        now = c.get("/api/library/limits").json()["peers"]
    assert now[0]["name"] == published["name"]
    assert now[0]["changes"]["samples"] == tried["samples"]
    assert len(now) == len(before) + 1
