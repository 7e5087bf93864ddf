"""*Done* said of a task becomes the row it was: an oil change, a bottle, a look, what came of a
check, a piece of work. What the program cannot know (the meter, the label) is asked, never made
up."""

from dataclasses import dataclass
from datetime import date
from uuid import UUID

from ...core.record import build_time_line
from ...storage import fleet
from ...storage.db import Connection
from ...storage.records import row
from ..answers.plan import Listed
from ..days import day_of_engine
from ..errors import CannotRecord, NotThere
from ..fields import Meter, TaskKey, Word
from ..pages.collect import one_stop
from ..pages.plan_tasks import LOOKED_AT, tasks_of_engine
from .log_rows import Bottle, Event, engine_id, known_row, record_event, register_bottle
from .looks import Look, record_look
from .work import finish_work


@dataclass(frozen=True, slots=True, kw_only=True)
class TaskDone:
    """A task that was done. `id` is made by the client and becomes the row's; `said`: the result of
    a check."""

    id: UUID
    engine: Word
    task: TaskKey
    dial: Meter | None = None
    sample: Word = ""
    said: Word = ""


def finish(connection: Connection, done: TaskDone, who: str) -> None:
    """Write down that a task was done on the day it is now at the engine's depot; sent twice it is
    written once.

    Raises NotThere for a task that is done or was never there, CannotRecord for what lacks its
    figure or cannot be said in two taps.
    """
    if (
        known_row(connection, done.id) is not None
        or row(connection, "work_whole", id=done.id) is not None
    ):
        return
    _, listed = tasks_of_engine(connection, done.engine)
    task = next((t for t in listed if t.key == done.task), None)
    if task is None:
        raise NotThere("this task is done, or another stands in its place; look again")
    if not task.quick:
        raise CannotRecord("has_a_form", f"{task.what}: say on its form what came of it")
    _WRITE[task.quick](connection, done, task, day_of_engine(connection, done.engine), who)


def _oil(connection: Connection, done: TaskDone, task: Listed, on: date, who: str) -> None:
    """The same oil again; litres are not known, and not made up."""
    history = fleet.load(
        connection, [engine_id(connection, done.engine)], {}, figures=False
    ).fleet.histories[0]
    held = build_time_line(history).charges[-1].oil or ""
    oil, grade, batch = (*held.split("|"), "", "", "")[:3]
    change = Event(
        id=done.id,
        engine=done.engine,
        on=on,
        kind="oil_change",
        dial=done.dial,
        oil=oil,
        grade=grade,
        batch=batch,
    )
    record_event(connection, change, who)


def _bottle(connection: Connection, done: TaskDone, task: Listed, on: date, who: str) -> None:
    if done.dial is None or not done.sample.strip():
        raise CannotRecord("meter_required", "give the meter and the number on the bottle")
    stop = one_stop(connection, done.engine, on)
    assert stop is not None
    bottle = Bottle(
        id=done.id,
        sample=done.sample.strip(),
        engine=done.engine,
        on=on,
        dial=done.dial,
        purpose=stop["purpose"],
        resample_of=stop["resample_of"],
        method=stop["method"],
    )
    register_bottle(connection, bottle, who)


def _result(connection: Connection, done: TaskDone, task: Listed, on: date, who: str) -> None:
    said = Event(
        id=done.id,
        engine=done.engine,
        on=on,
        kind="field_check",
        part=task.code,
        dial=done.dial,
        details={"result": done.said},
    )
    record_event(connection, said, who)


def _nothing(connection: Connection, done: TaskDone, task: Listed, on: date, who: str) -> None:
    place = LOOKED_AT[task.code]
    look = Look(id=done.id, engine=done.engine, on=on, place=place, dial=done.dial)
    record_look(connection, look, who)


def _work(connection: Connection, done: TaskDone, task: Listed, on: date, who: str) -> None:
    assert task.work is not None
    finish_work(connection, task.work, done.id, who)


_WRITE = {"oil": _oil, "bottle": _bottle, "result": _result, "nothing": _nothing, "work": _work}
