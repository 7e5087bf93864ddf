"""Anybody's report over the wire: looked at, read as a person says, all or nothing, known again."""

import csv
import io
import random
import zipfile
from pathlib import Path

import httpx
import pytest

from keen_tracer.core.terms import REPORT_FIELDS
from tests.exchange.layouts.laboratories import Laboratory, samples
from tests.server import Server

LAB = Laboratory(
    kind="csv",
    way="rows",
    style=0,
    comma=False,
    thousands=True,
    days="us",
    letterhead=3,
    unit_row=True,
    group_row=True,
    delimiter=",",
    encoding="utf-8",
    more=True,
)


def sent(c: httpx.Client, content: bytes, name: str = "july.csv") -> str:
    answer = c.post("/api/exchange/files", params={"name": name}, content=content)
    return str(answer.json()["token"])


def look(c: httpx.Client, token: str, layout: dict | None = None):
    return c.post("/api/exchange/layout", json={"token": token, "layout": layout})


def bring(c: httpx.Client, token: str, layout: dict, **more):
    body = {"token": token, "layout": layout, "preview": False, **more}
    return c.post("/api/exchange/layout/import", json=body)


def with_laboratory(found: dict) -> dict:
    return {**found["layout"], "laboratory": "Northfall"}


def test_a_file_nobody_knows_comes_in_and_is_known_again(changing: Server, tmp_path: Path) -> None:
    listed = samples(random.Random(7), 9)
    content = LAB.write(listed, tmp_path).read_bytes()
    with changing.client("Mira Ostrand") as c:
        token = sent(c, content)
        found = look(c, token).json()
        assert found["lacking"] == ["laboratory"]
        assert found["questions"] == []
        assert found["samples"] == 9
        assert [e["known"] for e in found["engines"]] == ["", "", ""]
        assert found["unread"] == ["Diagnosis", "Severity", "Customer", "Contact"]
        layout = with_laboratory(found)
        # Who is not ticked is not brought in, and nothing is without a word.
        refused = bring(c, token, layout)
        assert refused.json()["code"] == "cells_unread"
        assert "not on record" in refused.json()["message"]
        ticked = [{"said": e["said"], "engine_class": "heavy_diesel"} for e in found["engines"]]
        report = bring(c, token, layout, engines=ticked).json()
        assert report["written"], report["problems"]
        assert {f["table"]: f["added"] for f in report["files"]} == {
            "engines": 3,
            "samples": 9,
            "readings": 90,
        }
        true = listed[0]
        sheet = c.get(f"/api/samples/{true.facts['report']}").json()
        said = {x["column"]: x["text"] for x in sheet["ladders"]}
        assert said == {k: said[k] for k in true.figures}
        assert {k: v.replace(" ", "") for k, v in said.items()} == true.figures
        hours = float(true.facts["hours_on_oil"])
        assert sheet["hours_on_oil"] == hours
        # The same file again: known by its headings, and nothing new in it.
        token = sent(c, content)
        again = look(c, token).json()
        assert again["known_from"] == "Northfall"
        assert again["lacking"] == []
        report = bring(c, token, again["layout"]).json()
        assert report["problem_count"] == 0
        assert sum(f["added"] for f in report["files"]) == 0
        # Next month the letterhead is a line longer: the headings are found where they stand now.
        token = sent(c, b"Fell Road 7\n" + content)
        later = look(c, token).json()
        assert later["known_from"] == "Northfall"
        assert later["layout"]["header"] == found["layout"]["header"] + 1
        assert later["told"] == [{**x, "row": x["row"] + 1} for x in found["told"]]
        # Forgotten, it is read as it looks, this time and the next; kept anew it is known again.
        gone = c.post("/api/exchange/layout/forget", json={"token": token}).json()
        assert gone["known_from"] == ""
        assert gone["layout"]["columns"] == found["layout"]["columns"]
        token = sent(c, content)
        assert look(c, token).json()["known_from"] == ""
        assert c.post("/api/exchange/layout/forget", json={"token": token}).is_success
        assert bring(c, token, again["layout"]).json()["problem_count"] == 0
        assert look(c, sent(c, content)).json()["known_from"] == "Northfall"


def test_a_registered_bottle_gets_its_figures_and_keeps_its_facts(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        waiting = next(b for b in c.get("/api/inbox").json()["out"] if b["engine"])
        head = "Sample,Unit,Date,Hours,Iron,Water\n"
        row = f"{waiting['sample']},{waiting['engine'].lower()},2026-01-01,1,14,0.04\n"
        token = sent(c, (head + row).encode())
        found = look(c, token).json()
        # 0.04 of water without a unit is asked about, never guessed.
        assert [q["about"] for q in found["questions"]] == ["water"]
        assert bring(c, token, with_laboratory(found)).json()["code"] == "layout_open"
        layout = {**with_laboratory(found), "water": "%"}
        assert look(c, token, layout).json()["engines"][0]["known"] == waiting["engine"]
        assert bring(c, token, layout).json()["written"]
        page = c.get(f"/api/samples/{waiting['sample']}").json()
        assert page["drawn_on"] == waiting["drawn_on"]
        assert {x["column"]: x["text"] for x in page["ladders"]}["Fe_ppm"] == "14"


def test_a_bottle_of_another_engine_is_not_taken(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        waiting = next(b for b in c.get("/api/inbox").json()["out"] if b["engine"])
        other = next(
            r["code"] for r in c.get("/api/wall").json()["rows"] if r["code"] != waiting["engine"]
        )
        text = f"Sample,Unit,Date,Iron\n{waiting['sample']},{other},2026-01-01,14\n"
        token = sent(c, text.encode())
        answer = bring(c, token, with_laboratory(look(c, token).json()))
        assert answer.json()["code"] == "cells_unread"
        assert f"is {waiting['engine']}'s on record" in answer.json()["message"]


def test_what_cannot_be_is_refused_in_words(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        assert look(c, "0" * 32).status_code == 404
        token = sent(c, b"%PDF-1.7 ...", "report.pdf")
        assert "paste" in look(c, token).json()["message"]
        token = sent(c, b"Unit,Hours,Iron\nU-1,120,14\n")
        assert look(c, token).json()["lacking"] == [REPORT_FIELDS["drawn_on"], "laboratory"]
        token = sent(c, b"Unit,Date,Hours,Iron\nU-1,2026-01-01,7,14\n")
        found = look(c, token).json()
        twice = with_laboratory(found)
        twice["columns"] = [{**x, "target": "Fe_ppm"} for x in twice["columns"]]
        assert look(c, token, twice).json()["code"] == "target_twice"
        odd = with_laboratory(found)
        odd["columns"][0]["target"] = "drop table"
        assert look(c, token, odd).json()["code"] == "unknown_target"
        wrong = {"said": "U-1", "engine_class": "rocket"}
        assert bring(c, token, with_laboratory(found), engines=[wrong]).status_code == 422
    with changing.client(None) as nobody:
        assert look(nobody, "0" * 32).status_code in (401, 403)


def test_milligrams_a_litre_are_no_ppm(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        token = sent(c, b"Unit,Date,Hours,Iron (mg/L)\nG-03,2026-01-01,1,14\n")
        found = look(c, token).json()
        assert found["layout"]["columns"][3]["unit"] == "mg/L"
        refused = bring(c, token, with_laboratory(found)).json()
        assert refused["code"] == "cells_unread"
        assert "does not fit Iron" in str(refused)


def test_a_fuel_by_volume_is_weighed_by_what_the_engine_burns(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        rows = (
            b"Unit,Date,Report,Fuel % vol,Iron\nG-03,2026-01-01,V1,4,14\nU-03,2026-01-01,V2,4,14\n"
        )
        token = sent(c, rows)
        assert bring(c, token, with_laboratory(look(c, token).json())).json()["problem_count"] == 0
        said = [
            ladder["value"]
            for code in ("V1", "V2")
            for ladder in c.get(f"/api/samples/{code}").json()["ladders"]
            if ladder["column"] == "fuel_pct"
        ]
        # 40 mL weighing 33.6 g (diesel) or 30 g (petrol) in 960 mL of oil weighing 835.2 g.
        assert said == pytest.approx([100 * 33.6 / (33.6 + 835.2), 100 * 30.0 / (30.0 + 835.2)])


def test_per_cent_by_volume_are_brought_to_per_cent_by_mass(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        token = sent(c, b"Unit,Date,Fuel % vol,Iron\nG-03,2026-01-01,2.1,14\n")
        found = look(c, token).json()
        assert found["layout"]["columns"][2]["unit"] == "% vol"
        report = bring(c, token, with_laboratory(found), preview=True).json()
        assert report["problem_count"] == 0
        # A person who knows the laboratory means mass says so.
        layout = with_laboratory(found)
        layout["columns"][2]["unit"] = "%"
        layout["columns"] = [
            {k: x[k] for k in ("heading", "target", "unit")} for x in layout["columns"]
        ]
        tried = bring(c, token, layout, preview=True).json()
        assert tried["problem_count"] == 0


def test_a_sheet_is_read_anew_only_where_how_it_is_read_changed(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        token = sent(c, b"Unit,Date,Hours,Iron\nG-03,2026-01-01,9000,14\nG-03,2026-02-01,9100,15\n")
        found = look(c, token).json()
        named = with_laboratory(found)
        named["columns"] = [
            {k: x[k] for k in ("heading", "target", "unit")} for x in named["columns"]
        ]
        again = look(c, token, named).json()
        assert (again["told"], again["samples"]) == (found["told"], 2)
        named["columns"][3]["target"] = "Cu_ppm"
        other = look(c, token, named).json()
        assert "Cu 14" in other["told"][0]["figures"]


def test_what_is_read_beside_the_figures_is_said_with_its_unit(changing: Server) -> None:
    """Hours on the oil and an amount come in as said here; a bare gallon is taken as a US one."""
    table = b"Unit;Date;Meter;Hours on oil;Oil added (gal);Fe\nU-1;2026-10-01;900;212;1;14\n"
    with changing.client("Mira Ostrand") as c:
        found = look(c, sent(c, table)).json()["told"]
    assert [t["beside"] for t in found] == ["hours on the oil 212, topped up 1 US gal"]


def test_a_word_where_litres_belong_is_said_and_left_out(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        text = b"Unit,Date,Hours,Oil added,Iron\nG-03,2026-01-01,9000,some,14\n"
        token = sent(c, text)
        answer = bring(c, token, with_laboratory(look(c, token).json()))
        assert answer.status_code == 422
        assert "'some' is no figure" in answer.json()["message"]


FRESH_OIL = (
    "Sample,Unit,Date,Hours,Fe,Ca,Zn,P,Visc@100C,{more}\n"
    "NEW OIL,,,,1,3100,1200,1000,14.6,\n"
    "90001,G-07,2026-02-03,,14,3010,1150,960,14.1,{said}\n"
)


def test_a_row_of_fresh_oil_becomes_the_reference_of_its_oil(changing: Server) -> None:
    text = FRESH_OIL.format(more="Oil", said="Fjord 15W-40")
    with changing.client("Mira Ostrand") as c:
        token = sent(c, text.encode())
        found = look(c, token).json()
        assert found["samples"] == 1
        assert [e["said"] for e in found["engines"]] == ["G-07"]
        assert found["fresh"] == [{"row": 2, "oil": "Fjord 15W-40", "figures": 5}]
        layout = with_laboratory(found)
        unnamed = bring(c, token, layout)
        assert unnamed.json()["code"] == "cells_unread"
        assert "it is fresh oil" in unnamed.text
        done = bring(c, token, layout, oils=[{"row": 2, "oil": "Fjord 15W-40"}]).json()
        assert done["written"], done
        assert {f["table"]: f["added"] for f in done["files"]} == {
            "oils": 1,
            "samples": 1,
            "readings": 5,
        }
        archive = c.get("/api/export.zip").content
    with zipfile.ZipFile(io.BytesIO(archive)) as z:
        lines = list(csv.DictReader(io.TextIOWrapper(z.open("oils.csv"), "utf-8")))
    made = next(r for r in lines if r["oil"] == "Fjord 15W-40")
    assert (made["Ca_ppm"], made["Zn_ppm"], made["KV100_mm2_s"]) == ("3100", "1200", "14.6")


def test_fresh_oil_whose_oil_nothing_tells_is_asked_about(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        found = look(c, sent(c, FRESH_OIL.format(more="Remark", said="").encode())).json()
    assert [f["oil"] for f in found["fresh"]] == [""]
    assert found["oils"], "those on record are offered"
