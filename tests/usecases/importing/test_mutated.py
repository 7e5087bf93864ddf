"""What is accepted never breaks anything later: files of the demo with cells put out of shape, and
with figures at the edge of what may be.

Every file is taken or refused in words. What was taken is judged, and every page that shows it, the
export and what a round needs are asked for; then it is rolled back. KEEN_FUZZ_FILES says how many;
the short form is part of every run. Prints how many were taken, so that it can be seen that it
tries both.
"""

import csv
import io
import os
import random
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest

from keen_tracer.core.bounds import BOUNDS
from keen_tracer.core.laboratory import BY_COLUMN
from keen_tracer.core.roles import at_the_machine
from keen_tracer.exchange.cells import BadCell
from keen_tracer.exchange.csvfile import reading_cell
from keen_tracer.exchange.tables import TABLES
from keen_tracer.storage.db import Connection, single
from keen_tracer.storage.errors import Refused
from keen_tracer.storage.records import rows
from keen_tracer.usecases.bottles import orders, steps
from keen_tracer.usecases.exporting import export_folder, export_zip
from keen_tracer.usecases.importing.files import run_import
from keen_tracer.usecases.judging.judging import judge_some
from keen_tracer.usecases.pages import collect, engine, judge, log, queue, run, state, wall
from tests.day import DEMO_DAY

FILES = int(os.environ.get("KEEN_FUZZ_FILES", "60"))
SEED = int(os.environ.get("KEEN_FUZZ_SEED", "20261127"))
EDGES = [f"{x:.17g}" for b in BOUNDS.values() for x in (b.low, b.high)]
NASTY = [
    *EDGES,
    *("", " ", "0", "-0", "-1", "1e-30", "0.000001", "1e999", "nan", "inf", "1,250", "1_0"),
    *("<0.1", ">1000000000", "<1000000000", "ND", "trace", "pos", "neg", "12 ppm^-999999"),
    *("15W-40", "0W-8", "SAE 60", "10W-40;30;5W-20", "yes", "no", "h", "km", "outing"),
    *("1950-01-01", "1949-12-31", "2026-02-29", "2026-11-24", "9999-12-31", "0001-01-01", "24:00"),
    *("2026-11-24T00:00:00+00:00", "9999-12-31T23:59:59-12:00", "23:59:59"),
    *("\x00", "\x1b[2J", "\u202eG-01", "G-01\u200b", "\U0001f600" * 60, "x" * 61, "x" * 5000),
    *("=1+1", "'; drop table engine; --", "<script>alert(1)</script>", "../../etc/passwd", "-"),
    *("a=b", "result=falls;pressure=1e300;minutes=0;drop=9", "heard=always;pressure_bar=1e308"),
    *("knock", "oil_change", "meter_replaced", "rebuild", "storage_start", "look", "crackle"),
    *("run", "sign_off", "withdraw", "hold", "release", "restrict", "3", "{}", '{"code": "x"}'),
]


@pytest.fixture(scope="module")
def slices(demo_url: str, tmp_path_factory: pytest.TempPathFactory) -> dict[str, list[list[str]]]:
    """Every table of the demo that can come in, as rows."""
    folder = tmp_path_factory.mktemp("demo")
    export_folder(demo_url, folder)
    out = {}
    for name, table in TABLES.items():
        file = folder / f"{name}.csv"
        if not table.export_only and file.exists():
            out[name] = list(csv.reader(io.StringIO(file.read_text(encoding="utf-8"))))
    return out


def legal(name: str, column: str) -> list[str]:
    """What of all that may stand in a column as far as the column itself goes."""

    def fits(cell: str) -> bool:
        try:
            if column in BY_COLUMN:
                reading_cell(column, cell)
            elif cell.strip():
                TABLES[name].columns[column](cell.strip())
        except BadCell:
            return False
        return True

    return [cell for cell in NASTY if fits(cell)]


LEGAL: dict[tuple[str, str], list[str]] = {}
POINTS = {"engine", "sample", "depot", "model", "oil", "version", "scope_name", "supersedes"}


def renamed(one: list[str], fresh: int, n: int) -> None:
    """A name of its own, so that the row is not merely known."""
    is_id = one[0].count("-") == 4
    one[0] = f"{fresh:08d}-0000-4000-8000-{n:012d}" if is_id else f"N{fresh}-{n}"


def at_the_edge(rng: random.Random, name: str, table: list[list[str]], fresh: int) -> bytes:
    """One row with figures, days and words that its columns allow, however odd."""
    head, *body = table
    one = list(rng.choice(body)) if body else [""] * len(head)
    if head[0] not in POINTS or name in ("engines", "samples", "models", "oils"):
        renamed(one, fresh, 0)
    free = [k for k, column in enumerate(head) if column not in POINTS and k > 0]
    for k in rng.sample(free, min(len(free), rng.choice([1, 2, 4, 8]))):
        known = LEGAL.setdefault((name, head[k]), legal(name, head[k]))
        one[k] = rng.choice(known or [""])
    out = io.StringIO()
    csv.writer(out, lineterminator="\n").writerows([head, one])
    return out.getvalue().encode()


def mutated(rng: random.Random, table: list[list[str]], fresh: int) -> bytes:
    """A few rows of a table with some cells, or bytes, put out of shape."""
    head, *body = table
    taken = [list(rng.choice(body or [[""] * len(head)])) for _ in range(rng.randint(1, 4))]
    for n, one in enumerate(taken):
        if rng.random() < 0.8:
            renamed(one, fresh, n)
        for _ in range(rng.choice([1, 1, 2, 5])):
            one[rng.randrange(len(head))] = rng.choice(NASTY)
        if rng.random() < 0.1:
            one.append("more")
    out = io.StringIO()
    csv.writer(out, lineterminator="\n").writerows([head, *taken])
    content = bytearray(out.getvalue().encode())
    for _ in range(rng.choice([0, 0, 0, 1, 3])):
        content[rng.randrange(len(content))] = rng.randrange(256)
    return bytes(content)


def open_everything(c: Connection, touched: list[str]) -> None:
    """Judge what waits, and ask for every page that shows it."""
    while judge_some(c, 50) is not None:
        pass
    assert [r["why"] for r in rows(c, "unjudged")] == []
    state.state(c, None)
    wall.wall(c, None, None, "need", 0, 500)
    run.runs(c)
    queue.queue(c)
    steps.inbox(c, DEMO_DAY)
    orders.orders(c)
    collect.round_of(c, None, DEMO_DAY)
    for code in touched[:3]:
        engine.engine(c, code)
        log.logbook(c, code)
        collect.one_stop(c, code, DEMO_DAY)
        drawn = [s["sample"] for s in engine.engine(c, code)["samples"]]
        for sample in drawn[-2:]:
            judge.sample(c, sample)
            judge.how(c, sample, "Fe_ppm")
    export_zip(c)


def tries(slices: dict[str, list[list[str]]], n: int) -> Iterator[tuple[str, bytes]]:
    rng = random.Random(SEED)
    for k in range(n):
        name = rng.choice([*slices])
        odd = at_the_edge(rng, name, slices[name], k) if k % 3 else mutated(rng, slices[name], k)
        yield name, odd


def test_what_is_accepted_never_breaks_anything_later(
    slices: dict[str, list[list[str]]], demo_copy: str, tmp_path: Path
) -> None:
    said: Counter[str] = Counter()
    wrong: list[str] = []
    with single(demo_copy) as c:
        while judge_some(c, 50) is not None:
            pass
        c.commit()
        for n, (name, content) in enumerate(tries(slices, FILES)):
            if n and n % 500 == 0:
                print(f"{n} files: {dict(said)}, {len(wrong)} wrong", flush=True)
            file = tmp_path / f"{name}.csv"
            file.write_bytes(content)
            try:
                with c.transaction(force_rollback=True):
                    who = at_the_machine("t")
                    report = run_import(c, [(file.name, file)], who, accept=True, as_record=True)
                    said["taken" if report.written else "refused"] += 1
                    if report.written:
                        waiting = c.execute(
                            "select e.code from judging_queue q join engine e "
                            "on e.id = q.engine_id order by q.since desc limit 3"
                        ).fetchall()
                        open_everything(c, [code for (code,) in waiting])
            except Exception as error:
                wrong.append(f"{name}: {type(error).__name__}: {error}\n{content[:1500]!r}")
                print(wrong[-1], flush=True)
    print(f"\n{FILES} files: {dict(said)}")
    assert not wrong, f"{len(wrong)} of {FILES}:\n" + "\n\n".join(wrong[:12])
    assert min(said["taken"], said["refused"]) > FILES // 10


def test_a_broken_import_leaves_the_transaction_whole(demo_copy: str, tmp_path: Path) -> None:
    """What the database itself refuses is said in words too, never as the driver's error."""
    with single(demo_copy) as c:
        c.execute("reset role")
        c.execute("alter table engine add constraint no_more check (code <> 'X-1') not valid")
    file = tmp_path / "engines.csv"
    file.write_text("engine,class\nX-1,petrol\n")
    with pytest.raises(Refused, match="no_more"), single(demo_copy) as c:
        run_import(c, [(file.name, file)], at_the_machine("t"))
    with psycopg.connect(demo_copy) as c:
        assert c.execute("select 1 from engine where code = 'X-1'").fetchone() is None
