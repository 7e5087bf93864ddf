"""The same Stop again, through every door it can come by, and a Stop before anything is judged:
none is swallowed (each was, once)."""

from collections.abc import Callable
from pathlib import Path
from uuid import uuid4

import pytest

from keen_tracer.core.roles import Actor, at_the_machine
from keen_tracer.storage.db import Connection, single
from keen_tracer.storage.records import number, row, rows
from keen_tracer.usecases.exporting import export_folder
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging import judging
from keen_tracer.usecases.judging.deciding import NewRunDecision, answer_amendment, decide_run
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.judging.unjudged import try_again
from keen_tracer.usecases.pages.wall import wall
from keen_tracer.usecases.recording.log_rows import Event, record_event
from keen_tracer.usecases.recording.looks import Look, NewCount, record_look
from tests.day import TODAY
from tests.helpers import write_csv

WHO = "Test Technician"
ENGINES = (
    "engine,class,meter_unit,allowed_grades\nE-1,heavy_diesel,h,15W-40\nE-2,heavy_diesel,h,15W-40\n"
)
READS = f"engine,on,meter,kind\nE-1,{TODAY},218.4,meter_reading\n"
KNOCK = f"engine,on,meter,kind,part\nE-1,{TODAY},218.4,symptom,knock\n"


def bring(url: str, folder: Path, **files: str) -> None:
    paths = [write_csv(folder, name, text) for name, text in files.items()]
    report = import_files(url, [(p.name, p) for p in paths], at_the_machine("t"))
    assert report.written, report.problems


@pytest.fixture
def engine(url: str, tmp_path: Path) -> str:
    bring(url, tmp_path, **{"engines.csv": ENGINES, "events.csv": READS})
    judge_stale(url)
    return url


def state(c: Connection, code: str = "E-1") -> dict:
    found = wall(c, None, None, "need", 0, 50)["rows"]
    return next(r["state"] for r in found if r["code"] == code)


def release(c: Connection, code: str = "E-1") -> None:
    standing = row(c, "decision_of_engine", engine=row(c, "engine_by_code", code=code)["id"])
    want = NewRunDecision(
        state="release",
        found="a worn shell",
        done="renewed it",
        lifts=tuple(r["key"] for r in state(c, code)["reasons"]),
        supersedes=standing["id"] if standing else None,
    )
    decide_run(c, code, want, Actor("Test Releaser", "releaser"))
    assert state(c, code)["may_run"] != "do_not_run"


def knock(c: Connection, meter: float | None = 218.4) -> None:
    event = Event(id=uuid4(), engine="E-1", on=TODAY, kind="symptom", part="knock", dial=meter)
    record_event(c, event, WHO)


@pytest.mark.parametrize("meter", [218.4, None])
def test_a_knock_again_on_the_same_day_at_the_same_hours(engine: str, meter: float | None) -> None:
    with single(engine) as c:
        for _ in range(3):
            knock(c, meter)
            assert state(c)["may_run"] == "do_not_run"
            release(c)


def test_a_filter_with_one_fragment_and_then_forty(engine: str) -> None:
    with single(engine) as c:
        for pieces in (1, 40):
            counts = (NewCount(type="part_fragment", size_class="1-3", count=pieces),)
            look = Look(
                id=uuid4(), engine="E-1", on=TODAY, dial=218.4, place="filter", counts=counts
            )
            record_look(c, look, WHO)
            assert state(c)["may_run"] == "do_not_run", pieces
            release(c)


def test_an_import_of_the_same_row_after_a_release(engine: str, tmp_path: Path) -> None:
    with single(engine) as c:
        knock(c)
        release(c)
    bring(engine, tmp_path, **{"events.csv": KNOCK})
    judge_stale(engine)
    with single(engine) as c:
        assert state(c)["may_run"] == "do_not_run"
        release(c)
    # The same file again is the same file: it is known.
    bring(engine, tmp_path, **{"events.csv": KNOCK})
    judge_stale(engine)
    with single(engine) as c:
        assert state(c)["may_run"] != "do_not_run"


def test_before_a_release_a_row_of_a_file_is_the_one_on_the_page(
    engine: str, tmp_path: Path
) -> None:
    with single(engine) as c:
        knock(c)
    path = write_csv(tmp_path, "events.csv", KNOCK)
    report = import_files(engine, [(path.name, path)], at_the_machine("t"))
    assert (report.files[0].added, report.files[0].known) == (0, 1)


def test_an_export_comes_home_as_itself(engine: str, tmp_path: Path) -> None:
    """Two knocks alike, one of them released: into the same database nothing is added, and into
    an empty one the same engine stands the same."""
    with single(engine) as c:
        knock(c)
        release(c)
        knock(c)
        before = {r["key"] for r in state(c)["reasons"]}
    export_folder(engine, tmp_path / "out")
    paths = [p for p in (tmp_path / "out").glob("*.csv") if p.stem in ("events", "decisions")]
    report = import_files(engine, [(p.name, p) for p in paths], at_the_machine("t"))
    assert report.written, report.problems
    assert report.added == 0
    judge_stale(engine)
    with single(engine) as c:
        assert {r["key"] for r in state(c)["reasons"]} == before


def test_a_report_put_right_from_0_6_to_9_per_cent(engine: str, tmp_path: Path) -> None:
    def report(water: float, revision: int) -> dict[str, str]:
        head = "laboratory,report,revision,sample,analyte,reading,unit,analysed_on\n"
        line = f"Lab,R-1,{revision},W-1,water_pct,{water},%,{TODAY}\n"
        return {"readings.csv": head + line}

    drawn = f"sample,engine,drawn_on,meter,laboratory\nW-1,E-1,{TODAY},218.4,Lab\n"
    bring(engine, tmp_path, **{"samples.csv": drawn, **report(0.6, 1)})
    judge_stale(engine)
    with single(engine) as c:
        assert state(c)["may_run"] == "do_not_run"
        release(c)
    bring(engine, tmp_path, **report(9.0, 2))
    with single(engine) as c:
        pending = rows(c, "pending_amendments")
        answer_amendment(c, pending[0]["id"], True, "a slip", Actor("Test Analyst", "analyst"))
        assert state(c)["may_run"] == "do_not_run"


STOPPING = {
    "a knock": {"events.csv": KNOCK},
    "water": {
        "samples.csv": f"sample,engine,drawn_on,meter,water_pct\nW-1,E-1,{TODAY},218.4,2.0\n"
    },
    "fuel with biodiesel": {
        "samples.csv": "sample,engine,drawn_on,meter,fuel_pct,FAME_pct,KV100_mm2_s\n"
        f"W-1,E-1,{TODAY},218.4,3.0,4.0,8.1\n"
    },
    "a bottle with coolant in it": {
        "samples.csv": "sample,engine,drawn_on,meter,appearance\n"
        f"W-1,E-1,{TODAY},218.4,coolant_visible\n"
    },
    "fragments": {
        "debris.csv": "look,engine,on,meter,place,type,size_class,count\n"
        f"L-1,E-1,{TODAY},218.4,filter,part_fragment,over 3,4\n"
    },
    "a shell to copper": {
        "events.csv": "engine,on,meter,kind,part,details\n"
        f"E-1,{TODAY},218.4,finding,rod_bearing,condition=copper;position=1\n"
    },
}


@pytest.mark.parametrize("what", STOPPING)
def test_what_waits_with_a_stopping_fact_is_stopped_already(
    engine: str, tmp_path: Path, what: str
) -> None:
    """Nobody reads "runs" between an import and its judging."""
    with single(engine) as c:
        assert state(c)["may_run"] in ("unknown", "runs")
    bring(engine, tmp_path, **STOPPING[what])
    with single(engine) as c:
        assert number(c, "stale_count") == 1, "it waits to be judged"
        assert state(c)["may_run"] in ("do_not_run", "not_judged")
        assert state(c, "E-2")["may_run"] not in ("do_not_run", "not_judged")
    judge_stale(engine)
    with single(engine) as c:
        assert state(c)["may_run"] == "do_not_run"


def test_what_is_harmless_halts_nobody_while_it_waits(engine: str, tmp_path: Path) -> None:
    quiet = f"engine,on,meter,kind,part\nE-1,{TODAY},219,repair,water pump\n"
    drawn = f"sample,engine,drawn_on,meter,Fe_ppm,water_pct\nW-1,E-1,{TODAY},220,9,0.02\n"
    bring(engine, tmp_path, **{"events.csv": quiet, "samples.csv": drawn})
    with single(engine) as c:
        assert number(c, "stale_count") == 1
        assert state(c)["may_run"] in ("unknown", "runs")


@pytest.fixture
def poison(monkeypatch: pytest.MonkeyPatch) -> Callable[[], None]:
    """Makes judging fail, as a figure nobody thought of would; gives what mends it."""
    true = judging.judge_engines

    def failing(c, ids, held, fresh=None):
        raise ArithmeticError("a figure nobody thought of")

    monkeypatch.setattr(judging, "judge_engines", failing)
    return lambda: monkeypatch.setattr(judging, "judge_engines", true)


def test_a_stop_on_an_engine_that_cannot_be_judged_is_raised(engine: str, poison) -> None:
    with single(engine) as c:
        knock(c)
        assert state(c)["may_run"] == "do_not_run"
        assert "nock" in state(c)["what"]
        assert [r["key"].split(":")[3] for r in rows(c, "raised_stops", engines=[1])] == ["knock"]
    poison()
    with single(engine) as c:
        try_again(c)
    judge_stale(engine)
    with single(engine) as c:
        assert state(c)["may_run"] == "do_not_run"
        release(c)


def test_a_harmless_row_on_an_engine_that_cannot_be_judged_stops_nobody(
    engine: str, poison
) -> None:
    with single(engine) as c:
        event = Event(id=uuid4(), engine="E-1", on=TODAY, kind="symptom", part="smoke", dial=218.4)
        record_event(c, event, WHO)
        assert state(c)["may_run"] == "not_judged"
        assert rows(c, "raised_stops", engines=[1]) == []


def test_what_has_no_meter_lifts_nothing(engine: str, tmp_path: Path) -> None:
    """A permission that has run out stays out, whatever comes without a figure of the dial."""
    with single(engine) as c:
        knock(c)
        want = NewRunDecision(
            state="restrict",
            until=220.0,
            reason="to the yard",
            found="a knock",
            done="nothing yet",
            lifts=tuple(r["key"] for r in state(c)["reasons"]),
        )
        decide_run(c, "E-1", want, Actor("Test Releaser", "releaser"))
        assert state(c)["may_run"] == "run_until"
        read = Event(id=uuid4(), engine="E-1", on=TODAY, kind="meter_reading", dial=225.0)
        record_event(c, read, WHO)
        assert state(c)["may_run"] == "past_its_time"
        blind = Event(id=uuid4(), engine="E-1", on=TODAY, kind="symptom", part="smoke")
        record_event(c, blind, WHO)
        assert state(c)["may_run"] == "past_its_time"
    drawn = f"sample,engine,drawn_on,Fe_ppm\nW-1,E-1,{TODAY},9\n"
    bring(engine, tmp_path, **{"samples.csv": drawn})
    judge_stale(engine)
    with single(engine) as c:
        assert state(c)["may_run"] == "past_its_time"
