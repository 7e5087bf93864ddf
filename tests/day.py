"""The instant the tests live at, the same whenever they are run, and its days.

The clock of every process the tests start stands at `INSTANT` when the run begins and goes on from
there. KEEN_TEST_INSTANT chooses another instant; `tests/test_every_day.py` walks a matrix of them.
"""

import os
from datetime import UTC, datetime

import pytest

from keen_tracer import clock
from keen_tracer.demo.resort import ZONE

INSTANT = datetime.fromisoformat(os.environ.get("KEEN_TEST_INSTANT", "2026-11-24T10:00:00+01:00"))


def ahead_of(instant: datetime) -> str:
    """How far the clock must run ahead for it to be that instant now."""
    return str((instant - datetime.now(UTC)).total_seconds())


# The process that leads the run says it; its workers and everything they start are told.
os.environ.setdefault(clock.AHEAD_S, ahead_of(INSTANT))

DEMO_DAY = clock.day(INSTANT, ZONE)  # at the depots of the demo
TODAY = clock.day(INSTANT, None)  # of an engine that stands at no depot


def set_clock(monkeypatch: pytest.MonkeyPatch, instant: datetime) -> None:
    """Put the clock of this test, and of every process it starts from now on, at an instant."""
    monkeypatch.setenv(clock.AHEAD_S, ahead_of(instant))
