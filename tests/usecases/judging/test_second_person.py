"""A site may ask for a second person: who signed a Stop or did the work on it lifts it no more."""

from pathlib import Path

import pytest

from keen_tracer.core.roles import Actor, NotAllowed, at_the_machine
from keen_tracer.storage.db import single
from keen_tracer.storage.records import row, rows
from keen_tracer.usecases.errors import CannotDecide
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging import second_person
from keen_tracer.usecases.judging.deciding import NewRunDecision, decide_run, sign
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.judging.stored_state import state_of
from keen_tracer.usecases.pages.run import runs
from tests.day import TODAY
from tests.helpers import write_csv

ADMIN, ONE, OTHER = Actor("Ada", "admin"), Actor("Runa", "releaser"), Actor("Sten", "releaser")
FILES = {
    "engines.csv": "engine,class,meter_unit\nE-1,heavy_diesel,h\n",
    "oils.csv": "oil,grade,batch,Fe_ppm,K_ppm\nT,15W-40,1,1,1\n",
    "events.csv": "engine,on,meter,kind,oil,grade,batch\n"
    "E-1,2026-01-05,1000,oil_change,T,15W-40,1\n",
    "samples.csv": "sample,engine,drawn_on,meter,laboratory,Fe_ppm,water_pct\n"
    "S-1,E-1,2026-02-10,1125,Lab,20,1.2\n",
}


def bring(url: str, folder: Path, who: Actor, files: dict[str, str]) -> None:
    paths = [write_csv(folder, name, text) for name, text in files.items()]
    report = import_files(url, [(p.name, p) for p in paths], who)
    assert report.written, report.problems
    judge_stale(url)


@pytest.fixture
def stopped(url: str, tmp_path: Path) -> str:
    """One engine with water past the Stop, signed by Runa."""
    bring(url, tmp_path, at_the_machine("t"), FILES)
    with single(url) as c:
        waits = row(c, "verdict_of_sample", sample=1)
        assert waits is not None
        sign(c, "S-1", 3, waits["input_hash"], None, "", "", ONE)
    return url


def release(url: str, who: Actor) -> str:
    with single(url) as c:
        held = row(c, "state_of_engine", engine=1)
        assert held is not None
        lifts = tuple(r.key for r in state_of(held["state"]).reasons)
        want = NewRunDecision(
            state="release", lifts=lifts, found="wash water", done="drained and dried"
        )
        return decide_run(c, "E-1", want, who)


def test_without_the_policy_who_signed_may_lift(stopped: str) -> None:
    assert release(stopped, ONE)


def test_who_signed_asks_another_releaser(stopped: str) -> None:
    with single(stopped) as c:
        second_person.ask(c, True, ADMIN)
        assert "by another person" in runs(c)["rows"][0]["clears"]
    with pytest.raises(CannotDecide, match="Runa signed the verdict: here a Stop is lifted"):
        release(stopped, ONE)
    assert release(stopped, OTHER)


def test_who_wrote_down_the_work_asks_another_releaser(stopped: str, tmp_path: Path) -> None:
    with single(stopped) as c:
        second_person.ask(c, True, ADMIN)
    work = f"engine,on,meter,kind,part\nE-1,{TODAY.isoformat()},1125,repair,cooler\n"
    bring(stopped, tmp_path, OTHER, {"events.csv": work})
    with pytest.raises(CannotDecide, match="Sten wrote down the work"):
        release(stopped, OTHER)
    assert release(stopped, Actor("Third", "releaser"))


def test_a_permission_is_a_lifting_too_and_a_hold_is_not(stopped: str) -> None:
    with single(stopped) as c:
        second_person.ask(c, True, ADMIN)
        held = row(c, "state_of_engine", engine=1)
        assert held is not None
        lifts = tuple(r.key for r in state_of(held["state"]).reasons)
        want = NewRunDecision(
            state="restrict", until=1130, lifts=lifts, found="wash water", done="drained"
        )
        with pytest.raises(CannotDecide, match="by another person"):
            decide_run(c, "E-1", want, ONE)
        assert decide_run(c, "E-1", NewRunDecision(state="hold", reason="wet"), ONE)


def test_only_an_administrator_sets_it_and_who_did_is_kept(stopped: str) -> None:
    with single(stopped) as c:
        with pytest.raises(NotAllowed, match="administrator"):
            second_person.ask(c, True, ONE)
        second_person.ask(c, True, ADMIN)
        second_person.ask(c, False, ADMIN)
        assert not second_person.is_asked(c)
        kept = rows(c, "record_changes", place="library", code="second_person")
    assert sorted((r["old"], r["new"], r["by"]) for r in kept) == [
        ("no", "yes", "Ada"),
        ("yes", "no", "Ada"),
    ]
