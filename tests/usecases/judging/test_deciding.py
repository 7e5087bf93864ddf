"""Sign-offs and run decisions: signed, superseding, never overwritten; two people cannot decide at
once."""

import threading
from datetime import timedelta
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest

from keen_tracer.core.roles import Actor, NotAllowed, at_the_machine
from keen_tracer.core.status import BadDecision
from keen_tracer.storage.db import Connection, single
from keen_tracer.storage.errors import Conflict
from keen_tracer.storage.records import number, row, rows
from keen_tracer.usecases.errors import CannotDecide
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging.deciding import (
    NewRunDecision,
    answer_amendment,
    decide_run,
    sign,
    undo_sign,
)
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.pages import queue
from keen_tracer.usecases.pages.run import runs
from keen_tracer.usecases.pages.wall import wall
from keen_tracer.usecases.recording.answering import open_queries
from keen_tracer.usecases.recording.correcting import Correction, correct, withdraw
from tests.day import DEMO_DAY, INSTANT, TODAY, set_clock
from tests.helpers import write_csv

FILES = {
    "engines.csv": "engine,class,meter_unit,interval_meter\nE-1,heavy_diesel,h,125\n",
    "oils.csv": "oil,grade,batch,Fe_ppm,K_ppm,Na_ppm,Si_ppm\nT,15W-40,1,1,1,4,4\n",
    "events.csv": "engine,on,meter,kind,oil,grade,batch\n"
    "E-1,2026-01-05,1000,oil_change,T,15W-40,1\n",
    "samples.csv": "sample,engine,drawn_on,meter,laboratory,Fe_ppm,K_ppm\n"
    "S-1,E-1,2026-02-10,1125,Lab,20,45\n",
}


@pytest.fixture
def judged(url: str, tmp_path: Path) -> str:
    """One engine with one sample whose potassium is past Act, judged."""
    bring(url, tmp_path, **FILES)
    return url


def bring(url: str, folder: Path, **files: str) -> None:
    paths = [write_csv(folder, name, text) for name, text in files.items()]
    report = import_files(url, [(p.name, p) for p in paths], at_the_machine("t"))
    assert report.written, report.problems
    judge_stale(url)


def waiting(url: str) -> list[dict]:
    with single(url) as c:
        return queue.waiting(c)


def test_accepting_takes_a_sample_off_the_queue(judged: str) -> None:
    w = waiting(judged)[0]
    assert w["level"] == 2
    with single(judged) as c:
        sign(c, "S-1", 2, w["input_hash"], None, "", "looked at it", Actor("A", "analyst"))
    assert waiting(judged) == []
    with single(judged) as c:
        kept = row(c, "decision_of_sample", sample=w["sample_id"])
    assert kept is not None
    assert (kept["proposed"], kept["level"], kept["decided_by"], kept["note"]) == (
        2,
        2,
        "A",
        "looked at it",
    )


def test_another_level_needs_a_reason(judged: str) -> None:
    w = waiting(judged)[0]
    with single(judged) as c, pytest.raises(CannotDecide, match="reason"):
        sign(c, "S-1", 0, w["input_hash"], None, "  ", "", Actor("A", "analyst"))
    with single(judged) as c:
        sign(
            c,
            "S-1",
            0,
            w["input_hash"],
            None,
            "potassium is this additive",
            "",
            Actor("A", "analyst"),
        )
        assert wall(c, None, None, "need", 0, 10)["rows"][0]["level"] == 0


def test_undo_brings_it_back_and_keeps_both_records(judged: str) -> None:
    w = waiting(judged)[0]
    with single(judged) as c:
        key = sign(c, "S-1", 2, w["input_hash"], None, "", "", Actor("A", "analyst"))
    with single(judged) as c:
        undo_sign(c, "S-1", key, Actor("A", "analyst"))
    assert [x["sample"] for x in waiting(judged)] == ["S-1"]
    with single(judged) as c:
        trail = rows(c, "decision_trail", engine=1)
    assert [t["kind"] for t in trail] == ["withdraw", "sign_off"]


def test_only_the_signer_undoes(judged: str) -> None:
    w = waiting(judged)[0]
    with single(judged) as c:
        key = sign(c, "S-1", 2, w["input_hash"], None, "", "", Actor("A", "analyst"))
    with single(judged) as c, pytest.raises(CannotDecide, match="A signed this"):
        undo_sign(c, "S-1", key, Actor("B", "analyst"))
    with single(judged) as c, pytest.raises(Conflict):
        undo_sign(c, "S-1", "00000000-0000-0000-0000-000000000000", Actor("A", "analyst"))


def test_signing_on_figures_that_changed_is_refused(judged: str) -> None:
    with single(judged) as c, pytest.raises(Conflict) as caught:
        sign(c, "S-1", 2, "0" * 32, None, "", "", Actor("A", "analyst"))
    assert caught.value.constraint == "verdict_basis"


def test_two_people_cannot_sign_at_once(judged: str) -> None:
    """Both saw the same verdict; the database lets one through, whoever commits first."""
    w = waiting(judged)[0]
    outcomes: list[str] = []
    barrier = threading.Barrier(2)

    def person(name: str) -> None:
        try:
            with single(judged) as c:
                barrier.wait(timeout=60)
                sign(c, "S-1", 2, w["input_hash"], None, "", "", Actor(name, "analyst"))
            outcomes.append("signed")
        except Conflict:
            outcomes.append("refused")

    both = [threading.Thread(target=person, args=(n,)) for n in ("A", "B")]
    for t in both:
        t.start()
    for t in both:
        t.join()
    assert sorted(outcomes) == ["refused", "signed"]


def test_a_signed_verdict_is_never_altered_and_comes_back_only_when_higher(
    judged: str, tmp_path: Path
) -> None:
    w = waiting(judged)[0]
    with single(judged) as c:
        sign(c, "S-1", 2, w["input_hash"], None, "", "", Actor("A", "analyst"))
    header = "scope,scope_name,analyte,basis,watch,act,unit,origin,version\n"
    bring(
        judged,
        tmp_path,
        **{"limits.csv": header + "class,heavy_diesel,K_ppm,rise,100,200,ppm,x,looser\n"},
    )
    assert waiting(judged) == []
    with single(judged) as c:
        verdict = row(c, "verdict_of_sample", sample=w["sample_id"])
        kept = row(c, "decision_of_sample", sample=w["sample_id"])
    assert verdict is not None
    assert kept is not None
    assert (verdict["level"], kept["level"], kept["basis"]) == (0, 2, w["input_hash"])
    bring(
        judged,
        tmp_path,
        **{"events.csv": "engine,on,meter,kind,part\nE-1,2026-02-12,1130,symptom,knock\n"},
    )
    again = waiting(judged)
    assert [(x["sample"], x["level"], x["signed_level"]) for x in again] == [("S-1", 3, 2)]


KNOCK = "engine,on,meter,kind,part\nE-1,2026-02-12,1130,symptom,knock\n"


def stands(url: str) -> dict[str, Any]:
    """The engine's line on Run."""
    with single(url) as c:
        return runs(c)["rows"][0]


def hold(c: Connection, reason: str = "smells of coolant", who: str = "T") -> str:
    return decide_run(
        c, "E-1", NewRunDecision(state="hold", reason=reason), Actor(who, "technician")
    )


def release(url: str, role: str = "releaser", **more: Any) -> str:
    """Releases what stands open now, as the page would, unless a test says otherwise."""
    line = stands(url)
    given = {
        "lifts": tuple(r["key"] for r in line["state"]["reasons"]),
        "supersedes": line["decision"],
        "found": "a loose bracket",
        "done": "tightened, test run",
        **more,
    }
    with single(url) as c:
        return decide_run(c, "E-1", NewRunDecision(state="release", **given), Actor("R", role))


def test_anyone_may_hold_and_only_a_releaser_releases(judged: str) -> None:
    with single(judged) as c:
        hold(c)
    with pytest.raises(NotAllowed, match="releaser"):
        release(judged, "technician")
    with pytest.raises(NotAllowed, match="releaser"):
        release(judged, "analyst")
    release(judged)
    state = stands(judged)["state"]
    assert (state["may_run"], state["may_run_words"]) == ("runs", "Runs")
    assert (state["run"]["found"], state["run"]["done"]) == (
        "a loose bracket",
        "tightened, test run",
    )


def test_no_recompute_lifts_a_hold(judged: str, tmp_path: Path) -> None:
    with single(judged) as c:
        hold(c)
    clean = "sample,engine,drawn_on,meter,Fe_ppm,K_ppm\nS-2,E-1,2026-02-20,1150,12,1\n"
    bring(judged, tmp_path, **{"samples.csv": clean})
    state = stands(judged)["state"]
    assert (state["may_run"], state["run"]["state"]) == ("do_not_run", "hold")


def test_signing_a_stop_does_not_close_it(judged: str, tmp_path: Path) -> None:
    bring(judged, tmp_path, **{"events.csv": KNOCK})
    w = waiting(judged)[0]
    assert stands(judged)["state"]["may_run"] == "do_not_run"
    for level in (3, 0):
        with single(judged) as c:
            standing = row(c, "decision_of_sample", sample=w["sample_id"])
            key = standing["id"] if standing else None
            sign(c, "S-1", level, w["input_hash"], key, "seen", "", Actor("A", "analyst"))
        with single(judged) as c:
            assert [s["code"] for s in rows(c, "open_stops")] == ["E-1"]
    with single(judged) as c:
        hold(c, "knock")
        assert rows(c, "open_stops") == []
    assert stands(judged)["state"]["may_run"] == "do_not_run"


def _again(url: str, folder: Path) -> None:
    judge_stale(url, every=True)


def _repaired(url: str, folder: Path) -> None:
    repair = "engine,on,meter,kind,part\nE-1,2026-02-13,1130,repair,wiper blade\n"
    bring(url, folder, **{"events.csv": repair})


def _rebuilt(url: str, folder: Path) -> None:
    bring(url, folder, **{"events.csv": "engine,on,meter,kind\nE-1,2026-02-13,1130,rebuild\n"})


def _quiet(url: str, folder: Path) -> None:
    clean = "sample,engine,drawn_on,meter,Fe_ppm,K_ppm\nS-2,E-1,2026-02-20,1150,12,1\n"
    bring(url, folder, **{"samples.csv": clean})


def _clean_look(url: str, folder: Path) -> None:
    bring(
        url,
        folder,
        **{"debris.csv": "look,engine,on,meter,place,count\nL-1,E-1,2026-02-20,1150,filter,0\n"},
    )


def _good_check(url: str, folder: Path) -> None:
    told = "engine,on,meter,kind,part,details\n"
    said = "E-1,2026-02-20,1150,field_check,oil_pressure,hot_idle=3\n"
    bring(url, folder, **{"events.csv": told + said})


def _signed_steady(url: str, folder: Path) -> None:
    w = waiting(url)[0]
    with single(url) as c:
        sign(c, w["sample"], 0, w["input_hash"], None, "all is well", "", Actor("A", "analyst"))


def _withdrawn(url: str, folder: Path) -> None:
    with single(url) as c:
        found = c.execute(
            "select l.id from log_now l join event v on v.log_id = l.id where v.part = 'knock'"
        ).fetchone()
        assert found is not None
        withdraw(c, found[0], "heard it wrong", "T")


def _corrected(url: str, folder: Path) -> None:
    with single(url) as c:
        found = c.execute(
            "select l.id from log_now l join event v on v.log_id = l.id where v.part = 'knock'"
        ).fetchone()
        assert found is not None
        correct(c, Correction(uuid4(), found[0], "it was noise", None, {"part": "noise"}), "T")


def _looser_limits(url: str, folder: Path) -> None:
    header = "scope,scope_name,analyte,basis,watch,act,unit,origin,version\n"
    row_ = "class,heavy_diesel,K_ppm,rise,100,200,ppm,x,looser\n"
    bring(url, folder, **{"limits.csv": header + row_})


def _released_unseen(url: str, folder: Path) -> None:
    with pytest.raises(Conflict):
        release(url, lifts=())


def _released_without_a_word(url: str, folder: Path) -> None:
    with pytest.raises(CannotDecide, match="found"):
        release(url, found=" ")


ACCIDENTS = {
    "judged again": _again,
    "a wiper blade": _repaired,
    "a rebuild typed in": _rebuilt,
    "a quiet sample": _quiet,
    "a clean filter": _clean_look,
    "a good oil pressure": _good_check,
    "signed Steady": _signed_steady,
    "the record withdrawn": _withdrawn,
    "the record corrected": _corrected,
    "looser limits": _looser_limits,
    "a release of what nobody saw": _released_unseen,
    "a release without a word": _released_without_a_word,
}


@pytest.mark.parametrize("accident", ACCIDENTS.values(), ids=ACCIDENTS)
def test_twelve_of_twelve_ways_to_lift_a_stop_by_accident_fail(
    judged: str, tmp_path: Path, accident
) -> None:
    bring(judged, tmp_path, **{"events.csv": KNOCK})
    accident(judged, tmp_path)
    state = stands(judged)["state"]
    assert state["may_run"] == "do_not_run"
    assert "knock" in state["what"].lower()
    release(judged)
    assert stands(judged)["state"]["may_run"] != "do_not_run"


def test_a_stop_that_came_in_meanwhile_is_not_lifted_with_the_others(
    judged: str, tmp_path: Path
) -> None:
    bring(judged, tmp_path, **{"events.csv": KNOCK})
    seen = tuple(r["key"] for r in stands(judged)["state"]["reasons"])
    lamp = "engine,on,meter,kind,part\nE-1,2026-02-12,1130,symptom,oil_lamp_hot_idle\n"
    bring(judged, tmp_path, **{"events.csv": lamp})
    with pytest.raises(Conflict) as caught:
        release(judged, lifts=seen)
    assert caught.value.constraint == "open_reasons"


@pytest.mark.parametrize(("first", "second"), [(45, 2), (2, 45)])
def test_two_reports_of_one_bottle_are_asked_about_and_the_worse_stands(
    url: str, tmp_path: Path, first: int, second: int
) -> None:
    files = {**FILES, "samples.csv": FILES["samples.csv"].replace(",45", f",{first}")}
    bring(url, tmp_path, **files)
    again = "laboratory,report,sample,analyte,reading\nOther,77,S-1,K_ppm," + f"{second}\n"
    bring(url, tmp_path, **{"readings.csv": again})
    with single(url) as c:
        asked = [q for q in open_queries(c, "E-1") if q["code"] == "two_results"]
    assert len(asked) == 1
    assert "45 ppm and 2 ppm" in asked[0]["words"]
    state = stands(url)["state"]
    assert state["level"] == 2
    assert any("may not be what it says" in r["words"] for r in state["reasons"])


def test_a_restriction_needs_an_end_and_is_over_at_it(judged: str, tmp_path: Path) -> None:
    careful = {"state": "restrict", "reason": "careful"}
    with single(judged) as c, pytest.raises(BadDecision, match="until"):
        decide_run(c, "E-1", NewRunDecision(**careful), Actor("R", "releaser"))
    lifts = tuple(r["key"] for r in stands(judged)["state"]["reasons"])
    soon = TODAY + timedelta(days=3)
    with single(judged) as c:
        want = NewRunDecision(**careful, until=1140.0, until_on=soon, lifts=lifts)
        decide_run(c, "E-1", want, Actor("R", "releaser"))
    state = stands(judged)["state"]
    assert state["may_run_words"].startswith("Runs until 1\u202f140 h or ")
    assert state["reasons"], "a restriction permits, it lifts nothing"
    read = "engine,on,meter,kind\nE-1,2026-02-12,1145,meter_reading\n"
    bring(judged, tmp_path, **{"events.csv": read})
    with single(judged) as c:
        found = wall(c, None, None, "need", 0, 10)
    assert found["rows"][0]["state"]["may_run"] == "past_its_time"
    assert found["groups"][0]["key"] == "do_not_run"


def test_a_permission_of_a_raised_engine_ends_with_the_next_look(judged: str) -> None:
    """Never years ahead; where only a meter is given, the day is added (VERDICT 8.11)."""
    lifts = tuple(r["key"] for r in stands(judged)["state"]["reasons"])
    careful = {"state": "restrict", "reason": "careful", "lifts": lifts}
    long = NewRunDecision(**careful, until_on=TODAY + timedelta(days=400))
    with single(judged) as c, pytest.raises(CannotDecide, match="at the latest"):
        decide_run(c, "E-1", long, Actor("R", "releaser"))
    with single(judged) as c:
        decide_run(c, "E-1", NewRunDecision(**careful, until=9000.0), Actor("R", "releaser"))
    ends = stands(judged)["state"]["run"]["until_on"]
    assert ends == TODAY + timedelta(days=30)


def test_a_release_says_what_was_found_in_words_that_mean_something(judged: str) -> None:
    lifts = tuple(r["key"] for r in stands(judged)["state"]["reasons"])
    for found, done in ((".", "gasket renewed"), ("gasket burnt", "ok"), ("123", "456")):
        want = NewRunDecision(state="release", reason="r", lifts=lifts, found=found, done=done)
        with single(judged) as c, pytest.raises(BadDecision, match="name the part"):
            decide_run(c, "E-1", want, Actor("R", "releaser"))


def test_a_permission_runs_out_by_the_day_without_being_judged_again(
    judged: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    lifts = tuple(r["key"] for r in stands(judged)["state"]["reasons"])
    day = TODAY + timedelta(days=3)
    want = NewRunDecision(state="restrict", reason="careful", until_on=day, lifts=lifts)
    with single(judged) as c:
        decide_run(c, "E-1", want, Actor("R", "releaser"))

    set_clock(monkeypatch, INSTANT + timedelta(days=4))
    with single(judged) as c:
        found = wall(c, None, None, "need", 0, 10)
    assert found["rows"][0]["state"]["may_run"] == "past_its_time"
    assert found["groups"][0]["key"] == "do_not_run"


def test_a_run_decision_on_what_somebody_else_decided_is_refused(judged: str) -> None:
    with single(judged) as c:
        hold(c)
    with single(judged) as c, pytest.raises(Conflict):
        hold(c, "y", "U")


def test_two_people_cannot_decide_on_an_engine_at_once(judged: str, tmp_path: Path) -> None:
    """One releases, one holds, both on what they saw: whoever commits first stands."""
    bring(judged, tmp_path, **{"events.csv": KNOCK})
    lifts = tuple(r["key"] for r in stands(judged)["state"]["reasons"])
    barrier, outcomes = threading.Barrier(2), []

    def person(want: NewRunDecision) -> None:
        try:
            with single(judged) as c:
                barrier.wait(timeout=60)
                decide_run(c, "E-1", want, Actor(want.state, "releaser"))
            outcomes.append(want.state)
        except Conflict:
            outcomes.append("refused")

    lifting = NewRunDecision(state="release", lifts=lifts, found="nothing", done="nothing")
    both = [
        threading.Thread(target=person, args=(w,))
        for w in (lifting, NewRunDecision(state="hold", reason="it knocks"))
    ]
    for thread in both:
        thread.start()
    for thread in both:
        thread.join()
    assert outcomes.count("refused") == 1
    assert stands(judged)["state"]["run"]["state"] in outcomes


@pytest.mark.parametrize(
    ("call", "code"),
    [
        (lambda c: sign(c, "S-9", 2, "x", None, "", "", Actor("A", "analyst")), "unknown_sample"),
        (
            lambda c: decide_run(
                c, "E-9", NewRunDecision(state="hold", reason="x"), Actor("A", "analyst")
            ),
            "unknown_engine",
        ),
    ],
)
def test_what_is_not_there_cannot_be_decided_on(judged: str, call, code: str) -> None:
    with single(judged) as c, pytest.raises(CannotDecide) as caught:
        call(c)
    assert caught.value.code == code


def test_a_bottle_that_is_out_cannot_be_signed(judged: str, tmp_path: Path) -> None:
    out = "sample,engine,drawn_on,meter\nS-3,E-1,2026-02-22,1160\n"
    bring(judged, tmp_path, **{"samples.csv": out})
    with single(judged) as c, pytest.raises(CannotDecide, match="figures are not in"):
        sign(c, "S-3", 0, "x", None, "", "", Actor("A", "analyst"))


def test_accepted_amendments_count_and_refused_ones_do_not(judged: str, tmp_path: Path) -> None:
    for value, accept, want in (("1", False, 2), ("2", True, 0)):
        amended = FILES["samples.csv"].replace(",45", f",{value}")
        bring(judged, tmp_path, **{"samples.csv": amended})
        with single(judged) as c:
            pending = rows(c, "pending_amendments")
            assert len(pending) == 1
            answer_amendment(c, pending[0]["id"], accept, "", Actor("A", "analyst"))
        with single(judged) as c:
            verdict = row(c, "verdict_of_sample", sample=1)
            assert verdict is not None
            assert verdict["level"] == want
            assert rows(c, "pending_amendments") == []


def test_one_new_sample_touches_one_engine(demo_copy: str, tmp_path: Path) -> None:
    with single(demo_copy) as c:
        before = number(c, "count_verdicts")
    file = write_csv(
        tmp_path,
        "samples.csv",
        f"sample,engine,drawn_on,meter,Fe_ppm\nNEW,G-08,{DEMO_DAY},99999,5\n",
    )
    assert import_files(demo_copy, [(file.name, file)], at_the_machine("t")).engines == 1
    done = judge_stale(demo_copy)
    assert done.engines == 1
    assert done.written == 1
    with single(demo_copy) as c:
        assert number(c, "count_verdicts") == before + 1


def test_judging_again_writes_nothing(demo_copy: str) -> None:
    done = judge_stale(demo_copy, every=True)
    assert (done.engines, done.written) == (26, 0)
