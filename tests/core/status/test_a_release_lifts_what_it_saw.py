"""A release lifts the rows it saw and nothing else: what is written, changed or amended after it
counts anew, even when it looks the same. A machine that tells the same fact again on the same day
at the same hours, without hours, changed, and amends a report."""

from dataclasses import replace
from typing import Any

from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, precondition, rule

from keen_tracer.core.record import DebrisCount, DebrisLook, fact_kinds
from keen_tracer.core.verdict import EngineState, Reason, RunDecision
from tests.core.record.test_facts import BY_FACT
from tests.helpers import DAY, Story, stated, usual

STOPS = sorted(f for f in BY_FACT if fact_kinds()[f].level == 3)
METERS = st.sampled_from([1218.4, None])


class Releases(RuleBasedStateMachine):
    """One engine on one day, released again and again."""

    def __init__(self) -> None:
        super().__init__()
        self.s = Story("E").change(0, 1000.0)
        self.s.sample(1, 1200.0, usual(), code="B1")
        self.decisions: list[RunDecision] = []
        self.kept: dict[str, Reason] = {}
        self.water, self.rows = 0.0, 0
        self.state = self._judge()

    def _judge(self) -> EngineState:
        self.state = stated(self.s, self.decisions, kept=tuple(self.kept.values()))
        for r in self.state.reasons:
            if r.level == 3:
                self.kept.setdefault(r.key, r)
        return self.state

    def _must_stop(self, why: str) -> None:
        assert self._judge().may_run == "do_not_run", why

    def _row(self, kind: str, meter: float | None, **more: Any) -> None:
        """A row of its own identity, as the database gives one."""
        self.rows += 1
        self.s.event(1, kind, meter, **more)
        self.s.log[-1] = replace(self.s.log[-1], id=f"row-{self.rows}")

    def _tell(self, fact: str, which: int, meter: float | None) -> None:
        story = Story("E")
        BY_FACT[fact][which % len(BY_FACT[fact])][1](story)
        for row in story.log:
            self._row(
                row.kind,
                meter,
                part=row.part,
                details=row.details,
                look=row.look,
                litres_in=row.litres_in,
            )

    @rule(fact=st.sampled_from(STOPS), which=st.integers(0, 5), meter=METERS)
    def a_stop_is_told(self, fact: str, which: int, meter: float | None) -> None:
        self._tell(fact, which, meter)
        self._must_stop(f"{fact} was told")

    @rule(pieces=st.integers(1, 40), meter=METERS)
    def a_filter_is_opened(self, pieces: int, meter: float | None) -> None:
        look = DebrisLook("filter", "", 1.0, (DebrisCount("part_fragment", "1-3", pieces),))
        self._row("look", meter, look=look)
        self._must_stop("a fragment was found")

    @precondition(lambda self: any(r.look for r in self.s.log))
    @rule(more=st.integers(1, 9))
    def a_look_is_corrected(self, more: int) -> None:
        """A correction is another row in the place of the first."""
        n = max(n for n, r in enumerate(self.s.log) if r.look)
        row = self.s.log[n]
        count = replace(row.look.counts[0], count=row.look.counts[0].count + more)
        look = replace(row.look, counts=(count,))
        self.s.log[n] = replace(row, id=f"{row.id}+{more}", look=look)
        self._must_stop("what was corrected is not what was released")

    @rule(water=st.sampled_from([0.6, 2.0, 9.0]))
    def a_report_is_put_right(self, water: float) -> None:
        if water == self.water:
            return
        self.water = water
        self.s.readings[0] = usual(Water=water, K=150, Na=220, Glycol=0.2)
        self.s.readings[0] |= {"Pb": 60.0, "Sn": 30.0, "Cu": 90.0}
        before = {r.key for r in self.state.reasons}
        lifted = frozenset().union(*(d.lifts or frozenset() for d in self.decisions))
        now = {r.key for r in self._judge().reasons if r.source == "sample"}
        assert now - lifted, "the amended figure was never released"
        assert now or before

    @rule()
    def somebody_releases(self) -> None:
        keys = frozenset(r.key for r in self.state.reasons)
        self.decisions.append(
            RunDecision(
                state="release", by="R", on=DAY, lifts=keys, found="a shell", done="renewed"
            )
        )
        assert all(r.level < 3 for r in self._judge().reasons), "what was seen is lifted"

    @precondition(lambda self: len(self.s.log) > 2)
    @rule(back=st.booleans())
    def a_row_is_taken_back(self, back: bool) -> None:
        """Nothing that stood is lowered by it, and nothing released comes back."""
        stood = {r.key for r in self.state.reasons if r.level == 3}
        self.s.log.pop(-1 if back else 2)
        now = {r.key for r in self._judge().reasons if r.level == 3}
        own = {k for k in stood if not k.startswith(("open:", "agreement:"))}
        assert own <= now
        if not stood:
            assert not now


TestReleases = Releases.TestCase
TestReleases.settings = settings(max_examples=60, stateful_step_count=8, deadline=None)


def test_a_release_of_an_older_version_still_lifts_what_it_named() -> None:
    """Before 0.13 a reason was named by day, kind, part, meter and fact."""
    s = Story("E").change(0, 1000.0).event(1, "symptom", 1218.4, part="knock")
    old = f"log:{s.log[-1].on.isoformat()}:symptom:knock:1218.4:knock"
    released = RunDecision(state="release", by="R", on=DAY, lifts=frozenset({old}), found="a shell")
    assert stated(s, [released]).level in (0, None)


def test_what_an_older_version_kept_under_other_names_stands_once() -> None:
    """After an upgrade an open engine is one reason, not one for each finding as it grew."""
    s = Story("E").change(0, 1000.0)
    for n, part in enumerate(("gallery", "pickup")):
        s.event(1, "finding", 1218.4, part=part, details={"order": str(n), "condition": "clear"})
    now = [r for r in stated(s).reasons if r.finding.code == "in_pieces"]
    assert len(now) == 1
    older = [
        replace(
            now[0],
            key=f"open:{n}" + "0" * 7,
            source="kept",
            finding=replace(now[0].finding, numbers=replace(now[0].finding.numbers, parts=n)),
        )
        for n in (1, 2)
    ]
    after = stated(s, kept=tuple(older)).reasons
    assert [r.key for r in after if r.finding.code == "in_pieces"] == [now[0].key]
