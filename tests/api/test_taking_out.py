"""What leaves by the pages: everything in four forms, blank tables, a table of a page, paper."""

import csv
import io
import json
import zipfile

import pypdfium2
from openpyxl import load_workbook

from keen_tracer.exchange.tables import TABLES
from tests.day import DEMO_DAY
from tests.server import Server


def pages(content: bytes) -> list[str]:
    document = pypdfium2.PdfDocument(content)
    return [" ".join(p.get_textpage().get_text_range().split()) for p in document]


def test_everything_leaves_in_four_forms_that_agree(server: Server) -> None:
    with server.client("Mira Ostrand") as c:
        archive = zipfile.ZipFile(io.BytesIO(c.get("/api/export.zip").content))
        plain = json.loads(c.get("/api/export.json").content)
        book = load_workbook(io.BytesIO(c.get("/api/export.xlsx").content), read_only=True)
        guarded = zipfile.ZipFile(io.BytesIO(c.get("/api/export.zip?spreadsheet=true").content))
        for table in ("engines", "samples", "verdicts"):
            lines = list(csv.reader(io.StringIO(archive.read(f"{table}.csv").decode())))
            assert len(plain[table]) == len(lines) - 1
            assert sum(1 for _ in book[table].iter_rows()) == len(lines)
            assert len(guarded.read(f"{table}.csv").decode().splitlines()) >= len(lines)


def test_blank_tables_are_those_that_can_be_filled_in(server: Server) -> None:
    with server.client("Mira Ostrand") as c:
        terms = c.get("/api/terms").json()["tables"]
        assert terms == [t.name for t in TABLES.values() if not t.export_only]
        for table in terms:
            text = c.get(f"/api/blank/{table}.csv").text
            assert set(TABLES[table].required) <= set(text.strip().split(","))
        assert c.get("/api/blank/verdicts.csv").status_code == 404
        two = c.get("/api/blank.xlsx", params={"table": ["engines", "samples"]})
        assert load_workbook(io.BytesIO(two.content)).sheetnames[1:] == ["engines", "samples"]
        assert c.get("/api/blank.xlsx", params={"table": ["engines", "nope"]}).status_code == 404
        assert c.get("/api/blank.xlsx").status_code == 422


def test_a_table_of_a_page_leaves_as_a_workbook(server: Server) -> None:
    sent = {
        "name": "G-03: [strips]/*",
        "columns": ["said", "ppm"],
        "rows": [["=A1", 14], ["x", None]],
    }
    with server.client("Mira Ostrand") as c:
        answer = c.post("/api/sheet.xlsx", json=sent)
        rows = list(load_workbook(io.BytesIO(answer.content)).active.iter_rows(values_only=True))
        assert rows == [("said", "ppm"), ("=A1", 14), ("x", None)]
        wide = {**sent, "rows": [["a", "b", "c"]]}
        assert c.post("/api/sheet.xlsx", json=wide).status_code == 422
        assert c.post("/api/sheet.xlsx", json={**sent, "rows": [["x" * 5000]]}).status_code == 422
    with server.client(None) as nobody:
        assert nobody.post("/api/sheet.xlsx", json=sent).status_code == 401


def test_letters_of_a_while_are_one_document_a_page_each(server: Server) -> None:
    with server.client("Mira Ostrand") as c:
        signed = {
            s["sample"]
            for e in ("G-03", "P-03", "L-11")
            for s in c.get(f"/api/engines/{e}").json()["samples"]
            if s["signed"]
        }
        month = DEMO_DAY.replace(day=1)
        answer = c.get("/api/letters.pdf", params={"since": "2000-01-01", "depot": "valley"})
        found = pages(answer.content)
        assert 1 < len(found) <= 40
        named = [p.split("Sample ")[1].split(",")[0] for p in found]
        assert len(set(named)) == len(named)
        assert signed & set(named)
        late = c.get("/api/letters.pdf", params={"since": "2199-01-01"})
        assert late.status_code == 404
        assert "signed since 2199-01-01" in late.text
        whole = c.get("/api/month.pdf", params={"first": month.isoformat()})
        said = " ".join(pages(whole.content))
        assert f"{month:%B %Y}, whole fleet" in said
        assert "Drawn and raised" in said
        # A month before there was anything says so.
        none = " ".join(pages(c.get("/api/month.pdf", params={"first": "1999-02-11"}).content))
        assert "No sample was drawn" in none
        assert "No inspection was told" in none
