"""*TaskDone* is of the day it is where the engine stands."""

from datetime import UTC, datetime, time, timedelta
from uuid import uuid4

import pytest

from keen_tracer.storage.db import single
from keen_tracer.usecases.pages.plan_tasks import tasks_of_engine
from keen_tracer.usecases.recording.finishing import TaskDone, finish
from tests.day import TODAY, set_clock


# Zones on the two sides of the day line, by what the clock of the sun says of them all year.
@pytest.mark.parametrize(
    ("zone", "at", "days"),
    [
        ("Pacific/Kiritimati", time(23, 30), 1),
        ("UTC", time(23, 30), 0),
        ("Pacific/Pago_Pago", time(0, 30), -1),
    ],
)
def test_done_is_written_for_the_day_at_the_depot(
    demo_copy: str, zone: str, at: time, days: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    set_clock(monkeypatch, datetime.combine(TODAY, at, UTC))
    with single(demo_copy) as c:
        c.execute("update depot set time_zone = %s", (zone,))
        engine, task = next(
            (code, t.key)
            for (code,) in c.execute("select code from engine order by code").fetchall()
            for t in tasks_of_engine(c, code)[1]
            if t.quick == "oil"
        )
        done = TaskDone(id=uuid4(), engine=engine, task=task)
        finish(c, done, "Jon Tveld")
        [found] = c.execute("select on_date from log where id = %s", (done.id,)).fetchall()
        assert found[0] == TODAY + timedelta(days=days)
