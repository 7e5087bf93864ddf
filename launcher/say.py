"""How the launcher speaks: one line a step, and errors that say what to do."""

import sys
import time


class Stop(Exception):
    """Something the launcher cannot go on from. The text says what, where and what to do."""


_started = time.monotonic()


def step(text: str) -> None:
    """Print one step, with the seconds since the start."""
    print(f"  {time.monotonic() - _started:5.1f} s  {text}", flush=True)


def line(text: str = "") -> None:
    print(text, flush=True)


def problem(text: str) -> None:
    print(f"keen: {text}", file=sys.stderr, flush=True)
