"""`./keen` as a person runs it: start, second start, a second one beside it, stop; on data of its
own (KEEN_HOME)."""

import os
import re
import shutil
import signal
import subprocess
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from pathlib import Path

import httpx
import psycopg
import pytest
from playwright.sync_api import Browser, expect

from launcher import machine
from launcher.cluster import Cluster
from launcher.paths import ROOT, VENV, others_may_enter
from launcher.say import Stop

KEEN = str(ROOT / "keen")
# A machine that does other work only makes these tests slower.
PATIENT_S = 120.0
get, post = partial(httpx.get, timeout=PATIENT_S), partial(httpx.post, timeout=PATIENT_S)


class Running:
    """A `./keen` command that goes on running; its lines are read as they come."""

    def __init__(self, home: Path, *words: str, answer: str = ""):
        env = {**os.environ, "KEEN_HOME": str(home)}
        env.pop("DATABASE_URL", None)
        self.process = subprocess.Popen(
            [KEEN, *words],
            env=env,
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            start_new_session=True,
        )
        assert self.process.stdin
        self.process.stdin.write(answer)
        self.process.stdin.close()
        self.lines: list[str] = []
        self.reader = threading.Thread(target=self._read)
        self.reader.start()

    def _read(self) -> None:
        assert self.process.stdout
        self.lines.extend(iter(self.process.stdout.readline, ""))

    def address(self) -> str:
        """The address, once it is printed on a line of its own."""
        until = time.monotonic() + 600
        while time.monotonic() < until:
            for line in list(self.lines):
                if re.fullmatch(r"http://127\.0\.0\.1:\d+\n", line):
                    return line.strip()
            if self.process.poll() is not None:
                break
            time.sleep(0.05)
        raise AssertionError("no address: " + "".join(self.lines))

    def stop(self, how: int = signal.SIGINT) -> int:
        """What the terminal does on Ctrl-C: the signal goes to the whole group."""
        if self.process.poll() is None:
            os.killpg(self.process.pid, how)
        code = self.process.wait(timeout=300)
        self.reader.join()
        assert self.process.stdout
        self.process.stdout.close()
        return code


def once(home: Path, *words: str) -> subprocess.CompletedProcess[str]:
    env = {**os.environ, "KEEN_HOME": str(home)}
    env.pop("DATABASE_URL", None)
    return subprocess.run(
        [KEEN, *words], env=env, capture_output=True, text=True, stdin=subprocess.DEVNULL
    )


@pytest.fixture
def home() -> Iterator[Path]:
    """A folder the server's user may enter."""
    folder = Path(tempfile.mkdtemp(prefix="keen-home-"))
    folder.chmod(0o755)
    yield folder
    shutil.rmtree(folder, ignore_errors=True)


def servers_on(folder: Path) -> list[str]:
    found = subprocess.run(
        ["pgrep", "-fa", f"postgres -D {folder}"], capture_output=True, text=True
    ).stdout
    return found.splitlines()


def test_demo_from_nothing_to_ctrl_c_and_again(home: Path, tmp_path: Path) -> None:
    first = Running(home, "demo", "--date", "2026-11-24")
    address = first.address()
    assert get(f"{address}/healthz").json()["database"] == "up"
    assert "<title>Keen Tracer</title>" in get(f"{address}/wall").text
    printed = "".join(first.lines)
    for step in (
        "database cluster",
        "PostgreSQL on 127.0.0.1",
        "simulating",
        "importing",
        "judging",
        "signing",
    ):
        assert step in printed

    beside = once(home, "demo")
    assert beside.returncode == 1
    assert f"already runs at {address}" in beside.stderr
    assert "nothing was changed" in beside.stderr

    out = once(home, "export", str(tmp_path / "out"))
    assert out.returncode == 0, out.stderr
    assert (tmp_path / "out" / "samples.csv").stat().st_size > 10_000
    assert once(home, "backup", str(tmp_path / "b.keen")).returncode == 0

    assert get(f"{address}/healthz").json()["last_backup"] is not None

    with httpx.Client(base_url=address, timeout=PATIENT_S) as c:
        person = next(p for p in c.get("/api/people").json() if p["role"] == "releaser")
        c.post("/api/session", json={"person": person["id"]})
        assert (
            c.post("/api/engines/G-01/run", json={"state": "hold", "reason": "mine"}).status_code
            == 200
        )

    assert first.stop() in (0, 130)
    assert servers_on(home) == []
    assert not (home / "address").exists()

    again = Running(home, "demo")
    address = again.address()
    assert "simulating" not in "".join(again.lines)
    line = next(r for r in get(f"{address}/api/runs").json()["rows"] if r["code"] == "G-01")
    state = line["state"]
    assert (state["may_run"], state["run"]["reason"]) == ("do_not_run", "mine")
    again.stop(signal.SIGTERM)
    assert servers_on(home) == []

    kept = Running(home, "demo", "--fresh", answer="no\n")
    address = kept.address()
    assert "kept as it was" in "".join(kept.lines)
    assert any(
        r["state"]["run"] and r["state"]["run"]["reason"] == "mine"
        for r in get(f"{address}/api/runs").json()["rows"]
    )
    kept.stop()

    fresh = Running(home, "demo", "--fresh", "--date", "2026-11-24", answer="yes\n")
    address = fresh.address()
    assert not any(
        r["state"]["run"] and r["state"]["run"]["reason"] == "mine"
        for r in get(f"{address}/api/runs").json()["rows"]
    )
    fresh.stop()


def test_own_data_starts_empty_takes_files_and_restores_elsewhere(
    home: Path, tmp_path: Path
) -> None:
    (tmp_path / "engines.csv").write_text("engine,class\nE-1,petrol\n")
    (tmp_path / "samples.csv").write_text(
        "sample,engine,drawn_on,meter,Fe_ppm\nS-1,E-1,2026-02-10,5,12\n"
    )
    brought = once(home, "import", str(tmp_path / "samples.csv"), str(tmp_path / "engines.csv"))
    assert brought.returncode == 0, brought.stderr
    assert "engines.csv: 1 rows, 1 new" in brought.stdout
    assert "judged 1 of 1 engines" in brought.stdout
    assert "nothing new" in once(home, "import", str(tmp_path / "samples.csv")).stdout
    wrong = tmp_path / "events.csv"
    wrong.write_text("engine,on,kind\nE-1,31/02/2026,repair\n")
    refused = once(home, "import", str(wrong))
    assert refused.returncode == 1
    assert "events.csv, row 2, on: '31/02/2026' is not a date" in refused.stderr
    assert "nothing was imported" in refused.stderr
    assert (
        "judged 1 of 1 engines, 1 samples, 0 verdicts changed"
        in once(home, "judge", "--all").stdout
    )
    assert once(home, "backup", str(tmp_path / "b.keen")).returncode == 0
    over = once(home, "restore", str(tmp_path / "b.keen"))
    assert over.returncode == 1
    assert "not empty" in over.stderr
    shutil.rmtree(home / "data")
    back = once(home, "restore", str(tmp_path / "b.keen"))
    assert back.returncode == 0, back.stderr
    assert "compared equal" in back.stdout
    served = Running(home, "serve")
    assert get(f"{served.address()}/api/wall").status_code == 401, "reading takes a name"
    with somebody(served.address()) as c:
        assert c.get("/api/wall").json()["total"] == 1
    served.stop()
    assert servers_on(home) == []


@contextmanager
def somebody(address: str) -> Iterator[httpx.Client]:
    """A client of the first person on the list, who is put there where nobody is."""
    with httpx.Client(base_url=address, timeout=PATIENT_S) as c:
        people = c.get("/api/people").json()
        if not people:
            people = [c.post("/api/people", json={"name": "Ada", "role": "analyst"}).json()]
        c.post("/api/session", json={"person": people[0]["id"]}).raise_for_status()
        yield c


def box_once(address: str, state: str) -> dict[str, str]:
    """The box, once it has come to a state."""
    until = time.monotonic() + 600
    while time.monotonic() < until:
        with somebody(address) as c:
            found: dict[str, str] = c.get("/api/box").json()
        assert found["state"] != "failed", found
        if found["state"] == state:
            return found
        time.sleep(0.2)
    raise AssertionError(f"the box never came to {state}: {found}")


SHOW = "Show me the demo's data, in a box of its own"


def test_the_demos_data_comes_in_a_box_beside_and_goes_again(home: Path, browser: Browser) -> None:
    served = Running(home, "serve")
    mine = served.address()
    page = browser.new_page()
    page.set_default_timeout(PATIENT_S * 1000)
    page.goto(f"{mine}/wall")
    page.get_by_label("Somebody else").fill("Ada")
    page.get_by_role("button", name="Add and continue").click()
    page.get_by_role("button", name=SHOW).click()
    expect(page.get_by_text("Filling the box")).to_be_visible(timeout=PATIENT_S * 1000)
    page.get_by_role("link", name="Open the demo's box").click(timeout=600_000)
    box = box_once(mine, "ready")["address"]
    page.wait_for_url(f"{box}/**")
    expect(page.get_by_text("G-03").first).to_be_visible(timeout=PATIENT_S * 1000)
    assert get(f"{box}/api/state").json()["engines"] == 26
    assert get(f"{box}/api/box").json()["mine"] == mine
    # What is done in the box stays in it.
    person = {"name": "Only In The Box", "role": "technician"}
    with httpx.Client(base_url=box, timeout=PATIENT_S) as c:
        mira = next(p for p in c.get("/api/people").json() if p["name"] == "Mira Ostrand")
        c.post("/api/session", json={"person": mira["id"]}).raise_for_status()
        c.post("/api/people", json=person).raise_for_status()
    assert get(f"{mine}/api/state").json()["engines"] == 0
    assert [p["name"] for p in get(f"{mine}/api/people").json()] == ["Ada"]
    served.stop()
    # It is shut with the program, opened again as it was, and emptied for good.
    again = Running(home, "serve")
    mine = again.address()
    with somebody(mine) as c:
        assert c.get("/api/box").json()["state"] == "closed"
        c.post("/api/box", json={"want": "fill"}).raise_for_status()
    box = box_once(mine, "ready")["address"]
    names = [p["name"] for p in get(f"{box}/api/people").json()]
    assert person["name"] in names
    page.goto(f"{mine}/wall")
    page.get_by_role("button", name="Empty the box").click()
    expect(page.get_by_role("button", name=SHOW)).to_be_visible(timeout=600_000)
    page.close()
    box_once(mine, "none")
    with pytest.raises(httpx.TransportError):  # refused, or cut off while it ends
        get(f"{box}/api/state")
    assert get(f"{mine}/api/state").json()["engines"] == 0
    again.stop()
    assert servers_on(home) == []


def test_only_a_box_is_emptied_without_asking(url: str) -> None:
    env = {**os.environ, "DATABASE_URL": url, "PYTHONPATH": f"{ROOT / 'src'}:{ROOT}"}
    command = [str(VENV / "bin" / "python"), "-m", "keen_tracer.cli", "empty-box"]
    done = subprocess.run(command, env=env, capture_output=True, text=True)
    assert done.returncode == 1
    assert "this is no box" in done.stderr
    psycopg.connect(url).close()


def test_the_next_free_port_is_taken_when_the_first_is_busy(home: Path) -> None:
    import socket

    one = Running(home, "serve")
    first = int(one.address().rsplit(":", 1)[1])
    one.stop()
    with socket.socket() as s:
        s.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        s.bind(("127.0.0.1", first))
        s.listen()
        other = Running(home, "serve")
        assert int(other.address().rsplit(":", 1)[1]) > first
        other.stop()


def test_another_server_by_address(home: Path, url: str) -> None:
    """DATABASE_URL: no cluster of ours is made."""
    env = {**os.environ, "KEEN_HOME": str(home), "DATABASE_URL": url}
    done = subprocess.run([KEEN, "judge"], env=env, capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    assert not (home / "data").exists()


def test_what_a_user_without_rights_is_told(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(machine, "postgres_folders", list)
    monkeypatch.setattr(machine.shutil, "which", lambda _: None)
    monkeypatch.setattr(machine.os, "geteuid", lambda: 1000)
    with pytest.raises(Stop) as caught:
        machine.debian_packages(for_tests=True, own_server=True)
    assert f"sudo apt-get install -y --no-install-recommends postgresql {machine.BROWSER}" in str(
        caught.value
    )


def test_an_old_node_is_named_with_what_to_run(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(machine.shutil, "which", lambda _: None)
    with pytest.raises(Stop, match="Node 20 or newer"):
        machine._node()


def wait_for(what: Callable[[], bool], why: str) -> None:
    until = time.monotonic() + 120
    while time.monotonic() < until:
        if what():
            return
        time.sleep(0.05)
    raise AssertionError(why)


def healthy(address: str) -> bool:
    try:
        return get(f"{address}/healthz").status_code == 200
    except httpx.TransportError:
        return False


def postmaster(folder: Path) -> int:
    try:
        return int((folder / "postgresql" / "postmaster.pid").read_text().splitlines()[0])
    except (OSError, ValueError, IndexError):
        return 0


def alive(pid: int) -> bool:
    try:
        return Path(f"/proc/{pid}/stat").read_text().split(") ")[1][0] != "Z"
    except OSError:
        return False


def web_process(running: Running) -> int:
    found = subprocess.run(
        ["pgrep", "-P", str(running.process.pid), "-f", "cli serve"], capture_output=True, text=True
    ).stdout.split()
    return int(found[0]) if found else 0


def test_what_dies_comes_back_and_what_is_killed_leaves_nothing(home: Path) -> None:
    """The web process on its port, PostgreSQL on its own; and both end with the launcher, also when
    that is killed."""
    running = Running(home, "serve")
    address = running.address()
    web = web_process(running)
    os.kill(web, signal.SIGKILL)
    wait_for(lambda: web_process(running) not in (0, web), "the web process did not come back")
    wait_for(lambda: healthy(address), "it does not answer on its port any more")

    server = postmaster(home / "data")
    os.kill(server, signal.SIGKILL)
    wait_for(lambda: postmaster(home / "data") not in (0, server), "PostgreSQL did not come back")
    wait_for(lambda: healthy(address), "the program did not find PostgreSQL again")

    web, server = web_process(running), postmaster(home / "data")
    os.kill(running.process.pid, signal.SIGKILL)
    wait_for(lambda: not alive(web) and not alive(server), "something was left behind")
    running.stop()
    assert servers_on(home) == []

    again = Running(home, "serve")
    assert healthy(again.address())
    again.stop()
    assert servers_on(home) == []


def test_the_web_process_is_no_superuser_and_owns_nothing(home: Path) -> None:
    running = Running(home, "serve")
    running.address()
    environment = Path(f"/proc/{web_process(running)}/environ").read_text()
    url = re.search(r"DATABASE_URL=([^\0]+)", environment)
    assert url and "keen_web" in url.group(1)
    assert "KEEN_WEB_SECRET" not in environment
    with psycopg.connect(url.group(1), autocommit=True) as c:
        c.execute("set role keen_app")
        for command in (
            "reset role; copy (select 1) to program 'id'",
            "reset role; select pg_read_file('/etc/passwd')",
            "reset role; drop table log",
            "reset role; delete from decision",
            "reset role; alter role keen_web superuser",
            "create table mine (x int)",
        ):
            with pytest.raises(psycopg.errors.InsufficientPrivilege):
                c.execute(command)
    running.stop()


def test_the_server_stays_while_anybody_uses_it() -> None:
    """A nightly backup that ends must not take the server from an import that goes on."""
    one = Cluster.temporary()
    two = Cluster(one.folder)
    try:
        one.start()
        two.start()
        assert two.port == one.port
        server = postmaster(one.folder)
        two.stop()
        assert alive(server) and postmaster(one.folder) == server
        third = Cluster(one.folder)
        third.start()
        third.stop()
        assert alive(server)
    finally:
        one.stop()
    assert not alive(server)


def test_data_checksums_are_on() -> None:
    cluster = Cluster.temporary()
    try:
        cluster.start()
        with psycopg.connect(cluster.url("postgres")) as c:
            assert c.execute("show data_checksums").fetchone() == ("on",)
    finally:
        cluster.stop()


def test_a_cluster_that_was_never_finished_is_made_anew(home: Path) -> None:
    (home / "postgresql.new" / "base").mkdir(parents=True)
    cluster = Cluster(home)
    cluster.start()
    cluster.stop()
    assert not (home / "postgresql.new").exists()
    assert (home / "postgresql" / "PG_VERSION").exists()


def test_a_first_load_that_was_interrupted_is_started_over(home: Path) -> None:
    first = Running(home, "demo", "--date", "2026-11-24")
    wait_for(lambda: any("judging every sample" in x for x in first.lines), "it never began")
    os.killpg(first.process.pid, signal.SIGKILL)
    first.stop(signal.SIGKILL)
    wait_for(lambda: servers_on(home) == [], "PostgreSQL was left behind")
    again = Running(home, "demo", "--date", "2026-11-24")
    total = get(f"{again.address()}/api/wall").json()["total"]
    again.stop()
    assert total == 26
    assert "the first load of the demo was interrupted" in "".join(again.lines)


def test_data_of_another_version_is_named(home: Path) -> None:
    cluster = Cluster(home)
    cluster.data.mkdir()
    (cluster.data / "PG_VERSION").write_text("9\n")
    with pytest.raises(Stop, match="postgresql-9"):
        cluster.start()


def test_a_closed_parent_folder_is_noticed(home: Path) -> None:
    assert others_may_enter(home)
    closed = home / "closed"
    closed.mkdir(mode=0o700)
    assert not others_may_enter(closed / "inside")
