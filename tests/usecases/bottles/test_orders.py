"""The simulated laboratory answers through the import: on time, late, amended, swapped."""

from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path
from uuid import uuid4

import pytest

from keen_tracer import clock
from keen_tracer.core.roles import at_the_machine
from keen_tracer.standins.laboratory import NAME
from keen_tracer.storage.db import Database, single
from keen_tracer.storage.records import rows
from keen_tracer.usecases.bottles import orders, steps
from keen_tracer.usecases.errors import CannotRecord
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.pages import exchange, judge
from keen_tracer.usecases.recording.log_rows import Bottle, Event, record_event, register_bottle
from tests.day import TODAY
from tests.helpers import write_csv

DAY = TODAY - timedelta(days=40)


@pytest.fixture
def database(url: str, tmp_path: Path) -> Iterator[Database]:
    """Three engines, each with a bottle drawn yesterday; E-1 has figures already."""
    figures = "Fe_ppm,Ca_ppm,KV100_mm2_s\n"
    files = {
        "engines.csv": "engine,class\nE-1,heavy_diesel\nE-2,heavy_diesel\nE-3,heavy_diesel\n",
        "events.csv": "engine,on,meter,kind,oil\n"
        f"E-1,{DAY - timedelta(days=9)},900,oil_change,Old\n",
        "samples.csv": f"sample,engine,drawn_on,meter,{figures}1,E-1,{DAY},1000,20,2500,14.1\n",
    }
    paths = [write_csv(tmp_path, n, t) for n, t in files.items()]
    assert import_files(url, [(p.name, p) for p in paths], at_the_machine("t")).written
    judge_stale(url)
    with single(url) as c:
        for n, engine in enumerate(("E-1", "E-2", "E-3")):
            register_bottle(
                c,
                Bottle(
                    id=uuid4(),
                    sample=str(71 + n),
                    engine=engine,
                    on=TODAY - timedelta(days=1),
                    dial=1100.0,
                ),
                "Jo",
            )
    with Database(url) as found:
        yield found


def send(
    database: Database, mischief: str = "none", delay: int = 0, samples=("71", "72", "73"), key=None
) -> None:
    with database.transaction() as c:
        orders.send(c, key or uuid4(), samples, timedelta(seconds=delay), mischief, TODAY, "Jo")


def answered(database: Database) -> list[str]:
    orders.answer_due(database)
    judge_stale(database.url)
    with database.transaction() as c:
        waiting = {b["sample"] for b in steps.inbox(c, TODAY)["out"]}
        return sorted({"71", "72", "73"} - waiting)


def test_it_answers_when_it_is_due_and_not_before(database: Database) -> None:
    send(database, delay=3600)
    assert answered(database) == []
    with database.transaction() as c:
        assert {b["state"] for b in steps.inbox(c, TODAY)["out"]} == {"sent"}
    with single(database.url) as c:
        c.execute("update lab_order set due_at = %s", (clock.now(),))
    assert answered(database) == ["71", "72", "73"]


def test_its_figures_follow_the_engine_and_come_in_as_a_file(database: Database) -> None:
    send(database)
    assert answered(database) == ["71", "72", "73"]
    with database.transaction() as c:
        s = judge.sample(c, "71")
        assert s["laboratory"] == NAME
        calcium = next(x["value"] for x in s["ladders"] if x["symbol"] == "Fe")
        assert 25 < calcium < 60  # 20 at 100 h, now 200 h on the oil
        assert {(x["name"].split("-")[0], x["imported_by"]) for x in rows(c, "sources")[:1]} == {
            ("readings", NAME)
        }


def test_an_order_sent_twice_is_one(database: Database) -> None:
    key = uuid4()
    send(database, key=key)
    send(database, key=key)
    with database.transaction() as c:
        assert len(orders.orders(c)) == 1


def test_one_is_kept_back_and_follows(database: Database) -> None:
    send(database, "late")
    assert len(answered(database)) == 2
    with single(database.url) as c:
        c.execute("update lab_order set due_at = %s", (clock.now(),))
    assert len(answered(database)) == 3


def test_an_amended_report_waits_for_a_person(database: Database) -> None:
    send(database, "amended")
    assert len(answered(database)) == 3
    with database.transaction() as c:
        found = exchange.amendments(c)
    assert [
        (a["laboratory"], a["revision"], [r["symbol"] for r in a["readings"]]) for a in found
    ] == [(NAME, 2, ["Si"])]


def test_two_labels_are_swapped(database: Database) -> None:
    send(database, "swap")
    assert len(answered(database)) == 3
    with database.transaction() as c:
        assert orders.orders(c)[0]["outcome"].startswith("labels of")


@pytest.mark.parametrize(
    ("samples", "mischief", "delay", "text"),
    [
        ((), "none", 0, "at least one"),
        (("71",), "fire", 0, "does not know"),
        (("71",), "none", 10**8, "30 days"),
        (("99",), "none", 0, "not registered"),
    ],
)
def test_what_it_cannot_take_is_refused(database: Database, samples, mischief, delay, text) -> None:
    with pytest.raises(CannotRecord, match=text):
        send(database, mischief, delay, samples)


def test_a_bottle_cannot_be_sent_twice(database: Database) -> None:
    send(database, delay=3600, samples=("71",))
    with pytest.raises(CannotRecord, match="sent already"):
        send(database, samples=("71", "72"))


def test_an_order_that_cannot_be_answered_says_so_and_does_not_block_the_next(
    database: Database, monkeypatch
) -> None:
    send(database, samples=("71",))
    with monkeypatch.context() as broken:
        broken.setattr(orders, "_bottle", lambda c, code: 1 / 0)
        orders.answer_due(database)
    send(database, samples=("72",))
    assert answered(database) == ["72"]
    with database.transaction() as c:
        assert "could not be answered" in orders.orders(c)[1]["outcome"]


def test_fresh_oil_comes_back_as_the_reference_of_its_batch(database: Database) -> None:
    with database.transaction() as c:
        record_event(
            c,
            Event(
                id=uuid4(),
                engine="E-2",
                on=TODAY,
                kind="oil_change",
                dial=1100.0,
                oil="Thick",
                batch="9",
            ),
            "Jo",
        )
        steps.register_reference(c, uuid4(), "80", "Thick", "", "9", TODAY, "Jo")
    send(database, samples=("80",))
    orders.answer_due(database)
    with database.transaction() as c:
        assert next(o["readings"] for o in rows(c, "oils_known") if o["batch"] == "9") > 10
