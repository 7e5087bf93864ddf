"""Reports in PDF by their text: read as pasted, and what is no such report is refused in words."""

from pathlib import Path

import pytest

from keen_tracer.exchange.cells import BadCell
from keen_tracer.exchange.layouts import from_text, pdf_text
from keen_tracer.exchange.printing import printed

LINES = """<h1>Northfall Laboratories</h1><p>Report No: N 881</p><p>Unit ID: U-3</p>
<p>Sample date: 2026-03-02</p><table style="width:100%">{}</table><p>Comments: resample soon</p>"""


def row(*cells: str) -> str:
    return f"<tr>{''.join(f'<td>{c}</td>' for c in cells)}</tr>"


def drawn(tmp_path: Path, html: str) -> Path:
    path = tmp_path / "report.pdf"
    path.write_bytes(printed(f"<html><body>{html}</body></html>", None))
    return path


def test_figures_stand_beside_their_names_also_in_two_columns(tmp_path: Path) -> None:
    rows = [("Iron (Fe)", "14", "Chromium", "&lt;1"), ("Lead", "3", "Visc @ 100C cSt", "14.1")]
    found = from_text(pdf_text(drawn(tmp_path, LINES.format("".join(row(*r) for r in rows)))))
    assert found.figures == {
        "Fe_ppm": "14",
        "Cr_ppm": "<1",
        "Pb_ppm": "3",
        "KV100_mm2_s": "14.1 cSt",
    }
    assert found.facts["engine"] == "U-3"
    assert found.facts["drawn_on"] == "2026-03-02"
    assert found.facts["note"] == "resample soon"
    assert found.unread == ["Northfall Laboratories"]


def test_of_several_samples_the_newest_is_read_only_where_days_say_which(tmp_path: Path) -> None:
    figures = row("Iron", "31", "22", "14") + row("Copper", "9", "8", "6")
    dated = row("Sampled", "2026-03-02", "2026-01-05", "2025-11-20") + figures
    found = from_text(pdf_text(drawn(tmp_path, f"<table style='width:100%'>{dated}</table>")))
    assert found.figures == {"Fe_ppm": "31", "Cu_ppm": "9"}
    assert found.facts["drawn_on"] == "2026-03-02"
    # Without days, or with days that could be two, nothing is guessed.
    for head in ("", row("Sampled", "02/03/2026", "05/01/2026", "11/11/2025")):
        table = f"<table style='width:100%'>{head}{figures}</table>"
        found = from_text(pdf_text(drawn(tmp_path, table)))
        assert found.figures == {}
        assert [q.about for q in found.questions] == ["sample"]


COLUMNS = "Iron  31  22  14\nCopper  9  8  -\nWater  <0.1  <0.1  0.2\nTin  2"


def test_where_nothing_tells_the_samples_apart_it_is_asked_which_is_this_one() -> None:
    found = from_text(COLUMNS)
    assert found.figures == {"Sn_ppm": "2"}
    (asked,) = found.questions
    assert asked.about == "sample"
    assert asked.seen[0] == "Iron 31, Copper 9, Water <0.1"
    assert len(asked.seen) == 3
    for place, figures in enumerate(
        (("31", "9", "<0.1"), ("22", "8", "<0.1"), ("14", None, "0.2"))
    ):
        told = from_text(COLUMNS, sample=place)
        assert told.questions == ()
        assert (told.figures["Fe_ppm"], told.figures.get("Cu_ppm")) == figures[:2]
        assert told.figures["water_pct"].split()[0] == figures[2]
        assert told.figures["Sn_ppm"] == "2"


def test_a_place_nothing_stands_at_takes_nothing() -> None:
    assert from_text(COLUMNS, sample=7).figures == {"Sn_ppm": "2"}


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"PK\x03\x04", "no PDF"),
        (b"%PDF-1.7\nnothing of the kind", "cannot be read|no text"),
        (b"", "no PDF"),
    ],
)
def test_what_is_no_report_is_refused_in_words(tmp_path: Path, content: bytes, words: str) -> None:
    path = tmp_path / "a.pdf"
    path.write_bytes(content)
    with pytest.raises(BadCell, match=words):
        pdf_text(path)


def test_a_picture_of_a_report_is_said_to_be_one(tmp_path: Path) -> None:
    with pytest.raises(BadCell, match="picture of a report"):
        pdf_text(drawn(tmp_path, "<div style='width:90px;height:90px;background:#888'></div>"))
    with pytest.raises(BadCell, match="21 pages"):
        page = "<p style='break-after:page'>Iron 14</p>"
        pdf_text(drawn(tmp_path, page * 20 + "<p>Lead 2</p>"))


# What PDF 1.4 says of a document locked for reading (revision 2 of its standard handler); that no
# password opens these keys is all that matters here.
LOCKED = b"""%PDF-1.4
1 0 obj <</Type /Catalog /Pages 2 0 R>> endobj
2 0 obj <</Type /Pages /Kids [] /Count 0>> endobj
3 0 obj <</Filter /Standard /V 1 /R 2 /P -4 /O <OWNER> /U <USER>>> endobj
trailer <</Root 1 0 R /Size 4 /Encrypt 3 0 R /ID [<00> <00>]>>
%%EOF
""".replace(b"OWNER", b"41" * 32).replace(b"USER", b"42" * 32)


def test_a_locked_report_is_said_to_be_locked(tmp_path: Path) -> None:
    path = tmp_path / "locked.pdf"
    path.write_bytes(LOCKED)
    with pytest.raises(BadCell, match="locked with a password: save it without one"):
        pdf_text(path)
