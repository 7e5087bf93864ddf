"""`./keen test`: every check there is. What only reads the code runs beside what runs the program,
and each is printed with its result as it ends."""

import os
import subprocess
import time
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from threading import Lock

from .paths import PYTHON, ROOT, WEB
from .say import line

BIN = PYTHON.parent
PYTHON_CODE = ("src", "launcher", "tests")
# One more than there are cores: a test often waits for a server or a page.
WORKERS = str((os.cpu_count() or 2) + 1)
PYTEST = (str(BIN / "python"), "-m", "pytest", "-q", "-n", WORKERS, "--dist", "worksteal")
TESTS = "Python, storage, API and browser tests"
# What `--quick` runs of them: seconds a test, no browser, no server of the program.
QUICK = ("tests/core", "tests/cases", "tests/published", "src/keen_tracer/core")


@dataclass(frozen=True)
class Check:
    """One check: its name, where it runs, its command; `streams`: it prints as it goes."""

    name: str
    folder: Path
    command: tuple[str, ...]
    streams: bool = False


CODE_CHECKS = (
    Check("ruff", ROOT, (str(BIN / "ruff"), "check", *PYTHON_CODE)),
    Check("ruff format", ROOT, (str(BIN / "ruff"), "format", "--check", "-q", *PYTHON_CODE)),
    Check("import contracts", ROOT, (str(BIN / "lint-imports"),)),
    Check("mypy, strict on the core", ROOT, (str(BIN / "mypy"), "--no-error-summary")),
    Check("prettier and eslint", WEB, ("npm", "run", "-s", "lint")),
    Check("svelte-check", WEB, ("npm", "run", "-s", "check")),
    Check("front-end unit tests", WEB, ("npm", "run", "-s", "test")),
)


def changed_tests() -> list[str]:
    """Folders of tests of what is changed since the commit that main stands at elsewhere: the room
    of every changed file, where tests have a folder of that name."""
    listed = subprocess.run(
        ["git", "status", "--porcelain", "--untracked-files=all"],
        cwd=ROOT,
        capture_output=True,
        text=True,
    ).stdout
    found = set()
    for name in (row[3:].split(" -> ")[-1] for row in listed.splitlines()):
        parts = Path(name).parts
        if parts[:1] == ("tests",) and name.endswith(".py"):
            found.add(name)
        if parts[:2] == ("src", "keen_tracer"):
            room = ROOT.joinpath("tests", *parts[2:-1])
            found.add(str((room if room.is_dir() else room.parent).relative_to(ROOT)))
    return sorted(f for f in found if f != "tests" and (ROOT / f).exists())


def _tests(quick: bool, more: list[str]) -> Check:
    chosen = sorted({*QUICK, *changed_tests()}) if quick else []
    return Check(TESTS, ROOT, (*PYTEST, *chosen, *more), streams=True)


@dataclass
class Runs:
    """Checks that run, and what came of them."""

    env: dict[str, str]
    failed: list[str] = field(default_factory=list)
    _lock: Lock = field(default_factory=Lock)

    def run(self, check: Check) -> None:
        begun = time.monotonic()
        if check.streams:
            line(f"\n== {check.name}")
        done = subprocess.run(
            check.command,
            cwd=check.folder,
            env=self.env,
            stdin=subprocess.DEVNULL,
            stdout=None if check.streams else subprocess.PIPE,
            stderr=None if check.streams else subprocess.STDOUT,
            text=True,
            errors="replace",
        )
        word = "passed" if done.returncode == 0 else f"FAILED ({done.returncode})"
        with self._lock:
            if not check.streams:
                line(f"\n== {check.name}\n{done.stdout.rstrip()}")
            line(f"== {check.name}: {word} in {time.monotonic() - begun:.0f} s")
            if done.returncode:
                self.failed.append(check.name)


def run_all_checks(words: list[str], quick: bool = False, more: list[str] | None = None) -> int:
    """Run every check, or only those whose name holds one of `words`. 0 when all pass.

    quick : of the tests only the core's, the cases, the published ones and those of changed rooms
    more : further words for pytest
    """
    env = {**os.environ, "PYTHONPATH": f"{ROOT / 'src'}:{ROOT}"}
    env.pop("DATABASE_URL", None)
    every = (*CODE_CHECKS, _tests(quick, more or []))
    chosen = [c for c in every if not words or any(w in c.name.lower() for w in words)]
    runs = Runs(env)
    with ThreadPoolExecutor(2) as pool:
        beside = pool.submit(lambda: [runs.run(c) for c in chosen if not c.streams])
        for check in chosen:
            if check.streams:
                runs.run(check)
        beside.result()
    line(
        f"\nchecks: {len(chosen) - len(runs.failed)} passed, {len(runs.failed)} failed"
        + (f" ({'; '.join(runs.failed)})" if runs.failed else "")
    )
    return 1 if runs.failed else 0
