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


def usage_per_week(line: TimeLine) -> float | None:
    """Meter units per week over the last ten weeks with readings, or None with fewer than two.

    A plain quotient of meter by time over a fixed window: a gap counts as standing still, which is what a
    parked machine does. Readings from before the last storage are left out where enough came after it.
    """
    known = [(m.row.on, m.total) for m in line.moments if m.total is not None]
    out = _out_of_storage(line)
    since = [k for k in known if out is None or k[0] >= out]
    if len(since) >= 2 and since[-1][0] - since[0][0] >= timedelta(days=7):
        known = since
    if len(known) < 2:
        return None
    last_on, last = known[-1]
    first_on, first = next(((d, t) for d, t in known if d >= last_on - USAGE_WINDOW), known[-1])
    if first_on == last_on:
        first_on, first = known[-2]
    days = (last_on - first_on).days
    return None if days <= 0 else max((last - first) * 7 / days, 0.0)


def _out_of_storage(line: TimeLine) -> date | None:
    """The day the engine last came out of storage."""
    return next((m.row.on for m in reversed(line.moments) if m.row.kind == "storage_end"), None)


def in_storage(line: TimeLine) -> bool:
    """Whether the last word on storage is that the engine went in."""
    words = [m.row.kind for m in line.moments if m.row.kind in ("storage_start", "storage_end")]
    return bool(words) and words[-1] == "storage_start"


def next_due(engine: Engine, line: TimeLine, today: date) -> Due | None:
    """The next routine sample, or None in storage, without a sample, or without an interval.

    Due at the earlier of the meter interval (at the usage of late) and the day interval. Both count from the
    last sample, the days from the end of storage where that came later.
    """
    drawn = line.samples()
    if not drawn or in_storage(line):
        return None
    last = drawn[-1][0]
    usage = usage_per_week(line)
    options: list[tuple[date, str, float | None]] = []
    if engine.interval_days:
        begun = max(last.row.on, _out_of_storage(line) or last.row.on)
        options.append((begun + timedelta(days=engine.interval_days), "days", None))
    newest = next(m for m in reversed(line.moments) if m.total is not None or m is last)
    if engine.interval_meter and usage and last.total is not None and newest.total is not None:
        left = engine.interval_meter - (newest.total - last.total)
        away = min(timedelta(weeks=max(left / usage, -150)), HORIZON)
        dial = None if last.row.dial is None else last.row.dial + engine.interval_meter
        options.append((max(newest.row.on + away, last.row.on), "meter", dial))
    if not options:
        return None
    on, by, dial = min(options, key=lambda o: (o[0], o[1]))
    return Due(on, by, dial, usage, max((today - on).days, 0))
