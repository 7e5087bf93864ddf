"""Processes of our own program, started by it."""

import os
import sys


def child_environment() -> dict[str, str]:
    """The environment in which a child finds the program where this process found it."""
    return {**os.environ, "PYTHONPATH": os.pathsep.join(filter(None, sys.path))}
