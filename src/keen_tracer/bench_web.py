"""`./keen bench web`: what every page costs at the server, beside a bare SELECT of the same rows.

The fleet is made inside the database and judged; then each page's use case is called many times in
one process, as the server calls it. Printed are the 95th percentile, the bare SELECT's in the same
run, their ratio, and the memory of the process. Nothing is asserted.
"""

import resource
import time
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np

from . import clock
from .bench import PER_ENGINE
from .bench_scale import make_fleet
from .storage.db import Connection, single
from .storage.records import rows
from .usecases.judging.judging import judge_stale
from .usecases.pages import collect, engine, finder, judge, plan, queue, state, wall
from .usecases.pages import run as run_page

TIMES = 40


@dataclass(frozen=True, slots=True)
class Page:
    """A page with the bare read of its rows."""

    name: str
    show: Callable[[Connection, int], object]
    bare: str


def _pages(engines: int) -> list[Page]:
    """Every page, each time of another engine or sample."""

    def code(n: int) -> str:
        return f"E{1 + (n * 7919) % engines}"

    def bottle(n: int) -> str:
        return f"S{1 + (n * 7919) % engines}-{PER_ENGINE - 1}"

    today = clock.today()
    by_engine = (
        "select v.* from verdict v join draw d on d.sample_id = v.sample_id "
        "join log l on l.id = d.log_id where l.engine_id = %(n)s"
    )
    return [
        Page("state", lambda c, _: state.state(c, None), "select count(*) from judging_queue"),
        Page(
            "Wall",
            lambda c, _: wall.wall(c, None, None, "need", 0, 200),
            "select * from wall order by engine_id limit 200",
        ),
        Page("Engine", lambda c, n: engine.engine(c, code(n)), by_engine),
        Page("Judge", lambda c, n: judge.sample(c, bottle(n)), by_engine),
        Page("Judge, held", lambda c, n: judge.basis(c, bottle(n)), by_engine),
        Page(
            "queue",
            lambda c, _: queue.queue(c),
            "select * from waiting_sample order by level desc, on_date limit 500",
        ),
        Page(
            "Run",
            lambda c, _: run_page.runs(c, None, 0, 200),
            "select * from wall order by engine_id limit 200",
        ),
        Page(
            "Plan",
            lambda c, _: plan.plan(c, None, 12, 0, 200),
            "select picture->'tasks' from wall order by engine_id",
        ),
        Page(
            "Plan, depot",
            lambda c, _: plan.plan(c, "bench", 12, 0, 200),
            "select picture->'tasks' from wall where mod(engine_id, 100) = 0",
        ),
        Page(
            "finder",
            lambda c, n: finder.find(c, bottle(n)),
            "select * from sample where id = %(n)s",
        ),
        Page(
            "round",
            lambda c, _: collect.round_of(c, "bench", today),
            "select * from wall order by due_on limit 200",
        ),
    ]


def _p95(connection: Connection, does: Callable[[int], object]) -> float:
    """95th percentile of `TIMES` calls [s], after one that warms up."""
    does(0)
    took = []
    for n in range(1, TIMES + 1):
        begun = time.perf_counter()
        does(n)
        took.append(time.perf_counter() - begun)
        connection.rollback()
    return float(np.quantile(took, 0.95))


def _proposal(connection: Connection, engines: int) -> None:
    """What a proposal of twelve weeks for the whole fleet takes, and how near to the best it is."""
    begun = time.perf_counter()
    found = plan.propose(connection, None, 12)
    took = time.perf_counter() - begun
    print(
        f"  a proposal for {engines} engines: {took:.1f} s, {len(found['moves'])} moves, "
        f"{len(found['out'])} do not fit, at most {100 * found['gap']:.1f} % from the best",
        flush=True,
    )


def _bare(connection: Connection, page: Page, n: int) -> object:
    return connection.execute(page.bare, {"n": n}).fetchall()


def run_web(url: str, samples: int) -> int:
    """Make, judge, measure, print. 0 when it ran."""
    mine = make_fleet(url, "bench_web", samples)
    with single(mine) as connection:
        connection.execute("insert into depot (code, daily_capacity) values ('bench', 20)")
        connection.execute("update engine set depot = 'bench' where id % 100 = 0")
    begun = time.perf_counter()
    judge_stale(mine)
    print(f"  {samples} samples judged in {time.perf_counter() - begun:.0f} s", flush=True)
    with single(mine) as connection:
        connection.execute("reset role")
        connection.execute("analyze")
        connection.execute("set role keen_app")
        connection.commit()
        engines = len(rows(connection, "engine_codes"))
        print(f"  {engines} engines, {samples} samples; p95 of {TIMES} calls each")
        for page in _pages(engines):
            shown = _p95(connection, partial(page.show, connection))
            bare = _p95(connection, partial(_bare, connection, page))
            print(
                f"  {page.name:<12} {1000 * shown:7.1f} ms   bare select {1000 * bare:6.1f} ms"
                f"   ratio {shown / bare:6.1f}",
                flush=True,
            )
        _proposal(connection, engines)
    used = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"  the process that judged and served: {used:.0f} MB at most")
    return 0
