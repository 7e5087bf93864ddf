"""Queries are asked at entry, listed until answered, and an answer keeps both values and who gave
it."""

from datetime import date, timedelta
from pathlib import Path
from uuid import UUID, uuid4

import pytest

from keen_tracer.core.roles import at_the_machine
from keen_tracer.storage.db import Connection, single
from keen_tracer.usecases.errors import CannotRecord
from keen_tracer.usecases.exporting import export_folder
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.pages import engine, judge, log, queue, state
from keen_tracer.usecases.recording import answering
from keen_tracer.usecases.recording.correcting import Correction, swap
from keen_tracer.usecases.recording.log_rows import Event
from tests.day import TODAY
from tests.helpers import write_csv

DAY = TODAY - timedelta(days=60)


def at(days: int) -> date:
    return DAY + timedelta(days=days)


@pytest.fixture
def asked(url: str, tmp_path: Path) -> str:
    """An oil change nobody wrote down between the second and the third sample, seen in the metals
    and on the bottle."""
    head = "sample,engine,drawn_on,meter,oil_change_meter,Fe_ppm,Cu_ppm,BN_mgKOH_g\n"
    files = {
        "engines.csv": "engine,class\nE-1,heavy_diesel\n",
        "events.csv": f"engine,on,meter,kind,oil\nE-1,{DAY},1000,oil_change,Old\n",
        "samples.csv": head + f"a,E-1,{at(10)},1100,1000,12,3,9\nb,E-1,{at(25)},1240,1000,30,8,6\n"
        f"c,E-1,{at(40)},1300,1250,9,2,9.4\n",
    }
    paths = [write_csv(tmp_path, n, t) for n, t in files.items()]
    assert import_files(url, [(p.name, p) for p in paths], at_the_machine("t")).written
    judge_stale(url)
    return url


def codes(c: Connection) -> list[str]:
    return [q["code"] for q in answering.open_queries(c, "E-1")]


def one(c: Connection, code: str) -> dict:
    return next(q for q in answering.open_queries(c, "E-1") if q["code"] == code)


def say(
    c: Connection, code: str, said: str = "stands", reason: str = "asked the driver", **more
) -> None:
    answering.answer(c, uuid4(), "E-1", one(c, code)["key"], said, reason, "Jo", **more)


def test_they_are_listed_with_the_cause_first_and_counted(asked: str) -> None:
    with single(asked) as c:
        assert codes(c) == ["oil_changed", "hours_differ"]
        assert state.state(c, None)["queries"] == 2
        assert "fell from 30 ppm to 9 ppm" in one(c, "oil_changed")["words"]
        assert [q["code"] for q in engine.engine(c, "E-1")["queries"]] == codes(c)


def test_one_answer_settles_what_followed_from_it(asked: str) -> None:
    with single(asked) as c:
        say(
            c,
            "oil_changed",
            "corrected",
            event=Event(id=uuid4(), engine="E-1", on=at(26), kind="oil_change", dial=1250.0),
        )
        assert codes(c) == []
        found = log.logbook(c, "E-1")["answers"]
        assert [(a["by"], a["said"], a["reason"]) for a in found] == [
            ("Jo", "corrected", "asked the driver")
        ]
        assert "from 30 ppm to 9 ppm" in found[0]["words"]
        assert len(engine.engine(c, "E-1")["charges"]) == 2


def test_an_answer_that_it_stands_is_not_asked_again(asked: str) -> None:
    with single(asked) as c:
        say(c, "hours_differ")
        assert codes(c) == ["oil_changed"]
    judge_stale(asked, every=True)
    with single(asked) as c:
        assert codes(c) == ["oil_changed"]


def test_other_values_are_another_query(asked: str) -> None:
    with single(asked) as c:
        say(c, "hours_differ")
        log = UUID(one(c, "oil_changed")["log"])
        from keen_tracer.usecases.recording.correcting import correct

        correct(c, Correction(uuid4(), log, "read again", None, {"oil_change_dial": 1260.0}), "Jo")
        assert codes(c) == ["oil_changed", "hours_differ"]


def test_putting_it_right_keeps_the_old_value_beside_the_new(asked: str) -> None:
    with single(asked) as c:
        q = one(c, "hours_differ")
        say(
            c,
            "hours_differ",
            "corrected",
            fix=Correction(
                uuid4(), UUID(q["log"]), "the card says 1000", None, {"oil_change_dial": 1000.0}
            ),
        )
        assert codes(c) == ["oil_changed"]
        assert (
            "50 h on the oil, the record says 300 h" in log.logbook(c, "E-1")["answers"][0]["words"]
        )
        assert log.logbook(c, "E-1")["corrections"][0]["by"] == "Jo"


@pytest.mark.parametrize(
    ("more", "text"),
    [
        ({"reason": " "}, "how you know"),
        ({"said": "corrected"}, "what it should be"),
        ({"fix": Correction(uuid4(), uuid4(), "x")}, "what it should be"),
        ({"said": "corrected", "fix": Correction(uuid4(), uuid4(), "x")}, "another record"),
    ],
)
def test_an_answer_that_says_nothing_is_refused(asked: str, more, text: str) -> None:
    with single(asked) as c, pytest.raises(CannotRecord, match=text):
        say(c, "hours_differ", **more)


def test_two_people_answer_once(asked: str) -> None:
    with single(asked) as c:
        key = one(c, "hours_differ")["key"]
        say(c, "hours_differ")
        with pytest.raises(CannotRecord, match="somebody answered"):
            answering.answer(c, uuid4(), "E-1", key, "stands", "me too", "Al")


def test_answers_go_out_and_come_in(asked: str, new_database, tmp_path: Path) -> None:
    with single(asked) as c:
        say(c, "hours_differ")
    export_folder(asked, tmp_path / "out")
    other = new_database()
    found = import_files(
        other,
        [(p.name, p) for p in sorted((tmp_path / "out").glob("*.csv"))],
        at_the_machine("t"),
        as_record=True,
    )
    assert found.written, found.problems
    judge_stale(other)
    with single(other) as c:
        assert codes(c) == ["oil_changed"]
    export_folder(other, tmp_path / "again")
    for file in (tmp_path / "out").iterdir():
        assert file.read_bytes() == (tmp_path / "again" / file.name).read_bytes(), file.name


def test_two_exchanged_bottles_are_named_by_their_additives_and_put_right(
    url: str, tmp_path: Path
) -> None:
    heavy, light = "2600,310,1250,1080,52,95", "1350,620,930,820,85,180"
    head = "Ca_ppm,Mg_ppm,Zn_ppm,P_ppm,Mo_ppm,B_ppm"
    files = {
        "engines.csv": "engine,class\nE-1,heavy_diesel\nE-2,light_diesel\n",
        "oils.csv": f"oil,{head}\nHeavy,{heavy}\nLight,{light}\n",
        "events.csv": "engine,on,meter,kind,oil\n"
        f"E-1,{DAY},1000,oil_change,Heavy\n"
        f"E-2,{DAY},500,oil_change,Light\n",
        "samples.csv": f"sample,engine,drawn_on,meter,{head}\nx,E-1,{at(20)},1100,{light}\n"
        f"y,E-2,{at(22)},600,{heavy}\n",
    }
    paths = [write_csv(tmp_path, n, t) for n, t in files.items()]
    assert import_files(url, [(p.name, p) for p in paths], at_the_machine("t")).written
    judge_stale(url)
    with single(url) as c:
        found = {q["sample"]: q for q in answering.open_queries(c, None)}
        assert {s: (q["code"], q["exchanged_with"]) for s, q in found.items()} == {
            "x": ("wrong_oil", "y"),
            "y": ("wrong_oil", "x"),
        }
        assert "were the two labels exchanged" in answering.open_queries(c, "E-2")[0]["settles"]
        swap(c, "x", "y", "additives fit the other way round", "Jo")
        assert answering.open_queries(c, None) == []


def test_a_sample_that_does_not_fit_is_kept_out_of_the_quiet_pass(asked: str) -> None:
    with single(asked) as c:
        queued = {r["sample"]: r["queried"] for r in queue.queue(c)}
        assert queued == {"a": False, "b": False, "c": True}
        assert {q["code"] for q in judge.sample(c, "c")["queries"]} == {
            "oil_changed",
            "hours_differ",
        }
        assert judge.sample(c, "a")["queries"] == []
        say(
            c,
            "oil_changed",
            "corrected",
            event=Event(id=uuid4(), engine="E-1", on=at(26), kind="oil_change", dial=1250.0),
        )
        assert not any(r["queried"] for r in queue.queue(c))
