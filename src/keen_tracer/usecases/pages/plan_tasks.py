"""Tasks of engines today: what the engines ask for, work people decided, and where
somebody moved them."""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from datetime import date, timedelta

from ...core.planning import Task, before, in_turn, placed
from ...core.verdict import A_BOTTLE
from ...core.words import task_words
from ...storage.db import Connection
from ...storage.records import Row, row, rows
from ..answers.plan import Listed, Quick
from ..days import days_now
from ..errors import NotThere
from ..judging.stored import StoredTask
from .standing import check_out

WORK_RANGE = timedelta(days=7)  # around the day somebody set for work; our choice
WORK_HOURS = 1.0  # of work nobody estimated; our choice


# Kinds whose *done* has one place; of an action it is the bottle it asks for, else a look.
_FORMS = {
    "sample": "bottle",
    "follow": "bottle",
    "drain": "oil_change",
    "decide": "run",
    "bottle": "tracking",
    "work": "work",
}


def _form(kind: str, code: str) -> str:
    """Where a task is said to be done; of a check as everywhere else."""
    if kind == "check":
        return str(check_out(code)["form"])
    if kind == "action":
        return "bottle" if code in A_BOTTLE else "look"
    return _FORMS[kind]


# Where a look that a task asks for is made.
LOOKED_AT = {"open_filter": "filter", "pan": "pan"}
_QUICK: dict[str, Quick] = {
    "bottle": "bottle",
    "oil_change": "oil",
    "check": "result",
    "work": "work",
}


def _quick(task: Task) -> Quick:
    """How *done* is said in two taps; a look only that nothing was there."""
    form = _form(task.kind, task.code)
    if form == "look":
        return "nothing" if task.code in LOOKED_AT else ""
    return _QUICK.get(form, "")


def _kept(t: StoredTask) -> Task:
    return Task(
        key=t["key"],
        kind=t["kind"],
        code=t["code"],
        earliest=date.fromisoformat(t["earliest"]),
        on=date.fromisoformat(t["on"]),
        latest=date.fromisoformat(t["latest"]),
        at_dial=t["at_dial"],
        hours=t["hours"],
        level=t["level"],
        at_rest=t["at_rest"],
        movable=t["movable"],
    )


def _work(w: Row, level: int, today: date) -> Task:
    """Work as a task: on the day somebody set, within a week of it; undated, within two."""
    on = w["due"] or today + WORK_RANGE
    return Task(
        key=f"work:{w['item']}",
        kind="work",
        code=w["kind"],
        earliest=min(today, on),
        on=on,
        latest=on + WORK_RANGE,
        hours=w["hours"] or WORK_HOURS,
        level=level,
    )


def _listed(task: Task, move: Row | None, today: date, w: Row | None) -> Listed:
    said = task_words(task.kind, task.code, w["words"] if w else "")
    moved = move["day"] if move else None
    return Listed(
        key=task.key,
        kind=task.kind,
        code=task.code,
        short=said.short,
        what=said.what,
        form=_form(task.kind, task.code),
        quick=_quick(task),
        tools=said.tools,
        caution=said.caution,
        day=placed(task.earliest, task.on, task.latest, moved, today),
        earliest=task.earliest,
        latest=task.latest,
        at_dial=task.at_dial,
        hours=task.hours,
        level=task.level,
        late=max((today - task.latest).days, 0),
        at_rest=task.at_rest,
        movable=task.movable,
        who=w["who"] if w else "",
        move=move["id"] if move else None,
        moved_by=move["by"] if move and moved else "",
        reason=move["reason"] if move and moved else "",
        work=w["id"] if w else None,
        case=w["case_id"] if w else None,
    )


def _in_turn(listed: Sequence[Listed], work: Iterable[tuple[str, Row]]) -> list[Listed]:
    """Tasks with what comes before each of them, on no day before it: whoever set a day for new
    shells did not mean them to be chosen before the crank is ground."""
    after = before({key: (w["case_id"] or "", w["kind"], w["words"]) for key, w in work})
    by_key = {t.key: t for t in listed}
    for key in in_turn(after):
        first = max((by_key[k].day for k in after[key]), default=date.min)
        t = by_key[key]
        by_key[key] = replace(
            t,
            after=after[key],
            earliest=max(t.earliest, first),
            day=max(t.day, first),
            latest=max(t.latest, first),
        )
    return list(by_key.values())


def tasks_by_engine(connection: Connection, engines: Iterable[Row]) -> dict[int, list[Listed]]:
    """The tasks of each engine by its id, on the present date at its depot: the late ones first,
    then by day."""
    known, days = list(engines), days_now(connection)
    ids = [e["id"] for e in known]
    moves = {(m["engine_id"], m["task"]): m for m in rows(connection, "task_moves", engines=ids)}
    work: dict[int, list[Row]] = {}
    for w in rows(connection, "work_to_do", engines=ids):
        work.setdefault(w["engine_id"], []).append(w)
    out: dict[int, list[Listed]] = {}
    for e in known:
        level, today = e["level"] or 0, days.at(e["depot"])
        asked: list[tuple[Task, Row | None]] = [(_kept(t), None) for t in e["tasks"]]
        asked += [(_work(w, level, today), w) for w in work.get(e["id"], ())]
        listed = [_listed(t, moves.get((e["id"], t.key)), today, w) for t, w in asked]
        listed = _in_turn(listed, [(t.key, w) for t, w in asked if w])
        out[e["id"]] = sorted(listed, key=lambda t: (-t.late, t.day, -t.level, t.key))
    return out


def tasks_of_engine(connection: Connection, code: str) -> tuple[int, list[Listed]]:
    """(key, tasks) of one engine. Raises NotThere."""
    found = row(connection, "plan_row", code=code)
    if found is None:
        raise NotThere(f"there is no engine {code}")
    return found["id"], tasks_by_engine(connection, [found])[found["id"]]
