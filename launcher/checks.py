"""`./keen test`: every check there is, one after another, each printed with its result."""

import os
import subprocess
import time
from pathlib import Path

from .paths import PYTHON, ROOT, WEB
from .say import line

BIN = PYTHON.parent
PYTHON_CODE = ("src", "launcher", "tests")
# One more than there are cores: a test often waits for a server or a page.
WORKERS = str((os.cpu_count() or 2) + 1)
CHECKS: list[tuple[str, Path, list[str]]] = [
    ("ruff", ROOT, [str(BIN / "ruff"), "check", "--no-cache", *PYTHON_CODE]),
    (
        "ruff format",
        ROOT,
        [str(BIN / "ruff"), "format", "--no-cache", "--check", "-q", *PYTHON_CODE],
    ),
    ("import contracts", ROOT, [str(BIN / "lint-imports"), "--no-cache"]),
    ("mypy, strict on the core", ROOT, [str(BIN / "mypy"), "--no-error-summary"]),
    ("prettier and eslint", WEB, ["npm", "run", "-s", "lint"]),
    ("svelte-check", WEB, ["npm", "run", "-s", "check"]),
    ("front-end unit tests", WEB, ["npm", "run", "-s", "test"]),
    (
        "Python, storage, API and browser tests",
        ROOT,
        [str(BIN / "python"), "-m", "pytest", "-q", "-n", WORKERS, "--dist", "loadfile"],
    ),
]


def run_all_checks(words: list[str]) -> int:
    """Run every check, or only those whose name holds one of `words`. 0 when all pass."""
    env = {**os.environ, "PYTHONPATH": f"{ROOT / 'src'}:{ROOT}", "PYTHONDONTWRITEBYTECODE": "1"}
    env.pop("DATABASE_URL", None)
    failed = []
    chosen = [c for c in CHECKS if not words or any(w in c[0].lower() for w in words)]
    for name, folder, command in chosen:
        line(f"\n== {name}")
        begun = time.monotonic()
        code = subprocess.run(command, cwd=folder, env=env, stdin=subprocess.DEVNULL).returncode
        line(
            f"== {name}: {'passed' if code == 0 else f'FAILED ({code})'} in "
            f"{time.monotonic() - begun:.0f} s"
        )
        if code:
            failed.append(name)
    line(
        f"\nchecks: {len(chosen) - len(failed)} passed, {len(failed)} failed"
        + (f" ({'; '.join(failed)})" if failed else "")
    )
    return 1 if failed else 0
