"""One report by hand: pasted as it stands, an engine made on the spot, all or nothing."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from keen_tracer.core.roles import Actor
from keen_tracer.storage.db import single
from keen_tracer.storage.records import number, row
from keen_tracer.usecases.errors import CannotRecord
from keen_tracer.usecases.importing.one_report import Report, Unknown, bring_report, read_pasted

WHO = Actor("Mira Ostrand", "analyst")
NEW = Unknown(engine_class="heavy_diesel", fuel="diesel", sump_l=34, allowed_grades="15W-40")
ONE = Report(
    engine="Boat, port",
    on=date.today() - timedelta(days=7),
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
        ({"meter": None}, "meter_required", "meter"),
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
