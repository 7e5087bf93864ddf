"""`./keen bench load`: people who read and write at once, against the program as it is served.

A fleet is made and judged; then readers ask for pages and writers log what they did, for some time:
first as people do, with a second on average to look at what came, then as fast as the answers come.
Printed are answers a second, percentiles by route and every answer that was no success. Nothing is
asserted.
"""

import os
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter, defaultdict
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from uuid import uuid4

import httpx
import numpy as np

from . import clock
from .bench import PER_ENGINE
from .bench_scale import make_fleet
from .storage.db import single
from .storage.records import rows, run
from .usecases.judging.judging import judge_stale
from .usecases.judging.publishing import publish

READERS, WRITERS, SECONDS = 20, 5, 30.0
LOOKS_S = (1.0, 0.0)  # between two pages of one reader


class Load:
    """What all of them did together."""

    def __init__(self, address: str, engines: list[str], looks: float):
        self.address, self.engines, self.looks = address, engines, looks
        self.until = time.perf_counter() + SECONDS
        self.took: defaultdict[str, list[float]] = defaultdict(list)
        self.wrong: Counter[str] = Counter()
        self.lock, self.rng = threading.Lock(), np.random.default_rng(7)

    def ask(self, c: httpx.Client, name: str, method: str, path: str, **more: object) -> None:
        begun = time.perf_counter()
        try:
            code = c.request(method, path, **more).status_code  # type: ignore[arg-type]
        except httpx.TransportError as error:
            code = 0
            name += f" ({type(error).__name__})"
        with self.lock:
            self.took[name].append(time.perf_counter() - begun)
            if code >= 400 or code == 0:
                self.wrong[f"{name} {code}"] += 1
        time.sleep(self.looks and float(self.rng.exponential(self.looks)))

    @contextmanager
    def _client(self, person: int) -> Iterator[httpx.Client]:
        with httpx.Client(base_url=self.address, timeout=60) as c:
            people = c.get("/api/people").json()
            c.post("/api/session", json={"person": people[person % len(people)]["id"]})
            yield c

    def read(self, n: int) -> None:
        rng = np.random.default_rng(n)
        with self._client(n) as c:
            while time.perf_counter() < self.until:
                code = str(rng.choice(self.engines))
                bottle = f"S{code[1:]}-{PER_ENGINE - 1}"
                self.ask(c, "state", "GET", "/api/state")
                self.ask(c, "wall", "GET", "/api/wall")
                self.ask(c, "engine", "GET", f"/api/engines/{code}")
                self.ask(c, "sample", "GET", f"/api/samples/{bottle}")
                self.ask(c, "runs", "GET", "/api/runs")
                self.ask(c, "queue", "GET", "/api/queue")
                self.ask(c, "round", "GET", "/api/round?depot=bench")

    def write(self, n: int) -> None:
        rng = np.random.default_rng(1000 + n)
        mine = self.engines[n::WRITERS]
        with self._client(n) as c:
            while time.perf_counter() < self.until:
                code = str(rng.choice(mine))
                said = {"id": str(uuid4()), "on": str(clock.today()), "kind": "repair"}
                self.ask(c, "log", "POST", f"/api/engines/{code}/log", json=said)
                time.sleep(0.2)  # a person who writes also thinks


def _serve(url: str, folder: Path) -> tuple[subprocess.Popen[bytes], str]:
    address = folder / "address"
    env = {**os.environ, "DATABASE_URL": url, "KEEN_HOME": str(folder)}
    command = [sys.executable, "-m", "keen_tracer.cli", "serve", "--address-file", str(address)]
    child = subprocess.Popen(command, env=env, stdout=subprocess.DEVNULL)
    while not address.exists() or not address.read_text():
        time.sleep(0.1)
    return child, address.read_text()


def _together(load: Load, samples: int) -> None:
    """Let them all go, and print what it came to."""
    people = [threading.Thread(target=load.read, args=(n,)) for n in range(READERS)]
    people += [threading.Thread(target=load.write, args=(n,)) for n in range(WRITERS)]
    for one in people:
        one.start()
    for one in people:
        one.join()
    asked = sum(map(len, load.took.values()))
    print(
        f"  {len(load.engines)} engines, {samples} samples, {READERS} readers, {WRITERS} writers, "
        f"{load.looks:g} s between pages"
    )
    print(f"  {asked} answers in {SECONDS:.0f} s, {asked / SECONDS:.0f} a second")
    for name, took in load.took.items():
        p50, p95 = np.quantile(took, (0.5, 0.95))
        times = f"p50 {1e3 * p50:6.0f} ms   p95 {1e3 * p95:6.0f} ms"
        print(f"  {name:<10} {len(took):5} answers   {times}")
    every = np.concatenate(list(load.took.values()))
    print(f"  all        p95 {1e3 * np.quantile(every, 0.95):6.0f} ms")
    print(f"  no success: {dict(load.wrong) or 'none'}")


def run_load(url: str, samples: int) -> int:
    """Make, judge, serve, measure, print. 0 when it ran."""
    mine = make_fleet(url, "bench_load", samples)
    with single(mine) as connection:
        connection.execute("insert into depot (code, daily_capacity) values ('bench', 20)")
        connection.execute("update engine set depot = 'bench' where id % 20 = 0")
        for role in ("technician", "analyst", "releaser"):
            run(connection, "person_put", name=f"Bench {role}", role=role)
    judge_stale(mine)
    with single(mine) as connection:
        # The program would do it on its first day, and judge everybody again meanwhile.
        publish(connection, "bench")
    judge_stale(mine)
    with single(mine) as connection:
        engines = [r["code"] for r in rows(connection, "engine_codes")]
    with tempfile.TemporaryDirectory(prefix="keen-load-") as folder:
        child, address = _serve(mine, Path(folder))
        try:
            for looks in LOOKS_S:
                _together(Load(address, engines, looks), samples)
        finally:
            child.terminate()
            child.wait()
    return 0
