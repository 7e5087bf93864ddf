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


class InDoubt(StorageError):
    """The database went away in the middle of the commit: nobody knows whether it was written."""

    code = "in_doubt"


class TookTooLong(StorageError):
    """The database answers, but not in the time a page may take. Nothing was written."""

    code = "took_too_long"


class DiskFull(StorageError):
    """There is no room left to write. Nothing was written."""

    code = "disk_full"


class Conflict(StorageError):
    """Somebody else changed or decided the same thing first. Nothing was written."""

    code = "conflict"

    def __init__(self, constraint: str):
        self.constraint = constraint
        super().__init__(f"somebody else got there first ({constraint})")

    def __reduce__(self) -> tuple[type["Conflict"], tuple[str]]:
        return Conflict, (self.constraint,)


class Refused(StorageError):
    """The database refused a value. Nothing was written."""

    code = "refused"

    def __init__(self, constraint: str, table: str):
        self.constraint, self.table = constraint, table
        super().__init__(f"the database refused a value in {table} ({constraint})")

    def __reduce__(self) -> tuple[type["Refused"], tuple[str, str]]:
        return Refused, (self.constraint, self.table)


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
    except psycopg.DataError as error:
        # A figure beyond the column, a zero byte in a text: what the bounds let through by mistake.
        raise Refused(error.sqlstate or "text", error.diag.table_name or "?") from error
    except psycopg.errors.QueryCanceled as error:
        raise TookTooLong("the database took too long over it") from error
    except psycopg.errors.DiskFull as error:
        raise DiskFull("there is no room left on the disk of the database") from error
    except psycopg.errors.ProgramLimitExceeded as error:
        raise Refused("size", error.diag.table_name or "?") from error
    except (psycopg.errors.DeadlockDetected, psycopg.errors.SerializationFailure) as error:
        raise Conflict("at_once") from error
    except psycopg.OperationalError as error:
        state = error.sqlstate or "08"
        if state[:2] in ("08", "57", "53"):
            raise Unavailable("the database does not answer") from error
        raise
