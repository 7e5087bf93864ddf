"""`./keen bench`: import, judging and memory, as ratios measured in one run. No figure of it is
asserted.

The rows are made up at random around plausible figures: only their number and shape matter here.
"""

import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from pathlib import Path
from urllib.parse import urlsplit, urlunsplit

import numpy as np

from .core.limits import default_limits
from .storage.db import single
from .storage.migrate import copy_database, drop_database, ensure_database, migrate
from .storage.records import publish_limits

PER_ENGINE = 50
# What a routine report holds: twenty readings, with the middle of each.
READINGS = {
    "Fe_ppm": 20,
    "Cr_ppm": 2,
    "Pb_ppm": 4,
    "Cu_ppm": 6,
    "Sn_ppm": 1.5,
    "Al_ppm": 4,
    "Ni_ppm": 1,
    "Si_ppm": 8,
    "Na_ppm": 5,
    "K_ppm": 3,
    "B_ppm": 90,
    "Mo_ppm": 50,
    "Mg_ppm": 300,
    "Ca_ppm": 2500,
    "P_ppm": 1050,
    "Zn_ppm": 1200,
    "KV100_mm2_s": 13.6,
    "BN_mgKOH_g": 8,
    "fuel_pct": 0.4,
    "soot_pct": 0.5,
}
STEADY = ("B_ppm", "Mo_ppm", "Mg_ppm", "Ca_ppm", "P_ppm", "Zn_ppm", "KV100_mm2_s", "BN_mgKOH_g")
# The tables an import of samples fills, and which rows of them it wrote.
WRITTEN = {
    "source": "select * from source where kind = 'samples'",
    "log": "select * from log where kind = 'sample'",
    "sample": "select * from sample",
    "draw": "select * from draw",
    "report": "select * from report where sample_id is not null",
    "reading": "select x.* from reading x join report r on r.id = x.report_id where r.sample_id "
    "is not null",
}
IMPORT = (
    "import sys; from pathlib import Path; "
    "from keen_tracer.usecases.importing.files import import_files; "
    "from keen_tracer.core.roles import anybody; "
    "files = [(Path(f).name, Path(f)) for f in sys.argv[2:]]; "
    "r = import_files(sys.argv[1], files, anybody('bench')); "
    "sys.exit(0 if r.written else f'not imported: {r.problems[:3]}')"
)
JUDGE = (
    "import sys; from keen_tracer.usecases.judging.judging import judge_stale; "
    "judge_stale(sys.argv[1])"
)


@dataclass(frozen=True, slots=True)
class Cost:
    """What one child process took: wall seconds and its own peak memory in MB (the server's not
    counted)."""

    seconds: float
    peak_mb: float


def _child(code: str, *arguments: str) -> Cost:
    begun = time.perf_counter()
    child = subprocess.Popen([sys.executable, "-c", code, *arguments])
    _, status, usage = os.wait4(child.pid, 0)
    child.returncode = os.waitstatus_to_exitcode(status)
    if child.returncode:
        raise RuntimeError(f"a bench step failed with {child.returncode}")
    return Cost(time.perf_counter() - begun, usage.ru_maxrss / 1024)


def _sample_lines(samples: int) -> Iterator[str]:
    rng = np.random.default_rng(20261124)
    first = date(2020, 1, 1)
    middles = np.array(list(READINGS.values()))
    # Additives and viscosity hardly move in service; wear and contamination do.
    spread = np.array([0.03 if k in STEADY else 0.25 for k in READINGS])
    columns = ",".join(READINGS)
    yield f"sample,engine,drawn_on,meter,laboratory,analysed_on,{columns}\n"
    for at in range(0, samples, 10_000):
        n = min(10_000, samples - at)
        values = np.round(middles * np.exp(rng.normal(0, 1, (n, len(middles))) * spread), 1)
        for k in range(n):
            engine, turn = divmod(at + k, PER_ENGINE)
            on = first + timedelta(days=30 * turn)
            figures = ",".join(map(str, values[k].tolist()))
            yield f"S{at + k},E{engine},{on},{125 * (turn + 1)},Bench laboratory,{on},{figures}\n"


def _write_files(folder: Path, samples: int) -> list[Path]:
    """Master data and drains in one call, samples in another file."""
    engines = -(-samples // PER_ENGINE)
    (folder / "engines.csv").write_text(
        "engine,class,meter_unit,oil_total_l,sump_l,interval_meter\n"
        + "".join(f"E{n},heavy_diesel,h,34,30,125\n" for n in range(engines))
    )
    (folder / "oils.csv").write_text(
        "oil,grade,batch,reference_on,"
        + ",".join(READINGS)
        + "\nBench,15W-40,1,2019-12-01,"
        + ",".join(
            "0.5" if k.startswith(("Fe", "Cr", "Pb", "Cu", "Sn", "Al", "Ni")) else str(v)
            for k, v in READINGS.items()
        )
        + "\n"
    )
    with (folder / "events.csv").open("w") as out:
        out.write("engine,on,meter,kind,litres_in,oil,grade,batch\n")
        for n in range(engines):
            for turn in range(0, PER_ENGINE, 2):
                on = date(2020, 1, 1) + timedelta(days=30 * turn + 1 - 30)
                out.write(f"E{n},{on},{125 * turn},oil_change,30,Bench,15W-40,1\n")
    with (folder / "samples.csv").open("w") as out:
        out.writelines(_sample_lines(samples))
    return [folder / f"{t}.csv" for t in ("engines", "oils", "events", "samples")]


def _database(url: str, name: str) -> str:
    """A fresh database beside `url`, with limits to judge by."""
    made = urlunsplit(urlsplit(url)._replace(path=f"/{name}"))
    ensure_database(made)
    migrate(made)
    with single(made) as connection:
        limits = default_limits()
        publish_limits(connection, limits.name, "bench", limits.rows)
    return made


def _copy_out(url: str, folder: Path) -> None:
    """The rows that the import of samples wrote, table by table, in COPY's own format."""
    with single(url) as connection:
        for table, rows in WRITTEN.items():
            with (
                (folder / table).open("wb") as out,
                connection.cursor() as cursor,
                cursor.copy(f"copy ({rows}) to stdout") as copy,
            ):
                for part in copy:
                    out.write(part)


def _copy_in(url: str, folder: Path) -> float:
    """COPY them into the same tables, keys, foreign keys and write-ahead log and all; seconds."""
    begun = time.perf_counter()
    with single(url) as connection:
        for table in WRITTEN:
            with (
                (folder / table).open("rb") as data,
                connection.cursor() as cursor,
                cursor.copy(f"copy {table} from stdin") as copy,
            ):
                while part := data.read(1 << 20):
                    copy.write(part)
    return time.perf_counter() - begun


def _one_size(url: str, samples: int, folder: Path, compare: bool) -> tuple[Cost, Cost, float]:
    """Import and judge `samples` samples; with `compare` also the bare COPY of the same rows."""
    folder.mkdir()
    *before, sample_file = _write_files(folder, samples)
    ours = _database(url, "bench_import")
    _child(IMPORT, ours, *map(str, before))
    # A twin with the same engines and the same ids, so that the rows can be copied as they are.
    theirs = copy_database(ours, "bench_copy") if compare else ours
    imported = _child(IMPORT, ours, str(sample_file))
    bare = 0.0
    if compare:
        rows = folder / "rows"
        rows.mkdir()
        _copy_out(ours, rows)
        bare = _copy_in(theirs, rows)
        drop_database(theirs)
    judged = _child(JUDGE, ours)
    drop_database(ours)
    return imported, judged, bare


def run_bench(url: str, samples: int) -> int:
    """Measure and print; 0 when it ran."""

    def say(text: str) -> None:
        print(f"  {text}", flush=True)

    with tempfile.TemporaryDirectory(prefix="keen-bench-") as temporary:
        small, large = Path(temporary) / "1", Path(temporary) / "4"
        say(
            f"{samples} samples x {len(READINGS)} readings, {os.cpu_count()} cores; seconds are of "
            "this run only"
        )
        imported, judged, bare = _one_size(url, samples, small, compare=True)
        say(
            f"import       {imported.seconds:7.1f} s   {imported.seconds / bare:4.1f} x a bare "
            "COPY of the same rows "
            f"({bare:.1f} s; aim 3 x)"
        )
        say(
            f"judge        {judged.seconds:7.1f} s   {judged.seconds / samples * 1e6:5.0f} us a "
            "sample "
            "(aim 60 s for 100 000)"
        )
        imported4, judged4, _ = _one_size(url, 4 * samples, large, compare=False)
        say(
            f"peak memory  import {imported.peak_mb:.0f} MB at 1 x, {imported4.peak_mb:.0f} MB "
            "at 4 x "
            f"({imported4.peak_mb / imported.peak_mb - 1:+.0%}; aim within 20 %)"
        )
        say(
            f"             judge  {judged.peak_mb:.0f} MB at 1 x, {judged4.peak_mb:.0f} MB at 4 x "
            f"({judged4.peak_mb / judged.peak_mb - 1:+.0%}; aim within 20 %)"
        )
    return 0
