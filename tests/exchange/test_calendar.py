"""Calendars that others read: checked by two parsers that are not ours."""

from datetime import UTC, date, datetime

import icalendar
import pytest
import vobject

from keen_tracer.exchange.calendar import Entry, calendar_of

NOW = datetime(2026, 11, 27, 12, 0, tzinfo=UTC)


def entry(**more) -> Entry:
    return Entry(
        **{
            "key": "a1",
            "day": date(2026, 11, 30),
            "title": "G-07: Oil change; 1,5 h",
            "text": "Allowed to 2026-12-04.\nCaution: hot oil, gloves, cardboard under the drain; "
            "oil and filter go by local rules.",
            "place": "Summit",
            "late": False,
            "link": "http://depot:8000/engine/G-07",
            "revision": 4,
            **more,
        }
    )


@pytest.mark.filterwarnings("ignore::DeprecationWarning")
def test_two_parsers_read_the_same() -> None:
    made = calendar_of("Summit", [entry(), entry(key="b2", late=True)], NOW)
    assert all(len(x) <= 75 for x in made.splitlines())
    one = icalendar.Calendar.from_ical(made)
    events = list(one.walk("VEVENT"))
    assert not one.errors
    assert [str(e["uid"]) for e in events] == ["a1@keen-tracer", "b2@keen-tracer"]
    assert events[0].decoded("dtstart") == date(2026, 11, 30)
    assert events[0].decoded("dtend") == date(2026, 12, 1)
    assert str(events[0]["summary"]) == "G-07: Oil change; 1,5 h"
    assert (str(events[0]["url"]), int(events[0]["sequence"])) == (
        "http://depot:8000/engine/G-07",
        4,
    )
    other = vobject.readOne(made.decode())
    assert other.vevent.summary.value == "G-07: Oil change; 1,5 h"
    assert other.vevent.description.value.startswith("Allowed to 2026-12-04.\nCaution")
    assert other.vevent.url.value == "http://depot:8000/engine/G-07"
    assert other.vevent.dtstart.value == date(2026, 11, 30)
    assert [e.uid.value for e in other.vevent_list] == ["a1@keen-tracer", "b2@keen-tracer"]


def test_a_moved_task_keeps_its_identity() -> None:
    before = calendar_of("x", [entry()], NOW)
    after = calendar_of("x", [entry(day=date(2026, 12, 2))], NOW)
    assert before != after
    uid = [x for x in before.splitlines() if x.startswith(b"UID")]
    assert uid == [x for x in after.splitlines() if x.startswith(b"UID")]
