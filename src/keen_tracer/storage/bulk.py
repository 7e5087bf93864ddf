"""Bulk writes by COPY, and the look-ups an import needs a chunk at a time."""

import json
from collections.abc import Iterable, Sequence
from typing import Any

from psycopg import sql
from psycopg.types.json import Jsonb

from .db import Connection

NULL = "\\N"  # in COPY's text format
_ESCAPES = str.maketrans({"\\": "\\\\", "\t": "\\t", "\n": "\\n", "\r": "\\r"})


def copy_value(value: object) -> str:
    """One value in COPY's text format."""
    if value is None:
        return NULL
    if isinstance(value, str):
        return value.translate(_ESCAPES) if not value.isalnum() else value
    if isinstance(value, bool):
        return "t" if value else "f"
    if isinstance(value, list):
        inner = ",".join(
            '"' + str(v).replace("\\", "\\\\").replace('"', '\\"') + '"' for v in value
        )
        return ("{" + inner + "}").translate(_ESCAPES)
    if isinstance(value, dict):
        return json.dumps(value, ensure_ascii=False).translate(_ESCAPES)
    return str(value)


def copy_rows(
    connection: Connection, table: str, columns: Sequence[str], rows: Iterable[Sequence[object]]
) -> None:
    """Append rows to a table."""
    text = "".join("\t".join(map(copy_value, r)) + "\n" for r in rows)
    copy_text(connection, table, columns, text)


def copy_text(connection: Connection, table: str, columns: Sequence[str], text: str) -> None:
    """Append rows already written in COPY's text format."""
    if not text:
        return
    command = sql.SQL("copy {} ({}) from stdin").format(
        sql.Identifier(table), sql.SQL(", ").join(map(sql.Identifier, columns))
    )
    with connection.cursor() as cursor, cursor.copy(command) as copy:
        copy.write(text)


def new_ids(connection: Connection, table: str, n: int) -> list[int]:
    """`n` fresh values of a table's identity column."""
    found = connection.execute(
        "select nextval(pg_get_serial_sequence(%s, 'id')) from generate_series(1, %s)", (table, n)
    )
    return [int(r[0]) for r in found]


def known(
    connection: Connection, table: str, key: str, columns: Sequence[str], keys: list[Any]
) -> dict[Any, tuple[Any, ...]]:
    """Rows of `table` with a `key` among `keys`: key → the columns."""
    command = sql.SQL("select {key}, {columns} from {table} where {key} = any(%s)").format(
        key=sql.Identifier(key),
        table=sql.Identifier(table),
        columns=sql.SQL(", ").join(map(sql.Identifier, columns)),
    )
    return {r[0]: tuple(r[1:]) for r in connection.execute(command, (keys,))}


def _adapted(value: object) -> object:
    """A dictionary goes into a jsonb column."""
    return Jsonb(value) if isinstance(value, dict) else value


def insert(connection: Connection, table: str, values: dict[str, Any]) -> None:
    """One row."""
    connection.execute(
        sql.SQL("insert into {} ({}) values ({})").format(
            sql.Identifier(table),
            sql.SQL(", ").join(map(sql.Identifier, values)),
            sql.SQL(", ").join(sql.Placeholder() * len(values)),
        ),
        [_adapted(v) for v in values.values()],
    )


def update(connection: Connection, table: str, key: str, at: str, values: dict[str, Any]) -> None:
    """Change one row of an editable table and count its version up."""
    connection.execute(
        sql.SQL("update {} set {}, row_version = row_version + 1 where {} = {}").format(
            sql.Identifier(table),
            sql.SQL(", ").join(
                sql.SQL("{} = {}").format(sql.Identifier(k), sql.Placeholder()) for k in values
            ),
            sql.Identifier(key),
            sql.Placeholder(),
        ),
        [*(_adapted(v) for v in values.values()), at],
    )
