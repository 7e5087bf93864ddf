"""A proposal for the weeks ahead: tasks packed into days by danger, then lateness, then the way, as
a mixed-integer programme solved by HiGHS (scipy.optimize.milp).

Each task goes on one of its days or stays out; a day of a depot takes no more hours than it has; an
engine visited on a day costs its way once, however much is done there. What stays out is named with
what that risks. Depots do not share hours, so each is a programme of its own.

    minimise   Σ cost(t, d)·x(t, d) + Σ out(t)·u(t) + WAY·Σ v(e, d)
    subject to Σ_d x(t, d) + u(t) = 1,  Σ hours(t)·x(t, d) ≤ hours(d),  x(t, d) ≤ v(e(t), d)
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import coo_array

WAY = 0.5  # what one visit costs, in days a task of no danger may wait; our choice
DANGER = (1.0, 4.0, 16.0, 64.0)  # what a day's waiting costs by level; our choice
OUT = 60.0  # days of waiting that leaving a task out costs; our choice
GAP = 0.01  # of the best: where the solver may stop; our choice
SECONDS = 5.0  # for one depot; our choice


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """A task to be packed between its first and its latest day; `on` is its own. `walk`: the place
    of its depot on the way."""

    key: str
    engine: str
    hours: float
    level: int
    first: date
    on: date
    latest: date
    walk: int = 0


@dataclass(frozen=True, slots=True)
class Packed:
    """key → day; what does not fit; how far the solution may be from the best (0.01: one per
    cent)."""

    on: Mapping[str, date]
    out: tuple[str, ...]
    gap: float


def days_for(t: Wanted, start: date, days: int) -> list[int]:
    """Places within the horizon on which a task may lie. One that is late may lie on any day: the
    sooner the cheaper."""
    if t.latest < start:
        return list(range(days))
    low, high = (t.first - start).days, (t.latest - start).days
    return list(range(max(low, 0), min(high, days - 1) + 1))


def _cost(t: Wanted, day: int, start: date) -> float:
    """What it costs to do a task on a day. What is raised waits at a price from its first day on;
    what is routine lies best on its own: sooner wastes oil and bottles, later is late."""
    if t.level or t.latest < start:
        away = day - max((t.first - start).days, 0)
    else:
        away = abs(day - max((t.on - start).days, 0))
    return DANGER[t.level] * away + 1e-3 * t.walk


@dataclass(frozen=True, slots=True)
class _Programme:
    """Columns of one depot's programme: x by (task, day), then u by task, then v by visit."""

    pairs: list[tuple[int, int]]
    visits: dict[tuple[str, int], int]
    tasks: Sequence[Wanted]

    @property
    def columns(self) -> int:
        return len(self.pairs) + len(self.tasks) + len(self.visits)


def _programme(tasks: Sequence[Wanted], start: date, hours: Sequence[float]) -> _Programme:
    pairs = [
        (n, d)
        for n, t in enumerate(tasks)
        for d in days_for(t, start, len(hours))
        if t.hours <= hours[d]
    ]
    visits: dict[tuple[str, int], int] = {}
    for n, d in pairs:
        visits.setdefault((tasks[n].engine, d), len(visits))
    return _Programme(pairs, visits, tasks)


def _objective(p: _Programme, start: date) -> np.ndarray:
    ways = [_cost(p.tasks[n], d, start) for n, d in p.pairs]
    out = [OUT * DANGER[t.level] for t in p.tasks]
    return np.array([*ways, *out, *([WAY] * len(p.visits))])


def _constraints(p: _Programme, hours: Sequence[float]) -> LinearConstraint:
    """Each task once or out; hours of a day; no task without its visit."""
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
        put(n_tasks + d, at, p.tasks[n].hours)
        together = n_tasks + len(hours) + at
        put(together, at, 1.0)
        put(together, n_pairs + n_tasks + p.visits[p.tasks[n].engine, d], -1.0)
    for n in range(n_tasks):
        put(n, n_pairs + n, 1.0)
    rows = n_tasks + len(hours) + n_pairs
    matrix = coo_array((value, (row, column)), shape=(rows, p.columns)).tocsr()
    low = np.concatenate([np.ones(n_tasks), np.full(len(hours) + n_pairs, -np.inf)])
    high = np.concatenate([np.ones(n_tasks), np.asarray(hours), np.zeros(n_pairs)])
    return LinearConstraint(matrix, low, high)


def pack(tasks: Sequence[Wanted], start: date, hours: Sequence[float]) -> Packed:
    """Tasks of one depot on days, or left out where the hours do not reach.

    start : the first day · hours : of every day from it on

    >>> monday = date(2026, 11, 2)
    >>> soon = Wanted(key="a", engine="E-1", hours=2, level=2, first=monday, on=monday,
    ...               latest=date(2026, 11, 6))
    >>> pack([soon], monday, [0, 8, 8]).on["a"].day
    3
    """
    if not tasks:
        return Packed({}, (), 0.0)
    p = _programme(tasks, start, hours)
    found = milp(
        _objective(p, start),
        integrality=np.ones(p.columns, dtype=np.int64),
        bounds=Bounds(0, 1),
        constraints=_constraints(p, hours),
        options={"time_limit": SECONDS, "mip_rel_gap": GAP},
    )
    if found.x is None:  # out of time before any solution: nothing is proposed, everything waits
        return Packed({}, tuple(t.key for t in tasks), 1.0)
    on = {
        tasks[n].key: start + timedelta(days=d)
        for at, (n, d) in enumerate(p.pairs)
        if found.x[at] > 0.5
    }
    gap = float(found.mip_gap) if found.mip_gap is not None else 0.0
    return Packed(on, tuple(t.key for t in tasks if t.key not in on), max(gap, 0.0))


def cost_of(tasks: Sequence[Wanted], on: Mapping[str, date], start: date) -> float:
    """What a placement costs, by the same measure: for comparing two."""
    total = 0.0
    for t in tasks:
        if t.key in on:
            total += _cost(t, (on[t.key] - start).days, start)
        else:
            total += OUT * DANGER[t.level]
    return total + WAY * len({(t.engine, on[t.key]) for t in tasks if t.key in on})
