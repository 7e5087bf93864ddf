"""Connections: a pool whose sessions may only do what the application's role may do."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import TypeVar

import psycopg
from psycopg import sql
from psycopg_pool import ConnectionPool

from .. import clock
from .errors import InDoubt, TookTooLong, translated
from .sql import query

APP_ROLE = "keen_app"
CONNECTIONS = 12  # of one process; our choice
Connection = psycopg.Connection
Address = tuple[str, int, str]
Result = TypeVar("Result")


def address(connection: psycopg.Connection) -> Address:
    """Which database a connection uses; cheap, unlike its whole connection string."""
    return connection.info.host, connection.info.port, connection.info.dbname


def on_our_clock(connection: psycopg.Connection) -> None:
    """Let the session's moments be the program's: it is told how far the two clocks differ, as
    precisely as a round trip lets it be known."""
    asked = clock.now()
    found = connection.execute("select clock_timestamp()").fetchone()
    assert found is not None
    ahead = asked + (clock.now() - asked) / 2 - found[0]
    said = f"{ahead.total_seconds():.6f} seconds"
    connection.execute("select set_config('keen.ahead', %s, false)", (said,))


def _as_application(connection: psycopg.Connection, timeout_ms: int) -> None:
    """Step down from the login to the application's role: no DDL, no change to append-only
    tables."""
    connection.execute(sql.SQL("set role {}").format(sql.Identifier(APP_ROLE)))
    connection.execute(sql.SQL("set statement_timeout = {}").format(sql.Literal(timeout_ms)))
    connection.execute("set timezone = 'UTC'")
    # Our queries are many and short-lived; compiling them costs more than it saves (measured:
    # seconds a batch).
    connection.execute("set jit = off")
    on_our_clock(connection)
    connection.commit()


def _commit_and_mark(connection: psycopg.Connection) -> None:
    """Commit, and then move the mark that pages watch, where anything was written. Not before: who
    saw the mark move must also see what moved it."""
    found = connection.execute(query("wrote_anything")).fetchone()
    wrote = bool(found and found[0])
    try:
        connection.commit()
    except (psycopg.OperationalError, psycopg.InterfaceError) as error:
        if not wrote:
            raise
        raise InDoubt("the database went away while it was writing") from error
    if wrote:
        connection.execute(query("mark_change"))


class Database:
    """The application's view of one database. `transaction()` is the only way in."""

    def __init__(self, url: str, size: int = CONNECTIONS, timeout_ms: int = 30_000):
        self.url = url
        self._pool = ConnectionPool(
            url,
            min_size=1,
            max_size=size,
            open=False,
            timeout=4,
            reconnect_timeout=2,
            configure=lambda c: _as_application(c, timeout_ms),
            check=ConnectionPool.check_connection,
            kwargs={"connect_timeout": 3, "application_name": "keen-tracer"},
        )

    def __enter__(self) -> "Database":
        self._pool.open()
        return self

    def __exit__(self, *_: object) -> None:
        self._pool.close()

    @contextmanager
    def transaction(self) -> Iterator[psycopg.Connection]:
        """One transaction: all of it or nothing. Raises StorageError, never the driver's errors."""
        with translated(), self._pool.connection() as connection:
            yield connection
            _commit_and_mark(connection)


# The database away, or two who wrote the same at once: nobody's figures are at fault.
NO_FAULT_OF_THE_ROWS = (
    psycopg.OperationalError,
    psycopg.InterfaceError,
    psycopg.errors.UniqueViolation,
    psycopg.errors.ForeignKeyViolation,
)


def tried(connection: psycopg.Connection, does: Callable[[], Result]) -> Result | Exception:
    """What `does` gives, or why it failed; what it wrote is then undone, and nothing else.

    What is no fault of the rows it works on, such as a database that went away, is raised.
    """
    try:
        with connection.transaction():
            return does()
    except psycopg.errors.QueryCanceled:
        return TookTooLong("the database took too long over it")
    except NO_FAULT_OF_THE_ROWS:
        raise
    except Exception as error:
        return error


@contextmanager
def single(url: str) -> Iterator[psycopg.Connection]:
    """One long transaction outside the pool, without the web's time limit: imports and exports."""
    with (
        translated(),
        psycopg.connect(url, connect_timeout=5, application_name="keen-tracer") as connection,
    ):
        _as_application(connection, 0)
        yield connection
        _commit_and_mark(connection)
