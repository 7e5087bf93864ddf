"""An import taken back: whole or not at all, nothing erased, and the same files come in again."""

from pathlib import Path
from uuid import uuid4

import pytest

from keen_tracer.core.roles import Actor, NotAllowed
from keen_tracer.storage.db import single
from keen_tracer.storage.records import row, rows
from keen_tracer.usecases.errors import CannotRecord, NotThere
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.importing.taking_back import take_back, taking_back
from keen_tracer.usecases.importing.task import ImportReport
from keen_tracer.usecases.judging.deciding import sign
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.pages import engine, judge, queue
from keen_tracer.usecases.pages.wall import wall
from keen_tracer.usecases.recording.correcting import Correction, correct
from tests.helpers import DAY, write_csv

ANN, BEN, ADMIN = Actor("Ann", "analyst"), Actor("Ben", "analyst"), Actor("Ada", "admin")
ENGINES = "engine,class,meter_unit\nE-1,heavy_diesel,h\n"
BASE = "engine,on,meter,kind,litres_in,oil\nE-1,2026-01-05,1000,oil_change,30,Test oil\n"
EVENTS = "engine,on,meter,kind,part\nE-1,2026-02-11,1130,symptom,knock\n"
SAMPLES = (
    "sample,engine,drawn_on,meter,laboratory,Fe_ppm,Pb_ppm\nS-1,E-1,2026-02-10,1125,Lab,20,3\n"
)
READINGS = "laboratory,report,sample,analyte,reading\nOther,77,S-1,Cu_ppm,4\n"
DEBRIS = (
    "look,engine,on,meter,place,tool,type,count\nL-1,E-1,2026-02-12,1131,filter,,copper_flakes,3\n"
)


@pytest.fixture
def fleet(url: str, tmp_path: Path) -> str:
    bring(url, tmp_path, ADMIN, engines=ENGINES, events=BASE)
    return url


def bring(url: str, folder: Path, who: Actor = ANN, **files: str) -> ImportReport:
    paths = [write_csv(folder, f"{name}.csv", text) for name, text in files.items()]
    report = import_files(url, [(p.name, p) for p in paths], who)
    assert report.written, report.problems
    judge_stale(url)
    return report


def newest(url: str) -> int:
    with single(url) as c:
        return rows(c, "sources")[0]["id"]


def undo(url: str, source: int | None = None, who: Actor = ANN, reason: str = "read wrong"):
    with single(url) as c:
        done = take_back(c, source or newest(url), reason, who)
    judge_stale(url)
    return done


def standing(url: str) -> dict:
    with single(url) as c:
        return wall(c, None, None, "need", 0, 9)["rows"][0]


def counted(url: str, log: str, report: str) -> tuple[int, int, int]:
    """Rows of the log, reports, and the figures of those reports, as two tables or views say."""
    figures = f"reading x join {report} r on r.id = x.report_id"
    with single(url) as c:
        n = [c.execute(f"select count(*) from {t}").fetchone()[0] for t in (log, report, figures)]  # noqa: S608 - names from this file
    return n[0], n[1], n[2]


def on_record(url: str) -> tuple[int, int, int]:
    """What stands on record."""
    return counted(url, "log_now", "report_in_effect")


def everything(url: str) -> tuple[int, int, int]:
    """What there ever was."""
    return counted(url, "log", "report")


ALL = {"samples": SAMPLES, "readings": READINGS, "debris": DEBRIS}


def test_what_came_in_together_goes_together_and_nothing_is_erased(
    fleet: str, tmp_path: Path
) -> None:
    before, had = on_record(fleet), standing(fleet)
    bring(fleet, tmp_path, **ALL)
    assert on_record(fleet) == (3, 2, 3)
    kept = everything(fleet)
    done = undo(fleet)
    assert done["done"]
    assert (done["samples"], done["looks"], done["events"]) == (1, 1, 0)
    assert (done["reports"], done["figures"]) == (2, 3)
    assert done["engines"] == ["E-1"]
    assert on_record(fleet) == before
    assert standing(fleet)["state"]["may_run"] == had["state"]["may_run"]
    after = everything(fleet)
    assert after == (kept[0] + 2, *kept[1:]), "two rows take two back; none goes"


def test_no_page_shows_what_was_taken_back(fleet: str, tmp_path: Path) -> None:
    bring(fleet, tmp_path, **ALL)
    undo(fleet)
    with single(fleet) as c:
        with pytest.raises(NotThere):
            judge.sample(c, "S-1")
        assert queue.waiting(c) == []
        assert engine.engine(c, "E-1")["samples"] == []
        assert [x["kind"] for x in engine.engine(c, "E-1")["events"]] == ["oil_change"]
        assert not rows(c, "bottles_out", since=DAY, today=DAY)


@pytest.mark.parametrize("times", [1, 2])
def test_the_same_files_come_in_again_and_are_known_after_that(
    fleet: str, tmp_path: Path, times: int
) -> None:
    first = bring(fleet, tmp_path, **ALL, events=EVENTS)
    stood = on_record(fleet)
    for _ in range(times):
        undo(fleet)
        again = bring(fleet, tmp_path, **ALL, events=EVENTS)
        assert [f.added for f in again.files] == [f.added for f in first.files]
        assert not again.amendments
        assert on_record(fleet) == stood
    known = bring(fleet, tmp_path, **ALL, events=EVENTS)
    assert [f.added for f in known.files] == [0, 0, 0, 0]
    assert on_record(fleet) == stood


def test_a_file_put_right_comes_in_in_its_place(fleet: str, tmp_path: Path) -> None:
    bring(fleet, tmp_path, samples=SAMPLES.replace(",20,3", ",2000,300"))
    undo(fleet)
    report = bring(fleet, tmp_path, samples=SAMPLES.replace("1125", "1120"))
    assert not report.amendments
    with single(fleet) as c:
        found = c.execute(
            "select value from reading x join report_in_effect r on r.id = x.report_id"
        )
        assert sorted(v for (v,) in found.fetchall()) == [3, 20]


def test_a_stop_the_import_raised_stands_until_it_is_released(fleet: str, tmp_path: Path) -> None:
    bring(fleet, tmp_path, samples=SAMPLES.replace("Pb_ppm", "water_pct").replace(",20,3", ",20,9"))
    assert standing(fleet)["state"]["may_run"] == "do_not_run"
    undo(fleet)
    assert standing(fleet)["state"]["may_run"] == "do_not_run"


def _sign(url: str, folder: Path) -> None:
    with single(url) as c:
        sample = row(c, "sample_id", code="S-1")
        assert sample is not None
        basis = rows(c, "current_hashes", samples=[sample["id"]])[0]["input_hash"]
        sign(c, "S-1", 0, basis, None, "", "", BEN)


def _correct(url: str, folder: Path) -> None:
    with single(url) as c:
        drawn = row(c, "draw_of_sample", code="S-1")
        assert drawn is not None
        correct(
            c, Correction(uuid4(), drawn["log_id"], "read again", None, {"dial": 1126.0}), "Ben"
        )


def _again(url: str, folder: Path) -> None:
    bring(url, folder, BEN, samples=SAMPLES.replace(",20,3", ",21,3"))


@pytest.mark.parametrize(
    ("since", "said"),
    [
        (_sign, "sample S-1 was signed by Ben"),
        (_correct, "a row of E-1 was corrected"),
        (_again, "came in again"),
    ],
    ids=["signed", "corrected", "again"],
)
def test_what_somebody_did_since_keeps_it(fleet: str, tmp_path: Path, since, said: str) -> None:
    bring(fleet, tmp_path, samples=SAMPLES)
    source, stood = newest(fleet), on_record(fleet)
    since(fleet, tmp_path)
    now = on_record(fleet)
    with single(fleet) as c:
        assert any(said in x["words"] for x in taking_back(c, source, ANN)["in_the_way"])
    with pytest.raises(CannotRecord, match="cannot be taken back whole"):
        undo(fleet, source)
    assert on_record(fleet) == now
    assert now[0] == stood[0]


def test_an_import_of_what_people_answer_for_is_not_taken_back(fleet: str, tmp_path: Path) -> None:
    outcomes = "engine,on,found,confirmed,by\nE-1,2026-02-14,nothing,no,Ann\n"
    bring(fleet, tmp_path, outcomes=outcomes)
    with pytest.raises(CannotRecord, match=r"outcomes\.csv holds what people answer for"):
        undo(fleet)


def test_engines_stay_and_it_is_said(url: str, tmp_path: Path) -> None:
    bring(url, tmp_path, engines=ENGINES, events=BASE)
    done = undo(url)
    assert done["stays"] == ["the engines"]
    assert on_record(url)[0] == 0
    assert standing(url)["code"] == "E-1"


def test_another_one_s_import_takes_an_administrator(fleet: str, tmp_path: Path) -> None:
    bring(fleet, tmp_path, samples=SAMPLES)
    with single(fleet) as c:
        said = [x["words"] for x in taking_back(c, newest(fleet), BEN)["in_the_way"]]
    assert said == [
        "an analyst may not take back what somebody else brought in: an administrator does"
    ]
    with pytest.raises(NotAllowed):
        undo(fleet, who=BEN)
    assert undo(fleet, who=ADMIN)["done"]


@pytest.mark.parametrize("reason", ["", "  "])
def test_a_reason_is_given(fleet: str, tmp_path: Path, reason: str) -> None:
    bring(fleet, tmp_path, samples=SAMPLES)
    with pytest.raises(CannotRecord, match="say why"):
        undo(fleet, reason=reason)


def test_twice_is_once(fleet: str, tmp_path: Path) -> None:
    bring(fleet, tmp_path, samples=SAMPLES)
    source = newest(fleet)
    undo(fleet, source)
    with pytest.raises(CannotRecord, match="already"):
        undo(fleet, source)


def test_no_such_import(fleet: str) -> None:
    with pytest.raises(NotThere):
        undo(fleet, 99999)
