"""An import in a process of its own: it ends where it asks for too much and can be stopped; nothing
is written then."""

from dataclasses import replace
from pathlib import Path
from threading import Thread

import pytest

from keen_tracer.core.roles import Actor
from keen_tracer.storage.db import single
from keen_tracer.storage.errors import Unavailable
from keen_tracer.storage.records import number
from keen_tracer.usecases.importing import child
from keen_tracer.usecases.importing.child import (
    MEMORY,
    Stopped,
    TooMuch,
    Wanted,
    import_in_child,
)
from tests.helpers import write_csv

WHO = Actor("Test Analyst", "analyst")


class Progress:
    """What an import tells, and is asked."""

    def __init__(self, stops: bool = False) -> None:
        self.rows, self.stops = 0, stops

    def told(self, rows: int) -> None:
        self.rows = rows

    def stopped(self) -> bool:
        return self.stops


def engines(folder: Path, n: int) -> tuple[tuple[str, Path], ...]:
    text = "engine,class\n" + "".join(f"E-{k},petrol\n" for k in range(n))
    file = write_csv(folder, "engines.csv", text)
    return ((file.name, file),)


def wanted(url: str, paths: tuple[tuple[str, Path], ...]) -> Wanted:
    return Wanted(url, paths, WHO, accept=False, preview=False, most_rows=200_000)


def test_it_imports_and_says_how_far_it_is(url: str, tmp_path: Path) -> None:
    progress = Progress()
    report = import_in_child(wanted(url, engines(tmp_path, 30)), progress)
    assert (report.written, report.added, progress.rows) == (True, 30, 30)
    with single(url) as c:
        assert number(c, "count_engines") == 30


def test_its_errors_are_those_of_an_import(tmp_path: Path) -> None:
    gone = "postgresql://nobody@127.0.0.1:1/x"
    with pytest.raises(Unavailable):
        import_in_child(wanted(gone, engines(tmp_path, 1)), Progress())


def test_a_stopped_import_writes_nothing(url: str, tmp_path: Path) -> None:
    progress = Progress(stops=True)
    with pytest.raises(Stopped):
        import_in_child(wanted(url, engines(tmp_path, 30)), progress)
    with single(url) as c:
        assert number(c, "count_engines") == 0


def test_an_import_that_takes_too_long_ends(
    url: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The lock of another import holds it up for as long as that one goes on."""
    monkeypatch.setattr(child, "LONGEST_S", 1)
    with single(url) as c, pytest.raises(TooMuch, match="took over"):
        c.execute("select pg_advisory_xact_lock(7316002)")
        import_in_child(wanted(url, engines(tmp_path, 3)), Progress())
    with single(url) as c:
        assert number(c, "count_engines") == 0


def test_two_imports_of_the_same_at_once_come_one_after_the_other(url: str, tmp_path: Path) -> None:
    paths = engines(tmp_path, 500)
    found = []

    def bring() -> None:
        found.append(import_in_child(wanted(url, paths), Progress()))

    both = [Thread(target=bring) for _ in range(2)]
    for one in both:
        one.start()
    for one in both:
        one.join()
    assert sorted(r.added for r in found) == [0, 500]
    assert all(r.written for r in found)


@pytest.mark.parametrize(("memory", "is_memory"), [(1_000_000, True), (MEMORY * 100, False)])
def test_a_connection_lost_at_the_limit_of_memory_is_for_want_of_it(
    memory: int, is_memory: bool
) -> None:
    lost = Unavailable("the database does not answer")
    assert child._found_no_memory(lost, memory) is is_memory


def test_an_import_that_takes_too_much_memory_ends(url: str, tmp_path: Path) -> None:
    small = replace(wanted(url, engines(tmp_path, 100_000)), memory=40_000_000)
    with pytest.raises(TooMuch, match="memory"):
        import_in_child(small, Progress())
    with single(url) as c:
        assert number(c, "count_engines") == 0
