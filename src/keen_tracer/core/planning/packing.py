"""A proposal for the weeks ahead: tasks packed into days by danger, then lateness, then the way, as
a mixed-integer programme solved by HiGHS (scipy.optimize.milp).

Each task goes on one of its days or stays out; a day of a depot takes no more hours than it has; an
engine visited on a day costs its way once, however much is done there. What stays out is named with
what that risks. Depots do not share hours, so each is a programme of its own.

    minimise   Σ cost(t, d)·x(t, d) + Σ out(t)·u(t) + WAY·Σ v(e, d)
    subject to Σ_d x(t, d) + u(t) = 1,  Σ takes(t, d, k)·x(t, d) ≤ hours(k),  x(t, d) ≤ v(e(t), d)
               Σ end(a, d)·x(a, d) ≤ Σ d·x(b, d) + days·u(b),  u(a) ≤ u(b)   where a comes before b

takes(t, d, k): hours on day k of a task begun on day d. All of them on its day, or, where no day is
long enough, whole days one after the other until it is done.

A depot too large for one programme is packed week by week, the most dangerous first: what a week
leaves goes on to the next. The gap is then that of the worst week, not of the whole.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from math import inf
from typing import TYPE_CHECKING

import numpy as np

from ..errors import OutOfRange
from ..record import Floats

if TYPE_CHECKING:  # the solver is half the start of the program: it is loaded when it is asked
    from scipy.optimize import LinearConstraint

WAY = 0.5  # what one visit costs, in days a task of no danger may wait; our choice
DANGER = (1.0, 4.0, 16.0, 64.0)  # what a day's waiting costs by level; our choice
OUT = 60.0  # days of waiting that leaving a task out costs; our choice
GAP = 0.01  # of the best: where the solver may stop; our choice
SECONDS = 3.0  # for one programme; our choice
WHOLE = 4000  # (task, day) pairs up to which a depot is one programme; our choice
CROWDED = 2.0  # times a week's hours of tasks that are looked at in one week; our choice
WEEK = 7


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """A task to be packed between its first and its latest day; `on` is its own. `walk`: the place
    of its depot on the way; `after`: the keys of tasks that have to be done before it."""

    key: str
    engine: str
    hours: float
    level: int
    first: date
    on: date
    latest: date
    walk: int = 0
    after: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        # Hours below nothing would make room on a day.
        if not 0 < self.hours < inf:
            raise OutOfRange("hours of a task", self.hours, 0, inf, "h")


@dataclass(frozen=True, slots=True)
class Packed:
    """key → day; what does not fit; how far the solution may be from the best (0.01: one per
    cent), of the worst week where it was packed `by_week`."""

    on: Mapping[str, date]
    out: tuple[str, ...]
    gap: float
    by_week: bool = False


def days_for(task: Wanted, start: date, days: int) -> list[int]:
    """Places within the horizon on which a task may lie. One that is late may lie on any day: the
    sooner the cheaper."""
    if task.latest < start:
        return list(range(days))
    low, high = (task.first - start).days, (task.latest - start).days
    return list(range(max(low, 0), min(high, days - 1) + 1))


def spread(
    needed: float, at: int, hours: Sequence[float], longest: float
) -> list[tuple[int, float]] | None:
    """(day, hours) that work begun on a day takes; None where it is not done within the horizon.

    Work longer than the longest day takes all of every working day from `at` on until it is done.

    >>> spread(11.0, 1, [8, 8, 0, 8], 8.0), spread(3.0, 1, [8, 8, 0, 8], 8.0)
    ([(1, 8), (3, 3.0)], [(1, 3.0)])
    """
    if needed <= longest:
        return [(at, needed)]
    out: list[tuple[int, float]] = []
    for day in range(at, len(hours)):
        take = min(needed, hours[day])
        if take > 0:
            out.append((day, take))
            needed -= take
        if needed <= 0:
            return out
    return None


def _cost(task: Wanted, day: int, start: date) -> float:
    """What it costs to do a task on a day. What is raised waits at a price from its first day on;
    what is routine lies best on its own: sooner wastes oil and bottles, later is late."""
    if task.level or task.latest < start:
        away = day - max((task.first - start).days, 0)
    else:
        away = abs(day - max((task.on - start).days, 0))
    return DANGER[task.level] * away + 1e-3 * task.walk


@dataclass(frozen=True, slots=True)
class _Programme:
    """Columns of one depot's programme: x by (task, day), then u by task, then v by visit."""

    pairs: list[tuple[int, int]]
    takes: list[list[tuple[int, float]]]
    visits: dict[tuple[str, int], int]
    tasks: Sequence[Wanted]

    @property
    def columns(self) -> int:
        return len(self.pairs) + len(self.tasks) + len(self.visits)


def _programme(
    tasks: Sequence[Wanted], start: date, hours: Sequence[float], longest: float
) -> _Programme:
    pairs: list[tuple[int, int]] = []
    takes: list[list[tuple[int, float]]] = []
    for n, t in enumerate(tasks):
        for d in days_for(t, start, len(hours)):
            taken = spread(t.hours, d, hours, longest)
            # Long work begins on a day with hours; a day may have fewer left than asked.
            if taken and taken[0][0] == d and all(h <= hours[k] for k, h in taken):
                pairs.append((n, d))
                takes.append(taken)
    visits: dict[tuple[str, int], int] = {}
    for n, d in pairs:
        visits.setdefault((tasks[n].engine, d), len(visits))
    return _Programme(pairs, takes, visits, tasks)


def _objective(p: _Programme, start: date, out: Sequence[float]) -> Floats:
    ways = [_cost(p.tasks[n], d, start) for n, d in p.pairs]
    return np.array([*ways, *out, *([WAY] * len(p.visits))])


def _turns(tasks: Sequence[Wanted]) -> list[tuple[int, int]]:
    """(place of a task, place of one that waits for it) of each such pair."""
    place = {t.key: n for n, t in enumerate(tasks)}
    return [(place[k], n) for n, t in enumerate(tasks) for k in t.after if k in place]


def _constraints(p: _Programme, hours: Sequence[float]) -> "LinearConstraint":
    """Each task once or out; hours of a day; no task without its visit, nor before its turn."""
    from scipy.optimize import LinearConstraint
    from scipy.sparse import coo_array

    row: list[int] = []
    column: list[int] = []
    value: list[float] = []

    def put(r: int, c: int, v: float) -> None:
        row.append(r)
        column.append(c)
        value.append(v)

    n_pairs, n_tasks = len(p.pairs), len(p.tasks)
    for at, (n, d) in enumerate(p.pairs):
        put(n, at, 1.0)
        for day, taken in p.takes[at]:
            put(n_tasks + day, at, taken)
        together = n_tasks + len(hours) + at
        put(together, at, 1.0)
        put(together, n_pairs + n_tasks + p.visits[p.tasks[n].engine, d], -1.0)
    for n in range(n_tasks):
        put(n, n_pairs + n, 1.0)
    turns = _turns(p.tasks)
    at_turns = n_tasks + len(hours) + n_pairs
    for k, (a, b) in enumerate(turns):
        later, too = at_turns + 2 * k, at_turns + 2 * k + 1
        for at, (n, d) in enumerate(p.pairs):
            if n == a:
                put(later, at, float(p.takes[at][-1][0]))
            elif n == b:
                put(later, at, -float(d))
        put(later, n_pairs + b, -float(len(hours)))
        put(too, n_pairs + a, 1.0)
        put(too, n_pairs + b, -1.0)
    rows = at_turns + 2 * len(turns)
    matrix = coo_array((value, (row, column)), shape=(rows, p.columns)).tocsr()
    low = np.concatenate([np.ones(n_tasks), np.full(rows - n_tasks, -np.inf)])
    high = np.concatenate([np.ones(n_tasks), np.asarray(hours), np.zeros(n_pairs + 2 * len(turns))])
    return LinearConstraint(matrix, low, high)


def _out(task: Wanted) -> float:
    """What leaving a task out for good costs."""
    return OUT * DANGER[task.level]


def _solved(
    tasks: Sequence[Wanted],
    start: date,
    hours: Sequence[float],
    longest: float,
    out: Sequence[float],
) -> tuple[dict[str, date], float]:
    """(key → day, gap) of one programme. Out of time before any solution everything waits."""
    from scipy.optimize import Bounds, milp

    p = _programme(tasks, start, hours, longest)
    if not p.pairs:
        return {}, 0.0
    found = milp(
        _objective(p, start, out),
        integrality=np.ones(p.columns, dtype=np.int64),
        bounds=Bounds(0, 1),
        constraints=_constraints(p, hours),
        options={"time_limit": SECONDS, "mip_rel_gap": GAP},
    )
    if found.x is None:
        return {}, 1.0
    on = {
        tasks[n].key: start + timedelta(days=d)
        for at, (n, d) in enumerate(p.pairs)
        if found.x[at] > 0.5
    }
    return on, max(float(found.mip_gap or 0.0), 0.0)


def pack(
    tasks: Sequence[Wanted], start: date, hours: Sequence[float], longest: float | None = None
) -> Packed:
    """Tasks of one depot on days, or left out where the hours do not reach.

    start : the first day · hours : left of every day from it on · longest : hours of the longest
    day before anything lay on it, the longest of `hours` where nothing does

    >>> monday = date(2026, 11, 2)
    >>> soon = Wanted(key="a", engine="E-1", hours=2, level=2, first=monday, on=monday,
    ...               latest=date(2026, 11, 6))
    >>> pack([soon], monday, [0, 8, 8]).on["a"].day
    3
    """
    if longest is None:
        longest = max(hours, default=0.0)
    pairs = sum(len(days_for(t, start, len(hours))) for t in tasks)
    if pairs > WHOLE:
        return _by_week(tasks, start, hours, longest)
    on, gap = _solved(tasks, start, hours, longest, [_out(t) for t in tasks])
    return Packed(on, tuple(t.key for t in tasks if t.key not in on), gap)


def _long_first(
    tasks: Sequence[Wanted], start: date, hours: list[float], longest: float
) -> tuple[dict[str, date], dict[str, date]]:
    """Work longer than a day, which no week of its own can hold, on the first day that lets it be
    finished, and the day it is finished on; its hours are taken out of `hours`."""
    on, ends = dict[str, date](), dict[str, date]()
    for wanted in sorted(tasks, key=lambda t: len(t.after)):
        t = _no_sooner(wanted, ends)
        for d in days_for(t, start, len(hours)) if t.hours > longest else ():
            taken = spread(t.hours, d, hours, longest)
            if taken and taken[0][0] == d:
                on[t.key] = start + timedelta(days=d)
                ends[t.key] = start + timedelta(days=taken[-1][0])
                for day, h in taken:
                    hours[day] -= h
                break
    return on, ends


def _no_sooner(task: Wanted, ends: Mapping[str, date]) -> Wanted:
    """A task, not before what comes before it is done."""
    first = max([task.first, *(ends[k] for k in task.after if k in ends)])
    return replace(task, first=first, on=max(task.on, first), latest=max(task.latest, first))


def _by_week(
    tasks: Sequence[Wanted], start: date, given: Sequence[float], longest: float
) -> Packed:
    """Week after week, each with the most pressing tasks that may lie in it."""
    worst, hours = 0.0, list(given)
    # The most dangerous first, then those that are over soonest.
    left = sorted(tasks, key=lambda t: (-t.level, t.latest, t.walk, t.key))
    on, ends = _long_first(left, start, hours, longest)
    left = [t for t in left if t.hours <= longest]
    for begins in range(0, len(hours), WEEK):
        week, monday = hours[begins : begins + WEEK], start + timedelta(days=begins)
        next_week = monday + timedelta(days=len(week))
        # Whose range ended in a week gone by is left out; what was late from the start is not.
        left = [t for t in left if t.latest >= monday or t.latest < start]
        looked: list[Wanted] = []
        room = CROWDED * sum(week)
        waits = {t.key for t in left}
        for one in _in_turn(left):
            t = _no_sooner(one, ends)
            if waits.isdisjoint(t.after) and room > 0 and days_for(t, monday, len(week)):
                looked.append(t)
                waits.discard(t.key)
                room -= t.hours
        out = [_out(t) if t.latest < next_week else _waits(t, len(week), monday) for t in looked]
        found, gap = _solved(looked, monday, week, longest, out)
        on |= found
        ends |= found
        worst = max(worst, gap)
        left = [t for t in left if t.key not in found]
    return Packed(on, tuple(t.key for t in tasks if t.key not in on), worst, by_week=True)


def _in_turn(tasks: Sequence[Wanted]) -> list[Wanted]:
    """The same order, but nothing ahead of what comes before it."""
    at = {t.key: n for n, t in enumerate(tasks)}

    def place(task: Wanted) -> tuple[int, int]:
        return max([at[task.key], *(at[k] for k in task.after if k in at)]), len(task.after)

    return sorted(tasks, key=place)


def _waits(task: Wanted, days: int, start: date) -> float:
    """What it costs to leave a task to the week after: no more than to leave it for good."""
    return min(_cost(task, days, start) + WAY, _out(task))


def cost_of(tasks: Sequence[Wanted], on: Mapping[str, date], start: date) -> float:
    """What a placement costs, by the same measure: for comparing two."""
    total = 0.0
    for t in tasks:
        if t.key in on:
            total += _cost(t, (on[t.key] - start).days, start)
        else:
            total += _out(t)
    return total + WAY * len({(t.engine, on[t.key]) for t in tasks if t.key in on})
