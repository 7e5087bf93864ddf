"""Storage errors. Drivers' errors stop here, recognised by SQLSTATE and constraint name, never by
message."""

from collections.abc import Iterator
from contextlib import contextmanager

import psycopg
from psycopg_pool import PoolClosed, PoolTimeout


class StorageError(Exception):
    """Base of all errors of the storage layer."""

    code = "storage"


class Unavailable(StorageError):
    """The database cannot be reached just now. Nothing was written."""

    code = "database_unavailable"


class Conflict(StorageError):
    """Somebody else changed or decided the same thing first. Nothing was written."""

    code = "conflict"

    def __init__(self, constraint: str):
        self.constraint = constraint
        super().__init__(f"somebody else got there first ({constraint})")


class Refused(StorageError):
    """The database refused a value. Nothing was written."""

    code = "refused"

    def __init__(self, constraint: str, table: str):
        self.constraint, self.table = constraint, table
        super().__init__(f"the database refused a value in {table} ({constraint})")


@contextmanager
def translated() -> Iterator[None]:
    """Turn the driver's errors into ours."""
    try:
        yield
    except (PoolTimeout, PoolClosed) as error:
        raise Unavailable("the database does not answer") from error
    except psycopg.errors.UniqueViolation as error:
        raise Conflict(error.diag.constraint_name or "unique") from error
    except psycopg.errors.IntegrityError as error:
        raise Refused(
            error.diag.constraint_name or "constraint", error.diag.table_name or "?"
        ) from error
    except psycopg.OperationalError as error:
        state = error.sqlstate or "08"
        if state[:2] in ("08", "57", "53") or error.sqlstate is None:
            raise Unavailable("the database does not answer") from error
        raise
