"""What builders of the program use: types made from the server, a server with reload, pictures."""

import contextlib
import os
import signal
import subprocess
from collections.abc import Iterator

from . import machine
from .cluster import Cluster, free_port
from .paths import BUILD, HOME, PYTHON, ROOT, WEB
from .say import Stop, line, step


def environment(url: str) -> dict[str, str]:
    """What the program needs to know, by environment: ps shows arguments."""
    return {
        **os.environ,
        "DATABASE_URL": url,
        "KEEN_PAGES": str(BUILD),
        "KEEN_HOME": str(HOME),
        "PYTHONPATH": f"{ROOT / 'src'}:{ROOT}",
    }


def _run(*command: str, where: str = ".") -> None:
    done = subprocess.run(command, cwd=WEB if where == "web" else ROOT, env=environment(""))
    if done.returncode:
        raise Stop(f"{' '.join(command)} failed; see above")


def types() -> int:
    """`./keen types`: what the pages know of the server, made anew."""
    machine.prepare(for_tests=True, pages=False)
    machine.node_packages()
    _run(str(PYTHON), "-m", "keen_tracer.api.contract", str(WEB))
    _run("npx", "openapi-typescript", "openapi.json", "-o", "src/lib/api/schema.d.ts", where="web")
    _run("npx", "prettier", "--write", "--log-level", "warn", "src/lib/api", where="web")
    step("web/src/lib/api/schema.d.ts and terms.ts made from the server")
    return 0


@contextlib.contextmanager
def _ended(*children: subprocess.Popen[bytes]) -> Iterator[None]:
    """Everything started here ends here."""
    try:
        yield
    finally:
        for child in children:
            child.send_signal(signal.SIGINT)
        for child in children:
            child.wait()


def dev(url: str) -> int:
    """`./keen dev`: the server with reload behind Vite, at one address, until Ctrl-C."""
    machine.node_packages()
    server, vite = free_port(), free_port()
    behind = subprocess.Popen(
        [str(PYTHON), "-m", "uvicorn", "keen_tracer.dev:app", "--factory", "--reload",
         "--reload-dir", str(ROOT / "src"), "--host", "127.0.0.1", "--port", str(server)],
        env=environment(url),
    )  # fmt: skip
    front = subprocess.Popen(
        ["npx", "vite", "dev", "--host", "127.0.0.1", "--port", str(vite), "--strictPort"],
        cwd=WEB,
        env={**environment(url), "KEEN_SERVER": f"http://127.0.0.1:{server}"},
    )
    line(f"\n  http://127.0.0.1:{vite}   reloads by itself; Ctrl-C ends\n")
    with _ended(front, behind), contextlib.suppress(KeyboardInterrupt):
        return front.wait()
    return 0


def pictures(words: list[str]) -> int:
    """`./keen pictures`: every kept screenshot, or those named, from the demo."""
    machine.prepare(for_tests=True)
    cluster = Cluster.temporary()
    try:
        cluster.start()
        return subprocess.run(
            [str(PYTHON), "-m", "tests.pictures", *words],
            cwd=ROOT,
            env=environment(cluster.url("postgres")),
        ).returncode
    finally:
        cluster.stop()
