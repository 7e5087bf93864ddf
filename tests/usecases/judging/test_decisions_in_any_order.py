"""People and laboratories in any order: what a hold, a sign-off and an undo promise holds whatever
comes between. A model of a few lines is kept beside the database and compared after every step."""

from collections.abc import Callable
from pathlib import Path
from uuid import uuid4

import pytest
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import (
    RuleBasedStateMachine,
    invariant,
    precondition,
    rule,
    run_state_machine_as_test,
)

from keen_tracer.core.roles import RIGHTS, Actor, NotAllowed
from keen_tracer.core.terms import ENGINE_AT
from keen_tracer.storage.db import single
from keen_tracer.storage.errors import Conflict
from keen_tracer.storage.records import Row, row, rows
from keen_tracer.usecases.errors import CannotDecide
from keen_tracer.usecases.exporting import tables
from keen_tracer.usecases.judging.deciding import NewRunDecision, decide_run, sign, undo_sign
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.pages import judge, queue
from keen_tracer.usecases.pages.collect import one_stop
from keen_tracer.usecases.pages.engine import engine
from keen_tracer.usecases.pages.run import runs
from keen_tracer.usecases.pages.wall import wall
from keen_tracer.usecases.recording.correcting import withdraw
from tests.day import TODAY
from tests.usecases.judging.test_deciding import FILES, bring

PEOPLE = {"Tech": "technician", "Ana": "analyst", "Rel": "releaser"}
EVENTS = {
    "knock": "symptom,knock",
    "lamp": "symptom,oil_lamp_hot_idle",
    "chunk": "symptom,chunks",
    "smoke": "symptom,smoke",
    "repair": "repair,wiper blade",
    "rebuild": "rebuild,",
    "overheating": "overheating,",
}
STOPS = ("knock", "lamp", "chunk")


class Decisions(RuleBasedStateMachine):
    """One engine with one sample past Act."""

    def __init__(self, url: str, folder: Path):
        super().__init__()
        self.url, self.folder = url, folder
        self.standing: str | None = None  # the run decision in force
        self.state: str | None = None
        self.signed: tuple[str, str] | None = None  # who signed the first sample, its decision
        self.last: str | None = None  # the newest decision about the first sample
        self.written = 0
        self.samples = 1
        self.days = 1
        self.told_since = False  # something was told since the first sample was signed
        self.permitted: set[str] = set()  # Stops the standing restriction lets it run with
        self.raised: set[str] = set()  # Stops that were written down and not released since
        self.lifted: set[str] = set()
        bring(url, folder, **FILES)

    def _verdict(self) -> Row:
        with single(self.url) as c:
            owner = row(c, "engine_of_sample", code="S-1")
            assert owner is not None
            found = row(c, "verdict_of_sample", sample=owner["sample_id"])
        assert found is not None
        return found

    def _line(self) -> Row:
        with single(self.url) as c:
            return runs(c)["rows"][0]

    def _decide(self, state: str, who: str, supersedes: str | None, seen: bool = True) -> str:
        reasons = self._line()["state"]["reasons"] if seen else []
        want = NewRunDecision(
            state=state,
            reason="seen",
            until=2000 if state == "restrict" else None,
            lifts=tuple(r["key"] for r in reasons),
            found="a loose bracket",
            done="tightened",
            supersedes=supersedes,
        )
        with single(self.url) as c:
            return decide_run(c, "E-1", want, Actor(who, PEOPLE[who]))

    @rule(state=st.sampled_from(["hold", "restrict", "release"]), who=st.sampled_from([*PEOPLE]))
    def decides_on_the_engine(self, state: str, who: str) -> None:
        if state != "hold" and PEOPLE[who] not in RIGHTS["lift"].roles:
            with pytest.raises(NotAllowed, match="releaser"):
                self._decide(state, who, self.standing)
            return
        self.standing, self.state = self._decide(state, who, self.standing), state
        self.permitted = set(self.raised) if state == "restrict" else set()
        if state == "release":
            self.lifted |= self.raised
            self.raised = set()
        self.written += 1

    @precondition(lambda self: self.raised)
    @rule(state=st.sampled_from(["restrict", "release"]))
    def decides_without_having_seen_it(self, state: str) -> None:
        with pytest.raises(Conflict):
            self._decide(state, "Rel", self.standing, seen=False)

    @rule(what=st.sampled_from([*EVENTS]))
    def something_is_written_down(self, what: str) -> None:
        self.days += 1
        text = f"engine,on,meter,kind,part\nE-1,2026-02-{self.days:02d},,{EVENTS[what]}\n"
        bring(self.url, self.folder, **{"events.csv": text})
        self.told_since = True
        if what in STOPS:
            self.raised.add(f"{self.days}:{what}")

    @rule()
    def everything_told_is_taken_back(self) -> None:
        """By the person who wrote it down, record by record."""
        with single(self.url) as c:
            told = c.execute("select id from log_now where kind = 'symptom'").fetchall()
            for (key,) in told:
                withdraw(c, key, "heard it wrong", "Tech")

    @rule()
    def the_files_come_once_more(self) -> None:
        bring(self.url, self.folder, **{"events.csv": FILES["events.csv"]})

    @rule(state=st.sampled_from(["hold", "release"]))
    def decides_on_what_stood_before(self, state: str) -> None:
        """Somebody else was quicker: whoever looks at an old page is told so."""
        with pytest.raises(Conflict):
            self._decide(state, "Rel", str(uuid4()))

    @rule(iron=st.sampled_from([5, 20, 400]), potassium=st.sampled_from([1, 45]))
    def figures_come_in(self, iron: int, potassium: int) -> None:
        self.samples += 1
        text = (
            "sample,engine,drawn_on,meter,laboratory,Fe_ppm,K_ppm\n"
            f"S-{self.samples},E-1,2026-03-{self.samples:02d},{1125 + 5 * self.samples},"
            f"Lab,{iron},{potassium}\n"
        )
        bring(self.url, self.folder, **{"samples.csv": text})

    @rule(who=st.sampled_from([*PEOPLE]), level=st.integers(0, 3))
    def signs(self, who: str, level: int) -> None:
        verdict = self._verdict()
        with single(self.url) as c:
            key = sign(
                c,
                "S-1",
                level,
                verdict["input_hash"],
                self.last,
                "seen",
                "",
                Actor(who, PEOPLE[who]),
            )
        self.signed, self.last = (who, key), key
        self.told_since = False
        self.written += 1

    @precondition(lambda self: self.signed is not None)
    @rule(who=st.sampled_from([*PEOPLE]))
    def takes_the_signature_back(self, who: str) -> None:
        assert self.signed is not None
        signer, key = self.signed
        if who != signer:
            with single(self.url) as c, pytest.raises(CannotDecide, match=signer):
                undo_sign(c, "S-1", key, Actor(who, PEOPLE[who]))
            return
        with single(self.url) as c:
            self.last = undo_sign(c, "S-1", key, Actor(who, PEOPLE[who]))
        self.signed = None
        self.written += 1

    @rule()
    def is_judged_again(self) -> None:
        judge_stale(self.url, every=True)

    @invariant()
    def the_page_says_what_was_decided(self) -> None:
        line = self._line()
        run = line["state"]["run"]
        assert line["decision"] == self.standing
        assert (run["state"] if run else None) == self.state

    @invariant()
    def a_stop_stands_until_it_is_released_by_name(self) -> None:
        state = self._line()["state"]
        open_stops = [r for r in state["reasons"] if r["level"] == 3]
        assert len(open_stops) >= len(self.raised)
        if self.state == "hold" or self.raised - self.permitted:
            assert state["may_run"] == "do_not_run"
            assert {c["at"] for c in state["checks"]} <= {ENGINE_AT["rest"]}
        elif self.state == "restrict" and self.raised:
            assert state["may_run"] in ("run_until", "past_its_time")

    @invariant()
    def every_place_says_the_same(self) -> None:
        with single(self.url) as c:
            found = row(c, "engine_by_code", code="E-1")
            assert found is not None
            said = [
                runs(c)["rows"][0]["state"],
                wall(c, None, None, "need", 0, 1)["rows"][0]["state"],
                engine(c, "E-1")["state"],
                judge.sample(c, "S-1")["state"],
                one_stop(c, "E-1", TODAY)["state"],
            ]
            exported = next(
                iter(
                    dict(zip(c_, r, strict=True))
                    for n, c_, rs in tables(c)
                    if n == "states"
                    for r in rs
                )
            )
        assert all(x == said[0] for x in said)
        assert exported["may_run"] == said[0]["may_run"]

    @invariant()
    def an_unsigned_sample_waits(self) -> None:
        with single(self.url) as c:
            waiting = {w["sample"] for w in queue.waiting(c)}
        if self.signed is None:
            assert "S-1" in waiting
        elif not self.told_since:
            # What was told since may have raised it above what was signed: then it comes back.
            assert "S-1" not in waiting
        assert self.samples - len(waiting) <= (self.signed is not None)

    @invariant()
    def nothing_decided_is_lost(self) -> None:
        with single(self.url) as c:
            assert len(rows(c, "export_decisions")) == self.written


def test_a_hold_and_a_signature_hold_whatever_comes_between(
    new_database: Callable[[], str], tmp_path: Path
) -> None:
    run_state_machine_as_test(
        lambda: Decisions(new_database(), tmp_path),
        settings=settings(max_examples=8, stateful_step_count=10, deadline=None),
    )
