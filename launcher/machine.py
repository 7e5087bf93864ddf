"""What the machine must have: Debian packages, the virtual environment, the built front end.

Each step is skipped when the stamp of its inputs has not changed.
"""

import hashlib
import importlib.util
import os
import shutil
import subprocess
from collections.abc import Iterable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from .paths import BUILD, HOME, PYTHON, ROOT, STAMPS, VENV, WEB
from .say import Stop, step

PDF_LIBRARIES = {
    "libpango-1.0-0": "libpango-1.0.so.0",
    "libpangoft2-1.0-0": "libpangoft2-1.0.so.0",
    "libharfbuzz-subset0": "libharfbuzz-subset.so.0",
}
# Commands of the environment that only builders use.
TOOLS = ("pytest", "ruff", "mypy", "lint-imports", "pre-commit")
# Without the windows and menus of the whole browser, which nobody sees in a test.
BROWSER = "chromium-headless-shell"
QUIET = {"PIP_DISABLE_PIP_VERSION_CHECK": "1", "PIP_NO_INPUT": "1", "NO_UPDATE_NOTIFIER": "1"}


def _run(command: list[str], cwd: Path = ROOT, **env: str) -> None:
    """Run a set-up command; on failure show the end of what it printed."""
    done = subprocess.run(
        command,
        cwd=cwd,
        env={**os.environ, **QUIET, **env},
        text=True,
        stdin=subprocess.DEVNULL,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
    )
    if done.returncode:
        tail = "\n".join(done.stdout.splitlines()[-25:])
        raise Stop(f"this set-up step failed: {' '.join(command)}\n{tail}")


def _digest(files: Iterable[Path]) -> str:
    total = hashlib.sha256()
    for file in sorted(files):
        total.update(str(file.relative_to(ROOT)).encode() + b"\0" + file.read_bytes())
    return total.hexdigest()


def _stamped(name: str, digest: str) -> bool:
    stamp = STAMPS / name
    return stamp.exists() and stamp.read_text() == digest


def _stamp(name: str, digest: str) -> None:
    stamp = STAMPS / name
    stamp.parent.mkdir(parents=True, exist_ok=True)
    stamp.write_text(digest)


def postgres_folders() -> list[Path]:
    """PostgreSQL program folders on this machine, newest first."""
    found = [p.parent for p in Path("/usr/lib/postgresql").glob("*/bin/postgres")]
    return sorted(found, key=lambda p: float(p.parent.name), reverse=True)


def debian_packages(for_tests: bool, own_server: bool) -> None:
    """Install the Debian packages that are missing, or say the exact line to run."""
    missing = []
    if own_server and not postgres_folders():
        missing.append("postgresql")
    if importlib.util.find_spec("ensurepip") is None:
        missing.append("python3-venv")
    # What the PDF labels are drawn with.
    missing += [
        package
        for package, library in PDF_LIBRARIES.items()
        if not list(Path("/usr/lib").glob(f"*/{library}"))
    ]
    if for_tests and not shutil.which(BROWSER):
        missing.append(BROWSER)
    if not missing:
        return
    install = ["apt-get", "install", "-y", "--no-install-recommends", *missing]
    manual = f"sudo apt-get update && sudo {' '.join(install)}"
    if os.geteuid() == 0:
        prefix: list[str] = []
    elif (
        subprocess.run(["sudo", "-n", "true"], capture_output=True).returncode == 0
        if shutil.which("sudo")
        else False
    ):
        prefix = ["sudo", "-n"]
    else:
        raise Stop(
            f"Debian packages are missing and may not be installed by this user. Run:\n  {manual}"
        )
    if not shutil.which("apt-get"):
        raise Stop(f"these packages are missing and there is no apt-get here: {', '.join(missing)}")
    step(f"installing Debian packages: {', '.join(missing)}")
    _run([*prefix, "apt-get", "update", "-q"])
    _run([*prefix, *install], DEBIAN_FRONTEND="noninteractive")


def _say_where_the_tools_are() -> None:
    """In place of each tool that only builders need, what to run to have it; installing the tools
    writes over it."""
    for tool in TOOLS:
        command = PYTHON.parent / tool
        command.write_text(
            f"#!/bin/sh\necho 'keen: {tool} is a tool of builders and not installed yet. "
            f"To install them all, run: ./keen test ruff' >&2\nexit 1\n"
        )
        command.chmod(0o755)


def virtual_environment(for_tests: bool) -> None:
    """The Python packages, from a lock with hashes. Tests use a superset of what the program
    uses."""
    lock = ROOT / "requirements" / ("dev.lock" if for_tests else "app.lock")
    digest = _digest([lock])
    # An environment set up for tests holds all the program needs, at the same versions.
    superset = _digest([ROOT / "requirements" / "dev.lock"])
    if PYTHON.exists() and (_stamped("venv", digest) or _stamped("venv", superset)):
        return
    step(f"Python packages from {lock.relative_to(ROOT)} (about a minute the first time)")
    if not PYTHON.exists():
        import venv

        venv.create(VENV, with_pip=True)
    _run([str(PYTHON), "-m", "pip", "install", "-q", "--require-hashes", "-r", str(lock)])
    if not for_tests:
        _say_where_the_tools_are()
    _stamp("venv", digest)


def _node() -> str:
    npm = shutil.which("npm")
    try:
        version = subprocess.run(
            ["node", "--version"], capture_output=True, text=True
        ).stdout.strip()
        major = int(version.lstrip("v").split(".")[0])
    except (OSError, ValueError):
        major = 0
    if not npm or major < 20:
        raise Stop(
            "Node 20 or newer and npm are needed to build the pages. On Debian 13 or newer:\n"
            "  sudo apt-get install -y nodejs npm"
        )
    return npm


def _front_end_sources() -> list[Path]:
    top = [p for p in WEB.iterdir() if p.is_file() and p.name != "openapi.json"]
    return top + [p for d in ("src", "static") for p in (WEB / d).rglob("*") if p.is_file()]


def node_packages() -> None:
    digest = _digest([WEB / "package-lock.json"])
    if (WEB / "node_modules").exists() and _stamped("node", digest):
        return
    npm = _node()
    step("front-end packages (npm ci, about half a minute)")
    _run([npm, "ci", "--no-audit", "--no-fund"], WEB)
    _stamp("node", digest)


def front_end() -> None:
    """Build the pages when their sources changed since the last build."""
    digest = _digest(_front_end_sources())
    if BUILD.exists() and _stamped("build", digest):
        return
    node_packages()
    step("building the pages")
    _run([_node(), "run", "build"], WEB)
    _stamp("build", digest)


def prepare(for_tests: bool = False, pages: bool = True, own_server: bool = True) -> None:
    """Everything a command needs before the program itself can run."""
    HOME.mkdir(exist_ok=True)
    debian_packages(for_tests, own_server)
    # Unpacking Python packages and building pages keep a core busy each, and share nothing.
    with ThreadPoolExecutor(1) as pool:
        beside = pool.submit(front_end) if pages else None
        virtual_environment(for_tests)
        if beside:
            beside.result()
