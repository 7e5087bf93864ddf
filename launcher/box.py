"""The demo's data in a box beside a person's own: filled when a page asks for it, served on a port
of its own, emptied again.

The web process owns no database; it can only ask. What it wants, and what became of it, are two
small files in one folder that both sides know (`src/keen_tracer/api/box.py`).
"""

import json
import signal
import subprocess
import threading
from pathlib import Path

from .keeper import ends_with_parent
from .paths import PYTHON
from .workshop import environment

LOOK_S = 0.5  # how often it is looked what a page wants; our choice
UP_S = 60.0  # a web process may take to answer; our choice
WANTED, STATE, ADDRESS = "wanted", "state.json", "address"


class Box:
    """One box: its folder, its database as its owner and as its web process."""

    def __init__(self, folder: Path, owner_url: str, web_url: str, secret: str):
        self.folder, self.owner_url, self.web_url, self._secret = (
            folder,
            owner_url,
            web_url,
            secret,
        )
        self.child: subprocess.Popen[bytes] | None = None
        self.of = ""
        folder.mkdir(parents=True, exist_ok=True)
        (folder / WANTED).unlink(missing_ok=True)
        self._tell("closed" if self._was_filled() else "none")

    def _was_filled(self) -> bool:
        state = self.folder / STATE
        known = json.loads(state.read_text()) if state.exists() else {}
        return known.get("state") in ("ready", "closed", "filling")

    def _tell(self, state: str, said: str = "", address: str = "") -> None:
        made = self.folder / f"{STATE}.new"
        made.write_text(json.dumps({"state": state, "said": said, "address": address}))
        made.replace(self.folder / STATE)

    def run(self, ending: threading.Event) -> None:
        """Do what pages want, until the program ends."""
        try:
            while not ending.wait(LOOK_S):
                self.look()
        finally:
            self._stop()

    def look(self) -> None:
        """Do what is wanted now, if anything is."""
        wanted = self.folder / WANTED
        if not wanted.exists():
            return
        want, _, self.of = wanted.read_text().partition(" ")
        up = self.child is not None and self.child.poll() is None
        # Told before the wish is taken away: whoever looks in between sees one of the two.
        if want == "fill" and not up:
            self._tell("filling")
        elif want == "empty":
            self._tell("emptying")
        wanted.unlink()
        if want == "empty":
            self._empty()
        elif not up:
            self._fill()

    def _program(self, command: str, *arguments: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [str(PYTHON), "-m", "keen_tracer.cli", command, *arguments],
            env={**environment(self.owner_url), "KEEN_WEB_SECRET": self._secret},
            capture_output=True,
            text=True,
        )

    def _fill(self) -> None:
        done = self._program("prepare", "--demo")
        if done.returncode:
            self._tell("failed", done.stderr.strip()[-300:])
            return
        address = self.folder / ADDRESS
        address.unlink(missing_ok=True)
        command = [str(PYTHON), "-m", "keen_tracer.cli", "serve", "--prepared"]
        self.child = subprocess.Popen(
            [*command, "--address-file", str(address)],
            env={
                **environment(self.web_url),
                "KEEN_BOX": str(self.folder),
                "KEEN_BOX_OF": self.of,
            },
            stdout=subprocess.DEVNULL,
            preexec_fn=ends_with_parent(signal.SIGTERM),
        )
        waited = threading.Event()
        for _ in range(int(UP_S / LOOK_S)):
            if address.exists() and address.read_text():
                self._tell("ready", address=address.read_text().strip())
                return
            if self.child.poll() is not None:
                break
            waited.wait(LOOK_S)
        self._stop()
        self._tell("failed", "its pages did not come up")

    def _empty(self) -> None:
        self._stop()
        done = self._program("empty-box")
        self._tell("failed" if done.returncode else "none", done.stderr.strip()[-300:])

    def _stop(self) -> None:
        if self.child is not None:
            self.child.terminate()
            self.child.wait()
            self.child = None
