"""Exchanged labels through the database: both engines are asked, whichever is judged first, and one
answer settles both."""

from datetime import timedelta
from pathlib import Path
from uuid import uuid4

import numpy as np
import pytest

from keen_tracer.core.roles import at_the_machine
from keen_tracer.storage.db import single
from keen_tracer.storage.records import row
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.recording.answering import answer, open_queries
from keen_tracer.usecases.recording.correcting import Correction, correct, swap
from tests.core.review.test_exchanged_labels import BUSY_ONE, DRAINS, QUIET_ONE
from tests.helpers import DAY, write_csv

ENGINES = (
    "engine,class,meter_unit,depot,nominal_drain_meter\n"
    "E-1,heavy_diesel,h,mid,250\nE-2,heavy_diesel,h,mid,250\n"
)
DEPOTS = "depot,time_zone\nmid,Europe/Oslo\n"


def rows_of(engine: str, seed: int, habit: dict[str, float], last: dict[str, float]) -> list[str]:
    """Its samples, the newest with another habit's figures."""
    rng = np.random.default_rng(seed)
    out = []
    for n in range(DRAINS):
        shown = last if n == DRAINS - 1 else habit
        noise = np.exp(rng.normal(0, 0.06, len(habit)))
        read = [f"{v * x:.1f}" for v, x in zip(shown.values(), noise, strict=True)]
        day = DAY + timedelta(days=40 * n + 39)
        out.append(f"{engine}-{n + 1},{engine},{day},{1245 + 250 * n},Lab,{','.join(read)}")
    return out


def events() -> str:
    changes = "".join(
        f"{e},{DAY + timedelta(days=40 * n)},{1000 + 250 * n},oil_change,Test oil\n"
        for e in ("E-1", "E-2")
        for n in range(DRAINS)
    )
    return "engine,on,meter,kind,oil\n" + changes


def samples(rows: list[str]) -> str:
    head = "sample,engine,drawn_on,meter,laboratory," + ",".join(f"{e}_ppm" for e in QUIET_ONE)
    return "\n".join([head, *rows]) + "\n"


ONE = rows_of("E-1", 1, QUIET_ONE, BUSY_ONE)
OTHER = rows_of("E-2", 2, BUSY_ONE, QUIET_ONE)


def bring(url: str, folder: Path, **files: str) -> None:
    paths = [write_csv(folder, f"{name}.csv", text) for name, text in files.items()]
    report = import_files(url, [(p.name, p) for p in paths], at_the_machine("t"))
    assert report.written, report.problems
    judge_stale(url)


def asked(url: str) -> dict[str, tuple[str, str]]:
    """Engine → its bottle and the one it is said to be exchanged with."""
    with single(url) as c:
        found = open_queries(c, None)
    return {
        q["engine"]: (q["sample"], q["exchanged_with"])
        for q in found
        if q["code"] == "labels_exchanged"
    }


BOTH = {"E-1": ("E-1-7", "E-2-7"), "E-2": ("E-2-7", "E-1-7")}


@pytest.fixture
def fleet(url: str, tmp_path: Path) -> str:
    bring(url, tmp_path, depots=DEPOTS, engines=ENGINES, events=events())
    return url


@pytest.mark.parametrize("first", ["together", "E-1", "E-2"])
def test_both_are_asked_whichever_comes_in_first(fleet: str, tmp_path: Path, first: str) -> None:
    parts = {"together": [ONE + OTHER], "E-1": [ONE, OTHER], "E-2": [OTHER, ONE]}[first]
    for part in parts:
        bring(fleet, tmp_path, samples=samples(part))
    assert asked(fleet) == BOTH
    judge_stale(fleet, every=True)
    assert asked(fleet) == BOTH


@pytest.mark.parametrize("engine", ["E-1", "E-2"])
def test_one_answer_settles_both(fleet: str, tmp_path: Path, engine: str) -> None:
    bring(fleet, tmp_path, samples=samples(ONE + OTHER))
    with single(fleet) as c:
        query = next(q for q in open_queries(c, engine) if q["code"] == "labels_exchanged")
        answer(c, uuid4(), engine, query["key"], "stands", "I drew both myself", "Jon")
    judge_stale(fleet)
    assert asked(fleet) == {}
    judge_stale(fleet, every=True)
    assert asked(fleet) == {}


def test_exchanging_the_labels_settles_both(fleet: str, tmp_path: Path) -> None:
    bring(fleet, tmp_path, samples=samples(ONE + OTHER))
    with single(fleet) as c:
        swap(c, "E-1-7", "E-2-7", "the box was packed the wrong way round", "Jon")
    judge_stale(fleet)
    assert asked(fleet) == {}


def test_a_day_put_right_takes_the_question_from_both(fleet: str, tmp_path: Path) -> None:
    """Drawn three weeks later than was written, the bottle was in another round."""
    bring(fleet, tmp_path, samples=samples(ONE + OTHER))
    later = DAY + timedelta(days=40 * DRAINS + 20)
    with single(fleet) as c:
        drawn = row(c, "draw_of_sample", code="E-1-7")
        assert drawn is not None
        fix = Correction(uuid4(), drawn["log_id"], "the label says so", None, {"on_date": later})
        correct(c, fix, "Jon")
    judge_stale(fleet)
    assert asked(fleet) == {}
