"""Everything out and in again gives the same bytes, sign-offs included; a backup restores to an
equal database."""

import csv
import hashlib
import json
import re
import zipfile
from collections.abc import Callable
from datetime import date
from io import BytesIO, StringIO
from pathlib import Path
from uuid import uuid4

import pytest

from keen_tracer.core.roles import Actor, at_the_machine
from keen_tracer.storage.backup import CannotRestore, backup, hashes, restore
from keen_tracer.storage.db import single
from keen_tracer.storage.migrate import drop_database, ensure_database
from keen_tracer.storage.records import number, rows
from keen_tracer.usecases.exporting import export_folder, export_zip, write_zip
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging import deciding
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.pages import queue
from tests.conftest import at
from tests.day import DEMO_DAY


def bytes_of(folder: Path) -> dict[str, bytes]:
    return {
        str(p.relative_to(folder)): p.read_bytes() for p in sorted(folder.rglob("*")) if p.is_file()
    }


def test_export_import_export_gives_the_same_bytes(demo_copy, new_database, tmp_path) -> None:
    """With every kind of record: corrected sign-offs, a withdrawn one, run decisions, an answered
    amendment."""
    with single(demo_copy) as c:
        waiting = queue.waiting(c)[:3]
        first = waiting[0]
        key = deciding.sign(
            c,
            first["sample"],
            first["level"],
            first["input_hash"],
            first["standing"],
            "",
            "note",
            Actor("A", "analyst"),
        )
        deciding.undo_sign(c, first["sample"], key, Actor("A", "analyst"))
        other = waiting[1]
        deciding.sign(
            c,
            other["sample"],
            0,
            other["input_hash"],
            other["standing"],
            'Said "clean", he\nthought',
            "",
            Actor("A", "analyst"),
        )
        want = deciding.NewRunDecision(
            state="restrict",
            until=9000.0,
            until_on=date(2027, 1, 31),
            reason="until the weekend",
        )
        deciding.decide_run(c, "G-01", want, Actor("R", "releaser"))
    lab, number_ = amended(demo_copy, tmp_path)
    with single(demo_copy) as c:
        report = next(
            r
            for r in rows(c, "pending_amendments")
            if r["number"] == number_ and r["laboratory"] == lab
        )
        deciding.answer_amendment(c, report["id"], True, "laboratory wrote", Actor("A", "analyst"))
    judge_stale(demo_copy)
    export_folder(demo_copy, tmp_path / "one")
    target = new_database()
    files = [(p.name, p) for p in sorted((tmp_path / "one").glob("*.csv"))]
    report_ = import_files(target, files, at_the_machine("round trip"), as_record=True)
    assert report_.written, report_.problems[:5]
    judge_stale(target)
    export_folder(target, tmp_path / "two")
    one, two = bytes_of(tmp_path / "one"), bytes_of(tmp_path / "two")
    assert one.keys() == two.keys()
    for name in one:
        assert one[name] == two[name], name
    assert any(name.startswith("pictures/") for name in one)
    assert b"round trip" not in two["decisions.csv"]


def amended(url: str, tmp_path: Path) -> tuple[str, str]:
    """Bring in another report of a known number, with one figure changed."""
    with single(url) as c:
        found = c.execute(
            "select r.laboratory, r.number, s.code, r.analysed_on from report r join sample s "
            "on s.id = r.sample_id order by r.id limit 1"
        ).fetchone()
    assert found is not None
    lab, number_, sample, on = found
    file = tmp_path / "readings.csv"
    file.write_text(
        "laboratory,report,revision,sample,analyte,reading,analysed_on\n"
        f"{lab},{number_},2,{sample},Fe_ppm,77,{on}\n{lab},{number_},2,{sample},Pb_ppm,<1,{on}\n"
    )
    assert import_files(url, [(file.name, file)], at_the_machine("lab")).written
    return lab, number_


def test_the_zip_of_the_page_is_the_folder_of_the_command_line(demo_url, tmp_path) -> None:
    export_folder(demo_url, tmp_path)
    with single(demo_url) as c:
        data = export_zip(c)
        again = export_zip(c)
    assert data == again
    archive = zipfile.ZipFile(BytesIO(data))
    assert {n: archive.read(n) for n in archive.namelist()} == bytes_of(tmp_path)
    schema = json.loads(archive.read("datapackage.json"))
    for resource in schema["resources"]:
        header = archive.read(resource["path"]).decode().splitlines()[0]
        assert header.split(",") == [f["name"] for f in resource["schema"]["fields"]]


def test_a_zipped_export_comes_in_as_it_is(demo_url, new_database, tmp_path) -> None:
    with single(demo_url) as c:
        (tmp_path / "all.zip").write_bytes(export_zip(c))
    target = new_database()
    files = [("all.zip", tmp_path / "all.zip")]
    assert import_files(target, files, at_the_machine("t"), as_record=True).written
    with single(target) as c:
        assert number(c, "count_engines") == 26
        assert all(len(s["mark"]) == 12 for s in rows(c, "sources"))


def test_a_backup_restores_to_an_equal_database(demo_url, new_database, tmp_path) -> None:
    counts = backup(demo_url, tmp_path / "b.keen")
    assert counts["sample"] > 400
    target = new_database()
    assert restore(target, tmp_path / "b.keen") == counts
    with single(demo_url) as a, single(target) as b:
        assert hashes(a) == hashes(b)
    export_folder(demo_url, tmp_path / "one")
    export_folder(target, tmp_path / "two")
    assert bytes_of(tmp_path / "one") == bytes_of(tmp_path / "two")


def test_work_goes_on_after_a_restore(demo_url, new_database, tmp_path) -> None:
    """Identity columns continue behind what was restored."""
    backup(demo_url, tmp_path / "b.keen")
    target = new_database()
    restore(target, tmp_path / "b.keen")
    file = tmp_path / "samples.csv"
    file.write_text(f"sample,engine,drawn_on,meter,Fe_ppm\nNEW-1,G-01,{DEMO_DAY},99999,20\n")
    assert import_files(target, [(file.name, file)], at_the_machine("t")).written
    assert judge_stale(target).samples > 0


def test_a_backup_never_overwrites_and_a_restore_only_fills_what_is_empty(
    demo_url, demo_copy, tmp_path
) -> None:
    backup(demo_url, tmp_path / "b.keen")
    with pytest.raises(CannotRestore, match="exists"):
        backup(demo_url, tmp_path / "b.keen")
    with pytest.raises(CannotRestore, match="not empty"):
        restore(demo_copy, tmp_path / "b.keen")


def test_a_damaged_backup_is_refused_and_nothing_is_kept(demo_url, new_database, tmp_path) -> None:
    backup(demo_url, tmp_path / "b.keen")
    damaged = tmp_path / "damaged.keen"
    with zipfile.ZipFile(tmp_path / "b.keen") as source, zipfile.ZipFile(damaged, "w") as out:
        for name in source.namelist():
            data = source.read(name)
            out.writestr(
                name, data.replace(b"Groomer", b"Grouser") if name == "tables/engine.copy" else data
            )
    target = new_database()
    with pytest.raises(CannotRestore, match="engine"):
        restore(target, damaged)
    with single(target) as c:
        assert number(c, "count_engines") == 0


@pytest.mark.parametrize("content", [b"", b"hello", b"PK\x03\x04broken"])
def test_what_is_no_backup_is_refused(
    new_database: Callable[[], str], tmp_path: Path, content: bytes
) -> None:
    file = tmp_path / "x.keen"
    file.write_bytes(content)
    with pytest.raises(CannotRestore, match="not a whole backup"):
        restore(new_database(), file)


def test_a_restore_makes_the_database_it_needs(demo_url, cluster, tmp_path) -> None:
    backup(demo_url, tmp_path / "b.keen")
    url = at(cluster, f"keen_test_restored_{uuid4().hex[:12]}")
    ensure_database(url)
    try:
        assert restore(url, tmp_path / "b.keen")["engine"] == 26
    finally:
        drop_database(url)


def test_the_demo_is_the_same_for_the_same_day_and_another_for_another(tmp_path) -> None:
    from keen_tracer.demo.load import write_files

    marks = []
    for name, on in (("a", date(2026, 11, 24)), ("b", date(2026, 11, 24)), ("c", date(2026, 2, 3))):
        (tmp_path / name).mkdir()
        write_files(tmp_path / name, on)
        marks.append(
            hashlib.sha256(
                b"".join(p.read_bytes() for p in sorted((tmp_path / name).iterdir()))
            ).hexdigest()
        )
    assert marks[0] == marks[1] != marks[2]


def test_two_who_judge_at_once_share_the_work_and_come_to_the_same(demo_copy: str) -> None:
    def hashes() -> list[tuple[str, str]]:
        with single(demo_copy) as c:
            return [(r["sample"], r["input_hash"]) for r in rows(c, "demo_verdicts")]

    before = hashes()
    assert judge_stale(demo_copy, every=True, processes=2).written == 0
    assert hashes() == before
    with single(demo_copy) as c:
        assert number(c, "stale_count") == 0


def test_for_a_spreadsheet_no_cell_is_a_formula(demo_copy: str) -> None:
    """A spreadsheet runs what begins with = + - @ (OWASP, "CSV Injection")."""
    with single(demo_copy) as c:
        c.execute("update engine set name = '=HYPERLINK(1)' where code = 'G-01'")
        out = BytesIO()
        write_zip(c, out, spreadsheet=True)
        plain = BytesIO()
        write_zip(c, plain)
    with zipfile.ZipFile(out) as z, zipfile.ZipFile(plain) as p:
        assert b",'=HYPERLINK(1)," in z.read("engines.csv")
        assert b",=HYPERLINK(1)," in p.read("engines.csv")
        for name in z.namelist():
            if name.endswith(".csv"):
                for cells in csv.reader(StringIO(z.read(name).decode())):
                    risky = [x for x in cells if x[:1] in ("=", "+", "-", "@")]
                    assert all(re.fullmatch(r"-\d+(\.\d+)?", x) or x == "-" for x in risky), risky
