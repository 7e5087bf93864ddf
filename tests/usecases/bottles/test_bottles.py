"""A bottle's way and the inbox: sent, late, lost, unmatched, partial, parked, fresh oil, typed
figures."""

from datetime import date, timedelta
from pathlib import Path
from uuid import uuid4

import pytest

from keen_tracer.core.roles import Actor, at_the_machine
from keen_tracer.storage.db import Connection, single
from keen_tracer.storage.records import row
from keen_tracer.usecases.bottles import figures, steps
from keen_tracer.usecases.errors import CannotRecord
from keen_tracer.usecases.importing.files import import_files, run_import
from keen_tracer.usecases.judging.deciding import answer_amendment
from keen_tracer.usecases.judging.judging import judge_some, judge_stale
from keen_tracer.usecases.pages import collect, engine, exchange, judge, state
from keen_tracer.usecases.recording.log_rows import Bottle, Event, record_event, register_bottle
from tests.day import TODAY
from tests.helpers import write_csv

METALS = ("Fe_ppm", "Cu_ppm", "Al_ppm")


def ago(days: int) -> date:
    return TODAY - timedelta(days=days)


@pytest.fixture
def fleet_url(url: str, tmp_path: Path) -> str:
    """Two engines, and a laboratory whose six reports of E-1 came back four days after the draw."""
    samples = "".join(
        f"S{n},E-1,{ago(100 - 10 * n)},{1000 + 50 * n},Lab,{ago(96 - 10 * n)},{9 + n},3,2\n"
        for n in range(6)
    )
    files = {
        "engines.csv": "engine,class,interval_days,oil\n"
        "E-1,heavy_diesel,10,Thick\n"
        "E-2,heavy_diesel,60,Thick\n",
        "samples.csv": "sample,engine,drawn_on,meter,laboratory,received_on,Fe_ppm,Cu_ppm,Al_ppm\n"
        + samples,
    }
    paths = [write_csv(tmp_path, n, t) for n, t in files.items()]
    assert import_files(url, [(p.name, p) for p in paths], at_the_machine("t")).written
    judge_stale(url)
    return url


def draw(
    c: Connection, code: str, days: int = 2, engine: str = "E-1", dial: float = 1400.0
) -> None:
    register_bottle(
        c, Bottle(id=uuid4(), sample=code, engine=engine, on=ago(days), dial=dial), "Jo"
    )


def step(c: Connection, code: str, what: str, days: int = 0, laboratory: str = "Lab") -> None:
    steps.step(c, [code], what, ago(days), laboratory, "", [uuid4()], "Jo")


def report(
    c: Connection,
    tmp_path: Path,
    sample: str,
    cells: dict[str, str],
    number: str = "R-1",
    lab: str = "Lab",
):
    rows = [
        {"laboratory": lab, "report": number, "sample": sample, "analyte": k, "reading": v}
        for k, v in cells.items()
    ]
    path = write_csv(tmp_path, "readings.csv", rows)
    found = run_import(c, [(path.name, path)], at_the_machine("t"))
    assert found.written, found.problems
    while judge_some(c, 100):
        pass
    return found


def out(c: Connection) -> dict[str, dict]:
    return {b["sample"]: b for b in steps.inbox(c, TODAY)["out"]}


def test_a_bottle_is_followed_from_the_draw_to_its_figures(fleet_url: str, tmp_path: Path) -> None:
    with single(fleet_url) as c:
        draw(c, "701")
        assert (out(c)["701"]["state"], out(c)["701"]["age_days"]) == ("drawn", 2)
        step(c, "701", "sent")
        assert out(c)["701"]["laboratory"] == "Lab"
        step(c, "701", "received")
        assert out(c)["701"]["state"] == "received"
        report(c, tmp_path, "701", {"Fe_ppm": "12"})
        assert "701" not in out(c)


def test_late_is_measured_by_what_this_laboratory_usually_takes(fleet_url: str) -> None:
    with single(fleet_url) as c:
        draw(c, "701", days=12)
        step(c, "701", "sent", days=11)
        # Six reports after four days: 1.5 x 4 + 2 = 8 days are in order, eleven are three too many.
        assert out(c)["701"]["late_days"] == 3  # usually 4


def test_a_lost_bottle_no_longer_counts_as_the_last_sample(fleet_url: str) -> None:
    with single(fleet_url) as c:
        draw(c, "701", days=0)
        before = collect.one_stop(c, "E-1", TODAY)
        step(c, "701", "lost")
        after = collect.one_stop(c, "E-1", TODAY)
        assert before["due"]["overdue"] == 0 < after["due"]["overdue"]
        assert "E-1" in [s["code"] for s in collect.round_of(c, None, TODAY)["stops"]]
        events = engine.engine(c, "E-1")["events"]
        assert any(x["words"] == "bottle lost · 701" for x in events)
        step(c, "701", "found")
        assert collect.one_stop(c, "E-1", TODAY)["due"]["overdue"] == 0


def test_a_bottle_whose_figures_are_in_cannot_be_lost(fleet_url: str) -> None:
    with single(fleet_url) as c, pytest.raises(CannotRecord, match="figures of S5 are in"):
        step(c, "S5", "lost")


def test_unknown_bottles_are_refused_and_none_of_the_others_moves(fleet_url: str) -> None:
    with pytest.raises(CannotRecord, match="999 is not registered"), single(fleet_url) as c:
        draw(c, "701")
        steps.step(c, ["701", "999"], "sent", TODAY, "Lab", "", [uuid4(), uuid4()], "Jo")
    with single(fleet_url) as c:
        assert out(c) == {}


def test_figures_under_an_unknown_label_wait_and_find_their_bottle(
    fleet_url: str, tmp_path: Path
) -> None:
    with single(fleet_url) as c:
        draw(c, "701")
        found = report(c, tmp_path, "7O1", {"Fe_ppm": "300"})
        assert found.unmatched == ["7O1"]
        assert [u["sample"] for u in steps.inbox(c, TODAY)["unmatched"]] == ["7O1"]
        assert state.state(c, None)["stray"] == 1
        steps.match(c, "7O1", "701", "", "Jo")
        assert steps.inbox(c, TODAY)["unmatched"] == []
        assert (
            next(x["value"] for x in judge.sample(c, "701")["ladders"] if x["symbol"] == "Fe")
            == 300
        )
        # The laboratory's file again adds nothing and moves nothing.
        again = report(c, tmp_path, "7O1", {"Fe_ppm": "300"})
        assert again.added == 0
        assert (
            next(x["value"] for x in judge.sample(c, "701")["ladders"] if x["symbol"] == "Fe")
            == 300
        )


def test_a_bottle_registered_after_its_figures_came_has_them(
    fleet_url: str, tmp_path: Path
) -> None:
    with single(fleet_url) as c:
        report(c, tmp_path, "701", {"Fe_ppm": "300"})
        draw(c, "701")
        assert judge.sample(c, "701")["verdict"]["level"] == 2
        assert steps.inbox(c, TODAY)["unmatched"] == []


@pytest.mark.parametrize(
    ("stray", "to", "text"),
    [
        ("S1", "701", "is registered"),
        ("7O1", "S9", "not registered"),
        ("nothing", "701", "is registered|no figures|not"),
    ],
)
def test_what_cannot_be_matched_says_why(
    fleet_url: str, tmp_path: Path, stray: str, to: str, text: str
) -> None:
    with single(fleet_url) as c:
        draw(c, "701")
        report(c, tmp_path, "7O1", {"Fe_ppm": "3"})
        with pytest.raises(CannotRecord, match=text):
            steps.match(c, stray, to, "", "Jo")


def test_a_report_without_what_the_laboratory_always_sends_is_only_part_of_one(
    fleet_url: str, tmp_path: Path
) -> None:
    with single(fleet_url) as c:
        draw(c, "701")
        report(c, tmp_path, "701", {"Fe_ppm": "12"})
        partial = steps.inbox(c, TODAY)["partial"]
        assert [(p["sample"], p["missing"]) for p in partial] == [("701", ["Cu", "Al"])]


def test_an_unknown_engine_is_parked_and_settled_once(fleet_url: str) -> None:
    with single(fleet_url) as c:
        key = uuid4()
        b = Bottle(id=key, sample="702", engine="the old pump", on=ago(1), dial=300.0)
        body = {
            "id": str(key),
            "sample": "702",
            "engine": "the old pump",
            "on": ago(1).isoformat(),
            "dial": 300.0,
        }
        steps.park(c, b, body, "Jo")
        steps.park(c, b, body, "Jo")
        assert [p["engine_said"] for p in steps.inbox(c, TODAY)["parked"]] == ["the old pump"]
        with pytest.raises(CannotRecord, match="no engine"):
            steps.settle(c, key, "E-9", "Jo")
        steps.settle(c, key, "E-2", "Jo")
        steps.settle(c, key, "E-2", "Jo")
        assert steps.inbox(c, TODAY)["parked"] == []
        assert out(c)["702"]["engine"] == "E-2"


def test_new_oil_asks_for_a_bottle_whose_figures_become_its_reference(
    fleet_url: str, tmp_path: Path
) -> None:
    with single(fleet_url) as c:
        record_event(
            c,
            Event(
                id=uuid4(),
                engine="E-1",
                on=ago(3),
                kind="oil_change",
                dial=1390.0,
                oil="Thick",
                grade="15W-40",
                batch="9",
            ),
            "Jo",
        )
        assert [n["batch"] for n in steps.inbox(c, TODAY)["new_oil"]] == ["9"]
        steps.register_reference(c, uuid4(), "703", "Thick", "15W-40", "9", ago(2), "Jo")
        assert steps.inbox(c, TODAY)["new_oil"] == []
        assert out(c)["703"]["oil"] == "Thick 15W-40 9"
        report(c, tmp_path, "703", {"Fe_ppm": "2", "Ca_ppm": "2600"})
        draw(c, "704", days=1)
        report(c, tmp_path, "704", {"Fe_ppm": "6"}, "R-2")
        iron = next(x for x in judge.sample(c, "704")["ladders"] if x["symbol"] == "Fe")
        assert (iron["fresh"], iron["fresh_from"]) == (2, "batch")


def test_typed_figures_go_through_the_same_rules(fleet_url: str) -> None:
    with single(fleet_url) as c:
        draw(c, "701")
        assert [a["symbol"] for a in figures.sheet(c, "701")["analytes"] if a["usual"]] == [
            "Fe",
            "Cu",
            "Al",
        ]
        with pytest.raises(CannotRecord, match="Fe") as refused:
            figures.type_in(c, "701", "Lab", "", None, {"Fe_ppm": "many", "Cu_ppm": "3"}, "Jo")
        assert list(refused.value.fields) == ["Fe_ppm"]
        c.rollback()
        draw(c, "701")
        typed = {"Fe_ppm": "300", "Cu_ppm": "<1", "Al_ppm": " "}
        assert figures.type_in(c, "701", "Lab", "P-7", ago(1), typed, "Jo") is False
        shown = {x["symbol"]: x["text"] for x in judge.sample(c, "701")["ladders"]}
        assert shown == {"Fe": "300", "Cu": "<1"}


def test_other_figures_under_the_same_report_wait_for_a_decision(fleet_url: str) -> None:
    with single(fleet_url) as c:
        draw(c, "701")
        figures.type_in(c, "701", "Lab", "P-7", None, {"Fe_ppm": "300"}, "Jo")
        assert figures.type_in(c, "701", "Lab", "P-7", None, {"Fe_ppm": "30"}, "Jo") is True
        assert judge.sample(c, "701")["verdict"]["level"] == 2
        answer_amendment(c, exchange.amendments(c)[0]["id"], True, "a slip", Actor("Jo", "analyst"))
        assert judge.sample(c, "701")["verdict"]["level"] == 0


@pytest.mark.parametrize(
    ("sample", "cells", "text"),
    [("999", {"Fe_ppm": "3"}, "not registered"), ("S1", {}, "at least one")],
)
def test_figures_that_belong_nowhere_are_refused(
    fleet_url: str, sample: str, cells, text: str
) -> None:
    with single(fleet_url) as c, pytest.raises(CannotRecord, match=text):
        figures.type_in(c, sample, "Lab", "", None, cells, "Jo")


def test_a_resample_is_linked_and_a_repair_withdraws_it(fleet_url: str, tmp_path: Path) -> None:
    with single(fleet_url) as c:
        draw(c, "701", days=9)
        report(c, tmp_path, "701", {"Fe_ppm": "300"})
        shown = judge.sample(c, "701")
        assert shown["verdict"]["level"] == 2
        stop = collect.one_stop(c, "E-1", TODAY)
        assert (stop["purpose"], stop["resample_of"]) == ("resample", "701")
        register_bottle(
            c,
            Bottle(
                id=uuid4(),
                sample="702",
                engine="E-1",
                on=ago(5),
                dial=1410.0,
                purpose="resample",
                resample_of="701",
            ),
            "Jo",
        )
        again = next(
            a for a in judge.sample(c, "701")["verdict"]["actions"] if a["code"] == "resample"
        )
        assert again["became"].endswith("bottle 702")
        step(c, "702", "lost")
        record_event(
            c,
            Event(id=uuid4(), engine="E-1", on=ago(2), kind="repair", dial=1420.0, part="liner"),
            "Jo",
        )
        stop = collect.one_stop(c, "E-1", TODAY)
        assert (stop["purpose"], stop["resample_of"]) == ("post_repair", "")
        again = next(
            a for a in judge.sample(c, "701")["verdict"]["actions"] if a["code"] == "resample"
        )
        assert again["became"].startswith("withdrawn: repair on")
        assert row(c, "draw_of_sample", code="701")
