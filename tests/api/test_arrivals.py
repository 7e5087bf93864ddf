"""Programs that bring reports in: a key of a person's own, what it may do, what waits."""

from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path

import httpx

from keen_tracer.core.roles import at_the_machine
from keen_tracer.storage.db import single
from keen_tracer.usecases.importing.files import import_files
from tests.helpers import write_csv
from tests.server import Server

ENGINES = "engine,class\nU-1,heavy_diesel\nU-2,heavy_diesel\n"
HEADS = "Unit ID,Sample Date,Unit hours,Iron (Fe),Lead (Pb),Visc @100C cSt\n"
REPORT = HEADS + "U-1,2026-03-02,1200,14,2,14.1\nU-2,2026-03-03,800,11,1,14.0\n"


@contextmanager
def program(server: Server, key: str) -> Iterator[httpx.Client]:
    with httpx.Client(
        base_url=server.address, headers={"Authorization": f"Bearer {key}"}, timeout=120
    ) as c:
        yield c


def send(c: httpx.Client, name: str, text: str) -> httpx.Response:
    return c.post("/api/exchange/arrived", params={"name": name}, content=text.encode())


def test_a_program_brings_in_what_is_known_and_the_rest_waits(
    changing: Server, tmp_path: Path
) -> None:
    with changing.client("Mira Ostrand") as c, ExitStack() as stack:
        made = c.post("/api/keys", json={"name": "mail"}).json()
        [listed] = c.get("/api/keys").json()
        assert (listed["name"], listed["used_at"]) == ("mail", None)
        assert made["key"] not in str(listed)
        by = stack.enter_context(program(changing, made["key"]))
        # Its key brings reports in, and no engines.
        barred = send(by, "engines.csv", ENGINES).json()["why"]
        assert "engines.csv does not come in by a program's key" in barred
        [aside] = c.get("/api/exchange/arrived").json()
        assert c.post(f"/api/exchange/waiting/{aside['id']}/done").json()
        file = write_csv(tmp_path, "engines.csv", ENGINES)
        assert import_files(changing.url, [(file.name, file)], at_the_machine("t")).written
        # Nobody read such headings yet: it waits, and nothing of it is written.
        before = c.get("/api/state").json()
        why = send(by, "../../lab.csv", REPORT).json()["why"]
        assert "nobody brought in a file with these headings" in why
        now = c.get("/api/state").json()
        assert (now["arrived"], now["engines"]) == (before["arrived"] + 1, before["engines"])
        [waits] = c.get("/api/exchange/arrived").json()
        assert (waits["name"], waits["sent_by"]) == ("lab.csv", "mail, key of Mira Ostrand")
        token = c.post(f"/api/exchange/waiting/{waits['id']}/open").json()["token"]
        read = c.post("/api/exchange/layout", json={"token": token}).json()
        layout = {**read["layout"], "laboratory": "Northfall"}
        columns = [{k: x[k] for k in ("heading", "target", "unit")} for x in layout["columns"]]
        sent = {"token": token, "layout": {**layout, "columns": columns}, "preview": False}
        assert c.post("/api/exchange/layout/import", json=sent).json()["written"]
        assert c.post(f"/api/exchange/waiting/{waits['id']}/done").json()
        assert c.get("/api/exchange/arrived").json() == []
        assert c.post(f"/api/exchange/waiting/{waits['id']}/done").status_code == 404
        # The same headings come in by themselves from now on.
        assert send(
            by,
            "lab.csv",
            REPORT.replace("03-02", "04-02")
            .replace("1200", "1350")
            .replace("03-03", "04-03")
            .replace("800", "950"),
        ).json() == {"why": ""}
        assert c.get("/api/keys").json()[0]["used_at"] is not None


def test_a_key_reads_and_reports_and_decides_nothing(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c, ExitStack() as stack:
        made = c.post("/api/keys", json={"name": "mail", "reads": True}).json()
        by = stack.enter_context(program(changing, made["key"]))
        assert by.get("/api/wall").status_code == 200
        assert by.get("/api/state").json()["person"]["name"] == "mail, key of Mira Ostrand"
        waiting = c.get("/api/queue").json()[0]["sample"]
        tries: list[Callable[[], httpx.Response]] = [
            lambda: by.post(f"/api/samples/{waiting}/sign", json={"level": 0, "basis": "x"}),
            lambda: by.post("/api/keys", json={"name": "another"}),
            lambda: by.post("/api/exchange/import", json={"tokens": ["x"]}),
            lambda: by.put("/api/me/volume", json={"chosen": "L"}),
        ]
        for one in tries:
            answer = one()
            assert answer.status_code == 403, answer.text
            assert "takes a person" in answer.text
        told = {
            "engine": "G-08", "on": "2026-03-02", "laboratory": "Northfall", "report": "N 1",
            "figures": {"Fe_ppm": "14"},
        }  # fmt: skip
        new = {**told, "engine": "K-1", "new": {"engine_class": "heavy_diesel"}}
        assert by.post("/api/report", json=new).status_code in (403, 422), "no engine by a key"
        assert by.post("/api/report", json=told).json()["sample"] == "N 1"
        assert c.post("/api/keys", json={"name": " "}).status_code == 422
        [mine] = c.get("/api/keys").json()
        assert c.delete(f"/api/keys/{mine['id']}").json()
        assert c.delete(f"/api/keys/{mine['id']}").status_code == 404
    for bad in (made["key"], "kt_nothing", "Bearer"):
        with program(changing, bad) as by:
            assert by.post("/api/report", json=told).status_code == 401
    too_large = httpx.post(f"{changing.address}/api/exchange/arrived?name=x", content=b"0" * 10)
    assert too_large.status_code == 401


def test_a_key_reads_nothing_where_it_was_not_said(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c, ExitStack() as stack:
        key = c.post("/api/keys", json={"name": "mail"}).json()["key"]
        by = stack.enter_context(program(changing, key))
        for path in (
            "/api/wall",
            "/api/export.zip",
            "/api/engines/G-08",
            "/api/people",
            "/api/box",
        ):
            answer = by.get(path)
            assert (answer.status_code, "reads nothing" in answer.text) == (403, True), path
        assert send(by, "lab.csv", REPORT).status_code == 200


def test_a_key_ends_on_its_last_day(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c, ExitStack() as stack:
        made = c.post("/api/keys", json={"name": "mail"}).json()
        by = stack.enter_context(program(changing, made["key"]))
        [key] = c.get("/api/keys").json()
        assert (key["reads"], key["over"]) == (False, False)
        assert key["last_day"] > key["made_at"][:10]
        for day in ("2020-01-01", "2040-01-01"):
            refused = c.post("/api/keys", json={"name": "mail", "last_day": day})
            assert (refused.status_code, "within 3 years" in refused.text) == (422, True)
        with single(changing.url) as db:
            db.execute("update api_key set last_day = keen_now()::date - 1")
        assert send(by, "lab.csv", REPORT).status_code == 401
        assert c.get("/api/keys").json()[0]["over"]
