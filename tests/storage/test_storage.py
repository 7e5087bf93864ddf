"""The database keeps what must not change, and storage keeps the driver's errors to itself."""

import re
from datetime import timedelta
from pathlib import Path
from uuid import uuid4

import psycopg
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from keen_tracer.storage import migrate as migrations
from keen_tracer.storage.backup import LEFT_OUT, TABLES, backup, restore
from keen_tracer.storage.bulk import copy_rows, copy_value
from keen_tracer.storage.db import Database, single
from keen_tracer.storage.errors import Conflict, Refused, Unavailable
from keen_tracer.storage.migrate import (
    CannotMigrate,
    applied,
    available,
    drop_database,
    ensure_database,
    migrate,
    pending,
)
from keen_tracer.storage.records import row, rows, run, set_setting, setting
from keen_tracer.storage.sql import query
from tests.conftest import at

APPEND_ONLY = (
    "report_layout",
    "average",
    "source",
    "taken_back",
    "oil_batch",
    "log",
    "event",
    "sample",
    "draw",
    "report",
    "reading",
    "limits_version",
    "limit_row",
    "verdict",
    "decision",
    "bottle_step",
    "reference_bottle",
    "parked",
    "label_run",
    "attachment",
    "photo",
    "answer",
    "record_change",
    "peers_version",
    "peer_row",
    "policy",
    "look",
    "look_count",
    "outcome",
    "weights_version",
    "weight_row",
    "raised_stop",
    "picture_line",
    "damage_link",
    "engine_case",
    "case_entry",
    "work_item",
    "task_move",
    "depot_hours",
)


@pytest.mark.parametrize("table", APPEND_ONLY)
@pytest.mark.parametrize("statement", ["update {} set {} = {}", "delete from {}", "truncate {}"])
def test_the_application_cannot_change_what_is_append_only(
    unchanged_url: str, table: str, statement: str
) -> None:
    with psycopg.connect(unchanged_url) as owner:
        column = owner.execute(
            "select column_name from information_schema.columns where table_name = %s "
            "and is_identity = 'NO' limit 1",
            (table,),
        ).fetchone()
    assert column is not None
    with pytest.raises(psycopg.errors.InsufficientPrivilege), single(unchanged_url) as c:
        c.execute(statement.format(table, column[0], column[0]))


@pytest.mark.parametrize(
    "statement",
    [
        "create table x (n int)",
        "drop table reading",
        "alter table reading add x int",
        "create role y",
    ],
)
def test_the_application_has_no_ddl(unchanged_url: str, statement: str) -> None:
    with pytest.raises(psycopg.errors.InsufficientPrivilege), single(unchanged_url) as c:
        c.execute(statement)


def test_every_table_marked_append_only_is_in_the_list(url: str) -> None:
    marked = set(
        re.findall(
            r"^-- append-only.*\n(?:--.*\n)*create table (\w+)",
            "\n".join(t for _, _, t in available()),
            re.MULTILINE,
        )
    )
    assert marked | {"limit_row", "photo"} == set(APPEND_ONLY)


def test_every_table_is_backed_up_or_left_out_on_purpose(url: str) -> None:
    with single(url) as c:
        there = {
            r[0]
            for r in c.execute(
                "select table_name from information_schema.tables where table_schema = 'public' "
                "and table_type = 'BASE TABLE'"
            )
        }
    assert there == set(TABLES) | set(LEFT_OUT)


def test_migrating_twice_does_nothing(url: str) -> None:
    assert migrate(url) == []
    assert pending(url) == []


def test_a_migration_that_was_edited_is_refused(url: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(
        migrations,
        "available",
        lambda: [(n, name, text + "-- edited") for n, name, text in available()],
    )
    with pytest.raises(CannotMigrate, match="edited"):
        migrate(url)


def test_a_newer_database_is_left_alone(url: str) -> None:
    with psycopg.connect(url) as owner:
        owner.execute(
            "insert into schema_migration (number, name, sha256) values (999, 'future', 'x')"
        )
    with pytest.raises(CannotMigrate, match="newer version"):
        migrate(url)


def test_a_migration_and_its_record_are_one(url: str, monkeypatch: pytest.MonkeyPatch) -> None:
    broken = [*available(), (900, "broken", "create table half (n int); select 1/0;")]
    monkeypatch.setattr(migrations, "available", lambda: broken)
    with pytest.raises(Refused):
        migrate(url)
    with psycopg.connect(url) as owner:
        assert owner.execute("select to_regclass('half')").fetchone() == (None,)
        assert 900 not in applied(owner)


def test_no_server_is_a_clear_error() -> None:
    with pytest.raises(CannotMigrate, match=r"no database answers at 127\.0\.0\.1:1"):
        ensure_database("postgresql://nobody@127.0.0.1:1/x")
    with pytest.raises(Unavailable), single("postgresql://nobody@127.0.0.1:1/x"):
        pass


def test_a_pool_without_a_server_says_unavailable() -> None:
    with (
        Database("postgresql://nobody@127.0.0.1:1/x", size=1) as database,
        pytest.raises(Unavailable),
        database.transaction(),
    ):
        pass


def test_drivers_errors_become_ours(url: str) -> None:
    with pytest.raises(Conflict) as taken, single(url) as c:
        c.execute("insert into person (name, role) values ('Test Analyst', 'analyst')")
    assert taken.value.constraint == "person_name_key"
    with pytest.raises(Refused) as refused, single(url) as c:
        c.execute("insert into person (name, role) values ('X', 'king')")
    assert (refused.value.table, refused.value.constraint) == ("person", "person_role_check")


@pytest.mark.parametrize("value", ["-1", "infinity", "NaN"])
def test_a_reading_that_is_no_reading_is_refused_by_the_database_too(url: str, value: str) -> None:
    with pytest.raises(Refused), single(url) as c:
        c.execute("insert into sample (code) values ('S')")
        c.execute(
            "insert into report (number, revision, sample_id, content_hash) values ('R', 1, 1, 'h')"
        )
        c.execute(
            "insert into reading (report_id, analyte, value) values (1, 1, %s::float8)", [value]
        )


@pytest.mark.parametrize("value", ["-1", "infinity", "NaN"])
def test_a_meter_that_is_no_number_is_refused_by_the_database_too(url: str, value: str) -> None:
    with pytest.raises(Refused), single(url) as c:
        c.execute("insert into engine (code, class) values ('E', 'petrol')")
        c.execute(
            "insert into log (id, engine_id, on_date, kind, dial) "
            "select gen_random_uuid(), 1, '2026-01-01', 'meter_reading', %s::float8",
            [value],
        )


def test_a_backup_of_an_older_schema_is_restored_and_brought_up_to_date(
    cluster: str, tmp_path: Path
) -> None:
    """The automatic backup before a migration is of such a database."""
    old, new = at(cluster, f"old_{uuid4().hex[:8]}"), at(cluster, f"new_{uuid4().hex[:8]}")
    for url in (old, new):
        ensure_database(url)
    try:
        migrate(old, up_to=2)
        with psycopg.connect(old) as owner:
            owner.execute("insert into engine (code, class) values ('E', 'petrol')")
            owner.execute(
                "insert into log (id, engine_id, on_date, kind, dial) values "
                "(gen_random_uuid(), 1, "
                "'2026-01-01', 'meter_reading', 7)"
            )
        counts = backup(old, tmp_path / "old.zip")
        assert counts["log"] == 1
        assert "bottle_step" not in counts
        restore(new, tmp_path / "old.zip")
        with single(new) as c:
            assert c.execute("select dial, reason from log").fetchall() == [(7.0, "")]
    finally:
        for url in (old, new):
            drop_database(url)


def test_a_transaction_is_all_or_nothing(url: str) -> None:
    with pytest.raises(ZeroDivisionError), single(url) as c:
        run(c, "person_put", name="Halfway", role="analyst")
        raise ZeroDivisionError
    with single(url) as c:
        assert "Halfway" not in {p["name"] for p in rows(c, "people")}


def test_settings(url: str) -> None:
    with single(url) as c:
        assert setting(c, "x") is None
        set_setting(c, "x", {"n": 1})
        set_setting(c, "x", {"n": 2})
        assert setting(c, "x") == {"n": 2}
        assert row(c, "session_person", token=b"nobody", lasts=timedelta(days=30)) is None


@pytest.mark.parametrize(
    "text", ["plain", "tab\there", "line\nbreak", "back\\slash", "\\N", "", "“quoted”", "a\rb"]
)
def test_text_survives_bulk_writing(url: str, text: str) -> None:
    with single(url) as c:
        copy_rows(c, "depot", ("code", "name"), [("d", text)])
        assert c.execute("select name from depot").fetchone() == (text,)


@given(st.lists(st.text(st.characters(exclude_characters="\0", codec="utf-8")), max_size=30))
@settings(
    suppress_health_check=[HealthCheck.function_scoped_fixture],
    max_examples=40,
)
def test_any_text_comes_back_from_bulk_writing_as_it_was(url: str, texts: list[str]) -> None:
    with psycopg.connect(url) as c:
        c.execute("create temporary table heap (place int, said text, every text[])")
        copy_rows(
            c, "heap", ("place", "said", "every"), [(n, s, texts) for n, s in enumerate(texts)]
        )
        kept = c.execute("select said, every from heap order by place").fetchall()
    assert kept == [(s, texts) for s in texts]


def test_values_of_every_kind_survive_bulk_writing(url: str) -> None:
    with single(url) as c:
        copy_rows(
            c,
            "model",
            ("code", "class", "sump_l", "allowed_grades"),
            [("m", "petrol", None, ["10W-40", 'odd "one", with\\all'])],
        )
        assert c.execute("select sump_l, allowed_grades from model").fetchone() == (
            None,
            ["10W-40", 'odd "one", with\\all'],
        )
    assert copy_value(True) == "t"


def test_queries_have_one_name_and_say_what_they_are_for() -> None:
    names: dict[str, str] = {}
    for file in (Path(migrations.__file__).parent / "queries").glob("*.sql"):
        lines = file.read_text(encoding="utf-8").splitlines()
        for n, line in enumerate(lines):
            if line.startswith("-- name: "):
                name = line.removeprefix("-- name: ")
                assert name not in names, f"{name} in {file.name} and {names[name]}"
                names[name] = file.name
                assert lines[n + 1].startswith("-- "), f"{name} has no description"
                assert query(name)
    assert len(names) > 50


def test_an_unknown_query_is_refused() -> None:
    with pytest.raises(KeyError):
        query("no_such_query")
