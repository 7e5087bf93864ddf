"""The demo at a matrix of instants: each weekday, ends of months and of years, a leap day, both
changes of the clock, just before and after midnight at the depots and in UTC."""

from collections.abc import Iterator
from datetime import datetime

import pytest

from keen_tracer import clock
from keen_tracer.demo.load import load
from keen_tracer.demo.resort import ZONE
from keen_tracer.storage.migrate import copy_database
from tests.conftest import once, short_copy
from tests.day import INSTANT, set_clock

INSTANTS = (
    INSTANT.isoformat(),
    "2026-11-30T23:30:00+01:00",  # a Monday, the last of its month at the depots and in UTC
    "2026-12-01T00:30:00+01:00",  # a Tuesday at the depots, still November in UTC
    "2026-12-31T23:30:00+00:00",  # a Thursday in UTC, New Year and a Friday at the depots
    "2027-01-02T00:30:00+00:00",  # a Saturday, in UTC too for half an hour
    "2027-03-28T00:30:00+00:00",  # a Sunday, half an hour before the clock goes forward
    "2027-06-30T23:30:00+02:00",  # a Wednesday in summer, the last of its month
    "2027-10-31T01:30:00+00:00",  # a Sunday, the second 02:30 of the night the clock goes back
    "2028-02-29T12:00:00+00:00",  # a leap day
)


@pytest.fixture(scope="module", params=INSTANTS)
def instant(request: pytest.FixtureRequest) -> Iterator[datetime]:
    """An instant at which this test and the demo stand."""
    found = datetime.fromisoformat(request.param)
    with pytest.MonkeyPatch.context() as patch:
        set_clock(patch, found)
        yield found


@pytest.fixture(scope="module")
def demo_of_the_day(cluster: str, template: str, demo_template: str, instant: datetime) -> str:
    """The demo as it is loaded at that instant, to copy from."""
    if instant == INSTANT:
        return demo_template

    def make(url: str) -> None:
        copy_database(template, url.rsplit("/", 1)[1])
        load(url, clock.today(ZONE), lambda _: None)

    return once(cluster, f"template_demo_{instant:%Y%m%d_%H%M}", make)


@pytest.fixture(scope="module")
def demo_url(demo_of_the_day: str) -> Iterator[str]:
    """That demo, to read."""
    with short_copy(demo_of_the_day, "day") as made:
        yield made


@pytest.fixture
def demo_copy(demo_of_the_day: str) -> Iterator[str]:
    """A copy of that demo that a test may change."""
    with short_copy(demo_of_the_day, "changing_day") as made:
        yield made
