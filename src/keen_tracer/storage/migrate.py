"""Numbered migrations, each applied with its record in one transaction, never edited afterwards."""

import hashlib
from importlib.resources import files
from urllib.parse import urlsplit, urlunsplit

import psycopg
from psycopg import sql

from .db import APP_ROLE, on_our_clock
from .errors import StorageError, translated

WEB_LOGIN = "keen_web"  # launcher/cluster.py logs in by it
LOCK = 7_316_001  # advisory lock: only one program migrates at a time


class CannotMigrate(StorageError):
    """The database is not in a state this program can bring forward."""

    code = "cannot_migrate"


def available() -> list[tuple[int, str, str]]:
    """Every migration of this program: number, name, text."""
    out = []
    for file in files(__package__).joinpath("migrations").iterdir():
        number, _, name = file.name.removesuffix(".sql").partition("_")
        if number.isdigit():
            out.append((int(number), name, file.read_text(encoding="utf-8")))
    return sorted(out)


def ensure_database(url: str) -> None:
    """Create the database named in `url` when the server does not have it yet."""
    parts = urlsplit(url)
    name = parts.path.lstrip("/")
    try:
        psycopg.connect(url, connect_timeout=5).close()
        return
    except psycopg.OperationalError as error:
        # libpq gives no SQLSTATE for a failed connection, so the server itself is asked whether it
        # has the database.
        try:
            with _maintenance(url) as c:
                if c.execute("select 1 from pg_database where datname = %s", (name,)).fetchone():
                    raise CannotMigrate(
                        f"the database {name} does not let us in: {error}"
                    ) from error
                c.execute(
                    sql.SQL("create database {} template template0 encoding 'UTF8'").format(
                        sql.Identifier(name)
                    )
                )
        except psycopg.OperationalError as again:
            raise CannotMigrate(
                f"no database answers at {parts.hostname}:{parts.port}: {again}"
            ) from again


def _maintenance(url: str) -> psycopg.Connection:
    """A connection beside the database named in `url`, outside transactions."""
    return psycopg.connect(
        urlunsplit(urlsplit(url)._replace(path="/postgres")), autocommit=True, connect_timeout=5
    )


def drop_database(url: str) -> None:
    """Drop the database named in `url` (`demo --fresh`, after asking; benches and tests)."""
    with _maintenance(url) as c:
        c.execute(
            sql.SQL("drop database if exists {} with (force)").format(
                sql.Identifier(urlsplit(url).path.lstrip("/"))
            )
        )


def copy_database(url: str, name: str) -> str:
    """A twin of the database named in `url`, with the same rows and ids; its address."""
    with _maintenance(url) as c:
        c.execute(
            sql.SQL("create database {} template {}").format(
                sql.Identifier(name), sql.Identifier(urlsplit(url).path.lstrip("/"))
            )
        )
    return urlunsplit(urlsplit(url)._replace(path=f"/{name}"))


def applied(connection: psycopg.Connection) -> dict[int, str]:
    """Migrations this database has had: number → hash of the text it had then."""
    found = connection.execute("select to_regclass('schema_migration')").fetchone()
    if not found or found[0] is None:
        return {}
    return {
        int(n): str(h) for n, h in connection.execute("select number, sha256 from schema_migration")
    }


def _role(connection: psycopg.Connection) -> None:
    """The application's role; made by whoever may, and granted to the login."""
    if connection.execute("select 1 from pg_roles where rolname = %s", (APP_ROLE,)).fetchone():
        return
    try:
        with connection.transaction():
            connection.execute(sql.SQL("create role {} nologin").format(sql.Identifier(APP_ROLE)))
            connection.execute(sql.SQL("grant {} to current_user").format(sql.Identifier(APP_ROLE)))
    except psycopg.errors.DuplicateObject:
        return
    except psycopg.errors.InsufficientPrivilege as error:
        raise CannotMigrate(
            f"this login may not make roles. Let an administrator run:\n"
            f"  create role {APP_ROLE} nologin; grant {APP_ROLE} to CURRENT_LOGIN;"
        ) from error


def web_login(url: str, secret: str) -> None:
    """The login of the web process: it may become the application's role and nothing else."""
    with translated(), psycopg.connect(url, connect_timeout=5) as connection:
        there = connection.execute(
            "select 1 from pg_roles where rolname = %s", (WEB_LOGIN,)
        ).fetchone()
        verb = sql.SQL("alter" if there else "create")
        connection.execute(
            sql.SQL(
                "{} role {} login nosuperuser nocreatedb nocreaterole noinherit password {}"
            ).format(verb, sql.Identifier(WEB_LOGIN), sql.Literal(secret))
        )
        connection.execute(
            sql.SQL("grant {} to {}").format(sql.Identifier(APP_ROLE), sql.Identifier(WEB_LOGIN))
        )


def pending(url: str) -> list[int]:
    """Migrations that are still to be applied."""
    with translated(), psycopg.connect(url, connect_timeout=5) as connection:
        had = applied(connection)
    return [n for n, _, _ in available() if n not in had]


def migrate(url: str, up_to: int | None = None) -> list[int]:
    """Bring the database to this program's schema; returns the numbers applied.

    Raises CannotMigrate when the database is newer than the program or a past migration was edited.
    """
    done = []
    with translated(), psycopg.connect(url, connect_timeout=5) as connection:
        connection.execute("select pg_advisory_lock(%s)", (LOCK,))
        connection.execute("""create table if not exists schema_migration (
            number integer primary key, name text not null, sha256 text not null,
            applied_at timestamptz not null default now())""")
        _role(connection)
        on_our_clock(connection)
        connection.commit()
        had, known = applied(connection), {n: t for n, _, t in available()}
        if unknown := sorted(set(had) - set(known)):
            raise CannotMigrate(
                f"the database was made by a newer version (migration {unknown[-1]}); "
                "update the program, nothing was changed"
            )
        for number, name, text in available():
            digest = hashlib.sha256(text.encode()).hexdigest()
            if number in had and had[number] != digest:
                raise CannotMigrate(f"migration {number} was edited after it had been applied")
            if number in had or (up_to is not None and number > up_to):
                continue
            with connection.transaction():
                connection.execute(text)
                connection.execute(
                    "insert into schema_migration (number, name, sha256) values (%s, %s, %s)",
                    (number, name, digest),
                )
            done.append(number)
        if up_to is not None and up_to < max(known):
            # the grants name tables of the newest schema; the application is not let into an older
            # one
            return done
        grants = files(__package__).joinpath("migrations/grants.sql").read_text(encoding="utf-8")
        with connection.transaction():
            connection.execute(grants)
    return done
