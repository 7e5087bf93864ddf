"""Pages keep what took long to work out. Whatever was written, and in whatever order: what is kept
is what would be worked out now."""

from collections.abc import Callable
from datetime import timedelta
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from keen_tracer.core.limits import default_limits
from keen_tracer.core.roles import at_the_machine
from keen_tracer.storage.db import Connection, single
from keen_tracer.storage.records import publish_limits, row, run
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging.deciding import NewRunDecision, decide_run, sign
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.judging.publishing import publish
from keen_tracer.usecases.pages import assessed, collect, engine, judge, wall
from keen_tracer.usecases.pages import state as state_page
from keen_tracer.usecases.recording.fleet_record import save, save_tightened
from keen_tracer.usecases.recording.log_rows import Event, record_event
from tests.day import TODAY
from tests.helpers import write_csv

WHO = at_the_machine("T")
ENGINES = "engine,class,meter_unit,depot\nE-1,heavy_diesel,h,D\nE-2,heavy_diesel,h,D\n"


def samples(prefix: str, fe: int, ago: int) -> str:
    day = TODAY - timedelta(days=ago)
    lines = [f"{prefix}{n},E-{n},{day},{5000 - 5 * ago},{fe}\n" for n in (1, 2)]
    return "sample,engine,drawn_on,meter,Fe_ppm\n" + "".join(lines)


def bring(url: str, folder: Path, name: str, text: str) -> None:
    file = write_csv(folder, name, text)
    report = import_files(url, [(name, file)], WHO)
    assert report.written, report.problems


def log(c: Connection) -> None:
    record_event(c, Event(id=uuid4(), engine="E-1", on=TODAY, kind="repair"), "T")


def hold(c: Connection) -> None:
    number = c.execute("select id from engine where code = 'E-2'").fetchone()
    standing = row(c, "decision_of_engine", engine=number[0] if number else 0)
    before = standing["id"] if standing else None
    decide_run(c, "E-2", NewRunDecision(state="hold", reason="to see", supersedes=before), WHO)


def sign_one(c: Connection) -> None:
    v = judge.sample(c, "A1")["verdict"]
    standing = judge.sample(c, "A1")["decision"]
    before = standing["id"] if standing else None
    sign(c, "A1", v["level"], v["basis"], before, "", "", WHO)


def rename(c: Connection) -> None:
    found = c.execute("select row_version from engine where code = 'E-1'").fetchone()
    cells = {"engine": "E-1", "class": "heavy_diesel", "meter_unit": "h", "depot": "D"}
    save(c, "engines", {**cells, "name": str(uuid4())}, found[0] if found else 0, "T")


def limits(c: Connection) -> None:
    rows = tuple(r for r in default_limits().rows if r.analyte != "fe")
    publish_limits(c, f"without iron {uuid4()}", "T", rows)
    run(c, "mark_all_stale")


def tighten(c: Connection) -> None:
    share = 0.3 + (uuid4().int % 50) / 100
    save_tightened(c, share, share, "tried", WHO)


def peers(c: Connection) -> None:
    publish(c, "T")


INSIDE: list[Callable[[Connection], None]] = [
    log,
    hold,
    sign_one,
    rename,
    limits,
    tighten,
    peers,
]


def pages(c: Connection) -> list[Any]:
    return [
        wall.wall(c, None, None, "need", 0, 9),
        collect.round_of(c, "D", TODAY),
        collect.round_of(c, "D", TODAY + timedelta(days=30)),
        *(engine.engine(c, f"E-{n}") for n in (1, 2)),
        *(judge.sample(c, f"A{n}") for n in (1, 2)),
        judge.how(c, "A1", "Fe_ppm"),
        {**state_page.state(c, None), "now": None},  # the clock goes on
    ]


def worked_out_now(monkeypatch: pytest.MonkeyPatch, c: Connection) -> list[Any]:
    with monkeypatch.context() as m:
        for page in (assessed, collect, wall, state_page):
            m.setattr(page, "_kept", type(page._kept)(99))
        return pages(c)


step = st.one_of(st.sampled_from(INSIDE), st.just("import"), st.just("judge"))


@settings(
    max_examples=8,
    suppress_health_check=[HealthCheck.function_scoped_fixture],
)
@given(steps=st.lists(step, min_size=6, max_size=14))
def test_what_is_kept_is_what_would_be_worked_out_now(
    new_database: Callable[[], str],
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    steps: list[Any],
) -> None:
    url = new_database()
    bring(url, tmp_path, "depots.csv", "depot\nD\n")
    bring(url, tmp_path, "engines.csv", ENGINES)
    bring(url, tmp_path, "samples.csv", samples("A", 30, 200))
    judge_stale(url)
    for n, one in enumerate(steps):
        with single(url) as c:
            pages(c)
        if one == "import":
            bring(url, tmp_path, "samples.csv", samples(f"N{n}x", 20 + 40 * n, 190 - 10 * n))
        elif one == "judge":
            judge_stale(url)
        else:
            with single(url) as c:
                one(c)
        with single(url) as c:
            assert pages(c) == worked_out_now(monkeypatch, c), one
