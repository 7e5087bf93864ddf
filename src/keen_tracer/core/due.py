"""When an engine is due for its next sample (the first form; DOMAIN 3.21)."""

from dataclasses import dataclass
from datetime import date, timedelta

from .records import Engine
from .timeline import TimeLine

USAGE_WINDOW = timedelta(days=70)  # long enough for ten weekly readings, short enough for a season; our choice
HORIZON = timedelta(days=3 * 365)


@dataclass(frozen=True, slots=True)
class Due:
    """The next sample: when, by which rule, and how much usage was reckoned with.

    `overdue` is the days since, 0 when it lies ahead. `by` is "meter", "days" or "drain".
    """

    on: date
    by: str
    at_dial: float | None
    per_week: float | None
    overdue: int


def usage_per_week(line: TimeLine, today: date) -> float | None:
    """Meter units per week over the last ten weeks with readings, or None with fewer than two.

    A plain quotient of meter by time over a fixed window: a gap counts as standing still, which is what a
    parked machine does. Season is not looked at yet.
    """
    known = [(m.row.on, m.total) for m in line.moments if m.total is not None]
    if len(known) < 2:
        return None
    last_on, last = known[-1]
    first_on, first = next(((d, t) for d, t in known if d >= last_on - USAGE_WINDOW), known[-1])
    if first_on == last_on:
        first_on, first = known[-2]
    days = (last_on - first_on).days
    return None if days <= 0 else max((last - first) * 7 / days, 0.0)


def next_due(engine: Engine, line: TimeLine, today: date) -> Due | None:
    """The next routine sample, or None in storage, without a sample, or without an interval.

    Due at the earlier of the meter interval (at the usage of late) and the day interval, counted from the
    last sample.
    """
    storage = [m.row.kind for m in line.moments if m.row.kind in ("storage_start", "storage_end")]
    if storage and storage[-1] == "storage_start":
        return None
    drawn = line.samples()
    if not drawn:
        return None
    last = drawn[-1][0]
    usage = usage_per_week(line, today)
    options: list[tuple[date, str, float | None]] = []
    if engine.interval_days:
        options.append((last.row.on + timedelta(days=engine.interval_days), "days", None))
    if engine.interval_meter and usage and last.row.dial is not None:
        weeks = engine.interval_meter / usage
        away = min(timedelta(weeks=weeks), HORIZON) if weeks < 1000 else HORIZON
        options.append((last.row.on + away, "meter", last.row.dial + engine.interval_meter))
    if not options:
        return None
    on, by, dial = min(options)
    return Due(on, by, dial, usage, max((today - on).days, 0))
