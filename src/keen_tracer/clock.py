"""The one clock: what time it is for the program, its database sessions, the demo and the tests.

Every moment and every day comes from here; a test fails for a second source. A database session is
told how far this clock is ahead of the server's own (`storage/db.py`), so a column's default and a
query agree with the program, wherever PostgreSQL runs. `usecases/days.py` knows the day at a depot.

KEEN_CLOCK_AHEAD_S : seconds the clock runs ahead of the machine's; negative lets it run behind.
    The tests set it, and it is handed on to every process they start.
"""

import os
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

AHEAD_S = "KEEN_CLOCK_AHEAD_S"
# Every time zone is a whole number of quarter hours from UTC, so no day begins within one.
QUARTER = timedelta(minutes=15)


def now() -> datetime:
    """The present moment, in UTC.

    >>> now().tzinfo is UTC
    True
    """
    return datetime.now(UTC) + timedelta(seconds=float(os.environ.get(AHEAD_S) or 0))


def day(moment: datetime, zone: str | None) -> date:
    """The day of a moment in a time zone; None: the zone of the machine.

    >>> day(datetime(2026, 11, 30, 23, 30, tzinfo=UTC), "Europe/Oslo")
    datetime.date(2026, 12, 1)
    """
    return moment.astimezone(ZoneInfo(zone) if zone else None).date()


def today(zone: str | None = None) -> date:
    """The present day in a time zone; None: the zone of the machine."""
    return day(now(), zone)


def quarter() -> datetime:
    """The quarter hour that goes on now: what was worked out within it was worked out on the same
    day, at any depot."""
    moment = now()
    return moment - (moment - datetime.min.replace(tzinfo=UTC)) % QUARTER
