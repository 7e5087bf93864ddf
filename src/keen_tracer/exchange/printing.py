"""PDFs, drawn in a process of their own: what goes wrong there, or takes too long, ends there.

Loading the package that draws takes a second. One process loads it and waits (`pdf.py`); for each
sheet it is handed one end of a pair of sockets and forks a child that draws the sheet and ends.
"""

import atexit
import socket
import subprocess
import sys
from pathlib import Path
from threading import Lock
from time import monotonic

from .processes import child_environment

LONGEST_S = 60  # seconds of a processor's time a sheet may take; our choice
BUSY = 4  # times as long by the clock, on a machine that does other work; our choice
STARTS_S = 30  # and the process that draws, to load; our choice
DRAWN = b"+"  # the first byte of an answer that is a PDF; else its words say what went wrong


class CannotPrint(Exception):
    """A sheet that could not be drawn."""


class _Drawer:
    """The process that waits for sheets, started with the first of them and again after it
    ended."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._child: subprocess.Popen[bytes] | None = None
        self._control: socket.socket | None = None

    def _start(self) -> socket.socket:
        self.stop()
        self._control, theirs = socket.socketpair()
        with theirs:
            self._child = subprocess.Popen(
                [sys.executable, "-m", f"{__package__}.pdf", str(theirs.fileno())],
                pass_fds=(theirs.fileno(),),
                stdin=subprocess.DEVNULL,
                env=child_environment(),
            )
        return self._control

    def hand(self, theirs: socket.socket) -> None:
        """Give one end of a pair to the process; it reads a sheet from it and answers there."""
        with self._lock:
            control = self._control
            if control is None or self._child is None or self._child.poll() is not None:
                control = self._start()
            try:
                socket.send_fds(control, [b"!"], [theirs.fileno()])
            except OSError:  # it ended in between
                socket.send_fds(self._start(), [b"!"], [theirs.fileno()])

    def stop(self) -> None:
        """End the process; a sheet that is being drawn is still answered."""
        if self._control is not None:
            self._control.close()
        if self._child is not None:
            self._child.wait()
        self._control = self._child = None


_DRAWER = _Drawer()
atexit.register(_DRAWER.stop)


def _asked(sheet: bytes, longest_s: int) -> bytes:
    """The answer to one sheet; empty where the child that drew it ended without one."""
    ours, theirs = socket.socketpair()
    with ours:
        with theirs:
            _DRAWER.hand(theirs)
        ours.settimeout(BUSY * longest_s + STARTS_S)
        try:
            ours.sendall(sheet)
            ours.shutdown(socket.SHUT_WR)
            with ours.makefile("rb") as answer:
                return answer.read()
        except OSError:  # the other end is there no more
            return b""


def printed(html: str, font: Path | None, longest_s: int = LONGEST_S) -> bytes:
    """The pages of `html` as PDF. Raises CannotPrint."""
    sheet = f"{longest_s} {font or ''}\n{html}".encode()
    began = monotonic()
    answer = _asked(sheet, longest_s)
    if not answer and monotonic() - began < longest_s:
        answer = _asked(sheet, longest_s)  # whoever drew it was ended from outside
    if not answer:
        raise CannotPrint(f"drawing the sheet took over {longest_s} s, or too much memory")
    if not answer.startswith(DRAWN):
        raise CannotPrint(answer.decode(errors="replace")[-500:])
    return answer[len(DRAWN) :]
