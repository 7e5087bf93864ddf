"""Inspect over the wire: a tray tried and kept, photographs in small, lines that measure."""

import io
from uuid import uuid4

import pytest

from keen_tracer.standins.tray_pictures import tray_picture
from tests.day import DEMO_DAY
from tests.server import Server

PIN = {"known_mm": 20.0, "known_sd_mm": 0.1, "known_from": "a pin"}


def a_look(**more):
    return {
        "id": str(uuid4()),
        "on": DEMO_DAY.isoformat(),
        "place": "filter",
        "tool": "roller_cutter",
        "both_sides": True,
        "note": "",
        "counts": [],
        **more,
    }


def count(kind: str, size: str = "", n: int = 0, amount: str = ""):
    return {"type": kind, "size_class": size, "count": n, "amount": amount}


def line(kind: str, p, **more):
    ends = {"x1": p.x1, "y1": p.y1, "x2": p.x2, "y2": p.y2}
    return {"id": str(uuid4()), "kind": kind, "type": "", "known_from": "", **ends, **more}


def test_a_tray_is_tried_without_a_trace_and_kept_once(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        before = len(c.get("/api/looks", params={"engine": "G-08"}).json())
        body = a_look(
            seen=15,
            whole=60,
            hours=200,
            counts=[count("copper_flakes", "0.5-1", 12), count("fuzz", amount="dusting")],
        )
        tried = c.post("/api/engines/G-08/look", json=body)
        assert tried.status_code == 200, tried.text
        said = tried.json()
        assert said["level"] == 3, "12 on a quarter are 48 on the whole"
        copper = next(r for r in said["rates"] if r["type"] == "copper_flakes")
        # 12 on a quarter of the pleats: 48 on all of them, 24 per 100 h.
        assert copper["whole"]["value"] == pytest.approx(48)
        assert copper["per_100"]["value"] == pytest.approx(24)
        assert said["parts"][0]["code"] == "main_rod_bearing"
        assert said["keep"]
        assert said["clears_iron_only"] is False
        assert len(c.get("/api/looks", params={"engine": "G-08"}).json()) == before
        for _ in range(2):
            kept = c.post("/api/engines/G-08/looks", json=body)
            assert kept.status_code == 200, kept.text
        listed = c.get("/api/looks", params={"engine": "G-08"}).json()
        assert len(listed) == before + 1
        assert listed[0]["found"] == "copper-coloured flakes 12, fine magnetic fuzz a dusting"
        found = c.get(f"/api/looks/{body['id']}").json()
        assert (found["pleats"], found["pleats_total"], found["hours"]) == (15, 60, 200)
        assert found["tells"]["level"] == 3, "12 on a quarter are 48 on the whole"
        bag = c.get(f"/api/looks/{body['id']}/bag.pdf")
        assert (bag.status_code, bag.content[:5]) == (200, b"%PDF-")
        c.post(f"/api/log/{body['id']}/undo")
        assert c.get(f"/api/looks/{body['id']}").status_code == 404


def test_under_stop_nothing_that_turns_the_engine_is_offered(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        body = a_look(counts=[count("copper_flakes", "0.5-1", 3)])
        said = c.post("/api/engines/G-07/look", json=body).json()
        assert {x["at"] for x in said["checks"]} <= {"engine at rest"}
        chunk = a_look(counts=[count("chunk", "over 3", 1)])
        said = c.post("/api/engines/G-08/look", json=chunk).json()
        assert said["level"] == 3
        assert {x["at"] for x in said["checks"]} <= {"engine at rest"}


@pytest.mark.parametrize(
    "more",
    [
        {"seen": 61, "whole": 60},
        {"seen": 0, "whole": 60},
        {"place": "pocket"},
        {"tool": "teeth"},
        {"counts": [count("gold", "0.5-1", 3)]},
        {"counts": [count("fuzz", "huge", 3)]},
        {"counts": [count("fuzz", "0.5-1", 3), count("fuzz", "0.5-1", 4)]},
        {"counts": [count("fuzz", amount="lots")]},
        {"counts": [count("fuzz", "0.5-1", -3)]},
        {"hours": -1},
        {"drained_min": "nan"},
    ],
)
def test_a_tray_that_means_nothing_is_refused_and_nothing_is_written(
    server: Server, more: dict
) -> None:
    with server.client("Jon Tveld") as c:
        before = c.get("/api/looks").json()
        answer = c.post("/api/engines/G-08/looks", json=a_look(**more))
        assert answer.status_code == 422, answer.text
        assert answer.json()["message"]
        assert c.get("/api/looks").json() == before


def test_a_measured_piece_changes_what_the_look_says(changing: Server) -> None:
    """Ten small ones counted, one of 3.5 mm measured: a large bearing flake is a Stop, counted or
    not; taken back, the look says again what was counted."""
    drawn = tray_picture(4, (("copper_flakes", 3.5),), pin_mm=20.0)
    pin, piece = drawn.placed
    with changing.client("Jon Tveld") as c:
        body = a_look(counts=[count("copper_flakes", "0.1-0.5", 10)])
        c.post("/api/engines/G-08/looks", json=body)
        counted = c.get(f"/api/looks/{body['id']}").json()["tells"]["level"]
        photo = str(uuid4())
        c.post(f"/api/log/{body['id']}/photos/{photo}", content=drawn.jpeg)
        where = f"/api/pictures/{photo}/lines"
        c.post(where, json=line("scale", pin, **PIN))
        one = line("particle", piece, type="copper_flakes")
        c.post(where, json=one)
        found = c.get(f"/api/looks/{body['id']}").json()
        assert found["measured"] == [{"type": "copper_flakes", "size_class": "over 3", "count": 1}]
        assert found["tells"]["level"] == 3
        assert c.get("/api/stops/G-08").json()["state"]["may_run"] == "do_not_run"
        back = {"id": str(uuid4()), "kind": "withdraw", "withdraws": one["id"]}
        c.post(where, json={**back, "type": "", "known_from": ""})
        again = c.get(f"/api/looks/{body['id']}").json()
        assert (again["measured"], again["tells"]["level"]) == ([], counted)
        # A Stop that was raised stands until a release, whatever became of its line.
        assert c.get("/api/stops/G-08").json()["state"]["may_run"] == "do_not_run"


def test_a_picture_of_a_finding_is_measured_beside_another(changing: Server) -> None:
    drawn = tray_picture(4, (("slivers", 2.5),), pin_mm=20.0)
    with changing.client("Jon Tveld") as c:
        findings = c.get("/api/engines/G-07/opened").json()["findings"]
        keys = [str(uuid4()), str(uuid4())]
        for key, finding in zip(keys, findings[:2], strict=True):
            sent = c.post(f"/api/log/{finding['id']}/photos/{key}", content=drawn.jpeg)
            assert sent.status_code == 200, sent.text
        c.post(f"/api/pictures/{keys[0]}/lines", json=line("scale", drawn.placed[0], **PIN))
        found = c.get(f"/api/pictures/{keys[0]}").json()
        assert found["picture"]["lines"][0]["known_mm"] == 20.0
        assert found["words"].startswith("pan")
        assert keys[1] in [o["id"] for o in found["others"]]
        assert c.get(f"/api/pictures/{uuid4()}").status_code == 404


def test_a_piece_is_measured_by_the_pin_and_taken_back(changing: Server) -> None:
    drawn = tray_picture(4, (("copper_flakes", 2.5),), pin_mm=20.0)
    pin, piece = drawn.placed
    with changing.client("Jon Tveld") as c:
        body = a_look(counts=[count("copper_flakes", "1-3", 1)])
        c.post("/api/engines/G-08/looks", json=body)
        photo = str(uuid4())
        for _ in range(2):  # sent again after a broken connection it is kept once
            sent = c.post(f"/api/log/{body['id']}/photos/{photo}", content=drawn.jpeg)
            assert sent.status_code == 200, sent.text
        found = c.get(f"/api/looks/{body['id']}").json()
        assert [(p["id"], p["width"]) for p in found["pictures"]] == [(photo, drawn.width)]
        sha = sent.json()["sha256"]
        small, whole = c.get(f"/api/photos/{sha}/small"), c.get(f"/api/photos/{sha}")
        assert len(small.content) < len(whole.content) / 4
        where = f"/api/pictures/{photo}/lines"
        early = c.post(where, json=line("particle", piece, type="copper_flakes"))
        assert early.status_code == 422
        assert "scale first" in early.json()["message"]
        assert c.post(where, json=line("scale", pin, **PIN)).status_code == 200
        drawn_line = line("particle", piece, type="copper_flakes")
        for _ in range(2):
            kept = c.post(where, json=drawn_line)
            assert kept.status_code == 200, kept.text
        (measured,) = [x for x in kept.json()["lines"] if x["kind"] == "particle"]
        assert measured["mm"] == pytest.approx(2.5, abs=0.01)
        assert abs(measured["mm"] - 2.5) < measured["half"]
        assert measured["size_class"] == "1-3"
        # Another scale measures the same line anew.
        again = c.post(where, json=line("scale", pin, **{**PIN, "known_mm": 40.0})).json()
        assert [x["mm"] for x in again["lines"] if x["kind"] == "particle"] == [
            pytest.approx(5.0, abs=0.02)
        ]
        back = {"id": str(uuid4()), "kind": "withdraw", "withdraws": drawn_line["id"]}
        left = c.post(where, json={**back, "type": "", "known_from": ""}).json()["lines"]
        assert [x["kind"] for x in left] == ["scale", "scale"]
        for bad in (
            line("scale", pin, known_mm=0),
            line("scale", pin, known_mm=10, known_sd_mm=9),
            line("particle", pin, type="gold"),
            {**line("particle", pin), "x2": None},
            {**line("particle", pin), "x1": -1},
            {**back, "id": str(uuid4()), "withdraws": str(uuid4()), "type": "", "known_from": ""},
        ):
            assert c.post(where, json=bad).status_code == 422, bad
        assert (
            c.post(f"/api/pictures/{uuid4()}/lines", json=line("scale", pin, **PIN)).status_code
            == 404
        )


def test_where_a_photograph_was_taken_is_not_kept(changing: Server) -> None:
    """Checked on the kept bytes by Pillow: no EXIF, upright, and the small one neither."""
    from PIL import Image

    out, exif = io.BytesIO(), Image.Exif()
    exif[0x0112] = 6  # turned by a quarter
    exif.get_ifd(0x8825)[1] = "N"
    Image.new("RGB", (800, 400), (90, 60, 30)).save(out, "JPEG", exif=exif)
    with changing.client("Jon Tveld") as c:
        body = a_look()
        c.post("/api/engines/G-08/looks", json=body)
        sha = c.post(f"/api/log/{body['id']}/photos/{uuid4()}", content=out.getvalue()).json()[
            "sha256"
        ]
        for path in (f"/api/photos/{sha}", f"/api/photos/{sha}/small"):
            with Image.open(io.BytesIO(c.get(path).content)) as kept:
                assert not kept.getexif()
                assert kept.height > kept.width


def test_the_demo_has_a_tray_with_a_pin_and_a_piece_measured(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        listed = [x for x in c.get("/api/looks").json() if x["engine"] == "G-07" and x["pictures"]]
        assert len(listed) == 2
        newest = c.get(f"/api/looks/{listed[0]['id']}").json()
        assert len(newest["earlier"]) == 1
        (piece,) = [x for x in newest["pictures"][0]["lines"] if x["kind"] == "particle"]
        assert piece["mm"] == pytest.approx(0.9, abs=0.02)
        assert piece["size_class"] == "0.5-1"


def test_an_engine_is_opened_measured_and_its_links_turned(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:

        def find(part: str, n: int, **details: str) -> str:
            body = {
                "id": str(uuid4()),
                "kind": "finding",
                "on": DEMO_DAY.isoformat(),
                "part": part,
                "details": {"order": str(n), **details},
                "note": "",
                "oil": "",
                "grade": "",
                "batch": "",
            }
            answer = c.post("/api/engines/G-08/log", json=body)
            assert answer.status_code == 200, answer.text
            return body["id"]

        journal = find("rod_journal", 2, condition="scored", position="3")
        bearing = find("rod_bearing", 1, condition="copper", position="3", side="cap side")
        o = c.get("/api/engines/G-08/opened").json()
        assert [f["id"] for f in o["findings"]] == [bearing, journal]
        assert o["findings"][0]["where"] == "rod bearing 3, cap side"
        assert {(x["cause"], x["effect"]) for x in o["links"]} == {
            (bearing, journal),
            (journal, bearing),
        }
        assert o["roots"] == []
        turned = {"id": str(uuid4()), "cause": bearing, "effect": journal, "keep": True}
        for _ in range(2):
            o = c.post("/api/engines/G-08/links", json=turned).json()
        assert o["roots"] == [bearing]
        assert [(x["cause"], x["effect"]) for x in o["cut"]] == [(journal, bearing)]
        state = c.get("/api/engines/G-08").json()["state"]
        assert (state["level"], state["may_run"]) == (3, "do_not_run")
        assert "in pieces" in " ".join(r["words"] for r in state["reasons"])
        elsewhere = {**turned, "id": str(uuid4()), "effect": str(uuid4())}
        assert c.post("/api/engines/G-08/links", json=elsewhere).status_code == 422
        tried = {"journal_front": "79.96 79.94", "bore": "85.02", "shell": "2.48"}
        said = c.post(
            "/api/engines/G-08/figures", json={"part": "rod_bearing", "details": tried}
        ).json()["figures"]
        assert [f["what"] for f in said] == ["out of round", "oil clearance"]
        assert said[1]["mm"] == pytest.approx(85.02 - 4.96 - 79.95)
        bad = {"part": "rod_bearing", "details": {**tried, "shell": "thick"}}
        assert c.post("/api/engines/G-08/figures", json=bad).status_code == 422


def test_findings_never_lift_the_stop_of_the_opened_engine(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        o = c.get("/api/engines/G-07/opened").json()
        assert o["layout"] == {"kind": "line", "cylinders": 6}
        assert [f["number"] for f in o["findings"]] == list(range(1, len(o["findings"]) + 1))
        assert [f["part"] for f in o["findings"] if f["id"] in o["roots"]] == ["relief_valve"]
        clearance = next(
            f for x in o["findings"] for f in x["figures"] if f["what"] == "oil clearance"
        )
        assert clearance["verdict"] == "outside"
        assert c.get("/api/stops/G-07").json()["state"]["may_run"] == "do_not_run"
