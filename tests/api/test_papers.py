"""Paper worth handing over: its text can be selected and is tagged, it says what the pages say, and
what the record cannot say."""

import io
import re
from pathlib import Path
from uuid import uuid4

import pypdfium2
import pypdfium2.raw as pdfium
import pytest
from PIL import Image

from keen_tracer.core.roles import at_the_machine
from keen_tracer.storage.db import single
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.people import add_person
from tests.day import DEMO_DAY
from tests.helpers import write_csv
from tests.server import Server


def text(content: bytes) -> tuple[str, int]:
    """The words of a PDF in one line, and its pages."""
    document = pypdfium2.PdfDocument(content)
    assert pdfium.FPDFCatalog_IsTagged(document.raw)
    said = " ".join(page.get_textpage().get_text_range() for page in document)
    return " ".join(said.split()), len(document)


def test_the_letter_is_one_page_and_says_what_the_page_says(server: Server) -> None:
    with server.client("Mira Ostrand") as c:
        newest = [m["sample"] for m in c.get("/api/engines/P-03").json()["samples"]][-2]
        page = c.get(f"/api/samples/{newest}").json()
        answer = c.get(f"/api/samples/{newest}/letter.pdf")
        assert answer.headers["content-type"] == "application/pdf"
        assert f'filename="P-03_sample_{newest}.pdf"' in answer.headers["content-disposition"]
        said, pages = text(answer.content)
        assert pages == 1
        # One headline of this sample, one deadline, from whom and to whom.
        assert "To summit. A draft: nobody has signed it." in said
        assert "Act. Sodium 85 ppm" in said
        [deadline] = {" ".join(a["ends"].split()) for a in page["verdict"]["actions"]}
        assert said.count(deadline) == 1
        origins = {x["origin"] for x in page["verdict"]["said"]}
        assert all(said.count(x) == 1 for x in origins if x != "common practice")
        for one in page["verdict"]["said"]:
            assert one["sentence"][:30] in said
        for a in page["verdict"]["actions"]:
            assert a["caution"][:30] in said
        for x in page["ladders"]:
            assert f"{x['text']} {x['unit']}".strip() in said
        assert page["verdict"]["limits"] in said
        assert c.get("/api/samples/NOPE/letter.pdf").status_code == 404
        assert c.get(f"/api/samples/{newest}/letter.pdf?size=A0").status_code == 422


def test_a_photograph_of_the_bottle_stands_in_the_letter(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        newest = [m["sample"] for m in c.get("/api/engines/G-03").json()["samples"]][-2]
        log = c.get(f"/api/report/{newest}").json()["log"]

        def pictures() -> list[tuple[float, float]]:
            document = pypdfium2.PdfDocument(c.get(f"/api/samples/{newest}/letter.pdf").content)
            assert len(document) == 1
            found = document[0].get_objects(filter=[pdfium.FPDF_PAGEOBJ_IMAGE])
            return [x.get_px_size() for x in found]

        assert pictures() == []
        jpeg = io.BytesIO()
        Image.effect_noise((900, 600), 60).convert("RGB").save(jpeg, "JPEG")
        sent = c.post(f"/api/log/{log}/photos/{uuid4()}", content=jpeg.getvalue())
        assert sent.status_code == 200
        [(wide, high)] = pictures()
        assert wide / high == pytest.approx(900 / 600, rel=0.02)


def test_a_letter_that_was_signed_says_by_whom_and_when(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        one = next(s for s in c.get("/api/queue").json() if s["level"])
        signed = {"level": one["level"], "basis": one["basis"], "note": "Agreed."}
        answer = c.post(f"/api/samples/{one['sample']}/sign", json=signed)
        assert answer.is_success, answer.text
        said, _ = text(c.get(f"/api/samples/{one['sample']}/letter.pdf").content)
    assert f"To {one['depot']}, from Mira Ostrand, " in said
    assert "Signed Act; the program proposed Act. Agreed." in said


def test_a_customer_reads_what_was_found_why_and_what_it_came_to(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        shell = next(
            f
            for f in c.get("/api/engines/G-07/opened").json()["findings"]
            if f["words"] == "worn to copper"
        )
        jpeg = io.BytesIO()
        Image.effect_noise((900, 600), 60).convert("RGB").save(jpeg, "JPEG")
        sent = c.post(f"/api/log/{shell['id']}/photos/{uuid4()}", content=jpeg.getvalue())
        assert sent.is_success, sent.text
        answer = c.get("/api/engines/G-07/opened.pdf", params={"size": "letter"})
        said, _ = text(answer.content)
        [page] = pypdfium2.PdfDocument(answer.content)
        assert len(list(page.get_objects(filter=[pdfium.FPDF_PAGEOBJ_IMAGE]))) == 1
        assert c.get("/api/engines/G-01/opened.pdf").status_code == 404
    assert "Relief valve: spring short or weak" in said
    assert "oil clearance 0.158 mm, allowed 0.05 to 0.11: outside" in said
    assert "too little pressure starves the bearings furthest from the pump" in said
    assert f"{shell['number']}. {shell['where']}" in said
    assert "In all: still estimated at" in said
    assert "Do not run." in said


def test_the_page_of_a_case_says_what_it_was(server: Server) -> None:
    with server.client("Mira Ostrand") as c:
        cases = {k["name"]: k["id"] for k in c.get("/api/cases").json()}
        ended, _ = text(
            c.get(f"/api/cases/{cases['rattle at the cold start']}/customer.pdf").content
        )
        opened, _ = text(c.get(f"/api/cases/{cases['coolant in the oil']}/customer.pdf").content)
        assert c.get(f"/api/cases/{uuid4()}/customer.pdf").status_code == 404
    assert re.search(r"Timing chain guides or tensioner \(Jon Tveld, \d+ \w+ 20\d\d\)", ended)
    assert "rattle for two seconds after a cold start" in ended
    assert re.search(r"20\d\d: sample \d+: (Watch|Act)", ended)
    assert "cost 355, first estimated at 380" in ended
    assert "The cause is not settled yet." in opened
    assert "oil cooler leak" in opened
    for inside in ("log-odds", "0.06", "bits"):
        assert inside not in ended + opened


def test_paper_tells_oil_in_the_units_of_who_asks(changing: Server) -> None:
    """A US quart is 57.75 cubic inches (NIST SP 811, appendix B): 25 L are 26.4 of them."""
    with changing.client("Mira Ostrand") as c:
        case = next(k["id"] for k in c.get("/api/cases").json() if k["engine"] == "P-03")
        for unit, said in (("L", "25 L put in"), ("US qt", "26.42 US qt put in")):
            assert c.put("/api/me/volume", json={"chosen": unit}).is_success
            history, _ = text(c.get("/api/engines/P-03/history.pdf").content)
            assert said in history
            line = c.get(f"/api/cases/{case}").json()["line"]
            assert any(said in x["words"] for x in line)


def test_a_sentence_names_amounts_in_the_units_of_who_reads_it(changing: Server) -> None:
    """12 L are 12.68 US qt, 3.1 bar 44.96 psi, 85 °C 185 °F (NIST SP 811, appendix B), on every
    page that says why, and in every row of the log."""
    own = ("12 L of coolant", "3.1 bar hot", "drained at 85 °C")
    chosen = ("12.68 US qt of coolant", "44.96 psi hot", "drained at 185 °F")
    units = {"volume": ("L", "US qt"), "pressure": ("bar", "psi"), "temperature": ("°C", "°F")}
    hot = {"part": "oil_pressure", "details": {"pressure_hot_bar": "3.1"}}
    events = (
        {"kind": "coolant_top_up", "details": {"coolant_l": "12"}},
        {"kind": "symptom", **hot},
        {"kind": "oil_change", "details": {"drained_c": "85"}},
    )
    with changing.client("Mira Ostrand") as c:
        for event in events:
            sent = {"id": str(uuid4()), "on": str(DEMO_DAY), **event}
            c.post("/api/engines/P-03/log", json=sent).raise_for_status()
        judge_stale(changing.url)
        engine = c.get("/api/engines/P-03").json()
        sample = [m["sample"] for m in engine["samples"]][-2]
        case = next(k["id"] for k in c.get("/api/cases").json() if k["engine"] == "P-03")
        why = (
            "/api/wall?find=P-03", "/api/runs?find=P-03", "/api/stops/P-03",
            f"/api/samples/{sample}",
        )  # fmt: skip
        everything = ("/api/engines/P-03", "/api/engines/P-03/logbook", f"/api/cases/{case}")
        for turn, (here, absent) in enumerate(((own, chosen), (chosen, own))):
            for what, of in units.items():
                assert c.put(f"/api/me/{what}", json={"chosen": of[turn]}).is_success
            for page in why:
                said = c.get(page).text
                assert here[0] in said and absent[0] not in said, page
            for page in everything:
                said = c.get(page).text
                assert [x for x in here if x not in said] == [], page
                assert [x for x in absent if x in said] == [], page
            reading = {"id": str(uuid4()), "on": str(DEMO_DAY), "kind": "symptom", "part": "noise"}
            answer = c.post("/api/engines/P-03/log", json=reading).text
            assert here[0] in answer and absent[0] not in answer
            history, _ = text(c.get("/api/engines/P-03/history.pdf").content)
            assert here[0] in history


def test_the_history_hides_no_gap(changing: Server, tmp_path: Path) -> None:
    """Two samples 761 days apart are a gap, though each gap there is is as long as usual."""
    files = {
        "engines.csv": "engine,class,interval_days\nQ-1,heavy_diesel,90\n",
        "samples.csv": "sample,engine,drawn_on,meter,Fe_ppm,Cu_ppm\n"
        "Q1,Q-1,2024-09-30,1000,41,7\nQ2,Q-1,2026-10-31,1900,<1,8\n",
    }
    paths = [(name, write_csv(tmp_path, name, content)) for name, content in files.items()]
    assert import_files(changing.url, paths, at_the_machine("t")).written
    judge_stale(changing.url)
    with changing.client("Mira Ostrand") as c:
        said, _ = text(c.get("/api/engines/Q-1/history.pdf").content)
    assert "No sample for 761 days, from 30 Sep 2024 to 31 Oct 2026." in said
    assert "No oil change is on record." in said
    assert "To be sampled every 90 days." in said
    figures = said[said.index("Figures of the newest 2 samples") :]
    assert re.search(r"Iron, ppm\s+41\s+<1", figures)


def test_the_history_tells_what_people_found_decided_and_spent(changing: Server) -> None:
    with changing.client("Mira Ostrand") as c:
        found = {"id": str(uuid4()), "on": str(DEMO_DAY), "found": "nothing", "confirmed": "no"}
        answer = c.post("/api/engines/G-05/outcomes", json={**found, "cost": 1430})
        assert answer.is_success, answer.text
    with single(changing.url) as c:
        add_person(c, "Root", "admin", at_the_machine("root"))
    with changing.client("Root") as c:
        assert c.post("/api/library/currency", json={"currency": " kr "}).is_success
    with changing.client("Runa Skarsel") as c:
        assert c.get("/api/state").json()["currency"] == "kr"
        refused = c.post("/api/library/currency", json={"currency": "x"})
        assert refused.status_code == 403
        hold = {"state": "hold", "reason": "a noise nobody can place"}
        assert c.post("/api/engines/G-05/run", json=hold).is_success
        said, _ = text(c.get("/api/engines/G-05/history.pdf").content)
    assert "What was found" in said
    assert "cost 1 430 kr" in said
    assert "Decisions on whether the engine may run" in said
    assert re.search(r"do not run, by Runa Skarsel: .a noise nobody can place", said)


def test_the_history_says_what_it_is_and_what_it_cannot_say(server: Server) -> None:
    with server.client("Mira Ostrand") as c:
        e = c.get("/api/engines/G-07").json()
        answer = c.get("/api/engines/G-07/history.pdf", params={"size": "letter"})
        said, pages = text(answer.content)
        assert pages >= 3
        assert "Do not run" in said
        assert "What this record can and cannot say" in said
        assert f"{len(e['samples'])} samples" in said
        arrived = [s for s in e["samples"] if s["arrived"]]
        unsigned = sum(not s["signed"] for s in arrived)
        told = f"{unsigned} of {len(arrived)} verdicts are signed by nobody"
        assert (told in said) == bool(unsigned)
        for s in e["samples"]:
            assert s["sample"] in said
        assert "Figures of the newest 5 samples" in said
        assert "No sample for" in said
        # An engine that stood in no laboratory has its history as well.
        never = c.get("/api/engines/U-05/history.pdf")
        assert never.status_code == 200
        assert c.get("/api/engines/NOPE/history.pdf").status_code == 404
