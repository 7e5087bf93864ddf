"""Backup and restore: every table by COPY into one zip, with a manifest of hashes that a restore is
held against."""

import hashlib
import hmac
import json
import os
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, BinaryIO

import psycopg
from psycopg import sql

from .. import clock
from .errors import StorageError, translated
from .migrate import applied, available, migrate

# In the order of their references, so that a restore can go through them once. Sessions and
# remembered answers are of the moment and stay behind; the Wall is computed again.
TABLES = (
    "depot",
    "person",
    "model",
    "engine",
    "plan",
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
    "peers_version",
    "peer_row",
    "policy",
    "verdict",
    "decision",
    "raised_stop",
    "before_rules",
    "judging_queue",
    "unjudged",
    "wall",
    "waiting_sample",
    "setting",
    "coolant",
    "bottle_step",
    "reference_bottle",
    "parked",
    "label_run",
    "attachment",
    "photo",
    "query",
    "answer",
    "record_change",
    "lab_order",
    "look",
    "look_count",
    "picture_line",
    "damage_link",
    "outcome",
    "engine_case",
    "case_entry",
    "work_item",
    "task_move",
    "depot_hours",
    "calendar_feed",
    "report_layout",
    "average",
    "person_choice",
    "arrived",
    "weights_version",
    "weight_row",
)
MANIFEST, SIGNATURE = "manifest.json", "manifest.hmac"
LEFT_OUT = ("session", "api_key", "idempotency", "milestone", "schema_migration", "undrawn")
OLD_NAMES = ("stale",)  # of tables, in databases before migration 9


class CannotRestore(StorageError):
    """The file is not a whole backup, or the database is not empty."""

    code = "cannot_restore"


def _key_columns(connection: psycopg.Connection, table: str) -> list[str]:
    found = connection.execute(
        """select a.attname from pg_index i join pg_attribute a
        on a.attrelid = i.indrelid and a.attnum = any(i.indkey)
        where i.indrelid = %s::regclass and i.indisprimary order by array_position(i.indkey,
        a.attnum)""",
        (table,),
    )
    return [r[0] for r in found]


def _columns(connection: psycopg.Connection, table: str) -> list[str]:
    found = connection.execute(
        "select column_name from information_schema.columns where table_schema = 'public' "
        "and table_name = %s order by ordinal_position",
        (table,),
    )
    return [r[0] for r in found]


def _dump_order(connection: psycopg.Connection, table: str) -> sql.Composable:
    """By key; rows that point at rows of their own table (decision, log) come after them by
    time."""
    first = {"decision": ["decided_at"], "log": ["recorded_at"]}.get(table, [])
    return sql.SQL(", ").join(map(sql.Identifier, [*first, *_key_columns(connection, table)]))


def present(connection: psycopg.Connection) -> list[str]:
    """The tables that are there: a database before a migration has fewer."""
    there = {
        r[0]
        for r in connection.execute("select tablename from pg_tables where schemaname = 'public'")
    }
    return [t for t in (*TABLES, *OLD_NAMES) if t in there]


def hashes(
    connection: psycopg.Connection, out: zipfile.ZipFile | None = None
) -> dict[str, dict[str, object]]:
    """Rows and hash of every table; with `out`, the tables are written there too."""
    manifest: dict[str, dict[str, object]] = {}
    for table in present(connection):
        columns = _columns(connection, table)
        command = sql.SQL("copy (select {} from {} order by {}) to stdout").format(
            sql.SQL(", ").join(map(sql.Identifier, columns)),
            sql.Identifier(table),
            _dump_order(connection, table),
        )
        digest, count = hashlib.sha256(), 0
        target = out.open(f"tables/{table}.copy", "w", force_zip64=True) if out else None
        with connection.cursor() as cursor, cursor.copy(command) as copy:
            for part in copy:
                data = bytes(part)
                digest.update(data)
                count += data.count(b"\n")
                if target:
                    target.write(data)
        if target:
            target.close()
        manifest[table] = {"columns": columns, "rows": count, "sha256": digest.hexdigest()}
    return manifest


def _signature(manifest: bytes, key: bytes) -> str:
    return hmac.new(key, manifest, hashlib.sha256).hexdigest()


@contextmanager
def _written_whole(file: Path) -> Iterator[BinaryIO]:
    """A new file for its owner alone that is there whole, on the disk, or not at all."""
    partial = file.with_name(file.name + ".part")
    handle = os.open(partial, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
    try:
        os.fchmod(handle, 0o600)
        with os.fdopen(handle, "wb") as out:
            yield out
            out.flush()
            os.fsync(out.fileno())
        os.link(partial, file)  # never over another file, also not one that came meanwhile
    except FileExistsError as error:
        raise CannotRestore(f"{file} exists; a backup never overwrites another") from error
    finally:
        partial.unlink(missing_ok=True)
    folder = os.open(file.parent, os.O_RDONLY)
    os.fsync(folder)
    os.close(folder)


def backup(url: str, file: Path, key: bytes | None = None) -> dict[str, int]:
    """Write the whole database to `file` from one snapshot, signed with `key`; rows per table.
    Raises when the file exists."""
    if file.exists():
        raise CannotRestore(f"{file} exists; choose a new name, a backup never overwrites another")
    with translated(), psycopg.connect(url) as connection:
        connection.execute("set transaction isolation level repeatable read, read only")
        connection.execute("set local timezone = 'UTC'")
        with (
            _written_whole(file) as whole,
            zipfile.ZipFile(whole, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as out,
        ):
            tables = hashes(connection, out)
            said = {
                "format": 1,
                "migration": max(applied(connection), default=0),
                "made": clock.now().isoformat(),
                "tables": tables,
            }
            manifest = json.dumps(said, indent=1).encode()
            out.writestr(MANIFEST, manifest)
            if key is not None:
                out.writestr(SIGNATURE, _signature(manifest, key))
    return {k: int(str(v["rows"])) for k, v in tables.items()}


# What a damaged, cut or foreign file makes the standard library raise.
UNREADABLE = (OSError, KeyError, ValueError, TypeError, EOFError, RuntimeError, zlib.error)


def _opened(file: Path, key: bytes | None) -> tuple[zipfile.ZipFile, dict[str, Any]]:
    """A backup with its manifest, after its signature was checked. Raises CannotRestore."""
    try:
        archive = zipfile.ZipFile(file)
        said = archive.read(MANIFEST)
        manifest: dict[str, Any] = json.loads(said)
        number = int(manifest["migration"])
        for of in manifest["tables"].values():
            int(of["rows"]), list(of["columns"]), str(of["sha256"])
        signature = archive.read(SIGNATURE).decode() if SIGNATURE in archive.namelist() else ""
    except (*UNREADABLE, zipfile.BadZipFile, NotImplementedError) as error:
        raise CannotRestore(f"{file} is not a whole backup of Keen Tracer: {error}") from error
    if number not in {n for n, _, _ in available()}:
        raise CannotRestore(
            f"the backup is of a newer version (migration {number}); update the program first"
        )
    if key is not None and not hmac.compare_digest(signature, _signature(said, key)):
        raise CannotRestore(
            f"{file} was not signed by this installation, or was changed since; if you know where "
            "it comes from, restore it with --unsigned"
        )
    return archive, manifest


def restore(url: str, file: Path, key: bytes | None = None) -> dict[str, int]:
    """Put a backup, also of an older version, into an empty database, then compare every table with
    the manifest; rows per table. With `key` only what this installation signed is taken."""
    archive, manifest = _opened(file, key)
    of, number = manifest["tables"], int(manifest["migration"])
    with archive, translated():
        migrate(url, up_to=number)
        with psycopg.connect(url) as connection:
            connection.execute("set local timezone = 'UTC'")
            _check_empty(connection)
            # Versions before this one left tables out of their backups that were of the moment.
            there = [t for t in present(connection) if t in of]
            for table in reversed(present(connection)):
                # a first start may have put persons and default limits there
                connection.execute(sql.SQL("delete from {}").format(sql.Identifier(table)))
            later = _set_aside_checks(connection)
            try:
                for table in there:
                    _load(connection, archive, table, of[table]["columns"])
            except (*UNREADABLE, zipfile.BadZipFile) as error:
                raise CannotRestore(
                    f"{file} is damaged ({error}); nothing was kept of it"
                ) from error
            for command in later:
                connection.execute(command)
            for table, was in hashes(connection).items():
                if table in of and was["sha256"] != of[table]["sha256"]:
                    raise CannotRestore(
                        f"table {table} came out other than it went in; nothing was kept"
                    )
        migrate(url)
    return {k: int(v["rows"]) for k, v in of.items()}


# What a first start writes by itself, and the people it asks for: a restore puts its own there.
_FIRST_START = frozenset({"setting", "person", "session", "limits_version", "limit_row"})


def _check_empty(connection: psycopg.Connection) -> None:
    """Refuse a database with anything of a person's in it, in whichever table it is."""
    for table in present(connection):
        if table in _FIRST_START:
            continue
        if connection.execute(
            sql.SQL("select 1 from {} limit 1").format(sql.Identifier(table))
        ).fetchone():
            raise CannotRestore(
                f"the database is not empty (there is something in {table}); a restore never "
                "overwrites anything"
            )


def _set_aside_checks(connection: psycopg.Connection) -> list[sql.Composed]:
    """Drop the checks that hold for new rows only, since a backup also has the rows of before;
    returns what puts them back."""
    found = connection.execute(
        "select conrelid::regclass::text, conname, pg_get_constraintdef(oid) from pg_constraint "
        "where contype = 'c' and not convalidated"
    ).fetchall()
    for table, name, _ in found:
        connection.execute(
            sql.SQL("alter table {} drop constraint {}").format(
                sql.Identifier(table), sql.Identifier(name)
            )
        )
    return [
        sql.SQL("alter table {} add constraint {} {}").format(
            sql.Identifier(table), sql.Identifier(name), sql.SQL(definition)
        )
        for table, name, definition in found
    ]


def _load(
    connection: psycopg.Connection, archive: zipfile.ZipFile, table: str, columns: list[str]
) -> None:
    command = sql.SQL("copy {} ({}) from stdin").format(
        sql.Identifier(table), sql.SQL(", ").join(map(sql.Identifier, columns))
    )
    with (
        archive.open(f"tables/{table}.copy") as data,
        connection.cursor() as cursor,
        cursor.copy(command) as copy,
    ):
        while part := data.read(1 << 20):
            copy.write(part)
    found = (
        connection.execute("select pg_get_serial_sequence(%s, 'id')", (table,)).fetchone()
        if "id" in columns
        else None
    )
    if found and found[0]:
        connection.execute(
            sql.SQL("select setval({}, greatest((select max(id) from {}), 1))").format(
                sql.Literal(found[0]), sql.Identifier(table)
            )
        )
