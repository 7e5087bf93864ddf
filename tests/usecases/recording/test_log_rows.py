"""What is written down at the engine, and the round it is written down on."""

from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from uuid import uuid4

import pytest

from keen_tracer import clock
from keen_tracer.core.roles import at_the_machine
from keen_tracer.storage.db import single
from keen_tracer.storage.records import row
from keen_tracer.usecases.errors import CannotRecord
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.pages import collect, engine, run, wall
from keen_tracer.usecases.recording.log_rows import (
    Bottle,
    Event,
    record_event,
    register_bottle,
    undo_record,
)
from tests.day import TODAY, set_clock
from tests.helpers import write_csv


def ago(days: int) -> date:
    return TODAY - timedelta(days=days)


@pytest.fixture
def fleet_url(url: str, tmp_path: Path) -> str:
    """Three engines in two depots: one due, one far from it, one in storage."""
    events = "".join(
        f"{e},{ago(84 - 7 * n)},{1000 + 40 * n},meter_reading\n"
        for e in ("E-1", "E-2")
        for n in range(12)
    )
    files = {
        "depots.csv": "depot,time_zone,walking_order,daily_capacity\n"
        "mid,Europe/Oslo,2,4\n"
        "low,Europe/Oslo,1,4\n",
        "engines.csv": "engine,class,depot,interval_meter,interval_days,dipstick_to_low_mm,"
        "sampling_method\n"
        "E-1,heavy_diesel,mid,125,400,640,vacuum\nE-2,heavy_diesel,low,2000,300,,valve\n"
        "E-3,petrol,low,,60,,\n",
        "events.csv": "engine,on,meter,kind\n" + events + f"E-3,{ago(10)},500,storage_start\n",
        "samples.csv": "sample,engine,drawn_on,meter,Fe_ppm\n"
        f"101,E-1,{ago(84)},1000,12\n"
        f"102,E-2,{ago(84)},1000,12\n"
        f"103,E-3,{ago(200)},400,12\n",
    }
    paths = [write_csv(tmp_path, name, text) for name, text in files.items()]
    report = import_files(url, [(p.name, p) for p in paths], at_the_machine("t"))
    assert report.written, report.problems
    judge_stale(url)
    return url


def bottle(**more) -> Bottle:
    return Bottle(
        **{"id": uuid4(), "sample": "104", "engine": "E-1", "on": TODAY, "dial": 1450.0, **more}
    )


def event(**more) -> Event:
    usual = {
        "id": uuid4(),
        "engine": "E-1",
        "on": TODAY,
        "kind": "top_up",
        "dial": 1450.0,
        "litres_in": 1.5,
    }
    return Event(**{**usual, **more})


def test_a_round_takes_who_is_due_in_walking_order(fleet_url: str) -> None:
    with single(fleet_url) as c:
        found = collect.round_of(c, None, TODAY)
        assert [s["code"] for s in found["stops"]] == ["E-1"]
        assert collect.round_of(c, "low", TODAY)["stops"] == []
        later = collect.round_of(c, None, TODAY + timedelta(days=250))
    assert [s["code"] for s in later["stops"]] == ["E-2", "E-1"]
    assert later["kit"].startswith("2 bottles and labels · tube 0.96 m · 1 bottle to flush into")


def test_a_stop_says_why_how_and_what_the_meter_should_read(fleet_url: str) -> None:
    with single(fleet_url) as c:
        s = collect.round_of(c, "mid", TODAY)["stops"][0]
    assert s["purpose"] == "routine"
    assert s["why"].startswith("125 h since the last sample, reached about")
    assert "at 40 h a week" in s["why"]
    assert s["tube_mm"] == 953
    assert s["low"] <= s["expected"] <= s["high"]
    assert s["expected"] == pytest.approx(1440 + 40, abs=1)
    assert s["steps"][0].caution


def test_the_next_label_follows_the_highest(fleet_url: str) -> None:
    with single(fleet_url) as c:
        assert collect.round_of(c, None, TODAY)["next_label"] == 104


def test_more_than_the_capacity_waits_for_another_day(fleet_url: str) -> None:
    with single(fleet_url) as c:
        c.execute("update depot set daily_capacity = 1")
        c.execute("update engine set depot = 'mid'")
    judge_stale(fleet_url, every=True)
    with single(fleet_url) as c:
        found = collect.round_of(c, "mid", TODAY + timedelta(days=250))
    assert (len(found["stops"]), len(found["waiting"])) == (1, 1)


def test_the_day_is_the_depots_day() -> None:
    moment = datetime(2026, 12, 31, 23, 30, tzinfo=UTC)
    assert clock.day(moment, "Europe/Oslo") == date(2027, 1, 1)
    assert clock.day(moment, "America/Denver") == date(2026, 12, 31)
    # Two moments round the end of daylight saving in Oslo, an hour that comes twice.
    for hour in (0, 1):
        late = datetime(2026, 10, 25, hour, 30, tzinfo=UTC)
        assert clock.day(late, "Europe/Oslo") == date(2026, 10, 25)


def test_a_stop_knows_the_day_at_its_depot(fleet_url: str, monkeypatch: pytest.MonkeyPatch) -> None:
    set_clock(monkeypatch, datetime(2026, 12, 31, 23, 30, tzinfo=UTC))
    with single(fleet_url) as c:
        stop = collect.one_stop(c, "E-1")
        assert stop
        assert stop["on"] == date(2027, 1, 1)  # Oslo is an hour ahead
        c.execute("update depot set time_zone = 'America/Denver'")
        stop = collect.one_stop(c, "E-1")
        assert stop
        assert stop["on"] == date(2026, 12, 31)


def test_a_bottle_is_registered_once_however_often_it_is_sent(fleet_url: str) -> None:
    b = bottle(appearance="dark", level_on_stick=0.9, top_up_l=1.0)
    for _ in range(3):
        with single(fleet_url) as c:
            assert register_bottle(c, b, "T") == "104"
    with single(fleet_url) as c:
        held = c.execute(
            "select appearance, level_on_stick, top_up_l from draw where log_id = %s", (b.id,)
        ).fetchall()
        assert held == [("dark", 0.9, 1.0)]
        trace = wall.wall(c, None, "E-1", "need", 0, 1)["rows"][0]["trace"]
    assert trace[-1]["kind"] == "bottle"


def test_a_bottle_that_is_out_is_not_asked_for_again(fleet_url: str) -> None:
    with single(fleet_url) as c:
        register_bottle(c, bottle(), "T")
        assert collect.round_of(c, None, TODAY)["stops"] == []


def test_what_is_seen_stops_the_engine_before_any_figure_is_in(fleet_url: str) -> None:
    with single(fleet_url) as c:
        register_bottle(c, bottle(appearance="coolant_visible"), "T")
        line = next(r for r in run.runs(c)["rows"] if r["code"] == "E-1")
    assert line["state"]["may_run"] == "do_not_run"
    assert "Coolant was seen" in line["state"]["what"]


def test_a_label_that_is_taken_is_refused_with_where_it_is(fleet_url: str) -> None:
    with single(fleet_url) as c, pytest.raises(CannotRecord, match="registered already: E-2"):
        register_bottle(c, bottle(sample="102"), "T")


@pytest.mark.parametrize(
    ("more", "code"),
    [
        ({"dial": 900.0}, "meter_falls"),
        ({"engine": "E-9"}, "unknown_engine"),
        ({"method": "ladle"}, "unknown_word"),
        ({"on": TODAY + timedelta(days=5)}, "future"),
        ({"on": date(1901, 1, 1)}, "too_old"),
    ],
)
def test_a_bottle_that_does_not_fit_is_asked_about_and_nothing_is_written(
    fleet_url: str, more, code
) -> None:
    b = bottle(**more)
    with pytest.raises(CannotRecord) as caught, single(fleet_url) as c:
        register_bottle(c, b, "T")
    assert caught.value.code == code
    with single(fleet_url) as c:
        assert row(c, "log_row", id=b.id) is None
        assert row(c, "sample_holder", code="104") is None


def test_a_replaced_meter_makes_room_for_a_lower_figure(fleet_url: str) -> None:
    with single(fleet_url) as c:
        record_event(
            c,
            event(kind="meter_replaced", dial=1450.0, dial_new=0.0, litres_in=None, on=ago(1)),
            "T",
        )
        register_bottle(c, bottle(dial=6.0), "T")
        s = collect.one_stop(c, "E-1", TODAY)
    assert s is not None
    assert s["expected"] < 20


@pytest.mark.parametrize(
    ("more", "code"),
    [
        ({"kind": "dance"}, "unknown_kind"),
        ({"litres_in": None}, "litres"),
        ({"kind": "meter_replaced"}, "both_dials"),
        ({"dial": 3.0}, "meter_falls"),
        ({"engine": "E-9"}, "unknown_engine"),
    ],
)
def test_an_event_that_does_not_fit_is_refused(fleet_url: str, more, code) -> None:
    with pytest.raises(CannotRecord) as caught, single(fleet_url) as c:
        record_event(c, event(**more), "T")
    assert caught.value.code == code


def test_an_oil_change_opens_a_charge_and_undo_closes_it_again(fleet_url: str) -> None:
    e = event(kind="oil_change", litres_in=30.0, oil="Test oil", grade="15W-40")
    with single(fleet_url) as c:
        record_event(c, e, "T")
        assert len(engine.engine(c, "E-1")["charges"]) == 1
    with single(fleet_url) as c:
        undo_record(c, e.id, "T")
        undo_record(c, e.id, "T")
        assert engine.engine(c, "E-1")["charges"] == []
        assert c.execute(
            "select count(*) from log where id = %s or replaces = %s", (e.id, e.id)
        ).fetchone() == (2,)


def test_only_who_recorded_it_undoes_it_and_not_once_figures_are_in(
    fleet_url: str, tmp_path: Path
) -> None:
    b = bottle()
    with single(fleet_url) as c:
        register_bottle(c, b, "T")
    with single(fleet_url) as c, pytest.raises(CannotRecord, match="T recorded this"):
        undo_record(c, b.id, "U")
    file = write_csv(
        tmp_path, "readings.csv", "laboratory,report,sample,analyte,reading\nLab,R1,104,Fe_ppm,14\n"
    )
    assert import_files(fleet_url, [(file.name, file)], at_the_machine("t")).written
    with single(fleet_url) as c, pytest.raises(CannotRecord, match="figures have come in"):
        undo_record(c, b.id, "T")


def test_an_undone_label_can_be_used_again(fleet_url: str) -> None:
    b = bottle()
    with single(fleet_url) as c:
        register_bottle(c, b, "T")
    with single(fleet_url) as c:
        undo_record(c, b.id, "T")
    with single(fleet_url) as c:
        register_bottle(c, bottle(engine="E-2"), "T")
        assert row(c, "sample_holder", code="104")["engine"] == "E-2"


def test_plans_come_in_and_decide_the_due_date(fleet_url: str, tmp_path: Path) -> None:
    file = write_csv(
        tmp_path,
        "plans.csv",
        "engine,kind,every,method\nE-2,days,30,valve\nE-2,drain,,drain_stream\n",
    )
    assert import_files(fleet_url, [(file.name, file)], at_the_machine("t")).added == 2
    assert import_files(fleet_url, [(file.name, file)], at_the_machine("t")).files[0].known == 2
    judge_stale(fleet_url)
    with single(fleet_url) as c:
        s = collect.one_stop(c, "E-2", TODAY)
        assert s is not None
        assert (s["due"]["by"], s["due"]["overdue"], s["method"]) == ("days", 54, "valve")
    changed = write_csv(tmp_path, "plans.csv", "engine,kind,every\nE-2,days,90\n")
    shown = import_files(fleet_url, [(changed.name, changed)], at_the_machine("t"))
    assert [c.what for c in shown.changes] == ["plan days of E-2"]
    wrong = write_csv(tmp_path, "plans.csv", "engine,kind\nE-2,days\nE-9,drain\n")
    refused = import_files(fleet_url, [(wrong.name, wrong)], at_the_machine("t"))
    assert {(p.row, p.column) for p in refused.problems} == {(2, "every"), (3, "engine")}


def test_what_is_recorded_goes_out_and_in_again(
    fleet_url: str, new_database, tmp_path: Path
) -> None:
    from keen_tracer.usecases.exporting import export_folder

    with single(fleet_url) as c:
        register_bottle(c, bottle(appearance="dark", smell="fuel", level_on_stick=1.1), "T")
        record_event(c, event(), "T")
        undone = event(kind="repair", litres_in=None, part="pump")
        record_event(c, undone, "T")
        undo_record(c, undone.id, "T")
    export_folder(fleet_url, tmp_path / "one")
    target = new_database()
    report = import_files(
        target,
        [(p.name, p) for p in sorted((tmp_path / "one").glob("*.csv"))],
        at_the_machine("t"),
        as_record=True,
    )
    assert report.written, report.problems
    judge_stale(target)
    export_folder(target, tmp_path / "two")
    for p in (tmp_path / "one").iterdir():
        assert p.read_bytes() == (tmp_path / "two" / p.name).read_bytes(), p.name
    assert b"pump" not in (tmp_path / "two" / "events.csv").read_bytes()


def test_an_engine_that_was_never_sampled_is_on_the_round(fleet_url: str) -> None:
    from keen_tracer.usecases.recording.fleet_record import save

    with single(fleet_url) as c:
        save(c, "engines", {"engine": "E-9", "class": "petrol", "depot": "low"}, None, "Jo")
        stop = next(s for s in collect.round_of(c, "low", TODAY)["stops"] if s["code"] == "E-9")
        assert (stop["why"], stop["purpose"]) == ("never sampled yet", "routine")
        register_bottle(c, bottle(sample="900", engine="E-9", dial=5.0), "Jo")
        assert "E-9" not in [s["code"] for s in collect.round_of(c, "low", TODAY)["stops"]]


@pytest.mark.parametrize(
    "more",
    [
        {"kind": "field_check", "part": "crackle", "details": {"result": "loud"}},
        {"kind": "oil_change", "details": {"drained_c": "150F"}},
        {"kind": "symptom", "details": {"pressure_hot_bar": "45"}},
    ],
)
def test_a_fact_that_cannot_be_meant_is_not_recorded(fleet_url: str, more) -> None:
    with single(fleet_url) as c, pytest.raises(CannotRecord):
        record_event(c, event(**more), "T")
