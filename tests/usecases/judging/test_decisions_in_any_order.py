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

from keen_tracer.core.terms import MAY_RELEASE
from keen_tracer.storage.db import single
from keen_tracer.storage.errors import Conflict
from keen_tracer.storage.records import Row, row, rows
from keen_tracer.usecases.errors import CannotDecide
from keen_tracer.usecases.judging.deciding import decide_run, sign, undo_sign
from keen_tracer.usecases.judging.judging import judge_one
from keen_tracer.usecases.pages import queue
from keen_tracer.usecases.pages.run import runs
from tests.usecases.judging.test_deciding import FILES, bring

PEOPLE = {"Tech": "technician", "Ana": "analyst", "Rel": "releaser"}
MAY_RUN = {"hold": "Do not run", "restrict": "until"}


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
        bring(url, folder, **FILES)

    def _verdict(self) -> Row:
        with single(self.url) as c:
            owner = row(c, "engine_of_sample", code="S-1")
            assert owner is not None
            found = row(c, "verdict_of_sample", sample=owner["sample_id"])
        assert found is not None
        return found

    def _decide(self, state: str, who: str, supersedes: str | None) -> str:
        with single(self.url) as c:
            until = 2000 if state == "restrict" else None
            return decide_run(c, "E-1", state, until, "seen", supersedes, who, PEOPLE[who])

    @rule(state=st.sampled_from(["hold", "restrict", "release"]), who=st.sampled_from([*PEOPLE]))
    def decides_on_the_engine(self, state: str, who: str) -> None:
        if state != "hold" and PEOPLE[who] not in MAY_RELEASE:
            with pytest.raises(CannotDecide, match="releaser"):
                self._decide(state, who, self.standing)
            return
        self.standing, self.state = self._decide(state, who, self.standing), state
        self.written += 1

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
            key = sign(c, "S-1", level, verdict["input_hash"], self.last, "seen", "", who)
        self.signed, self.last = (who, key), key
        self.written += 1

    @precondition(lambda self: self.signed is not None)
    @rule(who=st.sampled_from([*PEOPLE]))
    def takes_the_signature_back(self, who: str) -> None:
        assert self.signed is not None
        signer, key = self.signed
        if who != signer:
            with single(self.url) as c, pytest.raises(CannotDecide, match=signer):
                undo_sign(c, "S-1", key, who)
            return
        with single(self.url) as c:
            self.last = undo_sign(c, "S-1", key, who)
        self.signed = None
        self.written += 1

    @rule()
    def is_judged_again(self) -> None:
        with single(self.url) as c:
            found = row(c, "engine_by_code", code="E-1")
            assert found is not None
            judge_one(c, found["id"])

    @invariant()
    def the_page_says_what_was_decided(self) -> None:
        with single(self.url) as c:
            line = runs(c)["rows"][0]
        assert line["decision"] == self.standing
        assert (line["run"]["state"] if line["run"] else None) == self.state
        if self.state in MAY_RUN:
            assert MAY_RUN[self.state] in line["may_run"]

    @invariant()
    def an_unsigned_sample_waits(self) -> None:
        with single(self.url) as c:
            waiting = {w["sample"] for w in queue.waiting(c)}
        assert ("S-1" in waiting) == (self.signed is None)
        assert len(waiting) == self.samples - (self.signed is not None)

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
