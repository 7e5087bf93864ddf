"""Adding an analyte is one row of a table: seen through import, judgement, page and export."""

import json
import os
import shutil
import subprocess
import sys
from pathlib import Path

from launcher.paths import ROOT

ROW = "44,W_ppm,W,Tungsten,ppm,wear,wear,icp,yes,,rise,,,,,,,,,evidence\n"
LIMIT = "class,heavy_diesel,W_ppm,conc,4,8,ppm,our choice,with tungsten\n"
SCRIPT = """
import json, sys
from pathlib import Path
from keen_tracer.core.roles import Actor, at_the_machine
from keen_tracer.cli import prepare
from keen_tracer.core.laboratory import BY_COLUMN
from keen_tracer.core.limits import LimitRow
from keen_tracer.storage.db import single
from keen_tracer.usecases.exporting import export_folder
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging import library
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.pages import judge
from keen_tracer.usecases.pages.terms import plain
url, folder = sys.argv[1], Path(sys.argv[2])
files = [folder / f"{n}.csv" for n in ("engines", "events", "samples")]
report = import_files(url, [(f.name, f) for f in files], at_the_machine("t"))
assert report.written, report.problems
row = LimitRow("class", "heavy_diesel", "W_ppm", "conc", 4, 8, "ppm", "our choice")
with single(url) as c:
    library.publish(c, "with tungsten", [row], Actor("t", "analyst"))
judge_stale(url)
with single(url) as c:
    page = judge.sample(c, "S-1")
export_folder(url, folder / "out")
print(json.dumps({
    "ladder": next(x for x in page["ladders"] if x["column"] == "W_ppm"),
    "said": [f["sentence"] for f in page["verdict"]["said"]],
    "offered": [a["name"] for a in plain()["analytes"]],
    "exported": (folder / "out" / "readings.csv").read_text(),
}, default=str))
"""


def test_one_row_is_all_it_takes(url: str, tmp_path: Path) -> None:
    shutil.copytree(ROOT / "src", tmp_path / "src", ignore=shutil.ignore_patterns("__pycache__"))
    table = tmp_path / "src" / "keen_tracer" / "core" / "tables" / "analytes.csv"
    columns = table.read_text(encoding="utf-8").splitlines()[1].count(",")
    assert ROW.count(",") == columns
    with table.open("a", encoding="utf-8") as f:
        f.write(ROW)
    (tmp_path / "engines.csv").write_text("engine,class,oil_total_l\nE-1,heavy_diesel,34\n")
    (tmp_path / "events.csv").write_text(
        "engine,on,meter,kind,oil\nE-1,2026-01-05,1000,oil_change,Heavy\n"
    )
    (tmp_path / "samples.csv").write_text(
        "sample,engine,drawn_on,meter,laboratory,Fe_ppm,W_ppm\nS-1,E-1,2026-03-10,1250,Lab,20,9\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", SCRIPT, url, str(tmp_path)],
        env={**os.environ, "PYTHONPATH": str(tmp_path / "src"), "KEEN_HOME": str(tmp_path)},
        capture_output=True,
        text=True,
    )
    assert done.returncode == 0, done.stderr
    seen = json.loads(done.stdout.splitlines()[-1])
    assert seen["ladder"]["level"] == 2
    assert any(s.startswith("Tungsten 9 ppm") for s in seen["said"])
    assert "Tungsten" in seen["offered"]
    assert "W_ppm,9" in seen["exported"]
