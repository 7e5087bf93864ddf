"""The server over a real port and a real database: what it answers, what it refuses, and with which
words."""

import re
import zipfile
from concurrent.futures import ThreadPoolExecutor
from io import BytesIO
from uuid import uuid4

import httpx
import pytest

from keen_tracer.storage.migrate import available
from tests.day import DEMO_DAY
from tests.helpers import write_csv
from tests.server import Server

HEADS = "sample,engine,drawn_on,meter,laboratory,Fe_ppm,Pb_ppm"
SAMPLES = f"{HEADS}\nNEW-1,G-08,{DEMO_DAY},99999,Lab,20,<1\n"


@pytest.fixture(scope="module")
def analyst(server: Server):
    with server.client("Mira Ostrand") as c:
        yield c


def send(c: httpx.Client, name: str, text: str | bytes) -> str:
    answer = c.post("/api/exchange/files", params={"name": name}, content=text)
    assert answer.status_code == 200, answer.text
    return answer.json()["token"]


def test_health_tells_database_migration_and_what_waits(analyst: httpx.Client) -> None:
    assert analyst.get("/healthz").json() == {
        "database": "up",
        "migration": len(available()),
        "stale": 0,
        "stale_s": 0,
        "unjudged": 0,
        "last_backup": None,
        "backup_tried": None,
    }


@pytest.mark.parametrize("host", ["evil.example", "127.0.0.1.evil.example:80", "0.0.0.0", ""])
def test_a_foreign_host_is_refused(server: Server, host: str) -> None:
    answer = httpx.get(f"{server.address}/api/state", headers={"Host": host})
    assert answer.status_code in (400, 403)


@pytest.mark.parametrize(
    "headers",
    [
        {"Origin": "http://evil.example"},
        {"Origin": "null"},
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site"},
        {"Origin": "http://127.0.0.1:1"},
    ],
)
def test_a_write_from_another_page_is_refused(
    analyst: httpx.Client, headers: dict[str, str]
) -> None:
    answer = analyst.post(
        "/api/engines/G-01/run", json={"state": "hold", "reason": "x"}, headers=headers
    )
    assert answer.status_code == 403
    assert "another page" in answer.json()["message"]


def test_no_other_page_may_read(analyst: httpx.Client) -> None:
    answer = analyst.get("/api/wall", headers={"Origin": "http://evil.example"})
    assert "access-control-allow-origin" not in answer.headers


def test_a_strict_policy_on_every_answer(analyst: httpx.Client) -> None:
    for path in ("/wall", "/api/wall", "/healthz", "/api/nothing"):
        answer = analyst.get(path)
        policy = answer.headers["content-security-policy"]
        assert "default-src 'self'" in policy
        assert "'unsafe-inline'" not in policy.split("style-src")[0]
        assert answer.headers["x-content-type-options"] == "nosniff"


def test_the_session_cookie_is_not_for_scripts_or_other_sites(server: Server) -> None:
    with server.client(None) as c:
        person = c.get("/api/people").json()[0]
        cookie = c.post("/api/session", json={"person": person["id"]}).headers["set-cookie"]
    assert "HttpOnly" in cookie
    assert "SameSite=strict" in cookie.replace("Strict", "strict")
    assert re.search(r"keen_session_[0-9a-f]{8}=[\w-]{40,}", cookie)


def test_nobody_in_particular_may_look_but_not_write(server: Server) -> None:
    with server.client(None) as c:
        assert c.get("/api/wall").status_code == 200
        answer = c.post("/api/engines/G-01/run", json={"state": "hold", "reason": "x"})
        assert answer.status_code == 401
        assert "who you are" in answer.json()["message"]
        assert (
            c.post("/api/exchange/files", params={"name": "x.csv"}, content=b"x").status_code == 401
        )


def test_a_made_up_session_is_nobody(server: Server) -> None:
    with httpx.Client(base_url=server.address, cookies={"keen_session": "guess"}) as c:
        assert c.get("/api/state").json()["person"] is None


@pytest.mark.parametrize(
    "path",
    [
        "/api/nothing",
        "/api/engines/NOPE",
        "/api/samples/NOPE",
        "/_app/nothing.js",
        "/api/samples/1500/how/Xx_ppm",
    ],
)
def test_what_is_not_there_is_404(analyst: httpx.Client, path: str) -> None:
    answer = analyst.get(path)
    assert answer.status_code == 404
    assert answer.json()["incident"]


@pytest.mark.parametrize("method", ["PUT", "DELETE", "PATCH"])
def test_a_wrong_method_is_405(analyst: httpx.Client, method: str) -> None:
    assert analyst.request(method, "/api/wall").status_code == 405


@pytest.mark.parametrize(
    "path", ["/../../etc/passwd", "/%2e%2e/%2e%2e/etc/passwd", "/..%2f..%2fpyproject.toml"]
)
def test_no_path_leads_out_of_the_pages(server: Server, path: str) -> None:
    answer = httpx.get(httpx.URL(server.address, raw_path=path.encode()))
    assert "root:" not in answer.text
    assert "[project]" not in answer.text


def test_pages_route_by_themselves_and_assets_last(analyst: httpx.Client) -> None:
    page = analyst.get("/engine/G-07")
    assert page.status_code == 200
    assert page.headers["cache-control"] == "no-cache"
    asset = re.search(r'/_app/immutable/[^"]+\.js', page.text)
    assert asset
    assert "immutable" in analyst.get(asset[0]).headers["cache-control"]


def test_the_wall_is_a_window(analyst: httpx.Client) -> None:
    whole = analyst.get("/api/wall").json()
    assert whole["total"] == 26
    assert sum(g["count"] for g in whole["groups"]) == 26
    part = analyst.get("/api/wall", params={"offset": 5, "limit": 3}).json()
    assert [r["code"] for r in part["rows"]] == [r["code"] for r in whole["rows"][5:8]]
    depot = analyst.get("/api/wall", params={"depot": "summit", "by": "depot"}).json()
    assert {r["depot"] for r in depot["rows"]} == {"summit"}
    found = analyst.get("/api/wall", params={"find": "groomer"}).json()
    assert 0 < found["total"] < 26
    assert analyst.get("/api/wall", params={"find": "%"}).json()["total"] in (0, 26)


def test_the_wall_by_what_an_engine_stands_to_lose(analyst: httpx.Client) -> None:
    found = analyst.get("/api/wall", params={"by": "risk"}).json()
    assert [g["key"] for g in found["groups"]] == ["priced", "not_priced"]
    priced = found["groups"][0]["count"]
    stakes = [r["risk"] for r in found["rows"]]
    assert all(x is not None for x in stakes[:priced])
    assert all(x is None for x in stakes[priced:])
    assert stakes[:priced] == sorted(stakes[:priced], reverse=True)
    assert stakes[0] > stakes[priced - 1]


@pytest.mark.parametrize(
    "params", [{"offset": -1}, {"limit": 100000}, {"by": "mood"}, {"find": "x" * 100}]
)
def test_a_question_out_of_range_is_answered_with_what_is_wrong(
    analyst: httpx.Client, params
) -> None:
    answer = analyst.get("/api/wall", params=params)
    assert answer.status_code == 422
    assert next(iter(params)) in answer.json()["message"]


@pytest.mark.parametrize("text", ["'; drop table reading; --", "%", "_", "\\", "<script>"])
def test_the_finder_takes_any_text(analyst: httpx.Client, text: str) -> None:
    answer = analyst.get("/api/find", params={"q": text})
    assert answer.status_code == 200
    assert answer.json() == []


def test_the_finder_finds_engines_and_samples(analyst: httpx.Client) -> None:
    kinds = {f["kind"] for f in analyst.get("/api/find", params={"q": "16"}).json()}
    assert "sample" in kinds
    assert analyst.get("/api/find", params={"q": "g-07"}).json()[0]["name"] == "G-07"


def test_an_engine_brings_its_whole_history(analyst: httpx.Client) -> None:
    e = analyst.get("/api/engines/G-07").json()
    assert e["state"]["may_run_words"] == "Do not run"
    assert len(e["samples"]) > 15
    assert {lane["symbol"] for lane in e["lanes"]} >= {"Fe", "Pb", "Cu", "KV100", "BN"}
    assert (e["grade_low"], e["grade_high"]) == (12.5, 16.3)
    totals = [s["total"] for s in e["samples"]]
    assert totals == sorted(totals)


def test_every_figure_can_be_opened(analyst: httpx.Client) -> None:
    code = analyst.get("/api/queue").json()[0]["sample"]
    for ladder in analyst.get(f"/api/samples/{code}").json()["ladders"]:
        steps = analyst.get(f"/api/samples/{code}/how/{ladder['column']}").json()["steps"]
        assert len(steps) >= 3
        assert all(s["origin"] and s["formula"] for s in steps)


def test_the_export_is_a_zipped_data_package(analyst: httpx.Client) -> None:
    answer = analyst.get("/api/export.zip")
    assert answer.headers["content-type"] == "application/zip"
    names = zipfile.ZipFile(BytesIO(answer.content)).namelist()
    assert {"datapackage.json", "engines.csv", "readings.csv", "decisions.csv"} <= set(names)


def test_an_upload_over_the_limit_is_413_with_size_and_limit(analyst: httpx.Client) -> None:
    answer = analyst.post(
        "/api/exchange/files", params={"name": "big.csv"}, content=b"x" * 50_000_001
    )
    assert answer.status_code == 413
    body = answer.json()
    assert (body["size"], body["limit"]) == (50_000_001, 50_000_000)
    assert "./keen import" in body["message"]


def test_an_upload_without_a_length_is_counted_while_it_streams(analyst: httpx.Client) -> None:
    def parts():
        for _ in range(51):
            yield b"x" * 1_000_000

    answer = analyst.post("/api/exchange/files", params={"name": "big.csv"}, content=parts())
    assert answer.status_code == 413


def test_a_file_that_is_gone_is_said(analyst: httpx.Client) -> None:
    answer = analyst.post("/api/exchange/preview", json={"tokens": ["nope"]})
    assert answer.status_code == 404
    assert "choose the files again" in answer.json()["message"]


def test_a_preview_names_problems_by_file_row_and_column(analyst: httpx.Client) -> None:
    token = send(analyst, "samples.csv", SAMPLES.replace(str(DEMO_DAY), "31/02"))
    found = analyst.post("/api/exchange/preview", json={"tokens": [token]}).json()
    assert found["written"] is False
    assert found["problem_count"] == 1
    p = found["problems"][0]
    assert (p["file"], p["row"], p["column"]) == ("samples.csv", 2, "drawn_on")


@pytest.mark.parametrize("name", ["../../evil.csv", "a\\b\\samples.csv", "<img>.csv"])
def test_the_name_of_an_upload_is_only_a_name(analyst: httpx.Client, name: str) -> None:
    answer = analyst.post("/api/exchange/files", params={"name": name}, content=b"x")
    assert not set(answer.json()["name"]) & set("/\\<>")


# What changes data runs on a copy of its own.


def wait_judged(c: httpx.Client) -> None:
    """Until the worker has judged what came in; it answers in its own time."""
    for _ in range(6000):
        if c.get("/api/state").json()["stale"] == 0:
            return
    raise AssertionError("nothing was judged")


def test_a_file_comes_in_and_the_engine_moves(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        before = next(r for r in c.get("/api/wall").json()["rows"] if r["code"] == "G-08")
        token = send(c, "samples.csv", SAMPLES.replace(",20,", ",400,"))
        preview = c.post("/api/exchange/preview", json={"tokens": [token]}).json()
        assert (preview["written"], preview["files"][0]["added"]) == (False, 1)
        assert c.post("/api/exchange/import", json={"tokens": [token]}).json()["written"] is True
        wait_judged(c)
        after = next(r for r in c.get("/api/wall").json()["rows"] if r["code"] == "G-08")
        assert (before["group"], after["group"]) == ("quiet", "act")
        assert "NEW-1" in [q["sample"] for q in c.get("/api/queue").json()]
        again = send(c, "samples.csv", SAMPLES.replace(",20,", ",400,"))
        twice = c.post("/api/exchange/import", json={"tokens": [again]}).json()
        assert (twice["files"][0]["added"], twice["files"][0]["known"]) == (0, 1)
        assert c.get("/api/exchange/sources").json()[0]["imported_by"] == "Mira Ostrand"


def test_signing_undoing_and_the_name_of_who_did_it(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        first = c.get("/api/queue").json()[0]
        body = {"level": first["level"], "basis": first["basis"], "supersedes": first["standing"]}
        key = {"Idempotency-Key": str(uuid4())}
        done = c.post(f"/api/samples/{first['sample']}/sign", json=body, headers=key)
        assert done.status_code == 200, done.text
        twice = c.post(f"/api/samples/{first['sample']}/sign", json=body, headers=key)
        assert twice.json() == done.json()
        other = c.post(f"/api/samples/{first['sample']}/sign", json=body)
        assert other.status_code == 409
        shown = c.get(f"/api/samples/{first['sample']}").json()
        assert shown["decision"]["decided_by"] == "Mira Ostrand"
        assert first["sample"] not in [q["sample"] for q in c.get("/api/queue").json()]
        undo = {"decision": done.json()["decision"]}
        with changing.client("Jon Tveld") as d:
            refused = d.post(f"/api/samples/{first['sample']}/undo", json=undo)
            assert refused.status_code == 422
            assert "Mira Ostrand signed this" in refused.json()["message"]
        assert c.post(f"/api/samples/{first['sample']}/undo", json=undo).status_code == 200
        assert c.get("/api/queue").json()[0]["sample"] == first["sample"]


def test_an_other_level_without_a_reason_is_refused_in_words(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        first = c.get("/api/queue").json()[0]
        body = {"level": 0, "basis": first["basis"], "supersedes": first["standing"]}
        answer = c.post(f"/api/samples/{first['sample']}/sign", json=body)
        assert answer.status_code == 422
        assert (
            answer.json()["message"]
            == "A level other than the proposed one needs a reason. Nothing was written."
        )
        stale = c.post(
            f"/api/samples/{first['sample']}/sign", json={**body, "basis": "0" * 32, "reason": "x"}
        )
        assert stale.status_code == 409
        assert "figures changed" in stale.json()["message"]


def test_holding_and_releasing_follow_the_role(changing: Server) -> None:
    with changing.client("Jon Tveld") as t, changing.client("Runa Skarsel") as r:
        held = t.post(
            "/api/engines/G-01/run", json={"state": "hold", "reason": "coolant smell"}
        ).json()["decision"]
        no = t.post(
            "/api/engines/G-01/run", json={"state": "release", "reason": "fine", "supersedes": held}
        )
        assert (no.status_code, no.json()["code"]) == (403, "not_allowed")
        line = next(x for x in r.get("/api/runs").json()["rows"] if x["code"] == "G-01")
        state = line["state"]
        assert (state["may_run"], state["run"]["by"]) == ("do_not_run", "Jon Tveld")
        yes = r.post(
            "/api/engines/G-01/run",
            json={"state": "release", "reason": "tested", "supersedes": held},
        )
        assert yes.status_code == 200
        late = t.post(
            "/api/engines/G-01/run", json={"state": "hold", "reason": "again", "supersedes": held}
        )
        assert late.status_code == 409


def test_a_reason_is_required_for_a_run_decision(changing: Server) -> None:
    with changing.client("Runa Skarsel") as c:
        answer = c.post("/api/engines/G-01/run", json={"state": "hold", "reason": ""})
        assert answer.status_code == 422
        assert "reason" in answer.json()["message"]


def test_an_amended_report_waits_and_counts_once_accepted(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        token = send(c, "samples.csv", SAMPLES)
        c.post("/api/exchange/import", json={"tokens": [token]})
        wait_judged(c)
        token = send(c, "samples.csv", SAMPLES.replace(",20,", ",400,"))
        shown = c.post("/api/exchange/import", json={"tokens": [token]}).json()
        assert shown["amendments"][0]["new"] == "Fe 20 → 400"
        waiting = c.get("/api/amendments").json()
        assert waiting[0]["readings"] == [{"symbol": "Fe", "old": "20", "new": "400"}]
        assert c.get("/api/samples/NEW-1").json()["ladders"][0]["text"] == "20"
        c.post(
            f"/api/amendments/{waiting[0]['id']}",
            json={"accept": True, "reason": "laboratory wrote"},
        )
        wait_judged(c)
        assert c.get("/api/samples/NEW-1").json()["ladders"][0]["text"] == "400"
        assert c.get("/api/amendments").json() == []


def test_many_at_once_all_get_an_answer(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c, ThreadPoolExecutor(12) as pool:
        answers = list(
            pool.map(
                lambda n: c.get(["/api/wall", "/api/queue", "/api/runs"][n % 3]).status_code,
                range(48),
            )
        )
    assert set(answers) == {200}


def test_a_database_that_stops_is_said_and_recovers(tmp_path, serve) -> None:
    """The page gets a clear answer while it is away, and the server finds it again by itself."""
    from keen_tracer.storage.migrate import ensure_database, migrate
    from launcher.cluster import Cluster

    own = Cluster.temporary()
    try:
        own.start()
        url = own.url("keen_away")
        ensure_database(url)
        migrate(url)
        running = serve(url)
        with running.client(None) as c:
            assert c.get("/api/state").status_code == 200
            own.pause()
            away = c.get("/api/state")
            assert away.status_code == 503
            assert "does not answer" in away.json()["message"]
            assert away.json()["incident"]
            own.resume()
            assert c.get("/api/state").status_code == 200
    finally:
        own.stop()


def test_refused_files_leave_no_trace(changing: Server, tmp_path) -> None:
    with changing.client("Mira Ostrand") as c:
        token = send(
            c,
            "events.csv",
            write_csv(tmp_path, "e.csv", "engine,on,kind\nNOPE,2026-01-01,repair\n").read_bytes(),
        )
        found = c.post("/api/exchange/import", json={"tokens": [token]}).json()
        assert found["written"] is False
        assert found["problems"][0]["what"] == "engine 'NOPE' is not known"
