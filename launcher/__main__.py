"""`./keen`: what each subcommand prepares, and the hand-over to the program itself."""

import argparse
import contextlib
import fcntl
import os
import signal
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path
from urllib.parse import urlsplit, urlunsplit

from . import machine, workshop
from .box import Box
from .checks import run_all_checks
from .cluster import WEB, Cluster
from .paths import HOME, PYTHON, data_folder
from .say import Stop, line, problem, step
from .serving import Serving
from .workshop import environment

HELP = """Keen Tracer: engines watched through their oil.

  ./keen demo [--fresh] [--port N]   start with the made-up resort's three years of history
  ./keen serve [--port N]            start with your own data (empty the first time)
  ./keen import FILE...              read open files (CSV or a zipped export), all or nothing
                                     (--as-record: a whole record, with what others signed)
  ./keen watch DIR                   bring in what is laid into a folder, until stopped;
                                     what needs a person waits in a tray there
  ./keen person NAME [--role ROLE]   put somebody on the list of people; admin only here
  ./keen judge [--all]               judge what changed, or everything again
  ./keen judge --publish-peers       publish peers, laboratories and seasons anew
                                     (--preview: only list what changes)
  ./keen study ENGINE... --before FIRST..LAST --after FIRST..LAST
                                     what an additive, an oil or a filter changed
                                     between two periods
  ./keen alarms                      confirmed, missed and false alarms of every policy,
                                     by what inspections found
  ./keen export DIR                  write everything as open CSV files
  ./keen backup FILE                 the whole database in one file, with a manifest of hashes
  ./keen restore FILE                a backup into an empty database, then compared
                                     (--unsigned: one of another installation)
  ./keen bench [scale|web|load|faults|detection]
                                     speed and memory, as ratios measured in one run;
                                     scale: judging a large fleet; web: its pages; load: many
                                     people at once; faults: killed, and what was lost;
                                     detection: invented faults caught, against two
                                     comparison rules
  ./keen test [--quick] [WORD...]    every check, or those whose name holds a word; --quick: of
                                     the tests only the core's and those of changed rooms
  ./keen dev                         for builders: pages and server, reloaded as written
  ./keen types                       for builders: what the pages know of the server
  ./keen pictures [NAME...]          for builders: the kept screenshots, made anew
  ./keen help                        this

Commands beside demo and serve work on the data of the program that runs, or else on the data used
last; --demo or --own chooses. DATABASE_URL=postgresql://... uses another PostgreSQL server.
"""
DATABASES = {"demo": "keen_demo", "own": "keen", "box": "keen_box"}


def _program(url: str, *arguments: str) -> int:
    """Run the program in its own environment. The address goes by environment: ps shows
    arguments."""
    child = subprocess.Popen(
        [str(PYTHON), "-m", "keen_tracer.cli", *arguments], env=environment(url)
    )

    def pass_on(number: int, _frame: object) -> None:
        child.send_signal(number)

    before = {s: signal.signal(s, pass_on) for s in (signal.SIGTERM, signal.SIGHUP)}
    try:
        while True:
            try:
                return child.wait()
            except KeyboardInterrupt:
                continue  # the terminal sent it to the program too; wait until it has ended
    finally:
        for number, handler in before.items():
            signal.signal(number, handler)


@contextlib.contextmanager
def _only_one(command: str) -> Iterator[None]:
    """Hold the lock of this checkout, or say where the program already runs."""
    HOME.mkdir(exist_ok=True)
    with (HOME / "lock").open("a+") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            address = HOME / "address"
            where = f" at {address.read_text().strip()}" if address.exists() else ", still starting"
            raise Stop(
                f"Keen Tracer already runs{where}. Use that page, or stop it first with Ctrl-C "
                f"in its window; nothing was changed."
            ) from None
        (HOME / "address").unlink(missing_ok=True)
        (HOME / "current").write_text(command)
        try:
            yield
        finally:
            (HOME / "address").unlink(missing_ok=True)


@contextlib.contextmanager
def _database(which: str) -> Iterator[tuple[str, str]]:
    """The addresses of the database to work on, as its owner and as the web process; our own server
    when none is given."""
    given = os.environ.get("DATABASE_URL")
    if given:
        yield given, given
        return
    cluster = Cluster(data_folder())
    try:
        cluster.start()
        step(f"PostgreSQL on 127.0.0.1:{cluster.port}")
        os.environ["KEEN_WEB_SECRET"] = cluster.secrets()["web"]  # the owner makes that login
        yield cluster.url(DATABASES[which]), cluster.url(DATABASES[which], WEB)
    finally:
        os.environ.pop("KEEN_WEB_SECRET", None)
        cluster.stop()


def _serve(which: str, options: argparse.Namespace) -> int:
    own_server = "DATABASE_URL" not in os.environ
    if options.fresh and not own_server:
        raise Stop(
            "--fresh does not empty a server given by DATABASE_URL; empty that database yourself"
        )
    with _only_one(which):
        machine.prepare(own_server=own_server)
        with _database(which) as (owner, web):
            arguments = ["--demo"] * (which == "demo") + ["--fresh"] * options.fresh
            arguments += ["--date", options.date] if options.date else []
            prepared = _program(owner, "prepare", *arguments)
            secret = os.environ.pop("KEEN_WEB_SECRET", None)
            box = _box(owner, web, secret) if secret and which == "own" else None
            return prepared or Serving(web, owner, options.port, box).run()


def _box(owner: str, web: str, secret: str) -> Box:
    """The box for the demo's data beside a person's own, on the same server."""
    urls = (urlunsplit(urlsplit(u)._replace(path=f"/{DATABASES['box']}")) for u in (owner, web))
    return Box(HOME / "box", *urls, secret)


def _where(command: str, said: str) -> str:
    """A file named from the caller's folder by its whole path; other words stay as they are."""
    takes_files = command in ("import", "watch", "export", "backup", "restore")
    return str(Path(said).absolute()) if takes_files and Path(said).exists() else said


def _plain(command: str, options: argparse.Namespace) -> int:
    machine.prepare(
        pages=False, for_tests=command == "bench", own_server="DATABASE_URL" not in os.environ
    )
    if command == "bench":
        cluster = Cluster.temporary(durable=True)
        try:
            cluster.start()
            return _program(cluster.url("postgres"), "bench", *options.rest)
        finally:
            cluster.stop()
    current = HOME / "current"
    which = options.which or (current.read_text() if current.exists() else "own")
    with _database(which) as (url, _):
        if which == "demo" and "DATABASE_URL" not in os.environ:
            step("working on the demo data")
        return _program(url, command, *options.rest)


def main() -> int:
    command, *rest = sys.argv[1:] or ["help"]
    if command in ("help", "-h", "--help"):
        line(HELP)
        return 0
    parser = argparse.ArgumentParser(prog=f"keen {command}")
    if command in ("demo", "serve"):
        parser.add_argument("--port", type=int)
        parser.add_argument(
            "--fresh", action="store_true", help="start the demo over, after asking"
        )
        parser.add_argument(
            "--date", help="the day the demo's history ends, YYYY-MM-DD (default: today)"
        )
        return _serve("demo" if command == "demo" else "own", parser.parse_args(rest))
    if command == "types":
        return workshop.types()
    if command == "pictures":
        return workshop.pictures(rest)
    if command == "dev":
        machine.prepare(for_tests=True)
        which = (HOME / "current").read_text() if (HOME / "current").exists() else "demo"
        with _database(which) as (url, _):
            return workshop.dev(url)
    if command == "test":
        machine.prepare(for_tests=True, own_server=True)
        quick = "--quick" in rest
        words = [word for word in rest if word != "--quick"]
        return run_all_checks(words, quick)
    if command in (
        "import",
        "watch",
        "person",
        "judge",
        "export",
        "backup",
        "restore",
        "bench",
        "study",
        "alarms",
    ):
        which = parser.add_mutually_exclusive_group()
        which.add_argument("--demo", dest="which", action="store_const", const="demo")
        which.add_argument("--own", dest="which", action="store_const", const="own")
        options, options.rest = parser.parse_known_args(rest)
        # The program runs in the checkout's environment but in the caller's folder.
        options.rest = [_where(command, a) for a in options.rest]
        return _plain(command, options)
    raise Stop(f"there is no command {command!r}; ./keen help lists them")


if __name__ == "__main__":
    try:
        sys.exit(main())
    except Stop as stop:
        problem(str(stop))
        sys.exit(1)
    except KeyboardInterrupt:
        sys.exit(130)
