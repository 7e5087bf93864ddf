"""A laboratory's averages: beside a reading, never a level; a change is accepted, not taken."""

from dataclasses import replace
from pathlib import Path

import pytest

from keen_tracer.core.roles import Actor, NotAllowed
from keen_tracer.storage.db import Connection, single
from keen_tracer.usecases.errors import CannotRecord
from keen_tracer.usecases.importing.files import ImportReport, run_import
from keen_tracer.usecases.importing.one_report import bring_report
from keen_tracer.usecases.pages import judge
from keen_tracer.usecases.recording.averages import AverageSheet, averages, put_sheet
from tests.usecases.importing.test_one_report import ONE, WHO

HEAD = "laboratory,model,analyte,average,at_meter,origin\n"
MODELS = "model,class\nM-1,heavy_diesel\n"
ENGINES = 'engine,class,model,in_service_on\n"Boat, port",heavy_diesel,M-1,\n'
LISTED = HEAD + "Northfall,M-1,Fe_ppm,14,250,sheet of May\nEast,M-1,Fe_ppm,40,,\n"


def bring(c: Connection, folder: Path, accept: bool = False, **files: str) -> ImportReport:
    for name, text in files.items():
        (folder / f"{name}.csv").write_text(text)
    paths = [(f"{name}.csv", folder / f"{name}.csv") for name in files]
    return run_import(c, paths, WHO, accept)


def test_a_reading_stands_beside_the_average_and_its_level_is_its_own(
    url: str, tmp_path: Path
) -> None:
    with single(url) as c:
        assert bring(c, tmp_path, models=MODELS, engines=ENGINES).written
        one = replace(ONE, new=None, figures={"Fe_ppm": "24", "Pb_ppm": "<1"})
        bring_report(c, one, WHO)
        before = judge.sample(c, "N 881")
        assert [x["average"] for x in before["ladders"]] == [None, None]
        assert bring(c, tmp_path, averages=LISTED).written
        after = judge.sample(c, "N 881")
        iron, lead = after["ladders"]
        # 212 h against 250 h: within a quarter, so the hours are not said.
        assert iron["average"]
        assert iron["average"]["words"] == "above the laboratory's average of 14 for this model"
        assert lead["average"] is None
        # Of half the hours no side is taken: 12 at 106 h is no less than 24 at 212 h.
        half = {"report": "N 9", "meter": 8500, "hours_on_oil": 106, "figures": {"Fe_ppm": "12"}}
        bring_report(c, replace(one, **half), WHO)
        [early] = judge.sample(c, "N 9")["ladders"]
        assert early["average"]
        assert early["average"]["side"] == "apart"
        assert early["average"]["words"].endswith("is 14 at 250 h on the oil, here 106 h")
        assert after["verdict"] == before["verdict"]


def test_another_figure_is_a_change_to_accept_and_what_was_typed_stays(
    url: str, tmp_path: Path
) -> None:
    with single(url) as c:
        assert bring(c, tmp_path, models=MODELS, engines=ENGINES, averages=LISTED).written
        again = bring(c, tmp_path, averages=LISTED)
        assert (again.files[0].known, again.files[0].added, again.changes) == (2, 0, [])
        other = HEAD + "Northfall,M-1,Fe_ppm,19,250,\n"
        [change] = bring(c, tmp_path, averages=other).changes
        assert (change.old, change.new) == ("14", "19")
        assert {(x["laboratory"], x["average"]) for x in averages(c)} == {
            ("Northfall", 14),
            ("East", 40),
        }
        assert bring(c, tmp_path, accept=True, averages=other).written
        assert {x["average"] for x in averages(c)} == {19, 40}
        sheet = AverageSheet(laboratory="East", model="M-1", averages={"Fe_ppm": 33, "Pb_ppm": 2})
        assert put_sheet(c, sheet, WHO) == 2
        assert put_sheet(c, sheet, WHO) == 0
        assert {x["average"] for x in averages(c)} == {19, 33, 2}
        with pytest.raises(NotAllowed):
            put_sheet(c, sheet, Actor("Tor Vik", "technician"))
        for over, code in (
            ({"model": "M-9"}, "unknown_model"),
            ({"laboratory": " "}, "laboratory"),
            ({"averages": {"Xx_ppm": 1.0}}, "unknown_analyte"),
        ):
            with pytest.raises(CannotRecord) as refused:
                put_sheet(c, replace(sheet, **over), WHO)
            assert refused.value.code == code
        [problem] = bring(c, tmp_path, averages=HEAD + "Northfall,M-9,Fe_ppm,19,,\n").problems
        assert problem.column == "model"
