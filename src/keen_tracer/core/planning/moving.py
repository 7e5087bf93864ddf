"""Where a task may be moved to, and what a day of a depot has hours for."""

from collections.abc import Mapping, Sequence
from datetime import date, timedelta

from ..errors import NotPossible

# Hours of a depot about which nobody said anything, Monday first; our choice.
USUAL_HOURS = (8.0, 8.0, 8.0, 8.0, 8.0, 0.0, 0.0)
AHEAD_MOST = timedelta(days=730)  # a task is moved no further; our choice


def check_move(
    earliest: date, latest: date, movable: bool, day: date, reason: str, today: date
) -> None:
    """Refuse a day a task cannot go to. Past its latest day, or before its first, the reason is
    asked for and kept. Raises NotPossible.

    >>> from datetime import date as d
    >>> check_move(d(2026, 11, 1), d(2026, 11, 9), True, d(2026, 11, 5), "", d(2026, 11, 2))
    """
    if not movable:
        raise NotPossible("a decision, a hold or a bottle is not moved: it stands until it is made")
    if day < today:
        raise NotPossible(f"{day} has gone by; choose a day from today on")
    if day > today + AHEAD_MOST:
        raise NotPossible(f"{day} lies too far ahead")
    if latest < today:
        inside = day == today  # it is late: today is what is left of its range
    else:
        inside = earliest <= day <= latest
    if not inside and not reason.strip():
        raise NotPossible(f"allowed from {earliest} to {latest}: say why it goes to {day}")


def placed(earliest: date, on: date, latest: date, moved: date | None, today: date) -> date:
    """The day of a task: the one somebody moved it to, else its own; never a day of the past.

    >>> from datetime import date as d
    >>> placed(d(2026, 11, 1), d(2026, 11, 4), d(2026, 11, 9), None, d(2026, 11, 6)).day
    6
    """
    return max(moved if moved is not None else on, today)


def hours_on(day: date, seasons: Mapping[str, Sequence[float]]) -> float:
    """Hours of work a depot has on a day. `seasons`: day of the year ("11-15") from which on →
    hours from Monday to Sunday; the one that began last holds, over the turn of the year too.

    >>> snow = {"11-15": (10, 10, 10, 10, 10, 6, 0), "05-01": (8, 8, 8, 8, 6, 0, 0)}
    >>> hours_on(date(2026, 1, 3), snow), hours_on(date(2026, 6, 5), snow)
    (6, 6)
    """
    known = {start: hours for start, hours in seasons.items() if hours}
    if not known:
        return USUAL_HOURS[day.weekday()]
    here = f"{day.month:02d}-{day.day:02d}"
    begun = [start for start in known if start <= here]
    return known[max(begun) if begun else max(known)][day.weekday()]
