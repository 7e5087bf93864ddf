"""The fleet record by forms: the same cells and rules as the files, versions, a trail, engines
judged again."""

from pathlib import Path
from uuid import uuid4

import pytest

from keen_tracer.core.errors import CoreError
from keen_tracer.core.planning import Plan
from keen_tracer.core.roles import Actor, at_the_machine
from keen_tracer.storage.db import single
from keen_tracer.storage.errors import Conflict
from keen_tracer.storage.records import number
from keen_tracer.usecases.errors import CannotRecord
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.pages import engine, judge
from keen_tracer.usecases.recording import fleet_record
from keen_tracer.usecases.recording.log_rows import Event, record_event
from tests.day import TODAY
from tests.helpers import write_csv


@pytest.fixture
def record(url: str, tmp_path: Path) -> str:
    files = {
        "engines.csv": "engine,class,interval_days\nE-1,petrol,60\n",
        "samples.csv": "sample,engine,drawn_on,meter,Fe_ppm\nS,E-1,2026-03-02,900,100\n",
    }
    paths = [write_csv(tmp_path, n, t) for n, t in files.items()]
    assert import_files(url, [(p.name, p) for p in paths], at_the_machine("t")).written
    judge_stale(url)
    return url


def cells(c, place: str, code: str) -> tuple[dict[str, str], int]:
    found = next(e for e in fleet_record.entries(c, place)["entries"] if e["code"] == code)
    return found["cells"], found["version"]


def test_each_part_of_the_record_takes_a_new_entry(record: str) -> None:
    new = {
        "depots": {"depot": "d", "time_zone": "Europe/Oslo", "daily_capacity": "4"},
        "models": {
            "model": "M",
            "class": "heavy_diesel",
            "sump_l": "30",
            "allowed_grades": "10W-40;15W-40",
        },
        "coolants": {"coolant": "Green", "Na_mg_kg": "2600"},
        "engines": {"engine": "E-2", "class": "heavy_diesel", "model": "M", "depot": "d"},
    }
    with single(record) as c:
        for place, given in new.items():
            fleet_record.save(c, place, given, None, "Jo")
            code = next(iter(given.values()))
            got, version = cells(c, place, code)
            assert {k: got[k] for k in given} == given
            assert version == 1
        assert engine.engine(c, "E-2")["allowed_grades"] == ["10W-40", "15W-40"]


def test_a_change_judges_again_and_says_who(record: str) -> None:
    with single(record) as c:
        assert judge.sample(c, "S")["verdict"]["level"] == 2
        _, version = cells(c, "engines", "E-1")
        # 100 ppm of iron is past Act for petrol (80), and Watch for a small air-cooled engine
        # (80/160).
        assert fleet_record.save(
            c, "engines", {"engine": "E-1", "class": "small_air_cooled"}, version, "Jo"
        ) == ["class"]
        assert judge.sample(c, "S")["verdict"]["level"] == 1
        trail = fleet_record.changes(c, "engines", "E-1")
        assert [(t["field"], t["old"], t["new"], t["by"]) for t in trail] == [
            ("class", "petrol", "small_air_cooled", "Jo")
        ]


def test_two_edits_of_one_version_do_not_overwrite_each_other(record: str) -> None:
    with single(record) as c:
        _, version = cells(c, "engines", "E-1")
        fleet_record.save(c, "engines", {"engine": "E-1", "name": "One"}, version, "Jo")
        with pytest.raises(Conflict):
            fleet_record.save(c, "engines", {"engine": "E-1", "name": "Two"}, version, "Al")
        assert cells(c, "engines", "E-1")[0]["name"] == "One"


def test_nothing_changed_writes_nothing(record: str) -> None:
    with single(record) as c:
        got, version = cells(c, "engines", "E-1")
        assert fleet_record.save(c, "engines", got, version, "Jo") == []
        assert cells(c, "engines", "E-1")[1] == version


@pytest.mark.parametrize(
    ("place", "given", "field"),
    [
        ("engines", {"engine": "E-2", "class": "boat"}, "class"),
        ("engines", {"engine": "E-2", "class": "petrol", "model": "none"}, "model"),
        ("engines", {"engine": "E-1", "class": "petrol"}, "engine"),
        ("engines", {"class": "petrol"}, "engine"),
        ("engines", {"engine": "", "class": "petrol"}, "engine"),
        ("depots", {"depot": "d", "time_zone": "Mars/Base"}, "time_zone"),
        ("models", {"model": "M", "class": "gas", "sump_l": "a lot"}, "sump_l"),
        ("models", {"model": "M", "class": "gas", "paint": "red"}, "paint"),
    ],
)
def test_a_bad_cell_is_named_with_what_to_write(record: str, place: str, given, field: str) -> None:
    with single(record) as c, pytest.raises(CannotRecord) as refused:
        fleet_record.save(c, place, given, None, "Jo")
    assert list(refused.value.fields) == [field]


def test_an_unknown_part_or_entry(record: str) -> None:
    with single(record) as c:
        with pytest.raises(CannotRecord, match="fleet record"):
            fleet_record.entries(c, "secrets")
        with pytest.raises(CannotRecord, match="no engine E-9"):
            fleet_record.save(c, "engines", {"engine": "E-9"}, 1, "Jo")


def test_a_change_of_a_model_marks_every_engine(record: str) -> None:
    with single(record) as c:
        fleet_record.save(c, "models", {"model": "M", "class": "petrol"}, None, "Jo")
        assert number(c, "stale_count") == 0
        fleet_record.save(c, "models", {"model": "M", "sump_l": "4"}, 1, "Jo")
        assert number(c, "stale_count") == 1


def test_a_batch_of_oil_typed_in_is_a_fresh_reference(record: str) -> None:
    with single(record) as c:
        fresh = {"KV100_mm2_s": "14.2", "Fe_ppm": "<1"}
        assert fleet_record.save_oil(c, "Thick", "15W-40", "7", "2026-02-01", fresh, "Jo") is False
        assert [(o["oil"], o["readings"]) for o in fleet_record.oils(c)] == [("Thick", 2)]
        assert (
            fleet_record.save_oil(
                c, "Thick", "15W-40", "7", "2026-02-01", {"KV100_mm2_s": "12"}, "Jo"
            )
            is True
        )
        with pytest.raises(CannotRecord) as refused:
            fleet_record.save_oil(c, "Thick", "15W-40", "8", "", {"KV100_mm2_s": "thick"}, "Jo")
        assert list(refused.value.fields) == ["KV100_mm2_s"]


def test_plans_are_kept_as_a_whole_and_the_due_date_follows(record: str) -> None:
    with single(record) as c:
        fleet_record.save_plans(c, "E-1", [Plan("days", 10), Plan("drain")], "Jo")
        assert [p["kind"] for p in fleet_record.plans(c, "E-1")] == ["days", "drain"]
        due = engine.engine(c, "E-1")["due"]
        assert due["by"] == "days"
        fleet_record.save_plans(c, "E-1", [], "Jo")
        assert fleet_record.plans(c, "E-1") == []
        assert [t["field"] for t in fleet_record.changes(c, "engines", "E-1")] == ["plans", "plans"]
        with pytest.raises(CannotRecord, match="twice"):
            fleet_record.save_plans(c, "E-1", [Plan("drain"), Plan("drain")], "Jo")


def test_of_two_who_change_the_plans_at_once_one_learns_of_the_other(record: str) -> None:
    with single(record) as c:
        fleet_record.save_plans(c, "E-1", [Plan("days", 10)], "Jo", [])
        for seen in ([], [Plan("days", 20)], [Plan("days", 10, "drain")]):
            with pytest.raises(Conflict):
                fleet_record.save_plans(c, "E-1", [Plan("drain")], "Mira", seen)
        assert [p["kind"] for p in fleet_record.plans(c, "E-1")] == ["days"]
        fleet_record.save_plans(c, "E-1", [Plan("drain")], "Mira", [Plan("days", 10)])
        assert [p["kind"] for p in fleet_record.plans(c, "E-1")] == ["drain"]


def test_the_tightening_rule_is_shown_edited_and_used(record: str) -> None:
    with single(record) as c:
        assert fleet_record.tightened(c) == {"watch": 0.5, "act": 0.25, "origin": "our choice"}
        before = engine.engine(c, "E-1")["due"]["on"]
        fleet_record.save_tightened(c, 0.8, 0.8, "", Actor("Jo", "analyst"))
        assert fleet_record.tightened(c)["origin"] == "set by Jo"
    judge_stale(record)
    with single(record) as c:
        after = engine.engine(c, "E-1")["due"]["on"]
        assert after > before  # at Act it shrank to a quarter, now to four fifths


@pytest.mark.parametrize(("watch", "act"), [(1.2, 0.5), (0.5, 0.6), (0.5, 0.0)])
def test_a_rule_that_would_lengthen_is_refused(record: str, watch: float, act: float) -> None:
    with single(record) as c, pytest.raises((CannotRecord, CoreError)):
        fleet_record.save_tightened(c, watch, act, "", Actor("Jo", "analyst"))


def test_what_makes_a_check_impossible_is_asked_once_and_kept(record: str) -> None:
    with single(record) as c:
        model = {"model": "M", "class": "petrol", "features": "carburettor"}
        fleet_record.save(c, "models", model, None, "Mira")
        given, version = cells(c, "engines", "E-1")
        fleet_record.save(c, "engines", given | {"model": "M"}, version, "Mira")
        told = Event(
            id=uuid4(), engine="E-1", on=TODAY, kind="symptom", part="lamp_in_corners", dial=910.0
        )
        record_event(c, told, "Mira")
        before = {x["code"]: x["lacks"] for x in engine.engine(c, "E-1")["state"]["checks"]}
        assert before["oil_pressure"] == "no_gauge"
        assert fleet_record.keep_feature(c, "E-1", "no_gauge", "Mira") == ["features"]
        after = [x["code"] for x in engine.engine(c, "E-1")["state"]["checks"]]
        assert after and "oil_pressure" not in after
        # What the model says stays said, and the record knows who added to it.
        assert cells(c, "engines", "E-1")[0]["features"] == "carburettor;no_gauge"
        assert fleet_record.changes(c, "engines", "E-1")[0]["by"] == "Mira"
        assert fleet_record.keep_feature(c, "E-1", "no_gauge", "Mira") == []
        with pytest.raises(CannotRecord):
            fleet_record.keep_feature(c, "E-1", "no_wings", "Mira")
