"""Facts, work, bottles and decisions in any order: a machine that tries to break a Stop. Nothing
but a signed release lowers one, and an engine in pieces runs by no permission."""

from datetime import timedelta

from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, rule

from keen_tracer.core.record import fact_kinds
from keen_tracer.core.verdict import EngineState, Reason, RunDecision
from tests.core.record.test_facts import BY_FACT
from tests.helpers import DAY, Story, stated, usual

BAD = sorted(f for f in BY_FACT if fact_kinds()[f].level)
GOOD = sorted(f for f in BY_FACT if not fact_kinds()[f].level)


class Facts(RuleBasedStateMachine):
    """One engine, kept as the database keeps it: a Stop that was raised stays on record."""

    def __init__(self) -> None:
        super().__init__()
        self.s = Story("E", bearing_type="leaded tri-metal").change(0, 1000.0)
        self.day, self.bottles = 0, 0
        self.decisions: list[RunDecision] = []
        self.kept: dict[str, Reason] = {}
        self.held = False
        self.state = self._judge()

    def _judge(self) -> EngineState:
        state = stated(self.s, self.decisions, kept=tuple(self.kept.values()))
        for r in state.reasons:
            if r.level == 3:
                self.kept.setdefault(r.key, r)
        return state

    def _after(self, released: bool = False) -> None:
        before, self.state = self.state, self._judge()
        self.held = self.held and not released
        if not released:
            stood = {r.key for r in before.reasons if r.level == 3}
            now = {r.key for r in self.state.reasons if r.level == 3}
            # What was made of others may have grown into one of more pieces.
            own = {k for k in stood if not k.startswith(("open:", "agreement:"))}
            assert own <= now
            assert not stood or now

    @rule(fact=st.sampled_from(BAD), which=st.integers(0, 5))
    def something_bad_is_told(self, fact: str, which: int) -> None:
        before = self.state.level or 0
        self.day += 1
        story = Story("E")
        BY_FACT[fact][which % len(BY_FACT[fact])][1](story)
        row = story.log[-1]
        self.s.event(self.day, row.kind, 1000.0 + self.day, part=row.part, details=row.details)
        if row.look is not None:
            self.s.log.pop()
            self.s.event(self.day, "look", 1000.0 + self.day, look=row.look)
        self._after()
        if before == 3:
            assert self.state.level == 3

    @rule(fact=st.sampled_from(GOOD), which=st.integers(0, 5))
    def something_good_is_told(self, fact: str, which: int) -> None:
        self.day += 1
        story = Story("E")
        BY_FACT[fact][which % len(BY_FACT[fact])][1](story)
        row = story.log[-1]
        self.s.event(self.day, row.kind, 1000.0 + self.day, part=row.part, details=row.details)
        self._after()

    @rule(kind=st.sampled_from(["repair", "meter_reading", "oil_change", "rebuild"]))
    def work_is_done(self, kind: str) -> None:
        self.day += 1
        self.s.event(self.day, kind, 1000.0 + self.day, part="wiper blade")
        self._after()

    @rule(lead=st.sampled_from([1, 4, 60]))
    def figures_come_in(self, lead: int) -> None:
        self.day, self.bottles = self.day + 1, self.bottles + 1
        self.s.sample(self.day, 1000.0 + self.day, usual(Pb=lead), code=f"B{self.bottles}")
        self._after()

    @rule(state=st.sampled_from(["restrict", "release", "hold"]))
    def somebody_decides(self, state: str) -> None:
        keys = frozenset(r.key for r in self.state.reasons)
        lifts = frozenset() if state == "hold" else keys
        on = DAY + timedelta(days=self.day)
        self.decisions.append(
            RunDecision(
                state=state,
                by="R",
                on=on,
                lifts=lifts,
                until=9000.0 if state == "restrict" else None,
                found="a shell",
                done="renewed",
            )
        )
        self._after(released=state == "release")
        self.held = state == "hold"
        if state == "release":
            assert all(r.level < 3 for r in self.state.reasons)

    @invariant()
    def a_stop_is_not_run(self) -> None:
        stops = [r for r in self.state.reasons if r.level == 3]
        newest = self.decisions[-1] if self.decisions else None
        permits = newest is not None and newest.state == "restrict"
        if self.held or (stops and not permits):
            assert self.state.may_run == "do_not_run"
        if any(r.finding.code == "in_pieces" for r in stops):
            assert self.state.may_run == "do_not_run", "by no permission"


TestFacts = Facts.TestCase
TestFacts.settings = settings(max_examples=120, stateful_step_count=12, deadline=None)
