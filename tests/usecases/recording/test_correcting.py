"""Putting right: moved, swapped, corrected, taken out; both engines judged again, the old words
kept."""

from datetime import date, timedelta
from pathlib import Path
from uuid import uuid4

import pytest

from keen_tracer.core.roles import at_the_machine
from keen_tracer.storage.db import Connection, single
from keen_tracer.storage.records import row, rows
from keen_tracer.usecases.errors import CannotRecord
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.pages import judge, log, wall
from keen_tracer.usecases.recording import correcting, fleet_record
from keen_tracer.usecases.recording.correcting import Correction
from tests.day import TODAY
from tests.helpers import write_csv

DAY = TODAY - timedelta(days=30)


@pytest.fixture
def two(url: str, tmp_path: Path) -> str:
    """Two engines with one sample each; B-1 stands on E-1 with figures that raise it."""
    files = {
        "engines.csv": "engine,class,oil\nE-1,heavy_diesel,Old\nE-2,heavy_diesel,Old\n",
        "events.csv": "engine,on,meter,kind,oil\n"
        f"E-1,{DAY - timedelta(days=9)},900,oil_change,Old\n"
        f"E-2,{DAY - timedelta(days=9)},4900,oil_change,Old\n",
        "samples.csv": "sample,engine,drawn_on,meter,Fe_ppm\n"
        f"B-1,E-1,{DAY},1000,400\n"
        f"B-2,E-2,{DAY},5000,9\n",
    }
    paths = [write_csv(tmp_path, n, t) for n, t in files.items()]
    assert import_files(url, [(p.name, p) for p in paths], at_the_machine("t")).written
    judge_stale(url)
    return url


def log_of(c: Connection, sample: str) -> str:
    found = row(c, "draw_of_sample", code=sample)
    assert found
    return str(found["log_id"])


# Iron alone was reported: nothing is raised, and nothing is cleared.
QUIET = None


def level(c: Connection, engine: str) -> int | None:
    return next(r for r in wall.wall(c, None, engine, "need", 0, 9)["rows"] if r["code"] == engine)[
        "level"
    ]


def fix(c: Connection, sample: str, **more) -> Correction:
    given = {"reason": "read the label again", **more}
    return Correction(uuid4(), row(c, "draw_of_sample", code=sample)["log_id"], **given)


def test_a_moved_sample_is_judged_on_its_new_engine_and_no_longer_on_the_old(two: str) -> None:
    with single(two) as c:
        assert (level(c, "E-1"), level(c, "E-2")) == (2, QUIET)
        # At 1 000 h the bottle cannot stand after 4 900 h on the other engine, so its meter is put
        # right too.
        changes = {"dial": 5010.0, "on_date": DAY + timedelta(days=1)}
        correcting.correct(c, fix(c, "B-1", engine="E-2", changes=changes), "Jo")
        assert (level(c, "E-1"), level(c, "E-2")) == (None, 2)
        for engine in ("E-1", "E-2"):
            trail = log.logbook(c, engine)["corrections"]
            assert [(t["by"], t["reason"]) for t in trail] == [("Jo", "read the label again")]
            assert "moved from E-1 to E-2" in trail[0]["words"]
            assert "meter 1000 → 5010" in trail[0]["words"]


def test_two_swapped_labels_exchange_their_places(two: str) -> None:
    with single(two) as c:
        correcting.swap(c, "B-1", "B-2", "colours did not fit", "Jo")
        assert (level(c, "E-1"), level(c, "E-2")) == (QUIET, 2)
        assert judge.sample(c, "B-1")["engine"] == "E-2"
        assert judge.sample(c, "B-1")["dial"] == 5000
        correcting.swap(c, "B-1", "B-2", "no, they did", "Jo")
        assert (level(c, "E-1"), level(c, "E-2")) == (2, QUIET)


def test_a_meter_that_would_fall_there_is_refused_and_nothing_moves(two: str) -> None:
    with pytest.raises(CannotRecord, match="below"), single(two) as c:
        correcting.correct(c, fix(c, "B-1", engine="E-2"), "Jo")
    with single(two) as c:
        assert judge.sample(c, "B-1")["engine"] == "E-1"


def test_the_wrong_oil_is_put_right_and_the_old_word_kept(two: str) -> None:
    with single(two) as c:
        change = next(r for r in log.logbook(c, "E-1")["rows"] if r["kind"] == "oil_change")
        right = {"oil": "New", "batch": "7"}
        correcting.correct(
            c, Correction(uuid4(), change["id"], "the drum says so", None, right), "Jo"
        )
        book = log.logbook(c, "E-1")
        assert next(r for r in book["rows"] if r["kind"] == "oil_change")["words"].startswith(
            "oil change · New 7"
        )
        assert "oil Old → New" in book["corrections"][0]["words"]
        assert judge.sample(c, "B-1")["oil"] == "New 7"


def test_a_correction_sent_twice_is_made_once(two: str) -> None:
    with single(two) as c:
        one = fix(c, "B-1", changes={"dial": 1001.0})
        correcting.correct(c, one, "Jo")
        correcting.correct(c, one, "Jo")
        assert len(log.logbook(c, "E-1")["corrections"]) == 1


def test_two_people_cannot_correct_the_same_row(two: str) -> None:
    with single(two) as c:
        first, second = (fix(c, "B-1", changes={"dial": d}) for d in (1001.0, 1002.0))
        correcting.correct(c, first, "Jo")
        with pytest.raises(CannotRecord, match="already"):
            correcting.correct(c, second, "Al")


def test_a_bottle_registered_twice_is_taken_out_with_a_reason(two: str) -> None:
    with single(two) as c:
        key = row(c, "draw_of_sample", code="B-1")["log_id"]
        with pytest.raises(CannotRecord, match="why"):
            correcting.withdraw(c, key, " ", "Jo")
        correcting.withdraw(c, key, "registered twice", "Jo")
        assert level(c, "E-1") is None
        assert log.logbook(c, "E-1")["corrections"][0]["words"].startswith("taken back")


@pytest.mark.parametrize(
    ("changes", "engine", "text"),
    [
        ({"kind": "x"}, None, "cannot be corrected"),
        ({"purpose": "lunch"}, None, "not known"),
        ({"on_date": date(2999, 1, 1)}, None, "future"),
        ({}, "E-9", "no engine"),
        ({"litres_in": 4}, None, "cannot be"),
    ],
)
def test_a_correction_that_makes_no_sense_says_why(two: str, changes, engine, text) -> None:
    with single(two) as c, pytest.raises(CannotRecord, match=text):
        correcting.correct(c, fix(c, "B-1", changes=changes, engine=engine), "Jo")


def test_an_import_never_overwrites_a_correction(two: str, tmp_path: Path) -> None:
    with single(two) as c:
        correcting.correct(c, fix(c, "B-1", changes={"dial": 1050.0}), "Jo")
    text = f"sample,engine,drawn_on,meter,Fe_ppm\nB-1,E-1,{DAY},1000,400\nB-2,E-2,{DAY},5000,9\n"
    path = write_csv(tmp_path, "samples.csv", text)
    assert import_files(two, [(path.name, path)], at_the_machine("t")).written
    with single(two) as c:
        assert judge.sample(c, "B-1")["dial"] == 1050
        assert (
            len(
                rows(
                    c,
                    "log_rows_of_engine",
                    engine=row(c, "engine_by_code", code="E-1")["id"],
                    limit=99,
                )
            )
            == 2
        )


@pytest.mark.parametrize(
    ("marks", "level", "words"),
    [
        ("4", 1.25, "1.0 L above full"),
        ("4", 0.5, "2.0 L below full"),
        ("4", 1.0, "at the full mark"),
        ("", 1.25, "Above full on the stick"),
        ("", -0.2, "Below low on the stick"),
        ("", 0.5, ""),
    ],
)
def test_the_stick_is_said_in_litres_where_its_marks_are_known(
    two: str, marks: str, level: float, words: str
) -> None:
    with single(two) as c:
        fleet_record.save(
            c,
            "models",
            {"model": "M", "class": "heavy_diesel", "between_marks_l": marks},
            None,
            "Jo",
        )
        fleet_record.save(c, "engines", {"engine": "E-1", "model": "M"}, 1, "Jo")
        correcting.correct(c, fix(c, "B-1", changes={"level_on_stick": level}), "Jo")
        said = log.logbook(c, "E-1")["stick"]
        assert words in said
        assert bool(said) == bool(words)
