"""A watched folder: what a person once brought in on the page comes in by itself, the rest waits
with why, and nothing half of either."""

import random
from dataclasses import replace
from pathlib import Path

from keen_tracer.core.roles import Actor
from keen_tracer.exchange.layouts import sheets_of
from keen_tracer.storage.db import single
from keen_tracer.storage.records import number
from keen_tracer.usecases.importing import kept_layouts, looking
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.importing.watched import DONE, TRAY, Watch
from tests.exchange.layouts.laboratories import laboratory, samples

WHO = Actor("Test Analyst", "analyst")
ENGINES = "engine,class\n" + "".join(f"U-{n},heavy_diesel\n" for n in (1, 2, 3))


def two_looks(watch: Watch, url: str) -> list[tuple[str, str]]:
    """A file is taken at the second look, once it has stopped growing."""
    assert list(watch.look(url, WHO)) == []
    return [(x.name, x.why) for x in watch.look(url, WHO)]


def test_our_own_files_and_a_known_laboratory_come_in_by_themselves(
    url: str, tmp_path: Path
) -> None:
    folder, elsewhere = tmp_path / "in", tmp_path / "elsewhere"
    folder.mkdir()
    elsewhere.mkdir()
    watch = Watch(folder)
    (folder / "engines.csv").write_text(ENGINES)
    assert two_looks(watch, url) == [("engines.csv", "")]
    of = laboratory(2)
    listed = samples(random.Random(2), 9)
    report = of.write(listed, elsewhere)
    # Nobody brought such a file in yet: it waits, and nothing of it is written.
    (folder / report.name).write_bytes(report.read_bytes())
    [(_, why)] = two_looks(watch, url)
    assert "nobody brought in a file with these headings" in why
    tray = sorted(f.name for f in (folder / TRAY).iterdir())
    assert len(tray) == 2
    assert tray[1].endswith(".why.txt")
    with single(url) as c:
        assert number(c, "count_samples") == 0
        sheet = max(sheets_of("a", report, tmp_path / "made"), key=lambda s: s.rows)
        found, _ = looking.proposal(c, sheet, None)
        said = replace(
            found.layout,
            laboratory="Northfall",
            decimal="comma" if of.comma else "point",
            days="month_first" if of.days == "us" else found.layout.days or "day_first",
        )
        kept_layouts.keep(c, said, WHO.name)
    (folder / report.name).write_bytes(report.read_bytes())
    assert two_looks(watch, url) == [(report.name, "")]
    assert any(report.name in f.name for f in (folder / DONE).iterdir())
    with single(url) as c:
        assert number(c, "count_samples") == 9
    # Laid there again it adds nothing, and an unknown engine makes it wait whole.
    strange = [
        *listed[:3],
        replace(listed[3], facts={**listed[3].facts, "engine": "X-9", "report": "R9"}),
    ]
    more = of.write(strange, elsewhere)
    (folder / more.name).write_bytes(more.read_bytes())
    [(_, why)] = two_looks(watch, url)
    assert "not on record" in why
    with single(url) as c:
        assert number(c, "count_samples") == 9


def test_what_is_no_table_waits(url: str, tmp_path: Path) -> None:
    (tmp_path / "report.pdf").write_bytes(b"%PDF-1.7 a scan")
    (tmp_path / ".hidden").write_text("nothing")
    [(name, why)] = two_looks(Watch(tmp_path), url)
    assert name == "report.pdf"
    assert "PDF" in why


def test_a_growing_file_is_left_until_it_is_whole(url: str, tmp_path: Path) -> None:
    file = tmp_path / "engines.csv"
    watch = Watch(tmp_path)
    file.write_text("engine,class\nU-1,heavy")
    assert list(watch.look(url, WHO)) == []
    file.write_text(ENGINES)
    assert list(watch.look(url, WHO)) == []
    assert [x.why for x in watch.look(url, WHO)] == [""]
    assert import_files(url, [("e", tmp_path / DONE / next((tmp_path / DONE).iterdir()))], WHO)
