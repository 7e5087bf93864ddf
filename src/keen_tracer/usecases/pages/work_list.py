"""The plan as a printed list of work: the late work first, then day by day."""

from collections.abc import Iterator
from datetime import date

from ...core.record import TURNS, barred_now
from ...core.words import computed, day, meter_words
from ...exchange import work_list as paper
from ...storage.db import Connection
from ...storage.records import Row
from ..answers.plan import Listed
from ..days import day_at
from .plan import in_window

LATE = "Late"
HALTED = "Do not start"


def _job(e: Row, task: Listed, names: dict[str, str]) -> paper.Job:
    halted = bool(barred_now(e["barred"], e["may_run"]) & TURNS)
    meter = f", or at {meter_words(task.at_dial, e['unit'])}" if task.at_dial is not None else ""
    return paper.Job(
        engine=f"{e['code']} {e['name']}".strip(),
        place=e["depot"] or "",
        halted=HALTED if halted else "",
        what=task.what,
        by=day(task.latest.isoformat()) + meter,
        late=f"{task.late} d late" if task.late else "",
        hours=computed(task.hours),
        tools=f"Needs: {task.tools.lower()}." if task.tools else "",
        caution=task.caution,
        after="After: " + "; ".join(names[k] for k in task.after if k in names)
        if task.after
        else "",
        who=task.who,
    )


def _jobs(
    connection: Connection, depot: str | None, weeks: int, today: date
) -> Iterator[tuple[str, Row, Listed, paper.Job]]:
    for e, listed in in_window(connection, depot, weeks):
        names = {t.key: t.what for t in listed}
        for t in listed:
            head = LATE if t.late else day(max(t.day, today).isoformat())
            yield head, e, t, _job(e, t, names)


def work_list(connection: Connection, depot: str | None, weeks: int) -> tuple[str, str]:
    """(title, body) of the work of a depot, or of all, in the weeks ahead."""
    today = day_at(connection, depot)
    found = list(_jobs(connection, depot, weeks, today))
    # In the order of the round: late first, then by day; at one engine what comes first stands
    # before what waits for it.
    found.sort(key=lambda x: (not x[2].late, x[2].day, x[1]["walk"], x[1]["code"], len(x[2].after)))
    days: dict[str, list[paper.Job]] = {}
    for head, _, _, job in found:
        days.setdefault(head, []).append(job)
    return f"Work list, {depot or 'all depots'}", paper.work_list(
        f"Work list, {depot or 'all depots'}, from {day(today.isoformat())}", days.items()
    )
