"""Collect over the wire: the round, bottles sent twice, words for what does not fit."""

from uuid import uuid4

from tests.day import DEMO_DAY
from tests.server import Server


def bottle(**more):
    return {
        "id": str(uuid4()),
        "sample": "9001",
        "engine": "G-08",
        "on": DEMO_DAY.isoformat(),
        "dial": 99999,
        "appearance": "dark",
        **more,
    }


def test_a_round_and_a_bottle_that_is_sent_twice(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        found = c.get("/api/round", params={"on": DEMO_DAY.isoformat()}).json()
        assert [d["code"] for d in found["depots"]] == ["valley", "mid", "summit"]
        assert found["stops"]
        assert all(s["steps"][0]["caution"] for s in found["stops"])
        b = bottle(sample=str(found["next_label"]))
        for _ in range(2):
            answer = c.post("/api/bottles", json=b)
            assert answer.status_code == 200, answer.text
            said = answer.json()
            assert (said["id"], said["sample"]) == (b["id"], b["sample"])
            # asked while the dial is still in sight
            assert {q["code"] for q in said["queries"]} == {"over_24_h", "late_oil"}
            assert said["state"]["may_run"] == "runs"
        assert (
            c.get("/api/round", params={"on": DEMO_DAY.isoformat()}).json()["next_label"]
            == found["next_label"] + 1
        )
        taken = c.post("/api/bottles", json=bottle(sample=b["sample"], engine="G-01"))
        assert taken.status_code == 422
        assert "registered already: G-08" in taken.json()["message"]


def test_what_does_not_fit_is_said_and_nothing_is_written(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        for more, words in (
            ({"dial": 3}, "is below"),
            ({"engine": "NOPE"}, "There is no engine NOPE"),
            ({"sample": "a/b"}, "sample"),
            ({"dial": -1}, "dial"),
            ({"on": "2031-01-01"}, "future"),
        ):
            answer = c.post("/api/bottles", json=bottle(**more))
            assert answer.status_code == 422, more
            assert words in answer.json()["message"]
        assert c.post("/api/bottles", json=bottle()).status_code == 200


def test_an_event_is_logged_and_taken_back_by_who_logged_it(changing: Server) -> None:
    event = {"id": str(uuid4()), "on": DEMO_DAY.isoformat(), "kind": "repair", "part": "water pump"}
    with changing.client("Jon Tveld") as t, changing.client("Mira Ostrand") as a:
        assert t.post("/api/engines/G-08/log", json=event).status_code == 200
        words = [e["words"] for e in a.get("/api/engines/G-08").json()["events"]]
        assert "repair · water pump" in words
        assert a.post(f"/api/log/{event['id']}/undo").status_code == 422
        assert t.post(f"/api/log/{event['id']}/undo").status_code == 200
        assert "repair · water pump" not in [
            e["words"] for e in a.get("/api/engines/G-08").json()["events"]
        ]
        assert t.post(f"/api/log/{uuid4()}/undo").status_code == 422


def test_nobody_in_particular_may_not_write(changing: Server) -> None:
    with changing.client(None) as c:
        assert c.post("/api/bottles", json=bottle()).status_code == 401
        assert c.get("/api/stops/G-08").status_code == 200
        assert c.get("/api/stops/NOPE").status_code == 404
