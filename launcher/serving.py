"""Serving: the program is kept up on its port, and what is due beside it is done: backups."""

import signal
import subprocess
import threading
import time

from .box import Box
from .keeper import LONG_UP_S, ends_with_parent, pauses
from .paths import HOME, PYTHON
from .say import line, problem
from .workshop import environment

ASKED_TO_END = (0, 130, -signal.SIGINT, -signal.SIGTERM)
FIRST_S, EVERY_S = 60.0, 3600.0  # when it is looked whether a backup is due; our choice


class Serving:
    """One `./keen serve` or `./keen demo`: the web process under care."""

    def __init__(self, web_url: str, owner_url: str, port: int | None, box: Box | None = None):
        self.web_url, self.owner_url, self.port, self.box = web_url, owner_url, port, box
        self.child: subprocess.Popen[bytes] | None = None
        self.ending = threading.Event()

    def _start(self) -> subprocess.Popen[bytes]:
        address = HOME / "address"
        command = [str(PYTHON), "-m", "keen_tracer.cli", "serve", "--prepared"]
        command += ["--address-file", str(address), *(["--port", str(self.port)] * bool(self.port))]
        more = {"KEEN_BOX": str(self.box.folder)} if self.box else {}
        return subprocess.Popen(
            command,
            env={**environment(self.web_url), **more},
            preexec_fn=ends_with_parent(signal.SIGTERM),
        )

    def _pass_on(self, number: int, _frame: object) -> None:
        self.ending.set()
        if self.child is not None:
            self.child.send_signal(number)

    def run(self) -> int:
        """Until somebody ends it; a program that ends by itself is started again."""
        before = {s: signal.signal(s, self._pass_on) for s in (signal.SIGTERM, signal.SIGHUP)}
        threading.Thread(target=self._backups, daemon=True).start()
        box = threading.Thread(target=self.box.run, args=(self.ending,)) if self.box else None
        if box:
            box.start()
        try:
            return self._keep_up()
        finally:
            self.ending.set()
            if box:
                box.join()
            for number, handler in before.items():
                signal.signal(number, handler)

    def _keep_up(self) -> int:
        waits = pauses()
        while True:
            begun, self.child = time.monotonic(), self._start()
            code = self._wait(self.child)
            up = (HOME / "address").exists()
            if self.ending.is_set() or code in ASKED_TO_END or not up:
                return code
            if time.monotonic() - begun > LONG_UP_S:
                waits = pauses()
            self.port = int((HOME / "address").read_text().rsplit(":", 1)[1])
            pause = next(waits)
            problem(f"the program ended by itself ({code}); it starts again in {pause:g} s")
            if self.ending.wait(pause):
                return code

    def _wait(self, child: subprocess.Popen[bytes]) -> int:
        while True:
            try:
                return child.wait()
            except KeyboardInterrupt:
                self.ending.set()  # the terminal sent it to the program too; it ends by itself

    def _backups(self) -> None:
        """A backup a day while serving, and now and then one is tried: by the owner's login, which
        the web process does not have."""
        command = [str(PYTHON), "-m", "keen_tracer.cli", "keep-backups", str(HOME / "backups")]
        wait = FIRST_S
        while not self.ending.wait(wait):
            wait = EVERY_S
            done = subprocess.run(
                command,
                env={**environment(self.owner_url), "PYTHONWARNINGS": "ignore"},
                capture_output=True,
                text=True,
            )
            if done.returncode:
                problem(f"the daily backup failed: {done.stderr.strip()[-300:]}")
            elif done.stdout.strip():
                line(done.stdout.rstrip())
