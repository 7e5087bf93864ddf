"""A few of what `./keen bench faults` does by the hundred: killed, frozen, full, set back. Nothing
half done, nothing acknowledged lost."""

import os
import random
import subprocess
import tempfile
from datetime import timedelta
from pathlib import Path
from uuid import uuid4

import httpx
import psycopg
import pytest

from keen_tracer import clock
from keen_tracer.core.limits import default_limits
from keen_tracer.core.roles import Actor, at_the_machine
from keen_tracer.faults import TRIALS, fill, frozen
from keen_tracer.storage.db import single
from keen_tracer.storage.errors import DiskFull, StorageError
from keen_tracer.storage.migrate import ensure_database, migrate
from keen_tracer.storage.records import publish_limits, rows
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging.deciding import NewRunDecision, decide_run
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.pages.wall import wall
from launcher.cluster import Cluster
from tests.helpers import write_csv

RELEASER = Actor("Test Releaser", "releaser")


@pytest.fixture(scope="module")
def fleet(new_database, tmp_path_factory) -> str:
    url = new_database()
    fill(url, tmp_path_factory.mktemp("fleet"))
    return url


@pytest.mark.parametrize("kind", TRIALS)
def test_killed_at_any_moment_nothing_is_half_done(kind: str, fleet: str, tmp_path: Path) -> None:
    trial, longest = TRIALS[kind]
    rng = random.Random(kind)
    for n in range(3):
        assert trial(fleet, tmp_path, rng.uniform(0, longest), n).wrong == ""


@pytest.fixture
def own(tmp_path: Path):
    """A server of the database for one test alone, since it is stopped in the middle."""
    cluster = Cluster.temporary()
    cluster.start()
    try:
        url = cluster.url("own")
        ensure_database(url)
        migrate(url)
        with single(url) as c:
            limits = default_limits()
            publish_limits(c, limits.name, "Keen Tracer", limits.rows)
        yield url
    finally:
        cluster.stop()


def test_a_frozen_database_is_said_and_what_was_acknowledged_is_there(own: str, serve) -> None:
    server = serve(own)
    with server.client(None) as c:
        c.post("/api/people", json={"name": "Ada", "role": "analyst"}).raise_for_status()
        person = c.get("/api/people").json()[0]
        c.post("/api/session", json={"person": person["id"]}).raise_for_status()
        cells = {"engine": "E-1", "class": "petrol"}
        c.post("/api/fleet/engines", json={"cells": cells}).raise_for_status()
        held = c.post("/api/engines/E-1/run", json={"state": "hold", "reason": "seen"})
        assert held.status_code == 200
        with frozen(own):
            answer = c.get("/api/wall?find=x")
            assert (answer.status_code, bool(answer.json()["message"])) == (503, True)
        after = c.get("/api/runs").json()["rows"][0]["state"]
    assert (after["may_run"], after["run"]["reason"]) == ("do_not_run", "seen")
    assert httpx.get(f"{server.address}/healthz").json()["database"] == "up"


def test_a_clock_that_was_ahead_and_set_back_changes_no_order(url: str, tmp_path: Path) -> None:
    """Decisions follow one another by what they supersede, never by the clock."""
    file = write_csv(tmp_path, "engines.csv", "engine,class\nE-1,petrol\n")
    assert import_files(url, [(file.name, file)], at_the_machine("t")).written
    key = str(uuid4())
    ahead = clock.now() + timedelta(days=2)
    with psycopg.connect(url) as c:
        c.execute(
            "insert into decision (id, kind, engine_id, run_state, lifts, reason, decided_by, "
            "decided_at) select %s, 'run', id, 'hold', '{}', 'by a clock ahead', 'A', %s "
            "from engine",
            [key, ahead],
        )
        c.execute("update judging_queue set since = %s", [ahead])
    judge_stale(url)
    with single(url) as c:
        decide_run(
            c, "E-1", NewRunDecision(state="release", reason="now", supersedes=key), RELEASER
        )
    with single(url) as c:
        state = wall(c, None, None, "need", 0, 9)["rows"][0]["state"]
        assert rows(c, "unjudged") == []
    assert state["may_run"] == "runs"
    assert state["run"]["by"] == RELEASER.name


@pytest.fixture
def small_disk():
    """A folder on a file system of its own with little room."""
    folder = Path(tempfile.mkdtemp(prefix="keen-small-"))
    folder.chmod(0o755)
    size = ["-o", "size=150m,mode=755"]
    made = subprocess.run(
        ["mount", "-t", "tmpfs", *size, "tmpfs", str(folder)], capture_output=True
    )
    if made.returncode:
        folder.rmdir()
        pytest.skip("this machine lets nobody make a small file system")
    yield folder
    subprocess.run(["umount", str(folder)], check=True)
    folder.rmdir()


def test_a_full_disk_says_so_and_loses_nothing(small_disk: Path, tmp_path: Path) -> None:
    cluster = Cluster(small_disk / "data")
    cluster.start()
    try:
        url = cluster.url("own")
        ensure_database(url)
        migrate(url)
        file = write_csv(tmp_path, "engines.csv", "engine,class\nE-1,petrol\n")
        assert import_files(url, [(file.name, file)], at_the_machine("t")).written
        room = os.statvfs(small_disk)
        filler = small_disk / "filler"
        with filler.open("wb") as out:
            out.write(b"0" * (room.f_bavail * room.f_bsize - 200_000))
        text = "engine,class,name\n" + "".join(f"N-{n},petrol,{'x' * 50}\n" for n in range(40_000))
        many = write_csv(tmp_path, "engines.csv", text)
        with pytest.raises(StorageError) as caught:
            import_files(url, [(many.name, many)], at_the_machine("t"))
        assert isinstance(caught.value, DiskFull), caught.value
        filler.unlink()
        with single(url) as c:
            assert [r["code"] for r in rows(c, "engine_codes")] == ["E-1"]
        assert import_files(url, [(many.name, many)], at_the_machine("t")).written
    finally:
        cluster.stop()
