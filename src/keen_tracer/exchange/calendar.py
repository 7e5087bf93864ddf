"""Tasks as a calendar (iCalendar, RFC 5545): one whole day each, with an identity that stays, so
that a calendar that reads it again updates what moved and drops what is done."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta

from icalendar import Calendar, Event

HOST = "keen-tracer"


@dataclass(frozen=True, slots=True, kw_only=True)
class Entry:
    """One day's task. `key` stays the same until it is done; `revision` never falls, so that the
    newest of two readings is known; `link` is a page people can open."""

    key: str
    day: date
    title: str
    text: str
    place: str
    late: bool
    link: str
    revision: int


def calendar_of(name: str, entries: Iterable[Entry], now: datetime) -> bytes:
    """A calendar file. Equal entries, equal bytes but for the moment it was made.

    >>> made = calendar_of("Summit", [], datetime(2026, 11, 27, tzinfo=UTC))
    >>> made.startswith(b"BEGIN:VCALENDAR")
    True
    """
    made = Calendar()
    made.add("prodid", "-//Keen Tracer//Plan//EN")
    made.add("version", "2.0")
    made.add("method", "PUBLISH")
    made.add("x-wr-calname", name)
    made.add("x-published-ttl", "PT1H")
    for e in entries:
        event = Event()
        event.add("uid", f"{e.key}@{HOST}")
        event.add("dtstamp", now.astimezone(UTC).replace(microsecond=0))
        event.add("dtstart", e.day)
        event.add("dtend", e.day + timedelta(days=1))
        event.add("summary", e.title)
        event.add("description", e.text)
        event.add("url", e.link)
        event.add("sequence", e.revision)
        if e.place:
            event.add("location", e.place)
        event.add("transp", "TRANSPARENT")
        event.add("priority", 1 if e.late else 5)
        made.add_component(event)
    return bytes(made.to_ical())
