"""One engine that cannot be judged stops nobody else, says so everywhere, and is cleared by
nothing."""

from collections.abc import Callable
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path

import pytest

from keen_tracer.core.roles import Actor, at_the_machine
from keen_tracer.core.status import NEVER_LOOKED_AT, may_run_now, not_judged
from keen_tracer.storage.db import single
from keen_tracer.storage.records import number, rows, run
from keen_tracer.usecases.errors import CannotDecide
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging import judging
from keen_tracer.usecases.judging.deciding import NewRunDecision, decide_run
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.judging.unjudged import try_again
from keen_tracer.usecases.pages import queue, state
from keen_tracer.usecases.pages.run import runs
from keen_tracer.usecases.pages.wall import wall
from tests.day import TODAY
from tests.helpers import write_csv

ENGINES = "engine,class,meter_unit\n" + "".join(f"E-{n},heavy_diesel,h\n" for n in (1, 2, 3))
SAMPLES = "sample,engine,drawn_on,meter,Fe_ppm\n" + "".join(
    f"S-{n},E-{n},{TODAY - timedelta(days=1)},1125,400\n" for n in (1, 2, 3)
)
# Past the figure at which a test of the resort's kind of engine stops it: water of 1 per cent.
STOPPED = "sample,engine,drawn_on,meter,water_pct\nS-9,E-2,2026-03-10,1225,1.0\n"


def bring(url: str, folder: Path, **files: str) -> None:
    paths = [write_csv(folder, name, text) for name, text in files.items()]
    report = import_files(url, [(p.name, p) for p in paths], at_the_machine("t"))
    assert report.written, report.problems


@pytest.fixture
def poison(monkeypatch: pytest.MonkeyPatch) -> Callable[[str], None]:
    """Makes judging fail on one engine, as a figure nobody thought of would."""

    def of(code: str) -> None:
        true = judging.judge_engines

        def failing(c, ids, held, fresh=None):
            codes = {r["code"] for r in rows(c, "engine_codes") if code == r["code"]}
            key = c.execute("select id from engine where code = %s", [code]).fetchone()[0]
            if codes and key in ids:
                raise ArithmeticError("a figure nobody thought of")
            return true(c, ids, held, fresh)

        monkeypatch.setattr(judging, "judge_engines", failing)

    return of


def line(url: str, code: str) -> dict:
    with single(url) as c:
        return next(r for r in wall(c, None, None, "need", 0, 50)["rows"] if r["code"] == code)


def test_the_others_go_on(url: str, tmp_path: Path, poison) -> None:
    bring(url, tmp_path, **{"engines.csv": ENGINES, "samples.csv": SAMPLES})
    poison("E-2")
    judge_stale(url)
    with single(url) as c:
        assert {r["sample"] for r in queue.waiting(c)} == {"S-1", "S-3"}
        assert number(c, "stale_count") == 0
        shown = state.state(c, None)
    assert [u["code"] for u in shown["unjudged"]] == ["E-2"]
    assert "incident" in shown["unjudged"][0]["why"]


def test_its_state_says_so_on_every_place(url: str, tmp_path: Path, poison) -> None:
    bring(url, tmp_path, **{"engines.csv": ENGINES, "samples.csv": SAMPLES})
    judge_stale(url)
    assert line(url, "E-2")["level"] == 2
    poison("E-2")
    with single(url) as c:
        run(c, "mark_all_stale")
    judge_stale(url)
    stands = line(url, "E-2")
    assert (stands["group"], stands["level"]) == ("not_judged", None)
    assert stands["state"]["what"].startswith("Cannot be judged")
    assert "Raised before" in stands["state"]["what"]
    with single(url) as c:
        assert next(r for r in runs(c)["rows"] if r["code"] == "E-2")["state"] == stands["state"]
        groups = {g["key"]: g["count"] for g in wall(c, None, None, "need", 0, 50)["groups"]}
    assert groups["not_judged"] == 1


def test_a_stop_stands_and_a_hold_is_always_taken(url: str, tmp_path: Path, poison) -> None:
    bring(url, tmp_path, **{"engines.csv": ENGINES, "samples.csv": STOPPED})
    judge_stale(url)
    assert line(url, "E-2")["state"]["may_run"] == "do_not_run"
    poison("E-2")
    poison("E-1")
    with single(url) as c:
        run(c, "mark_all_stale")
    judge_stale(url)
    assert line(url, "E-2")["state"]["may_run"] == "do_not_run"
    with pytest.raises(CannotDecide, match="cannot be judged"), single(url) as c:
        lifts = tuple(r["key"] for r in line(url, "E-2")["state"]["reasons"])
        want = NewRunDecision(state="release", found="f", done="d", lifts=lifts)
        decide_run(c, "E-2", want, Actor("Test Releaser", "releaser"))
    with single(url) as c:
        decide_run(
            c,
            "E-1",
            NewRunDecision(state="hold", reason="no"),
            Actor("Test Technician", "technician"),
        )
    assert line(url, "E-1")["state"]["may_run"] == "do_not_run"
    assert "Test Technician holds it" in line(url, "E-1")["state"]["what"]


def test_it_leaves_the_list_once_it_can_be_judged(
    url: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, poison
) -> None:
    bring(url, tmp_path, **{"engines.csv": ENGINES, "samples.csv": SAMPLES})
    with monkeypatch.context():
        true = judging.judge_engines
        poison("E-2")
        judge_stale(url)
        monkeypatch.setattr(judging, "judge_engines", true)
    with single(url) as c:
        try_again(c)
    judge_stale(url)
    with single(url) as c:
        assert rows(c, "unjudged") == []
    assert line(url, "E-2")["level"] == 2


def test_a_permission_that_has_run_out_stays_over() -> None:
    before = replace(NEVER_LOOKED_AT, may_run="run_until", until=3120.0, level=2)
    now = not_judged(before, "a figure", date(2026, 11, 27), None)
    assert may_run_now(now.may_run, now.until, now.until_on, 3121.0, TODAY) == ("past_its_time")
    assert may_run_now(now.may_run, now.until, now.until_on, 3100.0, TODAY) == "not_judged"


def test_new_engines_stand_on_run_before_they_are_judged(url: str, tmp_path: Path) -> None:
    bring(url, tmp_path, **{"engines.csv": ENGINES})
    with single(url) as c:
        assert {r["state"]["may_run"] for r in runs(c)["rows"]} == {"unknown"}
