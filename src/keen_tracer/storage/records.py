"""Small reads and writes by named query: one function each, rows as dictionaries."""

from typing import Any

import psycopg
from psycopg.rows import dict_row
from psycopg.types.json import Jsonb

from ..core.limits import LimitRow, LimitSet
from .sql import query

Row = dict[str, Any]


def rows(connection: psycopg.Connection, name: str, /, **values: object) -> list[Row]:
    """All rows of a named query."""
    with connection.cursor(row_factory=dict_row) as cursor:
        return cursor.execute(query(name), values).fetchall()


def row(connection: psycopg.Connection, name: str, /, **values: object) -> Row | None:
    """The one row of a named query, or None."""
    with connection.cursor(row_factory=dict_row) as cursor:
        return cursor.execute(query(name), values).fetchone()


def run(connection: psycopg.Connection, name: str, /, **values: object) -> int:
    """Run a named query that writes; the number of rows it touched."""
    return connection.execute(query(name), values).rowcount


def number(connection: psycopg.Connection, name: str, /, **values: object) -> int:
    """The single number a named query gives."""
    found = connection.execute(query(name), values).fetchone()
    return int(found[0]) if found and found[0] is not None else 0


def setting(connection: psycopg.Connection, key: str) -> Any:
    """One setting, or None."""
    found = row(connection, "setting_get", key=key)
    return found["value"] if found else None


def set_setting(connection: psycopg.Connection, key: str, value: object) -> None:
    run(connection, "setting_put", key=key, value=Jsonb(value))


def anywhere(text: str) -> str:
    """A pattern of `like` that finds the text anywhere, whatever letters it holds.

    >>> anywhere("5%_a")
    '%5\\\\%\\\\_a%'
    """
    said = text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    return f"%{said}%"


def json(value: object) -> Jsonb:
    """A value for a jsonb column."""
    return Jsonb(value)


def limits_in_force(connection: psycopg.Connection) -> tuple[int, LimitSet] | None:
    """The newest version of limits, with its id."""
    head = row(connection, "limits_latest")
    if head is None:
        return None
    return head["id"], LimitSet(
        head["name"],
        tuple(LimitRow(**r) for r in rows(connection, "limit_rows", version=head["id"])),
    )


def publish_limits(
    connection: psycopg.Connection, name: str, by: str, limit_rows: tuple[LimitRow, ...]
) -> int:
    """A new version of limits, all rows of it; every row is checked first."""
    for r in limit_rows:
        r.side()
    head = row(connection, "limits_put", name=name, by=by)
    assert head is not None
    with connection.cursor() as cursor:
        cursor.executemany(
            query("limit_row_put"),
            [
                {
                    "version": head["id"],
                    "n": n,
                    "scope": r.scope,
                    "scope_name": r.scope_name,
                    "analyte": r.analyte,
                    "basis": r.basis,
                    "watch": r.watch,
                    "act": r.act,
                    "unit": r.unit,
                    "origin": r.origin,
                }
                for n, r in enumerate(limit_rows)
            ],
        )
    return int(head["id"])
