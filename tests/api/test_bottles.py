"""The bottle's way over the wire: who may, what is refused, and with which words."""

import io
from pathlib import Path
from uuid import uuid4

import pytest
from PIL import Image

from keen_tracer.api import bottles, context
from keen_tracer.api.app import _served
from keen_tracer.api.context import PRINTS, Busy
from keen_tracer.storage.db import single
from keen_tracer.usecases.bottles.labels import print_run
from tests.day import DEMO_DAY
from tests.server import Server

TODAY = DEMO_DAY.isoformat()


def bottle(**more):
    return {
        "id": str(uuid4()),
        "sample": "9001",
        "engine": "G-08",
        "on": TODAY,
        "dial": 99999,
        "appearance": "dark",
        **more,
    }


def jpeg() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (80, 60), (120, 90, 30)).save(out, "JPEG")
    return out.getvalue()


WRITES = [
    ("post", "/api/labels", {"engines": [], "spare": 1}),
    (
        "post",
        "/api/bottles/steps",
        {"bottles": [{"id": str(uuid4()), "sample": "1"}], "step": "sent", "on": TODAY},
    ),
    ("post", "/api/orders", {"id": str(uuid4()), "samples": ["1"], "delay_s": 0, "on": TODAY}),
    ("post", "/api/swap", {"one": "1", "other": "2", "reason": "x"}),
    ("post", "/api/fleet/depots", {"cells": {"depot": "d"}}),
    ("post", "/api/fleet/oils", {"oil": "x"}),
    ("put", "/api/engines/G-08/plans", {"plans": []}),
    ("put", "/api/tightened", {"watch": 0.5, "act": 0.25}),
    ("post", "/api/bottles/1/figures", {"cells": {}}),
    ("post", f"/api/log/{uuid4()}/photos/{uuid4()}", None),
    ("post", f"/api/log/{uuid4()}/correct", {"id": str(uuid4()), "reason": "x"}),
    ("post", "/api/engines/G-08/queries", {"id": str(uuid4()), "key": "k", "said": "stands"}),
]


def test_nobody_in_particular_writes_nothing(changing: Server) -> None:
    with changing.client(None) as c:
        for method, path, body in WRITES:
            assert getattr(c, method)(path, json=body).status_code == 401, path
        for path in (
            "/api/inbox",
            "/api/queries",
            "/api/fleet/engines",
            "/api/engines/G-08/logbook",
            "/api/terms",
        ):
            assert c.get(path).status_code == 200, path


def test_labels_are_a_pdf_and_numbers_go_out_once(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        first = c.post("/api/labels", json={"engines": ["G-08"], "spare": 1}).json()
        sheet = c.get(f"/api/labels/{first['id']}.pdf")
        assert (sheet.status_code, sheet.headers["content-type"], sheet.content[:5]) == (
            200,
            "application/pdf",
            b"%PDF-",
        )
        assert c.post("/api/labels", json={"spare": 1}).json()["first"] == first["last"] + 1
        assert c.get("/api/stops/G-08").json()["next_label"] == first["first"]
        assert c.get("/api/labels/999.pdf").status_code == 404
        assert c.post("/api/labels", json={}).status_code == 422


def test_a_bottle_sent_to_the_simulated_laboratory_comes_back_by_itself(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        assert c.post("/api/bottles", json=bottle()).status_code == 200
        order = {
            "id": str(uuid4()),
            "samples": ["9001"],
            "delay_s": 0,
            "mischief": "none",
            "on": TODAY,
        }
        for _ in range(2):
            assert c.post("/api/orders", json=order).status_code == 200
        import time

        until = time.monotonic() + 120
        while "9001" in {b["sample"] for b in c.get("/api/inbox").json()["out"]}:
            assert time.monotonic() < until
            time.sleep(0.1)
        sources = c.get("/api/exchange/sources").json()
        assert sources[0]["imported_by"] == c.get("/api/inbox").json()["simulated"]


def test_a_photograph_is_taken_and_what_is_none_is_not(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        b = bottle()
        c.post("/api/bottles", json=b)
        where = f"/api/log/{b['id']}/photos"
        answer = c.post(f"{where}/{uuid4()}", content=jpeg())
        assert answer.status_code == 200
        kept = c.get(f"/api/photos/{answer.json()['sha256']}")
        assert (kept.headers["content-type"], kept.headers["x-content-type-options"]) == (
            "image/jpeg",
            "nosniff",
        )
        assert [p["sample"] for p in c.get("/api/engines/G-08/logbook").json()["photos"]][
            -1
        ] == "9001"
        svg = c.post(f"{where}/{uuid4()}", content=b"<svg xmlns='http://www.w3.org/2000/svg'/>")
        assert svg.status_code == 422
        assert "JPEG, PNG or WebP" in svg.json()["message"]
        assert c.post(f"{where}/{uuid4()}", content=b"x" * 20_000_001).status_code == 413
        assert c.get("/api/photos/zz").status_code == 404


def test_typed_figures_are_refused_by_field(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        c.post("/api/bottles", json=bottle())
        wrong = c.post(
            "/api/bottles/9001/figures", json={"cells": {"Fe_ppm": "lots", "Cu_ppm": "3"}}
        )
        assert wrong.status_code == 422
        assert list(wrong.json()["fields"]) == ["Fe_ppm"]
        right = {"laboratory": "L", "cells": {"Fe_ppm": "30"}}
        assert c.post("/api/bottles/9001/figures", json=right).json() == {"waits": False}
        assert c.get("/api/samples/9001").json()["verdict"]["level"] is not None


def test_a_correction_moves_a_bottle_and_both_engines_say_so(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        b = bottle()
        c.post("/api/bottles", json=b)
        fix = {
            "id": str(uuid4()),
            "reason": "wrong engine picked",
            "engine": "G-03",
            "changes": {"dial": 99998},
        }
        assert c.post(f"/api/log/{b['id']}/correct", json=fix).status_code == 200
        assert c.get("/api/samples/9001").json()["engine"] == "G-03"
        for engine in ("G-08", "G-03"):
            assert (
                "moved from G-08 to G-03"
                in c.get(f"/api/engines/{engine}/logbook").json()["corrections"][0]["words"]
            )
        again = c.post(f"/api/log/{b['id']}/correct", json={**fix, "id": str(uuid4())})
        assert again.status_code == 422
        assert "corrected this record already" in again.json()["message"]


def test_an_edit_on_an_old_version_is_a_conflict(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        e = next(x for x in c.get("/api/fleet/engines").json()["entries"] if x["code"] == "G-08")
        edit = {"version": e["version"], "cells": {"engine": "G-08", "name": "Groomer eight"}}
        assert c.post("/api/fleet/engines", json=edit).json() == {"changed": ["name"]}
        late = c.post(
            "/api/fleet/engines", json={**edit, "cells": {"engine": "G-08", "name": "Other"}}
        )
        assert late.status_code == 409
        assert "changed this entry" in late.json()["message"]
        bad = c.post("/api/fleet/engines", json={"cells": {"engine": "G-99", "class": "boat"}})
        assert (bad.status_code, list(bad.json()["fields"])) == (422, ["class"])


def test_plans_and_the_tightening_rule(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        plan = {"plans": [{"kind": "days", "every": 30}]}
        assert c.put("/api/engines/G-08/plans", json=plan).status_code == 200
        assert c.get("/api/engines/G-08/plans").json()["plans"] == [
            {"kind": "days", "every": 30, "method": "", "said": ""}
        ]
        assert (
            c.put("/api/engines/G-08/plans", json={"plans": [{"kind": "days"}]}).status_code == 422
        )
        assert c.put("/api/tightened", json={"watch": 0.3, "act": 0.4}).status_code == 422
        assert c.put("/api/tightened", json={"watch": 0.6, "act": 0.4}).status_code == 200
        assert c.get("/api/tightened").json()["act"] == 0.4


def test_a_query_is_answered_once(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        q = next(x for x in c.get("/api/queries").json() if x["code"] == "additive_off")
        answer = {"id": str(uuid4()), "key": q["key"], "said": "asked", "reason": "drum looked at"}
        assert c.post(f"/api/engines/{q['engine']}/queries", json=answer).status_code == 200
        assert c.post(f"/api/engines/{q['engine']}/queries", json=answer).status_code == 422
        assert q["key"] not in {x["key"] for x in c.get("/api/queries").json()}


def test_a_lost_bottle_says_that_there_is_nothing_to_judge(changing: Server) -> None:
    with changing.client("Jon Tveld") as c:
        lost = next(b["sample"] for b in c.get("/api/inbox").json()["out"] if b["state"] == "lost")
        for path in (f"/api/samples/{lost}", f"/api/samples/{lost}/how/Fe_ppm"):
            answer = c.get(path)
            assert answer.status_code == 404
            assert "lost or broken" in answer.json()["message"]


def test_who_comes_while_others_print_waits_a_little_and_is_then_told(
    demo_copy: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Each sheet is drawn by a process of its own; two at a time."""
    monkeypatch.setattr(context, "PRINT_WAIT_S", 0.05)
    with _served(demo_copy, tmp_path, tmp_path, lambda: None) as here:
        with single(demo_copy) as c:
            run = print_run(c, ["G-08"], 1, "Jon Tveld")["id"]
        assert all(here.printing.acquire(blocking=False) for _ in range(PRINTS))
        with pytest.raises(Busy, match="being drawn"):
            bottles.get_labels(here, run)
        here.printing.release()
        assert bottles.get_labels(here, run).body.startswith(b"%PDF")
        assert here.printing.acquire(blocking=False), "given back"
