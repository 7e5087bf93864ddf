"""Whatever order files come in, the verdicts are the same: nothing hangs on what was known
first."""

import random
from pathlib import Path

import pytest

from keen_tracer.core.roles import at_the_machine
from keen_tracer.storage.db import single
from keen_tracer.storage.records import rows
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging.judging import judge_stale
from tests.helpers import write_csv

ENGINES = "engine,class,oil_total_l\nE-1,heavy_diesel,34\nE-2,heavy_diesel,28\n"
FIRST, SECOND = "2026-01-", "2026-03-"


def parts() -> dict[str, str]:
    """Two charges of two engines with a top-up, a swapped meter and a repair, as small files that
    lean on each other."""
    head, read = (
        "engine,on,meter,meter_new,kind,litres_in,oil\n",
        "laboratory,report,sample,analyte,reading\n",
    )
    samples = "sample,engine,drawn_on,meter,resample_of\n"
    figures = {"a": (12, 3), "b": (30, "<1"), "c": (400, 9), "d": (15, 4)}
    lines = {
        s: "".join(f"L,R-{s},{s},{k},{v}\n" for k, v in zip(("Fe_ppm", "Cu_ppm"), f, strict=True))
        for s, f in figures.items()
    }
    return {
        "events-1.csv": head
        + f"E-1,{FIRST}02,100,,oil_change,30,Old\nE-2,{FIRST}02,900,,oil_change,25,Old\n",
        "events-2.csv": head
        + f"E-1,{FIRST}20,180,,top_up,2,Old\nE-1,{SECOND}01,300,1000,meter_replaced,,\n"
        f"E-1,{SECOND}02,1001,,oil_change,30,New\nE-2,{SECOND}10,1040,,repair,,\n",
        "samples-1.csv": samples + f"a,E-1,{FIRST}25,200,\nd,E-2,{SECOND}05,1030,\n",
        "samples-2.csv": samples + f"b,E-1,{FIRST}28,260,a\nc,E-1,{SECOND}20,1085,\n",
        "readings-1.csv": read + lines["a"] + lines["c"],
        "readings-2.csv": read + lines["b"] + lines["d"],
        "oils.csv": "oil,Fe_ppm,Cu_ppm\nOld,1,0\nNew,2,1\n",
    }


def verdicts(url: str) -> list[tuple[str, int | None, str]]:
    with single(url) as c:
        return [(r["sample"], r["level"], r["input_hash"]) for r in rows(c, "demo_verdicts")]


def bring(
    url: str, folder: Path, names: list[str], judge_between: bool
) -> list[tuple[str, int | None, str]]:
    start = write_csv(folder, "engines.csv", ENGINES)
    assert import_files(url, [(start.name, start)], at_the_machine("t")).written
    for name in names:
        path = write_csv(folder, name, parts()[name])
        found = import_files(url, [(name, path)], at_the_machine("t"))
        assert found.written, (name, found.problems)
        if judge_between:
            judge_stale(url)
    judge_stale(url)
    return verdicts(url)


@pytest.mark.parametrize("seed", range(8))
def test_any_order_of_the_files_gives_the_same_verdicts(
    url: str, new_database, tmp_path: Path, seed: int
) -> None:
    names = list(parts())
    straight = bring(new_database(), tmp_path, names, False)
    assert [s for s, _, _ in straight] == ["a", "b", "c", "d"]
    assert {level for _, level, _ in straight} == {0, 2}
    random.Random(seed).shuffle(names)
    assert bring(url, tmp_path, names, judge_between=bool(seed % 2)) == straight
