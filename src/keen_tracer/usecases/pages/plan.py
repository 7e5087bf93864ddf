"""Weeks ahead by depot: one line an engine, one mark a task, hours a day; and a proposal that packs
them."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date, timedelta
from typing import Any

from ...core.planning import Packed, Wanted, hours_on, pack, risk, spread
from ...core.record import TURNS, barred_now
from ...core.status import may_run_now
from ...core.terms import MayRun
from ...storage.db import Connection
from ...storage.records import Row, rows
from ..answers.plan import DayHours, Listed, PlanLine, PlanOut, ProposalOut, Proposed
from ..days import day_at, days_now
from .plan_tasks import tasks_by_engine

WEEKS = 12  # the page shows at most; our choice


def _seasons(connection: Connection) -> dict[str, dict[str, list[float]]]:
    out: dict[str, dict[str, list[float]]] = {}
    for r in rows(connection, "hours_of_depots"):
        out.setdefault(r["depot"], {})[r["starts"]] = r["hours"]
    return out


def _days(start: date, weeks: int) -> list[date]:
    return [start + timedelta(days=n) for n in range(7 * weeks)]


def _hours(days: Sequence[date], depots: set[str], seasons: Mapping[str, Any]) -> list[float]:
    """Hours of each day, of several depots together."""
    return [sum(hours_on(d, seasons.get(depot, {})) for depot in depots) for d in days]


def _may_run(e: Row, today: date) -> MayRun:
    """May the engine run, today."""
    return may_run_now(e["may_run"] or "unknown", e["until"], e["until_on"], e["dial"], today)


def _lines(
    connection: Connection, depot: str | None, by_risk: bool = False
) -> list[tuple[Row, list[Listed]]]:
    """Engines that ask for something, the most dangerous and latest first; on demand by what it is
    expected to cost to leave them alone."""
    days = days_now(connection)
    engines = [
        {**e, "may_run": _may_run(e, days.at(e["depot"]))}
        for e in rows(connection, "plan_rows", depot=depot)
    ]
    tasks = tasks_by_engine(connection, engines)
    asking = [(e, tasks[e["id"]]) for e in engines if tasks[e["id"]]]

    def order(x: tuple[Row, list[Listed]]) -> tuple[object, ...]:
        worst = max(t.level for t in x[1])
        stake = risk(x[0]["level"], x[0]["failure_cost"]) if by_risk else None
        return (
            -(stake or 0.0),
            -worst,
            -max(t.late for t in x[1]),
            min(t.day for t in x[1]),
            x[0]["code"],
        )

    return sorted(asking, key=order)


def in_window(
    connection: Connection, depot: str | None, weeks: int
) -> list[tuple[Row, list[Listed]]]:
    """Engines that ask for something, each with its tasks in the weeks ahead: what is printed."""
    end = _days(day_at(connection, depot), weeks)[-1]
    kept = ((e, [t for t in listed if t.day <= end]) for e, listed in _lines(connection, depot))
    return [(e, listed) for e, listed in kept if listed]


def plan(
    connection: Connection,
    depot: str | None,
    weeks: int,
    offset: int,
    limit: int,
    by_risk: bool = False,
) -> PlanOut:
    """The weeks ahead: a window of the engines, and the days with their hours over all of them."""
    today = day_at(connection, depot)
    found = _lines(connection, depot, by_risk)
    days = _days(today, weeks)
    end, seasons = days[-1], _seasons(connection)
    depots = {e["depot"] or "" for e, _ in found} or {""}
    own = {d: _hours(days, {d}, seasons) for d in depots}
    used = [0.0] * len(days)
    shown: list[tuple[Row, list[Listed]]] = []
    for e, listed in found:
        laid = [_laid(t, days, own[e["depot"] or ""], used) for t in listed if t.day <= end]
        if laid:
            shown.append((e, laid))
    hours = [sum(of) for of in zip(*own.values(), strict=True)]
    return {
        "today": today,
        "until": end,
        "depots": [r["code"] for r in rows(connection, "depot_codes")],
        "total": len(shown),
        "late": sum(t.late > 0 for _, listed in shown for t in listed),
        "days": [DayHours(d, h, round(u, 1)) for d, h, u in zip(days, hours, used, strict=True)],
        "lines": [
            PlanLine(
                code=e["code"],
                name=e["name"],
                depot=e["depot"] or "",
                unit=e["unit"],
                level=e["level"],
                may_run=e["may_run"],
                failure_cost=e["failure_cost"],
                risk=risk(e["level"], e["failure_cost"]),
                tasks=listed,
            )
            for e, listed in shown[offset : offset + limit]
        ],
        "seasons": [
            {"depot": d, "starts": s, "hours": h}
            for d, known in seasons.items()
            for s, h in known.items()
            if h and depot in (None, d)
        ],
    }


def _laid(task: Listed, days: list[date], hours: list[float], used: list[float]) -> Listed:
    """A task with the day it ends on; its hours are added to those used. Work longer than any day
    goes on over the days after."""
    at = (task.day - days[0]).days
    taken = spread(task.hours, at, hours, max(hours, default=0.0))
    for day, h in taken or [(at, task.hours)]:
        used[day] += h
    return replace(task, ends=days[taken[-1][0]]) if taken and taken[-1][0] != at else task


def propose(connection: Connection, depot: str | None, weeks: int) -> ProposalOut:
    """A proposal: what would lie where, what does not fit, how far from the best it may be. Nothing
    is written."""
    today = day_at(connection, depot)
    days, seasons = _days(today, weeks), _seasons(connection)
    by_depot: dict[str, list[tuple[Row, Listed]]] = {}
    for e, listed in _lines(connection, depot):
        by_depot.setdefault(e["depot"] or "", []).extend((e, t) for t in listed)
    moves: list[Proposed] = []
    out: list[Proposed] = []
    gap, by_week = 0.0, False
    for name, tasks in by_depot.items():
        hours = _hours(days, {name}, seasons)
        longest = max(hours, default=0.0)
        fixed, free = _apart(tasks, days[-1])
        used = [0.0] * len(days)
        for t in fixed:
            if t.day <= days[-1]:
                _laid(t, days, hours, used)
        left = [max(h - u, 0.0) for h, u in zip(hours, used, strict=True)]
        packed = pack([_wanted(e, t) for e, t in free], today, left, longest)
        gap, by_week = max(gap, packed.gap), by_week or packed.by_week
        _tell(free, packed, sum(hours), moves, out)
    return {"moves": moves, "out": out, "gap": round(gap, 4), "by_week": by_week}


def _apart(
    tasks: list[tuple[Row, Listed]], end: date
) -> tuple[list[Listed], list[tuple[Row, Listed]]]:
    """Tasks that stay where they are (a person put them there, or nothing moves them), and those to
    be packed into the weeks."""
    fixed = [t for _, t in tasks if not t.movable or t.moved_by]
    free = [
        (e, t)
        for e, t in tasks
        if t.movable and not t.moved_by and t.earliest <= end and _may(e, t)
    ]
    return fixed, free


def _may(e: Row, task: Listed) -> bool:
    """Whether a task may be done to the engine in its state of today."""
    return task.at_rest or not barred_now(e["barred"], e["may_run"]) & TURNS


def _wanted(e: Row, task: Listed) -> Wanted:
    return Wanted(
        key=f"{e['code']}|{task.key}",
        engine=e["code"],
        hours=task.hours,
        level=task.level,
        first=task.earliest,
        on=task.day,
        latest=task.latest,
        walk=e["walk"],
        after=tuple(f"{e['code']}|{k}" for k in task.after),
    )


def _tell(
    free: list[tuple[Row, Listed]],
    packed: Packed,
    most: float,
    moves: list[Proposed],
    out: list[Proposed],
) -> None:
    for e, t in free:
        to = packed.on.get(f"{e['code']}|{t.key}")
        risks = "" if to is not None else _risks(t, most)
        one = Proposed(
            engine=e["code"],
            key=t.key,
            what=t.what,
            was=t.day,
            to=to,
            move=str(t.move) if t.move else None,
            risks=risks,
        )
        if to is None:
            out.append(one)
        elif to != t.day:
            moves.append(one)


def _risks(task: Listed, most: float) -> str:
    """What it means to leave a task out of the weeks. `most`: hours of all their days."""
    if task.hours > most:
        return f"takes {task.hours:g} h, these weeks have {most:g}: add hours"
    if task.late:
        return f"{task.late} days past its latest already"
    if task.level >= 2:
        return f"it is at Act; allowed to {task.latest}"
    return f"allowed to {task.latest}"
