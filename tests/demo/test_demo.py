"""The demo is alive: what a new user finds on the Wall, and storylines found from figures alone."""

from collections import Counter

import pytest

from keen_tracer import clock
from keen_tracer.demo.resort import ZONE
from keen_tracer.storage.db import single
from keen_tracer.usecases.bottles.steps import inbox
from keen_tracer.usecases.pages import queue
from keen_tracer.usecases.pages import wall as wall_page
from keen_tracer.usecases.recording.answering import open_queries


@pytest.fixture
def wall(demo_url: str):
    with single(demo_url) as c:
        return wall_page.wall(c, None, None, "need", 0, 100)


def test_about_twenty_six_engines_in_three_depots(wall) -> None:
    assert wall["total"] == 26
    assert wall["depots"] == ["valley", "mid", "summit"]


def test_every_group_of_the_wall_is_alive(wall) -> None:
    sizes = {g["key"]: g["count"] for g in wall["groups"]}
    assert set(sizes) == {"do_not_run", "act", "watch", "quiet"}
    assert sizes["quiet"] > 12
    assert any(r["due"] and r["due"]["overdue"] for r in wall["rows"]), "one is overdue as well"
    runs = {r["state"]["may_run"] for r in wall["rows"]}
    assert runs >= {"do_not_run", "past_its_time", "run_until", "runs"}


def test_about_a_dozen_samples_wait_and_most_of_the_past_is_signed(demo_url: str) -> None:
    with single(demo_url) as c:
        waiting = queue.waiting(c)
        samples = c.execute("select count(*) from sample").fetchone()[0]
        signed = c.execute("select count(*) from decision_now where kind = 'sign_off'").fetchone()[
            0
        ]
    assert 8 <= len(waiting) <= 20
    assert signed > 0.9 * samples - len(waiting)
    assert {w["level"] for w in waiting} >= {0, 1, 2}


def test_there_are_bottles_out_and_engines_in_storage(wall) -> None:
    kinds = Counter(m["kind"] for r in wall["rows"] for m in r["trace"])
    assert kinds["bottle"] >= 2
    assert any(r["stored"] for r in wall["rows"])


@pytest.mark.parametrize(
    ("engine", "channel", "least"),
    [
        ("G-07", "debris", 3),  # copper-coloured flakes in the filter, before any noise
        ("G-07", "wear", 1),  # and the bearing metals with them
        ("P-03", "coolant", 2),  # potassium and sodium without water
        ("L-11", "fuel", 1),  # cold running
        ("X-01", "dirt", 1),  # a cracked intake hose
        ("G-09", "wear", 1),  # a run-in that looks alarming
        ("S-04", "coolant", 2),  # condensation
    ],
)
def test_storylines_show_on_the_wall(wall, engine: str, channel: str, least: int) -> None:
    row = next(r for r in wall["rows"] if r["code"] == engine)
    tooth = next(t for t in row["comb"] if t["channel"] == channel)
    assert tooth["level"] is not None
    assert tooth["level"] >= least


def test_what_does_not_fit_is_found_from_figures_alone(demo_url: str) -> None:
    """The oil change nobody wrote down, and the two swapped bottles by name."""
    with single(demo_url) as c:
        found = open_queries(c, None)
    assert {"G-02"} <= {q["engine"] for q in found if q["code"] == "oil_changed"}
    swapped = {
        q["engine"]: (q["sample"], q["exchanged_with"]) for q in found if q["exchanged_with"]
    }
    assert set(swapped) == {"G-05", "L-07"}
    assert swapped["G-05"] == swapped["L-07"][::-1]


def test_the_bench_has_a_bottle_of_every_kind(demo_url: str) -> None:
    with single(demo_url) as c:
        i = inbox(c, clock.today(ZONE))
    assert {b["state"] for b in i["out"]} == {"drawn", "sent", "lost"}
    assert any(b["late_days"] for b in i["out"])
    assert i["unmatched"]
    assert i["parked"]
    assert i["partial"]
    assert i["new_oil"]


def test_the_run_in_never_reaches_act(demo_url: str) -> None:
    with single(demo_url) as c:
        found = c.execute(
            "select max(v.level) from verdict v join sample s on s.id = v.sample_id join draw d on "
            "d.sample_id = s.id join log l on l.id = d.log_id join engine e on e.id = l.engine_id "
            "where e.code = 'G-09'"
        ).fetchone()
    assert found == (1,)


def test_the_held_engine_says_who_held_it_and_why(wall) -> None:
    held = next(r for r in wall["rows"] if r["code"] == "G-07")
    assert held["state"]["may_run"] == "do_not_run"
    assert held["state"]["run"]["by"] == "Runa Skarsel"
    assert "flakes" in held["state"]["run"]["reason"]


def test_healthy_engines_are_mostly_quiet(demo_url: str) -> None:
    """Invented data: over three years the engines without a storyline hardly ever reach Act."""
    with single(demo_url) as c:
        levels = Counter(
            r[0]
            for r in c.execute(
                "select (select level from verdict v where v.sample_id = s.id order by id desc "
                "limit 1) from sample s "
                "join draw d on d.sample_id = s.id join log l on l.id = d.log_id join engine e on "
                "e.id = l.engine_id "
                "where e.code in ('G-08', 'P-01', 'P-04', 'S-01', 'S-02', 'L-02', 'G-06', 'U-03', "
                "'U-06', 'A-01')"
            )
        )
    judged = sum(n for level, n in levels.items() if level is not None)
    assert judged > 100
    assert levels[2] + levels[3] <= 0.02 * judged


def test_no_oil_change_of_the_plan_is_one_that_was_done(demo_url: str) -> None:
    """An oil changed is a new oil: by its interval the next change is an interval away."""
    with single(demo_url) as c:
        found = c.execute(
            """select e.code, (t->>'at_dial')::double precision, (t->>'latest')::date,
            m.dial, m.on_date
            from wall w join engine e on e.id = w.engine_id
            cross join jsonb_array_elements(w.picture->'tasks') t
            cross join lateral (
                select l.dial, l.on_date from log_now l
                where l.engine_id = e.id and l.kind = 'oil_change'
                order by l.on_date desc, l.dial desc limit 1
            ) m
            where t->>'kind' = 'drain' and t->>'code' = 'interval'"""
        ).fetchall()
    assert found
    assert [r[0] for r in found if r[1] - r[3] < 20 or r[2] <= r[4]] == []
