"""Whatever day it is, every place goes by the day at the engine's depot, and by the same one."""

from collections.abc import Iterator
from datetime import datetime, timedelta
from uuid import uuid4

import psycopg
import pytest

from keen_tracer import clock
from keen_tracer.core.roles import Actor
from keen_tracer.demo.resort import ZONE
from keen_tracer.exchange.cells import BadCell, day, moment
from keen_tracer.storage.db import Connection, single
from keen_tracer.storage.records import rows
from keen_tracer.usecases.bottles.steps import inbox
from keen_tracer.usecases.days import day_at, day_of_engine, days_now
from keen_tracer.usecases.errors import CannotRecord
from keen_tracer.usecases.exporting import tables
from keen_tracer.usecases.importing.one_report import Report, bring_report
from keen_tracer.usecases.judging.deciding import NewRunDecision, decide_run
from keen_tracer.usecases.pages import calendar, collect, engine, month, plan, queue, state, wall
from keen_tracer.usecases.recording.log_rows import Event, record_event
from tests.day import set_clock

WHO = Actor("Mira Ostrand", "analyst")
DAY = timedelta(days=1)


@pytest.fixture
def c(demo_url: str) -> Iterator[Connection]:
    with single(demo_url) as connection:
        yield connection


def at_the_engine(c: Connection, code: str, on, **more) -> None:
    event = Event(id=uuid4(), engine=code, on=on, kind="repair", part="other", **more)
    record_event(c, event, "Jon Tveld")


def test_the_database_has_the_clock_of_the_program(c: Connection) -> None:
    before = clock.now()
    [(started, read)] = c.execute("select keen_now(), keen_clock()").fetchall()
    assert started <= read
    assert before - timedelta(minutes=1) < read < clock.now() + timedelta(minutes=1)


def test_no_column_and_no_query_has_a_clock_of_its_own(c: Connection) -> None:
    own = c.execute(
        "select table_name, column_name from information_schema.columns where table_schema = "
        "'public' and column_default ~ '(^|[^_])now\\(|timestamp\\(\\)|CURRENT'"
    ).fetchall()
    assert own == []


def test_every_page_says_the_day_at_the_depots(c: Connection) -> None:
    today = clock.today(ZONE)
    assert day_at(c) == today
    assert day_at(c, "valley") == day_of_engine(c, "G-03") == today
    assert wall.wall(c, None, None, "need", 0, 50)["today"] == today
    assert wall.wall(c, "mid", None, "need", 0, 50)["today"] == today
    assert plan.plan(c, "valley", 4, 0, 50)["today"] == today
    assert engine.engine(c, "G-03")["today"] == today
    assert state.state(c, None)["today"] == today
    assert inbox(c, day_at(c))["today"] == today
    stop = collect.one_stop(c, "G-03")
    assert stop and stop["on"] == today


def test_every_place_says_of_every_engine_whether_it_may_run(c: Connection) -> None:
    lines = {r["code"]: r for r in wall.wall(c, None, None, "need", 0, 100)["rows"]}
    assert len(lines) == 26
    exported = next(list(out) for name, _, out in tables(c) if name == "states")
    written = {code: may_run for code, _, may_run, *_ in exported}
    for code, line in lines.items():
        stop = collect.one_stop(c, code)
        assert stop
        said = {
            "wall": line["state"]["may_run"],
            "engine": engine.engine(c, code)["state"]["may_run"],
            "stop": stop["state"]["may_run"],
            "states.csv": written[code],
        }
        assert len(set(said.values())) == 1, (code, said)


def test_what_the_plan_holds_lies_from_today_on(c: Connection) -> None:
    today = clock.today(ZONE)
    for depot in (None, "valley", "mid", "summit"):
        shown = plan.plan(c, depot, 4, 0, 100)
        assert shown["days"][0].on == today
        assert all(t.day >= today for line in shown["lines"] for t in line.tasks)
        assert plan.propose(c, depot, 4)
    assert all(listed[3] >= today for listed in calendar.table(c, None))
    assert b"BEGIN:VEVENT" in calendar.calendar(c, "valley", "", "http://here/")


def test_rounds_ages_and_the_month_are_of_that_day(c: Connection) -> None:
    today = clock.today(ZONE)
    for depot in ("valley", "mid", "summit"):
        assert collect.round_of(c, depot, day_at(c, depot))["on"] == today
    drawn = {r["sample"]: r["on"] for r in queue.queue(c)}
    assert all(r["age_days"] == (today - drawn[r["sample"]]).days for r in queue.queue(c))
    assert month.month(c, today, None)[0].startswith(f"{today:%B %Y}")


def test_today_can_be_logged_and_a_day_that_has_come_nowhere_cannot(demo_copy: str) -> None:
    today = clock.today(ZONE)
    with single(demo_copy) as c:
        at_the_engine(c, "G-03", today)
        with pytest.raises(CannotRecord, match="in the future"), c.transaction():
            at_the_engine(c, "G-03", clock.today("UTC") + 2 * DAY)
    assert day(today.isoformat()) == today
    with pytest.raises(BadCell, match="in the future"):
        day((clock.today("UTC") + 2 * DAY).isoformat())
    assert moment(clock.now().isoformat()) <= clock.now()


def test_a_report_of_last_week_with_too_low_a_meter_is_refused(c: Connection) -> None:
    stop = collect.one_stop(c, "G-03")
    assert stop and stop["dial"]
    report = Report(
        engine="G-03",
        on=clock.today(ZONE) - 7 * DAY,
        meter=round(stop["dial"]) - 500,
        laboratory="Northfall",
        figures={"Fe_ppm": "14"},
    )
    with pytest.raises(CannotRecord, match="is below"), c.transaction():
        bring_report(c, report, WHO)


def test_a_restriction_ends_with_its_day_at_the_depot(
    demo_copy: str, instant: datetime, monkeypatch: pytest.MonkeyPatch
) -> None:
    today = clock.today(ZONE)
    with single(demo_copy) as c:
        line = next(r for r in wall.wall(c, None, None, "need", 0, 100)["rows"] if not r["level"])
        code = line["code"]
        want = NewRunDecision(state="restrict", reason="careful", until_on=today, lifts=())
        decide_run(c, code, want, Actor("Runa Skarsel", "releaser"))
    with single(demo_copy) as c:
        assert may_run(c, code) == "run_until"
    midnight = _midnight_after(today)
    for at, said in ((midnight - timedelta(minutes=5), "run_until"), (midnight, "past_its_time")):
        set_clock(monkeypatch, at)
        with single(demo_copy) as c:
            assert may_run(c, code) == said, at


def may_run(c: Connection, code: str) -> str:
    return next(
        r["state"]["may_run"]
        for r in wall.wall(c, None, code, "need", 0, 10)["rows"]
        if r["code"] == code
    )


def _midnight_after(today) -> datetime:
    from zoneinfo import ZoneInfo

    return datetime.combine(today + DAY, datetime.min.time(), ZoneInfo(ZONE))


def test_depots_on_both_sides_of_a_midnight_have_days_of_their_own(demo_copy: str) -> None:
    with single(demo_copy) as c:
        for depot, zone in (("mid", "Pacific/Kiritimati"), ("summit", "Pacific/Pago_Pago")):
            c.execute("update depot set time_zone = %s where code = %s", (zone, depot))
        days = days_now(c)
        assert days.at("mid") - days.at("summit") in (DAY, 2 * DAY)
        for r in rows(c, "plan_rows", depot=None):
            shown = engine.engine(c, r["code"])
            assert shown["today"] == days.at(r["depot"])
            listed = wall.wall(c, None, r["code"], "need", 0, 10)["rows"]
            line = next(x for x in listed if x["code"] == r["code"])
            assert line["state"] == shown["state"]


def test_a_process_ahead_of_its_database_has_one_clock(
    demo_copy: str, monkeypatch: pytest.MonkeyPatch, instant: datetime
) -> None:
    """A session that says nothing has the server's own clock: here years or days behind."""
    set_clock(monkeypatch, instant + 3 * DAY)
    with single(demo_copy) as c:
        at_the_engine(c, "G-03", clock.today(ZONE))
        [(recorded,)] = c.execute("select max(recorded_at) from log").fetchall()
        assert recorded > instant + 2 * DAY
    with psycopg.connect(demo_copy) as other:
        [(own, theirs)] = other.execute("select keen_now(), now()").fetchall()
        assert own == theirs
