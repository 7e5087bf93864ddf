"""What must hold whatever is killed, full, frozen or set back: nothing half done, nothing
acknowledged lost.

Each trial starts a process that does one kind of work and says what it has finished, kills it at
some moment, and looks at the database. `./keen bench faults` does two hundred of them and prints
what it saw; the tests do a few of each.
"""

import json
import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from pathlib import Path

from .core.roles import anybody
from .exchange.processes import child_environment
from .storage.backup import restore
from .storage.db import single
from .storage.migrate import drop_database, ensure_database, migrate, pending
from .storage.records import number, rows
from .usecases.importing.files import import_files
from .usecases.judging.judging import judge_stale

ENGINES, PER_ENGINE = 12, 6

IMPORT = """
import sys; from pathlib import Path
from keen_tracer.core.roles import anybody
from keen_tracer.usecases.importing.files import import_files
print("begun", flush=True)
for f in sys.argv[2:]:
    r = import_files(sys.argv[1], [(Path(f).name, Path(f))], anybody("t"))
    print("done" if r.written else f"refused {r.problems[:1]}", flush=True)
"""
SIGN = """
import sys
from keen_tracer.core.roles import Actor
from keen_tracer.storage.db import single
from keen_tracer.usecases.judging.deciding import sign
from keen_tracer.usecases.pages.queue import waiting
who = Actor("Test Analyst", "analyst")
print("begun", flush=True)
with single(sys.argv[1]) as c:
    todo = waiting(c)
for w in todo:
    with single(sys.argv[1]) as c:
        key = sign(c, w["sample"], w["level"], w["input_hash"], None, "", "", who)
    print("done", key, flush=True)
"""
JUDGE = """
import sys
from keen_tracer.usecases.judging.judging import judge_stale
print("begun", flush=True)
judge_stale(sys.argv[1], every=True, processes=1)
print("done", flush=True)
"""
BACKUP = """
import sys; from pathlib import Path
from keen_tracer.storage.backup import backup
print("begun", flush=True)
backup(sys.argv[1], Path(sys.argv[2]))
print("done", flush=True)
"""
PREPARE = """
import sys
from keen_tracer.cli import prepare
print("begun", flush=True)
prepare(sys.argv[1])
print("done", flush=True)
"""


@dataclass(frozen=True, slots=True)
class Seen:
    """What one trial came to: what the process had said, and what is wrong now; empty where all
    holds."""

    finished: int
    wrong: str


def _killed(code: str, after: float, *arguments: str) -> list[str]:
    """What a process said before it was killed `after` seconds from its first word."""
    child = subprocess.Popen(
        [sys.executable, "-c", code, *arguments],
        stdout=subprocess.PIPE,
        text=True,
        env=child_environment(),
    )
    assert child.stdout
    if child.stdout.readline() != "begun\n":
        raise RuntimeError("a trial that never began shows nothing")
    time.sleep(after)
    child.send_signal(signal.SIGKILL)
    rest = child.stdout.read().splitlines()
    child.wait()
    child.stdout.close()
    return rest


def write_fleet(folder: Path, mark: str) -> list[Path]:
    """A small fleet as files: engines, and their samples, most of them past a limit."""
    engines = [f"{mark}{n}" for n in range(ENGINES)]
    one = folder / f"engines-{mark}.csv"
    one.write_text("engine,class\n" + "".join(f"{e},heavy_diesel\n" for e in engines))
    two = folder / f"samples-{mark}.csv"
    lines = ["sample,engine,drawn_on,meter,Fe_ppm,water_pct"]
    lines += [
        f"{e}-{k},{e},2026-0{k + 1}-10,{1000 + 125 * k},{40 + 90 * k},{1.0 if k == 5 else 0.01}"
        for e in engines
        for k in range(PER_ENGINE)
    ]
    two.write_text("\n".join(lines) + "\n")
    return [one, two]


def _count(url: str, what: str) -> int:
    with single(url) as connection:
        found = connection.execute(f"select count(*) from {what}").fetchone()  # noqa: S608  # names of ours
    return int(found[0]) if found else 0


def import_killed(url: str, folder: Path, after: float, n: int) -> Seen:
    """An import is all there or not at all, and there where it said so."""
    before = _count(url, "draw")
    said = _killed(IMPORT, after, url, *map(str, write_fleet(folder, f"K{n}-")))
    done, drawn = said.count("done"), _count(url, "draw") - before
    with single(url) as connection:
        new = connection.execute(
            "select count(*) from engine where code like %s", [f"K{n}-%"]
        ).fetchone()
    engines = int(new[0]) if new else 0
    wrong = ""
    if engines not in (0, ENGINES) or drawn not in (0, ENGINES * PER_ENGINE):
        wrong = f"half an import: {engines} engines, {drawn} samples"
    if (done >= 1 and not engines) or (done >= 2 and not drawn):
        wrong = "an import that was acknowledged is not there"
    return Seen(done, wrong)


def signing_killed(url: str, folder: Path, after: float, n: int) -> Seen:
    """Every signature that was acknowledged is on record, and its engine judged with it."""
    said = [x.split()[1] for x in _killed(SIGN, after, url) if x.startswith("done")]
    with single(url) as connection:
        there = {str(r[0]) for r in connection.execute("select id from decision")}
        half = connection.execute(
            "select count(*) from waiting_sample w join decision_now d using (sample_id) "
            "where d.kind = 'sign_off' and d.level >= w.level"
        ).fetchone()
    lost = set(said) - there
    wrong = f"{len(lost)} acknowledged signatures lost" if lost else ""
    return Seen(len(said), wrong or ("signed, and still waiting" if half and half[0] else ""))


def judging_killed(url: str, folder: Path, after: float, n: int) -> Seen:
    """What is left waits; judged again, nothing differs, and no Stop was lost."""
    with single(url) as connection:
        stops = {r["code"] for r in rows(connection, "stopped")}
    said = _killed(JUDGE, after, url)
    judge_stale(url, processes=1)
    with single(url) as connection:
        now, waits = (
            {r["code"] for r in rows(connection, "stopped")},
            number(connection, "stale_count"),
        )
    wrong = f"Stops lost: {sorted(stops - now)}" if stops - now else ""
    return Seen(said.count("done"), wrong or (f"{waits} engines wait for good" if waits else ""))


def backup_killed(url: str, folder: Path, after: float, n: int) -> Seen:
    """A backup of that name comes back equal, or there is none."""
    file = folder / f"{n}.keen"
    said = _killed(BACKUP, after, url, str(file))
    if not file.exists():
        lost = "done" in said
        return Seen(0, "an acknowledged backup is not there" if lost else "")
    scratch = url.rsplit("/", 1)[0] + f"/faults_back_{os.getpid()}_{n}"
    ensure_database(scratch)
    try:
        restore(scratch, file)
    except Exception as error:
        return Seen(1, f"a backup that is there does not come back: {error}")
    finally:
        drop_database(scratch)
    return Seen(said.count("done"), "")


def migration_killed(url: str, folder: Path, after: float, n: int) -> Seen:
    """A start that was killed while it brought an old database to its schema is finished by the
    next, with what the old one held."""
    mine = url.rsplit("/", 1)[0] + f"/faults_old_{os.getpid()}_{n}"
    ensure_database(mine)
    try:
        migrate(mine, up_to=9)
        with single(mine) as connection:
            connection.execute("reset role")
            connection.execute("insert into engine (code, class) values ('OLD', 'petrol')")
        said = _killed(PREPARE, after, mine)
        again = subprocess.run(
            [sys.executable, "-c", PREPARE, mine],
            capture_output=True,
            text=True,
            env=child_environment(),
        )
        wrong = "" if again.returncode == 0 else f"the next start failed: {again.stderr[-300:]}"
        if not wrong and (pending(mine) or _count(mine, "engine") != 1):
            wrong = "the schema or what was in it is not whole"
        return Seen(said.count("done"), wrong)
    finally:
        drop_database(mine)


Trial = Callable[[str, Path, float, int], Seen]
# kind → the trial, and the longest it is left alone [s]: about what the work takes
TRIALS: dict[str, tuple[Trial, float]] = {
    "import": (import_killed, 0.3),
    "sign-off": (signing_killed, 1.2),
    "judging": (judging_killed, 0.8),
    "backup": (backup_killed, 0.25),
    "migration and start": (migration_killed, 0.6),
}


def fill(url: str, folder: Path) -> None:
    """A judged fleet to work on."""
    for file in write_fleet(folder, "F-"):
        if not import_files(url, [(file.name, file)], anybody("t")).written:
            raise RuntimeError(f"{file} was refused")
    judge_stale(url, processes=1)


@contextmanager
def frozen(url: str) -> Iterator[None]:
    """The database as it is when its machine hangs: every process of it is stopped, and goes on
    afterwards."""
    parent = int(Path(f"/proc/{_some_process(url)}/stat").read_text().split(") ")[1].split()[1])
    family = [parent, *_children(parent)]
    _signal(family, signal.SIGSTOP)
    try:
        yield
    finally:
        _signal(family, signal.SIGCONT)


def _signal(family: list[int], how: int) -> None:
    for pid in family:
        with suppress(ProcessLookupError):  # a worker that had just done its work
            os.kill(pid, how)


def _some_process(url: str) -> int:
    """A process of the server that stays: its checkpointer."""
    with single(url) as connection:
        connection.execute("reset role")
        found = connection.execute(
            "select pid from pg_stat_activity where backend_type = 'checkpointer'"
        ).fetchone()
    assert found
    return int(found[0])


def _children(parent: int) -> list[int]:
    said = Path(f"/proc/{parent}/task/{parent}/children").read_text()
    return [int(x) for x in said.split()]


def run_faults(url: str, kills: int, seed: int) -> int:
    """Every kind of trial, `kills` in all; prints what was seen. 1 where anything was wrong."""
    rng = random.Random(seed)
    base = url.rsplit("/", 1)[0]
    bad = 0
    with tempfile.TemporaryDirectory(prefix="keen-faults-") as name:
        folder = Path(name)
        mine = f"{base}/faults_{os.getpid()}"
        ensure_database(mine)
        prepare = [sys.executable, "-c", PREPARE, mine]
        subprocess.run(prepare, check=True, capture_output=True, env=child_environment())
        fill(mine, folder)
        for kind, (trial, longest) in TRIALS.items():
            seen = [
                trial(mine, folder, rng.uniform(0, longest), n) for n in range(kills // len(TRIALS))
            ]
            wrong = [s.wrong for s in seen if s.wrong]
            bad += len(wrong)
            finished = sum(s.finished for s in seen)
            print(
                f"  {kind:<20} {len(seen):3} kills, {finished:4} finished before, "
                f"{json.dumps(wrong) if wrong else 'nothing lost, nothing half done'}",
                flush=True,
            )
        drop_database(mine)
    return 1 if bad else 0
