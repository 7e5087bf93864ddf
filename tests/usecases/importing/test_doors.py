"""Which door lets in what: every table of our own files, by every door and role, from the one table
of the core; and nobody brings in another's word."""

from pathlib import Path

import pytest

from keen_tracer.core.roles import (
    DOOR_WORDS,
    DOORS,
    PROGRAM,
    RIGHTS,
    Actor,
    at_the_machine,
    by_folder,
)
from keen_tracer.core.terms import ROLES
from keen_tracer.exchange.tables import TABLES
from keen_tracer.storage.db import single
from keen_tracer.storage.records import rows
from keen_tracer.usecases.importing.files import PUBLISHES, import_files
from tests.helpers import write_csv

IN = [t for t in TABLES.values() if not t.export_only]


def refused(url: str, folder: Path, table: str, who: Actor, as_record: bool = False) -> list[str]:
    """What keeps an empty file of a table out."""
    path = write_csv(folder, f"{table}.csv", ",".join(TABLES[table].required) + "\n")
    report = import_files(url, [(path.name, path)], who, preview=True, as_record=as_record)
    return [p.what for p in report.problems]


def test_every_table_has_its_doors_and_every_door_its_words() -> None:
    assert set(DOORS) == {t.name for t in IN}
    assert {door for doors in DOORS.values() for door in doors} == set(DOOR_WORDS)


@pytest.mark.parametrize("table", [t.name for t in IN])
def test_the_whole_matrix_of_doors_and_roles(
    unchanged_url: str, tmp_path: Path, table: str
) -> None:
    people = [Actor("Jo", role) for role in ROLES]
    comers = [*people, Actor("lab", PROGRAM, "key"), by_folder("lab"), at_the_machine("root")]
    for who in comers:
        right = table not in PUBLISHES or who.role in RIGHTS["publish"].roles
        may = who.door in DOORS[table] and right
        said = refused(unchanged_url, tmp_path, table, who)
        assert (said == []) == may, (who, said)
    assert refused(unchanged_url, tmp_path, table, at_the_machine("root"), as_record=True) == []


def test_a_key_and_a_folder_decide_and_publish_nothing() -> None:
    for door in ("key", "folder"):
        through = {name for name, doors in DOORS.items() if door in doors}
        assert through <= {"samples", "readings", "events", "debris"}
    assert {name for name, doors in DOORS.items() if "key" in doors} == {"samples", "readings"}
    for right in RIGHTS.values():
        assert PROGRAM not in right.roles


ENGINE = "engine,class,meter_unit\nE-1,heavy_diesel,h\n"
SAMPLE = "sample,engine,drawn_on,meter\nS-1,E-1,2026-03-01,900\n"
OF_ANOTHER = {
    "outcomes": "engine,on,found,confirmed,by,at\n"
    "E-1,2026-03-02,nothing,yes,Runa,2026-03-02T10:00:00Z\n",
    "bottles": "step,sample,what,on,by,at\n"
    "0b9ff5ea-58a8-4c4f-8d5d-2d0ac0b5f2a1,S-1,sent,2026-03-02,Runa,2026-03-02T10:00:00Z\n",
}


@pytest.mark.parametrize("table", OF_ANOTHER)
def test_nobody_brings_in_anothers_word(url: str, tmp_path: Path, table: str) -> None:
    base = {"engines.csv": ENGINE, "samples.csv": SAMPLE}
    paths = [write_csv(tmp_path, n, x) for n, x in base.items()]
    assert import_files(url, [(p.name, p) for p in paths], at_the_machine("t")).written
    file = write_csv(tmp_path, f"{table}.csv", OF_ANOTHER[table])
    report = import_files(url, [(file.name, file)], Actor("Jo", "technician"))
    assert not report.written
    assert [p.column for p in report.problems] == ["by"]
    mine = write_csv(tmp_path, f"{table}.csv", OF_ANOTHER[table].replace("Runa", "Jo"))
    assert import_files(url, [(mine.name, mine)], Actor("Jo", "technician")).written


def test_a_stop_of_a_file_is_raised_at_the_machine_alone(url: str, tmp_path: Path) -> None:
    said = refused(url, tmp_path, "stops", Actor("Jo", "admin"))
    assert "as-record" in said[0]
    with single(url) as c:
        assert rows(c, "raised_stops", engines=[1]) == []
