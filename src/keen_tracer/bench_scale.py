"""`./keen bench scale`: judging a large fleet from the database, beside a straightforward pandas
version of the rule.

The fleet is made inside the database, since only judging is measured. No figure of it is asserted.
"""

import os
import time
from datetime import date
from typing import Any

import pandas as pd

from .bench import JUDGE, PER_ENGINE, READINGS, STEADY, Cost, _child, _database
from .core.laboratory import BY_COLUMN
from .core.limits import ACT, CONC, WATCH, default_limits
from .core.record import Engine
from .storage.db import Connection, single
from .storage.migrate import drop_database
from .storage.records import number, row, run
from .usecases.judging.judging import judge_one

PUBLISH = """
import sys
from keen_tracer.core.baseline import rows_of
from keen_tracer.storage.db import single
from keen_tracer.storage.peers import publish_peers
from keen_tracer.usecases.judging.publishing import propose
from keen_tracer.usecases.judging.standards import standards
with single(sys.argv[1]) as c:
    held = standards(c)
    peers = propose(c, held, "bench")
    publish_peers(c, "bench", "bench", rows_of(peers), {})
"""
ONE_MORE = 15  # engines that get one more sample
# the pandas version is given a tenth of the engines, and its time is said per sample
PANDAS_SHARE = 10
FRESH = {
    k: 0.5 if k.startswith(("Fe", "Cr", "Pb", "Cu", "Sn", "Al", "Ni")) else v
    for k, v in READINGS.items()
}


def _fleet(connection: Connection, samples: int) -> None:
    """Engines with 50 samples each, two a charge, made by the server itself."""
    engines = samples // PER_ENGINE
    connection.execute(
        "insert into engine (code, class, oil_total_l, sump_l, interval_meter) "
        "select 'E' || n, 'heavy_diesel', 34, 30, 125 from generate_series(1, %s) n",
        (engines,),
    )
    connection.execute(
        "create temporary table made as select e.id as engine, t as turn, gen_random_uuid() "
        "as log, "
        "'S' || e.id || '-' || t as code from engine e cross join generate_series(0, %s) t",
        (PER_ENGINE - 1,),
    )
    connection.execute(
        "insert into log (id, engine_id, on_date, dial, kind) "
        "select log, engine, date '2020-01-01' + 30 * turn, 125 * (turn + 1), 'sample' from made"
    )
    connection.execute("insert into sample (code) select code from made")
    connection.execute(
        "create temporary table numbered as select s.id, m.log from sample s join made m "
        "using (code)"
    )
    connection.execute(
        "insert into draw (log_id, sample_id, laboratory) select log, id, 'Bench laboratory' from "
        "numbered"
    )
    connection.execute(
        "insert into report (laboratory, number, revision, sample_id, content_hash) "
        "select 'Bench laboratory', id::text, 1, id, '' from numbered"
    )
    connection.execute(
        "create temporary table change as select e.id as engine, t as turn, "
        "gen_random_uuid() as log "
        "from engine e cross join generate_series(0, %s, 2) t",
        (PER_ENGINE - 1,),
    )
    connection.execute(
        "insert into log (id, engine_id, on_date, dial, kind) "
        "select log, engine, date '2020-01-01' + 30 * turn - 29, 125 * turn, 'oil_change' "
        "from change"
    )
    connection.execute(
        "insert into event (log_id, litres_in, oil, grade, batch) "
        "select log, 30, 'Bench', '15W-40', '1' from change"
    )


def _readings(connection: Connection) -> None:
    """Twenty readings a report, spread as in service, and the fresh oil they are held against."""
    for column, middle in READINGS.items():
        spread = 0.03 if column in STEADY else 0.25
        connection.execute(
            "insert into reading (report_id, analyte, value) select id, %s, greatest(0, %s * "
            "(1 + %s * "
            "(random() + random() + random() - 1.5) * 2)) from report where sample_id is not null",
            (BY_COLUMN[column].code, middle, spread),
        )
    connection.execute(
        "insert into oil_batch (oil, grade, batch, reference_on) values ('Bench', '15W-40', '1', "
        "'2019-12-01')"
    )
    connection.execute(
        "insert into report (laboratory, number, revision, oil_batch_id, content_hash) "
        "select '(fresh oil)', 'bench', 1, id, '' from oil_batch"
    )
    for column, value in FRESH.items():
        connection.execute(
            "insert into reading (report_id, analyte, value) select id, %s, %s from report "
            "where oil_batch_id is not null",
            (BY_COLUMN[column].code, value),
        )
    run(connection, "mark_all_stale")


def make_fleet(url: str, name: str, samples: int) -> str:
    """A database of that name with a fleet of 50 samples an engine, nothing judged yet."""
    made = _database(url, name)
    with single(made) as connection:
        _fleet(connection, samples)
        _readings(connection)
    with single(made) as connection:
        connection.execute("reset role")
        connection.execute("analyze")
    return made


def _pandas_version(url: str, engines: int) -> tuple[float, int]:
    """The fixed rule as one would write it with pandas: read, pivot, hours on the oil, rate, level,
    store.

    Concentration limits at the nominal drain as rates, rises above fresh oil; no top-ups, no noise,
    no sentences, no hash. Seconds, and how many samples it judged.
    """
    begun = time.perf_counter()
    limits = default_limits().for_engine(Engine("x", "heavy_diesel")).at
    with single(url) as connection:
        found = connection.execute(
            "select l.engine_id, d.sample_id, l.on_date, l.dial, x.analyte, x.value from log l "
            "join draw d on d.log_id = l.id join report r on r.sample_id = d.sample_id "
            "join reading x on x.report_id = r.id where l.engine_id <= %s",
            (engines,),
        ).fetchall()
        table = pd.DataFrame(found, columns=["engine", "sample", "on", "dial", "analyte", "value"])
        changes = pd.DataFrame(
            connection.execute(
                "select engine_id, dial from log where kind = 'oil_change' and engine_id <= %s",
                (engines,),
            ).fetchall(),
            columns=["engine", "changed"],
        )
        wide = table.pivot_table(
            index=["engine", "sample", "dial"], columns="analyte", values="value"
        ).reset_index()
        wide = pd.merge_asof(
            wide.sort_values("dial"),
            changes.sort_values("changed"),
            left_on="dial",
            right_on="changed",
            by="engine",
            allow_exact_matches=False,
        )
        hours = wide["dial"] - wide["changed"]
        level = pd.Series(0, index=wide.index)
        for column, fresh in FRESH.items():
            a = BY_COLUMN[column]
            for mark, step in ((WATCH, 1), (ACT, 2)):
                limit = limits[CONC, mark, a.index]
                past = (wide[a.code] - fresh) / hours >= (limit - fresh) / 250.0
                level = level.where(~past, level.clip(lower=step))
        connection.execute("create temporary table judged (sample integer, level smallint)")
        with connection.cursor() as cursor, cursor.copy("copy judged from stdin") as copy:
            for row in zip(wide["sample"].tolist(), level.tolist(), strict=True):
                copy.write_row(row)
    return time.perf_counter() - begun, len(wide)


def _one_more(url: str) -> tuple[float, float, float]:
    """Judge, store and read again engines that got one more sample each, one at a time: seconds
    (median, worst), and how many engines each of them touched."""
    taken = []
    with single(url) as connection:
        for n in range(1, 8):  # a program that serves is warm, and its connection knows its queries
            judge_one(connection, number(connection, "engine_by_code", code=f"E{n}"))
        engines = {
            n: number(connection, "engine_by_code", code=f"E{n}") for n in range(11, 11 + ONE_MORE)
        }
        samples = {n: _draw(connection, engine, f"one more {n}") for n, engine in engines.items()}
        connection.execute("update wall set refreshed_at = '2000-01-01'")
        connection.commit()
    with single(url) as connection:
        for n in range(1, 8):
            judge_one(connection, number(connection, "engine_by_code", code=f"E{n}"))
        connection.rollback()
        for n, engine in engines.items():
            begun = time.perf_counter()
            judge_one(connection, engine)
            read = row(connection, "verdict_of_sample", sample=samples[n])
            taken.append(time.perf_counter() - begun)
            assert read is not None
        touched: Any = connection.execute(
            "select count(*) from wall where refreshed_at > '2001-01-01'"
        ).fetchone()
    return sorted(taken)[ONE_MORE // 2], max(taken), touched[0] / ONE_MORE


def _draw(connection: Connection, engine: int, code: str) -> int:
    """One more sample of an engine, with its report; its id."""
    made: Any = connection.execute(
        "insert into sample (code) values (%s) returning id", (code,)
    ).fetchone()
    key: Any = connection.execute(
        "insert into log (id, engine_id, on_date, dial, kind) values (gen_random_uuid(), %s, "
        "%s, %s, "
        "'sample') returning id",
        (engine, date(2024, 6, 1), 125 * PER_ENGINE + 60),
    ).fetchone()
    connection.execute("insert into draw (log_id, sample_id) values (%s, %s)", (key[0], made[0]))
    report: Any = connection.execute(
        "insert into report (number, revision, sample_id, content_hash) values (%s, 1, %s, '') "
        "returning id",
        (code, made[0]),
    ).fetchone()
    connection.execute(
        "insert into reading (report_id, analyte, value) values (%s, 1, 30)", (report[0],)
    )
    return int(made[0])


def run_scale(url: str, samples: int) -> int:
    """Measure and print; 0 when it ran."""

    def say(text: str) -> None:
        print(f"  {text}", flush=True)

    say(
        f"{samples} samples x {len(READINGS)} readings of {samples // PER_ENGINE} engines, "
        f"{os.cpu_count()} cores; "
        "seconds are of this run only"
    )
    begun = time.perf_counter()
    made = make_fleet(url, "bench_scale", samples)
    say(f"made inside the database in {time.perf_counter() - begun:.0f} s (not measured)")
    published: Cost = _child(PUBLISH, made)
    say(
        f"publish      {published.seconds:7.1f} s   peers, offsets and seasons from every steady "
        "sample, one process, "
        f"{published.peak_mb:.0f} MB"
    )
    cost: Cost = _child(JUDGE, made)
    per = cost.seconds / samples * 1e6
    say(
        f"judge        {cost.seconds:7.1f} s   {per:5.0f} us a sample, {cost.peak_mb:.0f} MB in "
        "the first process "
        f"(aim 480 s and 4 GB for 1 000 000, expectation and explanations on)"
    )
    seconds, judged = _pandas_version(made, samples // PER_ENGINE // PANDAS_SHARE)
    say(
        f"pandas       {seconds:7.1f} s   {seconds / judged * 1e6:5.0f} us a sample on {judged} of "
        "them, without top-ups, "
        f"noise, sentences or hashes: ours takes {per / (seconds / judged * 1e6):.1f} x as long"
    )
    seconds, worst, touched = _one_more(made)
    say(
        f"one sample   {1000 * seconds:7.0f} ms  judged, stored and read again: median of "
        f"{ONE_MORE} engines with "
        f"{PER_ENGINE} samples, worst {1000 * worst:.0f} ms; {touched:g} engine touched by each "
        "(aim 50 ms, 1)"
    )
    drop_database(made)
    return 0
