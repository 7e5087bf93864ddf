"""One report by hand: pasted as it stands, an engine made on the spot, all or nothing."""

import io
import zipfile
from dataclasses import replace
from datetime import timedelta
from pathlib import Path

import pytest

from keen_tracer.core.roles import Actor
from keen_tracer.storage.db import Connection, single
from keen_tracer.storage.records import number, row
from keen_tracer.usecases.errors import CannotRecord
from keen_tracer.usecases.exporting import export_zip
from keen_tracer.usecases.importing.files import run_import
from keen_tracer.usecases.importing.one_report import (
    Fresh,
    Report,
    Unknown,
    bring_report,
    read_pasted,
)
from keen_tracer.usecases.importing.report_again import open_again, put_right
from keen_tracer.usecases.pages import engine, judge, log, plan, wall
from tests.day import TODAY

WHO = Actor("Mira Ostrand", "analyst")
NEW = Unknown(engine_class="heavy_diesel", fuel="diesel", sump_l=34, allowed_grades="15W-40")
ONE = Report(
    engine="Boat, port",
    on=TODAY - timedelta(days=7),
    meter=8344,
    hours_on_oil=212,
    laboratory="Northfall",
    report="N 881",
    figures={"Fe_ppm": "148", "Cr_ppm": "<2", "KV100_mm2_s": "12.9 cSt", "water_pct": "400 ppm"},
    new=NEW,
)


def test_a_report_of_an_engine_nobody_has_is_judged_at_once(url: str) -> None:
    with single(url) as c:
        assert bring_report(c, ONE, WHO) == "N 881"
        owner = row(c, "engine_of_sample", code="N 881")
        assert owner
        verdict = row(c, "verdict_of_sample", sample=owner["sample_id"])
        assert verdict
        assert verdict["level"] == 2
        # Without any fresh oil: inside the grade the maker allows is Steady, not unmeasured.
        thickness = verdict["channels"][4]
        assert thickness == 0
        draw = row(c, "draw_of_sample", code="N 881")
        assert draw
        assert draw["engine"] == "Boat, port"
        # The next one of the engine, and the same one again, which adds nothing.
        later = replace(ONE, on=ONE.on + timedelta(days=3), meter=8360, report="N 902", new=None)
        assert bring_report(c, later, WHO) == "N 902"
        count = number(c, "mark")
        assert bring_report(c, later, WHO) == "N 902"
        assert number(c, "count_engines") == 1
        assert number(c, "mark") >= count


@pytest.mark.parametrize(
    ("over", "code", "field"),
    [
        ({"new": None}, "unknown_engine", "engine"),
        ({"laboratory": " "}, "laboratory", "laboratory"),
        ({"figures": {"Fe_ppm": " "}}, "no_figures", ""),
        ({"figures": {"Fe_ppm": "a lot"}}, "bad_report", "Fe_ppm"),
        ({"figures": {"Fe_ppm": "14", "water_pct": "130"}}, "bad_report", "water_pct"),
        ({"hours_on_oil": 9000.0}, "more_than_it_has", "hours_on_oil"),
        ({"appearance": "purple"}, "unknown_word", "appearance"),
        ({"new": replace(NEW, engine_class="rocket")}, "unknown_word", "engine_class"),
    ],
)
def test_what_is_wrong_is_named_and_nothing_is_written(
    url: str, over: dict, code: str, field: str
) -> None:
    with single(url) as c:
        before = number(c, "count_engines")
        with pytest.raises(CannotRecord) as refused, c.transaction():
            bring_report(c, replace(ONE, **over), WHO)
        assert refused.value.code == code
        assert field in refused.value.fields or not field
        assert number(c, "count_engines") == before


def test_pasted_text_says_what_was_not_read_and_asks_what_it_cannot_know() -> None:
    found = read_pasted("Iron\t14\nUnit hours 8344\nDiagnosis severe wear\nVisc @100C cSt 14.1", "")
    assert found["figures"] == {"Fe_ppm": "14", "KV100_mm2_s": "14.1 cSt"}
    assert found["facts"] == {"meter": "8344"}
    assert found["unread"] == ["Diagnosis severe wear"]
    asked = read_pasted("Iron 1,250\nLead 3", "")
    assert [q["about"] for q in asked["questions"]] == ["decimal"]
    assert asked["figures"] == {}
    assert read_pasted("Iron 1,250\nLead 3", "point")["figures"]["Fe_ppm"] == "1250"
    assert read_pasted("Iron 1,250\nLead 3", "comma")["figures"]["Fe_ppm"] == "1.250"
    # A day that could be two is left to the person.
    doubt = read_pasted("Unit,Sample Date,Iron,Lead\nU-1,03/04/2026,14,2\n", "")
    assert "drawn_on" not in doubt["facts"]
    assert doubt["unread"] == ["03/04/2026 could be two days: choose it"]


def test_a_sample_whose_meter_nobody_read_has_rates_by_its_hours_on_the_oil(url: str) -> None:
    with single(url) as c:
        told = replace(ONE, meter=None, report="N 1")
        bring_report(c, told, WHO)
        without = replace(ONE, meter=None, hours_on_oil=None, report="N 2", new=None)
        bring_report(c, replace(without, on=ONE.on + timedelta(days=1)), WHO)
        one, other = judge.sample(c, "N 1"), judge.sample(c, "N 2")
        assert (one["dial"], one["hours_on_oil"]) == (None, 212)
        iron = {x["column"]: x for x in one["ladders"]}["Fe_ppm"]
        # 148 mg/kg in 212 h from oil that brought none: 69.8 in 100 h, by hand.
        assert iron["rate_per_100"] == pytest.approx(100 * 148 / 212, rel=0.02)
        assert (other["dial"], other["hours_on_oil"]) == (None, None)
        assert {x["column"]: x for x in other["ladders"]}["Fe_ppm"]["rate_per_100"] is None
        verdict = other["verdict"]
        assert verdict
        assert verdict["level"] == 2
        # Every page of the engine stands without a meter.
        assert engine.engine(c, ONE.engine)["dial"] is None
        assert wall.wall(c, None, None, "need", 0, 10)["rows"][0]["code"] == ONE.engine
        assert plan.plan(c, None, 4, 0, 10)
        assert log.logbook(c, ONE.engine)["rows"]


def test_a_report_is_put_right_where_it_was_typed(url: str) -> None:
    with single(url) as c:
        bring_report(c, ONE, WHO)
        held = open_again(c, "N 881")
        assert held["figures"] == dict(ONE.figures)
        assert (held["meter"], held["oil_change_meter"]) == (8344, 8132)
        same = replace(
            ONE, hours_on_oil=None, oil_change_meter=8132, new=None, figures=held["figures"]
        )
        mark = number(c, "newest_report")
        put_right(c, "N 881", same, WHO)
        assert (number(c, "newest_report"), log_rows(c)) == (mark, 1)
        figures = {**held["figures"], "Fe_ppm": "14"}
        better = replace(same, meter=8350, top_up_l=1.0, figures=figures)
        put_right(c, "N 881", better, WHO)
        now = open_again(c, "N 881")
        assert (now["meter"], now["top_up_l"], now["figures"]["Fe_ppm"]) == (8350, 1.0, "14")
        assert (number(c, "newest_report"), log_rows(c)) == (mark + 1, 2)
        verdict = judge.sample(c, "N 881")["verdict"]
        assert verdict
        assert verdict["level"] == 0
        for over, code in (
            ({"engine": "Another"}, "other_engine"),
            ({"report": "N 9"}, "other_report"),
            ({"figures": {}}, "no_figures"),
            ({"figures": {"Fe_ppm": "much"}}, "bad_report"),
        ):
            with pytest.raises(CannotRecord) as refused, c.transaction():
                put_right(c, "N 881", replace(better, **over), WHO)
            assert refused.value.code == code
        assert open_again(c, "N 881") == now


def test_putting_right_accepts_nobody_elses_amendment(url: str, tmp_path: Path) -> None:
    with single(url) as c:
        bring_report(c, ONE, WHO)
        bring_report(c, replace(ONE, report="N 7", meter=8350, new=None), WHO)
        file = tmp_path / "readings.csv"
        head = "laboratory,report,revision,sample,analyte,reading\n"
        file.write_text(f"{head}Northfall,N 7,2,N 7,Fe_ppm,9\n")
        assert run_import(c, [(file.name, file)], WHO).amendments
        same = replace(ONE, hours_on_oil=None, oil_change_meter=8132, new=None)
        put_right(c, "N 881", replace(same, figures={"Fe_ppm": "14"}), WHO)
        # What the laboratory sent anew of the other waits for a person as before.
        assert open_again(c, "N 7")["figures"]["Fe_ppm"] == "148"
        assert number(c, "pending_amendments_count") == 1


def log_rows(c: Connection) -> int:
    return c.execute("select count(*) from log").fetchone()[0]


def test_what_was_typed_in_another_unit_is_kept_as_it_was_typed(url: str, tmp_path: Path) -> None:
    with single(url) as c:
        quarts = replace(ONE, top_up_l=1.892706, typed={"top_up_l": "2 US qt"})
        bring_report(c, quarts, WHO)
        [drawn] = [r for r in log.logbook(c, ONE.engine)["rows"] if r["kind"] == "sample"]
        assert drawn["top_up_l"] == pytest.approx(1.892706)
        held = c.execute("select typed from log").fetchall()
        assert held == [({"top_up_l": "2 US qt"},)]
        out = zipfile.ZipFile(io.BytesIO(export_zip(c))).read("samples.csv").decode()
        assert "top_up_l=2 US qt" in out
        # The same file again is known.
        (tmp_path / "samples.csv").write_text(out)
        found = run_import(c, [("samples.csv", tmp_path / "samples.csv")], WHO)
        assert (found.written, found.files[0].known, found.files[0].added) == (True, 1, 0)


def test_a_stand_in_for_the_fresh_oil_is_taken_only_where_somebody_says_so(url: str) -> None:
    with single(url) as c:
        bring_report(c, replace(ONE, oil="Ulfrin HD"), WHO)
        thickness = {x["column"]: x for x in judge.sample(c, "N 881")["ladders"]}["KV100_mm2_s"]
        assert thickness["fresh"] is None
        typical = Fresh(grade="15W-40", typical=True)
        later = {"on": ONE.on + timedelta(days=3), "meter": 8360, "new": None, "oil": "Ulfrin HD"}
        bring_report(c, replace(ONE, **later, report="N 2", fresh=typical), WHO)
        thickness = {x["column"]: x for x in judge.sample(c, "N 2")["ladders"]}["KV100_mm2_s"]
        # SAE J300: 40 is from 12.5 to below 16.3 mm2/s; its middle is 14.4.
        assert thickness["fresh"] == 14.4
        held = c.execute("select oil, grade, batch from oil_batch").fetchall()
        assert held == [("Ulfrin HD", "15W-40", "middle of its grade")]
        # What a person has of it counts from then on; the stand-in stays readable beside it.
        own = Fresh(grade="15W-40", figures={"KV100_mm2_s": "14.9", "Si_ppm": "4"})
        more = {**later, "on": ONE.on + timedelta(days=4), "meter": 8370}
        bring_report(c, replace(ONE, **more, report="N 3", fresh=own), WHO)
        assert number(c, "newest_report") >= 5
        for fresh, code in (
            (Fresh(typical=True, grade="thick"), "unknown_name"),
            (replace(own, figures={"Si_ppm": "much"}), "bad_report"),
        ):
            with pytest.raises(CannotRecord) as refused, c.transaction():
                bring_report(c, replace(ONE, new=None, report="N 9", oil="Other", fresh=fresh), WHO)
            assert refused.value.code in (code, "grade")
        with pytest.raises(CannotRecord, match="name the oil"), c.transaction():
            bring_report(c, replace(ONE, new=None, report="N 9", fresh=typical), WHO)
