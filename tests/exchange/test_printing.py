"""Sheets are drawn by a process that waits for them, each by a child of its own."""

import os
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest

from keen_tracer.exchange import printing
from keen_tracer.exchange.layouts import pdf_text
from keen_tracer.exchange.printing import CannotPrint, printed
from keen_tracer.exchange.processes import child_environment

DIES_AT_ONCE = """
import os
from keen_tracer.exchange import printing
from keen_tracer.exchange.layouts import pdf_text
printing.printed("<p>one</p>", None)
print(printing._DRAWER._child.pid, flush=True)
os._exit(1)
"""


@pytest.fixture
def drawer() -> Iterator[printing._Drawer]:
    """The process that draws, waiting."""
    assert printed("<p>first</p>", None).startswith(b"%PDF")
    yield printing._DRAWER


def pid(drawer: printing._Drawer) -> int:
    assert drawer._child is not None
    return drawer._child.pid


def test_sheets_asked_at_once_come_from_one_process_each_its_own(
    drawer: printing._Drawer, tmp_path: Path
) -> None:
    before = pid(drawer)
    sheets = [f"<p>Sheet number {n}</p>" for n in range(8)]
    with ThreadPoolExecutor(4) as asking:
        drawn = list(asking.map(lambda sheet: printed(sheet, None), sheets))
    for n, pdf in enumerate(drawn):
        path = tmp_path / f"{n}.pdf"
        path.write_bytes(pdf)
        assert pdf_text(path).strip() == f"Sheet number {n}"
    assert pid(drawer) == before


@pytest.mark.parametrize("asked", ["http://127.0.0.1:1/x.png", "file:///etc/hostname"])
def test_a_sheet_that_asks_for_a_file_is_refused_and_the_next_is_drawn(
    drawer: printing._Drawer, asked: str
) -> None:
    before = pid(drawer)
    with pytest.raises(CannotPrint, match="Error fetching"):
        printed(f'<img src="{asked}">', None)
    assert printed("<p>next</p>", None).startswith(b"%PDF")
    assert pid(drawer) == before


def test_a_process_that_was_killed_is_started_again(drawer: printing._Drawer) -> None:
    before = pid(drawer)
    os.kill(before, signal.SIGKILL)
    assert printed("<p>next</p>", None).startswith(b"%PDF")
    assert pid(drawer) != before


def test_a_sheet_that_takes_too_long_is_ended_and_the_next_is_drawn() -> None:
    endless = "<p>" + "word " * 400_000
    with pytest.raises(CannotPrint, match="took over 1 s"):
        printed(endless, None, longest_s=1)
    assert printed("<p>next</p>", None).startswith(b"%PDF")


def test_it_ends_with_the_program_that_started_it() -> None:
    done = subprocess.run(
        [sys.executable, "-c", DIES_AT_ONCE],
        capture_output=True,
        text=True,
        env=child_environment(),
    )
    waits = int(done.stdout)
    until = time.monotonic() + 60
    while time.monotonic() < until and Path(f"/proc/{waits}/stat").exists():
        if " Z " in Path(f"/proc/{waits}/stat").read_text():
            break  # ended; nobody has fetched its answer yet
        time.sleep(0.05)
    else:
        assert not Path(f"/proc/{waits}").exists(), "it is still there"
