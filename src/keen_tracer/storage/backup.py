"""Backup and restore: every table by COPY into one zip, with a manifest of hashes that a restore is
held against."""

import hashlib
import json
import zipfile
from datetime import UTC, datetime
from pathlib import Path

import psycopg
from psycopg import sql

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
    "outcome",
    "weights_version",
    "weight_row",
)
LEFT_OUT = ("session", "idempotency", "milestone", "schema_migration")
OLD_NAMES = ("stale",)  # of tables, in databases before migration 9


class CannotRestore(StorageError):
    """The file is not a whole backup, or the database is not empty."""

    code = "cannot_restore"


def _key_columns(c: psycopg.Connection, table: str) -> list[str]:
    found = c.execute(
        """select a.attname from pg_index i join pg_attribute a
        on a.attrelid = i.indrelid and a.attnum = any(i.indkey)
        where i.indrelid = %s::regclass and i.indisprimary order by array_position(i.indkey,
        a.attnum)""",
        (table,),
    )
    return [r[0] for r in found]


def _columns(c: psycopg.Connection, table: str) -> list[str]:
    found = c.execute(
        "select column_name from information_schema.columns where table_schema = 'public' "
        "and table_name = %s order by ordinal_position",
        (table,),
    )
    return [r[0] for r in found]


def _dump_order(c: psycopg.Connection, table: str) -> sql.Composable:
    """By key; rows that point at rows of their own table (decision, log) come after them by
    time."""
    first = {"decision": ["decided_at"], "log": ["recorded_at"]}.get(table, [])
    return sql.SQL(", ").join(map(sql.Identifier, [*first, *_key_columns(c, table)]))


def present(c: psycopg.Connection) -> list[str]:
    """The tables that are there: a database before a migration has fewer."""
    there = {r[0] for r in c.execute("select tablename from pg_tables where schemaname = 'public'")}
    return [t for t in (*TABLES, *OLD_NAMES) if t in there]


def hashes(
    c: psycopg.Connection, out: zipfile.ZipFile | None = None
) -> dict[str, dict[str, object]]:
    """Rows and hash of every table; with `out`, the tables are written there too."""
    manifest: dict[str, dict[str, object]] = {}
    for table in present(c):
        columns = _columns(c, table)
        command = sql.SQL("copy (select {} from {} order by {}) to stdout").format(
            sql.SQL(", ").join(map(sql.Identifier, columns)),
            sql.Identifier(table),
            _dump_order(c, table),
        )
        digest, count = hashlib.sha256(), 0
        target = out.open(f"tables/{table}.copy", "w", force_zip64=True) if out else None
        with c.cursor() as cursor, cursor.copy(command) as copy:
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


def backup(url: str, file: Path) -> dict[str, int]:
    """Write the whole database to `file` from one snapshot; rows per table. Raises when the file
    exists."""
    if file.exists():
        raise CannotRestore(f"{file} exists; choose a new name, a backup never overwrites another")
    partial = file.with_name(file.name + ".part")
    with translated(), psycopg.connect(url) as c:
        c.execute("set transaction isolation level repeatable read, read only")
        c.execute("set local timezone = 'UTC'")
        with zipfile.ZipFile(partial, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as out:
            tables = hashes(c, out)
            out.writestr(
                "manifest.json",
                json.dumps(
                    {
                        "format": 1,
                        "migration": max(applied(c), default=0),
                        "made": datetime.now(UTC).isoformat(),
                        "tables": tables,
                    },
                    indent=1,
                ),
            )
    partial.rename(file)
    return {k: int(str(v["rows"])) for k, v in tables.items()}


def restore(url: str, file: Path) -> dict[str, int]:
    """Put a backup into an empty database, then compare every table with the manifest; rows per
    table."""
    try:
        archive = zipfile.ZipFile(file)
        manifest = json.loads(archive.read("manifest.json"))
    except (OSError, KeyError, ValueError, zipfile.BadZipFile) as error:
        raise CannotRestore(f"{file} is not a backup of Keen Tracer: {error}") from error
    number = int(manifest["migration"])
    if number not in {n for n, _, _ in available()}:
        raise CannotRestore(
            f"the backup is of a newer version (migration {number}); update the program first"
        )
    with archive, translated():
        migrate(url, up_to=number)
        with psycopg.connect(url) as c:
            c.execute("set local timezone = 'UTC'")
            for table in ("engine", "log", "sample", "decision"):
                if c.execute(
                    sql.SQL("select 1 from {} limit 1").format(sql.Identifier(table))
                ).fetchone():
                    raise CannotRestore(
                        "the database is not empty; a restore never overwrites anything"
                    )
            there = present(c)
            for table in reversed(
                there
            ):  # a first start may have put persons and default limits there
                c.execute(sql.SQL("delete from {}").format(sql.Identifier(table)))
            later = _set_aside_checks(c)
            for table in there:
                _load(c, archive, table, manifest["tables"][table]["columns"])
            for command in later:
                c.execute(command)
            for table, was in hashes(c).items():
                if was["sha256"] != manifest["tables"][table]["sha256"]:
                    raise CannotRestore(
                        f"table {table} came out other than it went in; nothing was kept"
                    )
        migrate(url)
    return {k: int(v["rows"]) for k, v in manifest["tables"].items()}


def _set_aside_checks(c: psycopg.Connection) -> list[sql.Composed]:
    """Drop the checks that hold for new rows only, since a backup also has the rows of before;
    returns what puts them back."""
    found = c.execute(
        "select conrelid::regclass::text, conname, pg_get_constraintdef(oid) from pg_constraint "
        "where contype = 'c' and not convalidated"
    ).fetchall()
    for table, name, _ in found:
        c.execute(
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


def _load(c: psycopg.Connection, archive: zipfile.ZipFile, table: str, columns: list[str]) -> None:
    command = sql.SQL("copy {} ({}) from stdin").format(
        sql.Identifier(table), sql.SQL(", ").join(map(sql.Identifier, columns))
    )
    with (
        archive.open(f"tables/{table}.copy") as data,
        c.cursor() as cursor,
        cursor.copy(command) as copy,
    ):
        while part := data.read(1 << 20):
            copy.write(part)
    found = (
        c.execute("select pg_get_serial_sequence(%s, 'id')", (table,)).fetchone()
        if "id" in columns
        else None
    )
    if found and found[0]:
        c.execute(
            sql.SQL("select setval({}, greatest((select max(id) from {}), 1))").format(
                sql.Literal(found[0]), sql.Identifier(table)
            )
        )
