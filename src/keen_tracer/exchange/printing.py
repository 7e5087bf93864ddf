"""PDFs, drawn in a process of their own: what goes wrong there, or takes too long, ends there."""

import subprocess
import sys
from pathlib import Path

from .processes import child_environment

LONGEST_S = 60  # seconds a sheet may take; our choice


class CannotPrint(Exception):
    """A sheet that could not be drawn."""


def printed(html: str, font: Path | None) -> bytes:
    """The pages of `html` as PDF. Raises CannotPrint."""
    command = [sys.executable, "-m", f"{__package__}.pdf", *([str(font)] if font else [])]
    try:
        done = subprocess.run(
            command,
            input=html.encode(),
            capture_output=True,
            timeout=LONGEST_S,
            env=child_environment(),
        )
    except subprocess.TimeoutExpired as error:
        raise CannotPrint(f"drawing the sheet took over {LONGEST_S} s") from error
    if done.returncode:
        raise CannotPrint(done.stderr.decode(errors="replace")[-500:])
    return done.stdout
