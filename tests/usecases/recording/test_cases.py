"""Cases in any order: what is closed takes nothing, what was said is never lost, no case touches a
Stop."""

import threading
from datetime import date
from uuid import UUID, uuid4

import pytest
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import (
    RuleBasedStateMachine,
    invariant,
    rule,
    run_state_machine_as_test,
)

from keen_tracer.core.inspection import Work
from keen_tracer.core.terms import CASE_ENDS
from keen_tracer.storage.db import single
from keen_tracer.storage.errors import Conflict
from keen_tracer.storage.records import rows
from keen_tracer.usecases.errors import CannotRecord, NotThere
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.pages.case import case
from keen_tracer.usecases.pages.wall import wall
from keen_tracer.usecases.recording.cases import (
    NewCase,
    NewCaseEntry,
    NewEnd,
    add_entry,
    close_case,
    open_case,
)
from keen_tracer.usecases.recording.log_rows import Event, record_event
from keen_tracer.usecases.recording.outcomes import outcomes
from keen_tracer.usecases.recording.work import WorkRow, decide_work, work_of, work_out
from tests.usecases.recording.test_log_rows import TODAY, ago, fleet_url

__all__ = ["fleet_url"]
NAME = "knock under load"


def entry(kind: str, **more) -> NewCaseEntry:
    return NewCaseEntry(**{"id": uuid4(), "kind": kind, "on": TODAY, **more})


def opened(url: str, **more) -> UUID:
    key = uuid4()
    with single(url) as c:
        new = NewCase(**{"id": key, "opened_from": "symptom", **more})
        open_case(c, "E-1", new, "Jon")
    return key


def shown(url: str, key: UUID) -> dict:
    with single(url) as c:
        return case(c, key)


@pytest.fixture
def knocking(fleet_url: str) -> str:
    with single(fleet_url) as c:
        record_event(
            c,
            Event(
                id=uuid4(), engine="E-1", on=ago(3), kind="repair", dial=1440.0, part="injector 4"
            ),
            "Jon",
        )
        record_event(
            c, Event(id=uuid4(), engine="E-1", on=ago(1), kind="symptom", part="knock"), "Jon"
        )
    judge_stale(fleet_url)
    return fleet_url


def test_it_opens_with_what_is_known(knocking: str) -> None:
    found = shown(knocking, opened(knocking))
    assert found["since"] == ago(1)
    assert "bearing" in found["name"]
    assert found["state"]["may_run"] == "do_not_run"
    # Work shortly before stands out by itself.
    assert found["before"][0]["work"]
    assert found["before"][0]["ago"] == "2 days before"
    knocks = [r for r in found["rows"] if any("knock" in p["words"] for p in r["speaks_for"])]
    assert knocks
    assert any(r["code"] == "none" for r in found["rows"])
    # Under the Stop nothing that turns the engine is offered.
    assert found["checks"]
    assert {c["at"] for c in found["checks"]} == {"engine at rest"}
    assert [x.kind for x in found["line"]] == ["symptom"]
    with single(knocking) as c:
        assert [
            r["cases"][0]["name"] for r in wall(c, None, None, "need", 0, 9)["rows"] if r["cases"]
        ]


def test_a_repair_in_between_takes_nothing_back(knocking: str) -> None:
    key = opened(knocking)
    before = {r["code"]: r["score"] for r in shown(knocking, key)["rows"]}
    with single(knocking) as c:
        record_event(
            c,
            Event(id=uuid4(), engine="E-1", on=TODAY, kind="repair", dial=1450.0, part="shells"),
            "Jon",
        )
    judge_stale(knocking)
    after = shown(knocking, key)
    assert after["followed"]["word"] == "waiting"
    assert after["followed"]["next_at"] == 10
    for code in ("main_rod_bearing", "bearing_spun"):
        assert {r["code"]: r["score"] for r in after["rows"]}[code] >= before[code] - 1e-9


@pytest.mark.parametrize(
    ("bad", "why"),
    [
        (entry("evidence", hypothesis="head_gasket", words="wet", weight=9.0), "how it speaks"),
        (entry("evidence", hypothesis="the moon", words="full", weight=1.2), "explanation"),
        (entry("set_aside", hypothesis="head_gasket"), "few words"),
        (entry("step", said="cooler", words="perhaps"), "answer to cooler"),
        (entry("way_out", words="exchange engine"), "sum"),
        (entry("fill", said="fill", litres_new=18.0, litres_trapped=2.0), "start"),
        (entry("fill", said="start", litres_new=18.0), "litres"),
        (entry("withdraw", withdraws=uuid4()), "taken back"),
        (entry("close"), "what was found"),
        (entry("reopen", words="again"), "is open"),
        (entry("note", words="  "), "few words"),
        (entry("note", words="tomorrow", on=date(2199, 1, 1)), "future"),
    ],
)
def test_what_means_nothing_is_refused_with_a_reason(
    knocking: str, bad: NewCaseEntry, why: str
) -> None:
    key = opened(knocking)
    with single(knocking) as c, pytest.raises(CannotRecord, match=why):
        add_entry(c, key, bad, "Mira")
    assert [x for x in shown(knocking, key)["line"] if x.own] == []


def test_an_unresolved_case_says_where_the_piece_lies(knocking: str) -> None:
    key = opened(knocking)
    end = NewEnd(id=uuid4(), end="unresolved", on=TODAY, found="nothing")
    with single(knocking) as c, pytest.raises(CannotRecord, match="where the piece lies"):
        close_case(c, key, end, "Mira")


def test_the_end_becomes_the_outcome_and_lifts_no_stop(knocking: str) -> None:
    key = opened(knocking)
    end = NewEnd(
        id=uuid4(), end="save", on=TODAY, found="main_rod_bearing", cost=900.0, saved=9000.0
    )
    with single(knocking) as c:
        for _ in range(2):  # sent twice it is closed once
            close_case(c, key, end, "Mira")
        told = outcomes(c, "E-1")
    assert [(o["words"], o["right"], o["saved"]) for o in told] == [
        ("main or rod bearing: overlay then lining", "the alarm was right", 9000.0)
    ]
    found = shown(knocking, key)
    assert found["closed"]
    assert found["ended"] == CASE_ENDS["save"]
    assert found["state"]["may_run"] == "do_not_run"
    with single(knocking) as c, pytest.raises(CannotRecord, match="open it again"):
        add_entry(c, key, entry("note", words="more"), "Jon")


def test_of_two_people_who_close_it_at_once_one_learns_of_the_other(knocking: str) -> None:
    key = opened(knocking)
    barrier, came = threading.Barrier(2), []

    def close(who: str) -> None:
        try:
            with single(knocking) as c:
                barrier.wait(timeout=30)
                close_case(
                    c, key, NewEnd(id=uuid4(), end="nothing_found", on=TODAY, found="nothing"), who
                )
            came.append("closed")
        except Conflict:
            came.append("conflict")

    people = [threading.Thread(target=close, args=(w,)) for w in ("Mira", "Jon")]
    for p in people:
        p.start()
    for p in people:
        p.join(timeout=60)
    assert sorted(came) == ["closed", "conflict"]
    with single(knocking) as c:
        assert len(outcomes(c, "E-1")) == 1


def test_cases_like_it_are_shown_with_what_they_were(knocking: str) -> None:
    first = opened(knocking)
    with single(knocking) as c:
        end = NewEnd(id=uuid4(), end="confirmed", on=TODAY, found="bearing_spun")
        close_case(c, first, end, "Mira")
    second = shown(knocking, opened(knocking))
    assert [s["found"] for s in second["similar"]] == ["bearing spun or starved"]


# Work


def test_work_is_decided_one_row_after_the_other(knocking: str) -> None:
    one, two = uuid4(), uuid4()
    work = Work(kind="renew", words="shells", state="open", estimate=700.0)
    done = Work(kind="renew", words="shells", state="done", estimate=800.0, cost=640.0)
    with single(knocking) as c:
        decide_work(c, WorkRow(id=one, engine="E-1", work=work), "Mira")
        decide_work(c, WorkRow(id=two, engine="E-1", work=done, replaces=one), "Jon")
        engine = c.execute("select id from engine where code = 'E-1'").fetchone()[0]
        found = work_out(work_of(c, engine))
        assert [(w["id"], w["by"]) for w in found["items"]] == [(two, "Jon")]
        assert (found["first"], found["now"]) == (700.0, 640.0)
    with single(knocking) as c, pytest.raises(Conflict):
        decide_work(c, WorkRow(id=uuid4(), engine="E-1", work=work, replaces=one), "Mira")
    with single(knocking) as c, pytest.raises(CannotRecord, match="open it again"):
        again = Work(kind="renew", words="shells", state="decided")
        decide_work(c, WorkRow(id=uuid4(), engine="E-1", work=again, replaces=two), "Mira")
    with single(knocking) as c, pytest.raises(CannotRecord, match="no such piece"):
        decide_work(c, WorkRow(id=uuid4(), engine="E-2", work=work, replaces=two), "Mira")


def test_a_case_nobody_opened_is_not_there(fleet_url: str) -> None:
    with single(fleet_url) as c, pytest.raises(NotThere):
        case(c, uuid4())


class Cases(RuleBasedStateMachine):
    """One case, two people, everything in any order; a model of a few lines beside it."""

    def __init__(self, url: str):
        super().__init__()
        self.url = url
        self.key = opened(url)
        self.closed = False
        self.standing: UUID | None = None
        self.live: dict[UUID, str] = {}
        self.written = 0
        with single(url) as c:
            self.outcomes = len(outcomes(c, "E-1"))
        self.stop = shown(url, self.key)["state"]["may_run"]

    def _add(self, e: NewCaseEntry) -> bool:
        try:
            with single(self.url) as c:
                add_entry(c, self.key, e, "Mira")
        except CannotRecord:
            return False
        self.written += 1
        return True

    @rule(kind=st.sampled_from(["note", "hypothesis", "set_aside", "evidence", "way_out"]))
    def says(self, kind: str) -> None:
        more = {
            "set_aside": {"hypothesis": "head_gasket"},
            "evidence": {"hypothesis": "none", "weight": 1.2},
            "way_out": {"amount": 5.0},
        }.get(kind, {})
        e = entry(kind, words="said", **more)
        assert self._add(e) is not self.closed
        if not self.closed:
            self.live[e.id] = kind

    @rule()
    def takes_back(self) -> None:
        if not self.live:
            return
        key = next(iter(self.live))
        assert self._add(entry("withdraw", withdraws=key)) is not self.closed
        if not self.closed:
            del self.live[key]

    @rule(end=st.sampled_from([*CASE_ENDS]))
    def closes(self, end: str) -> None:
        closing = NewEnd(
            id=uuid4(), end=end, on=TODAY, found="nothing", follows=self.standing, piece="drawer"
        )
        try:
            with single(self.url) as c:
                close_case(c, self.key, closing, "Jon")
        except CannotRecord:
            assert self.closed
            return
        assert not self.closed
        self.closed, self.standing = True, closing.id
        self.outcomes += end != "by_mistake"
        self.written += 1

    @rule()
    def opens_again(self) -> None:
        e = entry("reopen", words="it came back", follows=self.standing)
        assert self._add(e) is self.closed
        if self.closed:
            self.closed, self.standing = False, e.id

    @rule()
    def closes_what_another_closed_or_opened(self) -> None:
        late = NewEnd(id=uuid4(), end="nothing_found", on=TODAY, found="nothing", follows=uuid4())
        with single(self.url) as c, pytest.raises(Conflict):
            close_case(c, self.key, late, "Jon")

    @invariant()
    def what_it_promises_holds(self) -> None:
        found = shown(self.url, self.key)
        assert found["closed"] is self.closed
        # No case lifts or raises anything.
        assert found["state"]["may_run"] == self.stop
        with single(self.url) as c:
            kept = rows(c, "case_entries", id=self.key)
            assert len(outcomes(c, "E-1")) == self.outcomes
        assert len(kept) == self.written
        standing = {e["id"] for e in kept if not e["withdrawn"]}
        assert set(self.live) <= standing
        own = [r for r in found["rows"] if r["own"] and r["code"] != "none"]
        assert len(own) == sum(k == "hypothesis" for k in self.live.values())
        assert found["rows"]
        assert any(r["code"] == "none" for r in found["rows"])


def test_cases_in_any_order(knocking: str) -> None:
    run_state_machine_as_test(
        lambda: Cases(knocking),
        settings=settings(max_examples=6, stateful_step_count=18, deadline=None),
    )
