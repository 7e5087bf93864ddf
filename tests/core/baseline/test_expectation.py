"""What is expected of a reading: peers, own history, and what may not teach a baseline."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from keen_tracer.core.baseline import (
    NOTHING_PUBLISHED,
    PeerSet,
    assess,
    element_place,
    members,
    peer_set,
    peers_of_rows,
    rows_of,
    started_log,
)
from keen_tracer.core.baseline.expectation import expectation
from keen_tracer.core.baseline.peers import EMPTY_SHARE, E
from keen_tracer.core.baseline.together import WINDOW
from keen_tracer.core.judge import judge
from keen_tracer.core.limits import default_limits, evaluate
from keen_tracer.core.record import DebrisCount, DebrisLook, Fleet
from tests.helpers import DAY, Story, channel, fleet, usual

LIMITS = default_limits()
# What a quiet heavy diesel shows at the drain, ppm; invented.
HABIT = {
    "Fe": 24.0,
    "Cr": 2.2,
    "Pb": 4.0,
    "Cu": 6.0,
    "Sn": 2.0,
    "Al": 4.0,
    "Ni": 1.5,
    "Si": 7.0,
    "Na": 6.0,
    "K": 3.0,
}
FE, PB, CU, NA = (element_place(s) for s in ("Fe", "Pb", "Cu", "Na"))


def history(
    code: str, n: int, model: str = "M", factor: float = 1.0, seed: int = 0, **last: object
) -> Story:
    """An engine sampled at every drain, with the ordinary scatter of service; `last` changes its
    newest sample."""
    rng = np.random.default_rng([seed, *code.encode()])
    s = Story(code, model=model)
    for k in range(n):
        values: dict[str, object] = {
            m: round(v * factor * float(np.exp(rng.normal(0, 0.12))), 2) for m, v in HABIT.items()
        }
        if k == n - 1:
            values |= last
        s.change(40 * k, 1000 + 250 * k).sample(40 * k + 39, 1248 + 250 * k, usual(**values))
    return s


def rows_of_engine(f: Fleet, code: str) -> list[int]:
    return [r.sample.row for h in f.histories if h.engine.code == code for r in h.log if r.sample]


def published(*stories: Story) -> PeerSet:
    return peer_set("test", members(evaluate(fleet(stories), LIMITS)))


def test_without_peers_or_history_a_third_of_the_watch_rise_is_expected() -> None:
    x = expectation(evaluate(history("A", 1).fleet(), LIMITS), NOTHING_PUBLISHED)
    watch = LIMITS.for_engine(history("A", 1).engine).at[0, 0, 0]
    assert x.mu[0, FE] == pytest.approx(np.log(EMPTY_SHARE * watch + started_log()[FE]))
    assert x.own_share[0, FE] == 0
    assert x.peers[0, FE] == 0


def test_the_share_of_its_own_history_grows_with_it() -> None:
    x = expectation(evaluate(history("A", 12).fleet(), LIMITS), NOTHING_PUBLISHED)
    share = x.own_share[:, FE]
    assert (np.diff(share) > 0).all()
    assert share[-1] > 0.9
    assert x.expected[-1, FE] == pytest.approx(24, rel=0.15)
    assert x.low[-1, FE] < x.expected[-1, FE] < x.high[-1, FE]


def test_the_variance_is_spread_and_doubt_and_falls_as_more_is_known() -> None:
    x = expectation(evaluate(history("A", 20).fleet(), LIMITS), NOTHING_PUBLISHED)
    assert x.variance[-1, FE] < 0.3 * x.variance[0, FE]


def test_an_engine_is_not_its_own_peer() -> None:
    others = [history(f"P{n}", 8) for n in range(5)]
    odd = history("ODD", 8, factor=6)
    peers = published(odd, *others)
    x = expectation(evaluate(odd.fleet(), LIMITS), peers)
    y = expectation(evaluate(others[0].fleet(), LIMITS), peers)
    assert x.peers[0, FE] == 5
    assert x.expected[0, FE] < 35, "the prior of the odd engine comes from the others alone"
    assert y.expected[0, FE] == pytest.approx(24, rel=0.35)


def test_an_engine_that_something_speaks_against_is_nobodys_peer() -> None:
    """VERDICT 8.13: its figures may be quiet while its filter is full of bearing."""
    well = history("W", 8)
    ill = history("I", 8)
    day, dial = ill.log[-1].on, ill.log[-1].dial
    flakes = DebrisLook(
        "filter", "roller_cutter", 1.0, (DebrisCount("copper_flakes", "0.5-1", 60),)
    )
    ill.event((day - DAY).days + 1, "look", dial, look=flakes)
    told = {m.engine for m in members(evaluate(fleet([well, ill]), LIMITS))}
    assert told == {"W"}


def test_peers_of_the_model_come_before_the_class() -> None:
    high = [history(f"H{n}", 8, model="High", factor=3) for n in range(6)]
    low = [history(f"L{n}", 8, model="Low") for n in range(6)]
    peers = published(*high, *low)
    new = history("NEW", 1, model="High")
    x = expectation(evaluate(new.fleet(), LIMITS), peers)
    assert x.expected[0, FE] > 50


def test_a_version_of_peers_reads_back_from_its_rows() -> None:
    peers = published(*(history(f"P{n}", 6) for n in range(4)))
    again = peers_of_rows(peers.name, rows_of(peers))
    assert rows_of(again) == rows_of(peers)
    assert set(again.means) == set(peers.means)
    np.testing.assert_allclose(
        again.classes["heavy_diesel"].mean, peers.classes["heavy_diesel"].mean, rtol=1e-4
    )


def test_a_slow_ramp_does_not_teach_its_own_baseline() -> None:
    s = Story("R", model="M")
    for k in range(20):
        iron = 24.0 if k < 10 else 24.0 * 1.12 ** (k - 9)
        s.change(40 * k, 1000 + 250 * k).sample(
            40 * k + 39, 1248 + 250 * k, usual(Fe=round(iron, 1))
        )
    x = expectation(evaluate(s.fleet(), LIMITS), NOTHING_PUBLISHED)
    assert x.expected[-1, FE] < 0.5 * 74.5
    assert x.z[0, -1, FE] > 2.5
    assert x.z[WINDOW - 1, -1, FE] > x.z[0, -1, FE], (
        "three samples together say more than the last alone"
    )


def test_drift_since_the_first_samples_of_a_life_is_said_though_the_habit_has_followed_it() -> None:
    from keen_tracer.core.words import sentence

    s = Story("R", model="M")
    for k in range(30):
        s.change(40 * k, 1000 + 250 * k).sample(
            40 * k + 39, 1248 + 250 * k, usual(Fe=round(14 * 1.035**k, 1))
        )
    v = s.judged(policy="expectation_and_fixed")[-1]
    found = next(f for f in v.findings if f.code == "drift" and f.analyte == "Fe_ppm")
    assert found.level == 0
    assert found.numbers.now > 1.4 * found.numbers.first
    assert "since the first samples of this life" in sentence(found)
    assert not [
        f
        for f in history("A", 30).judged(policy="expectation_and_fixed")[-1].findings
        if f.code == "drift"
    ]


def test_charges_that_are_only_reported_with_the_samples_count_as_charges() -> None:
    """A fleet without oil changes on record: every sample names the meter of its change."""
    recorded, reported = history("A", 10), history("A", 10)
    import dataclasses

    reported.log = [
        dataclasses.replace(r, sample=dataclasses.replace(r.sample, oil_change_dial=r.dial - 248.0))
        for r in reported.log
        if r.sample is not None and r.dial is not None
    ]
    x, y = (
        expectation(evaluate(s.fleet(), LIMITS), NOTHING_PUBLISHED) for s in (recorded, reported)
    )
    np.testing.assert_allclose(y.own_share[:, FE], x.own_share[:, FE], rtol=0.05)


def test_lead_of_leaded_fuel_is_not_read() -> None:
    import dataclasses

    s = history("A", 8, Pb=400)
    s.engine = dataclasses.replace(s.engine, engine_class="petrol", fuel="petrol_leaded")
    x = expectation(evaluate(s.fleet(), LIMITS), NOTHING_PUBLISHED)
    assert np.isnan(x.y[:, PB]).all()
    assert np.isfinite(x.y[:, FE]).all()


def test_one_wild_sample_moves_the_baseline_by_little() -> None:
    quiet = expectation(evaluate(history("A", 10).fleet(), LIMITS), NOTHING_PUBLISHED)
    s = history("A", 9, Fe=400)
    s.change(400, 3250).sample(439, 3498, usual(Fe=24))
    wild = expectation(evaluate(s.fleet(), LIMITS), NOTHING_PUBLISHED)
    assert np.exp(wild.mu[-1, FE]) < 1.25 * np.exp(quiet.mu[-1, FE])


def test_another_laboratory_widens_what_is_known_and_a_published_offset_takes_it_along() -> None:
    def switched() -> Story:
        s = history("A", 8)
        for k in range(8, 10):
            s.change(40 * k, 1000 + 250 * k).sample(
                40 * k + 39, 1248 + 250 * k, usual(Fe=30), laboratory="Other"
            )
        return s

    e = evaluate(switched().fleet(), LIMITS)
    x = expectation(e, NOTHING_PUBLISHED)
    assert x.variance[8, FE] > x.variance[7, FE]
    assert x.own_share[8, FE] < x.own_share[7, FE]
    offset, sd, n = np.zeros(E), np.full(E, np.nan), np.zeros(E)
    offset[FE], sd[FE], n[FE] = 0.2, 0.02, 12
    known = expectation(e, PeerSet(name="p", offsets={("Lab", "Other"): (offset, sd, n)}))
    assert known.mu[8, FE] == pytest.approx(x.mu[8, FE] + 0.2)
    assert known.variance[8, FE] < x.variance[8, FE]


def test_a_rebuild_starts_over() -> None:
    s = history("A", 6, factor=3)
    s.event(300, "rebuild", 2600, part="engine").change(300, 2600)
    s.sample(600, 3400, usual(Fe=24))
    x = expectation(evaluate(s.fleet(), LIMITS), NOTHING_PUBLISHED)
    assert x.own_n[-1, FE] == 0
    assert x.own_share[-1, FE] == 0


def test_a_non_detect_never_speaks_up() -> None:
    s = history("A", 8, Pb="<40")
    x = expectation(evaluate(s.fleet(), LIMITS), NOTHING_PUBLISHED)
    assert x.z[0, -1, PB] <= 0
    assert not x.y_exact[-1, PB]


def test_run_in_raises_what_is_expected_of_its_metals_only() -> None:
    def new(day: float, total: float) -> float:
        s = Story("N", in_service_on=DAY).change(0, 0)
        s.sample(day, total, usual(Fe=50))
        x = expectation(evaluate(s.fleet(), LIMITS), NOTHING_PUBLISHED)
        return float(x.mu[0, FE] - x.mu[0, PB])

    assert new(10, 60) > new(80, 240) > new(400, 2400)


def test_samples_before_a_confirmed_fault_are_no_habit() -> None:
    import dataclasses

    s = history("A", 10, Fe=60)
    f = s.fleet()
    day = s.log[-1].on
    confirmed = dataclasses.replace(f.histories[0], confirmed=(day,))
    s.change(400, 3500).sample(439, 3748, usual(Fe=24))
    after = s.fleet()
    kept = Fleet(
        (dataclasses.replace(after.histories[0], confirmed=(day,)),),
        after.value,
        after.censor,
        after.fresh,
    )
    x, y = (expectation(evaluate(g, LIMITS), NOTHING_PUBLISHED) for g in (kept, after))
    assert confirmed.confirmed
    assert x.own_n[-1, FE] < y.own_n[-1, FE]
    assert x.expected[-1, FE] < y.expected[-1, FE]


def test_engines_judged_together_are_judged_as_each_alone() -> None:
    stories = [history(f"E{n}", 3 + n, factor=1 + 0.2 * n) for n in range(6)]
    peers = published(*stories)
    together = {v.sample: v for v in judge(fleet(stories), LIMITS, peers)}
    for s in stories:
        for v in judge(s.fleet(), LIMITS, peers):
            assert together[v.sample] == v


@settings(max_examples=40, deadline=None)
@given(
    metal=st.sampled_from(["Fe", "Cr", "Pb", "Cu", "Sn", "Al", "Ni"]),
    low=st.floats(0, 60),
    more=st.floats(0.01, 200),
    silicon=st.sampled_from([7, 30]),
)
def test_raising_one_wear_metal_never_lowers_wear_or_the_whole(
    metal: str, low: float, more: float, silicon: int
) -> None:
    less, higher = (
        history("A", 7, **{metal: x, "Si": silicon}).judged(policy="expectation_and_fixed")[-1]
        for x in (low, low + more)
    )
    assert (channel(higher, "wear") or 0) >= (channel(less, "wear") or 0)
    assert (higher.level or 0) >= (less.level or 0)


@settings(max_examples=25, deadline=None)
@given(
    iron=st.floats(1, 120),
    lead=st.floats(0, 60),
    fact=st.sampled_from(["knock", "low_oil_pressure_hot", "chunks"]),
)
def test_adding_a_hard_stop_never_lowers_anything(iron: float, lead: float, fact: str) -> None:
    s = history("A", 6, Fe=iron, Pb=lead)
    before = s.judged(policy="expectation_and_fixed")[-1]
    after = s.event(239.5, "symptom", 2498, part=fact).judged(policy="expectation_and_fixed")[-1]
    assert after.level == 3
    for was, now in zip(before.channels, after.channels, strict=True):
        assert (now or 0) >= (was or 0)


def test_the_unit_of_the_meter_changes_no_level() -> None:
    """The same engine counted in hours, or in outings of one hour."""
    import dataclasses

    hours = history("A", 8, Fe=60, Pb=14)
    outings = history("A", 8, Fe=60, Pb=14)
    outings.engine = dataclasses.replace(outings.engine, meter_unit="outing")
    assert [v.channels for v in hours.judged(policy="expectation_and_fixed")] == [
        v.channels for v in outings.judged(policy="expectation_and_fixed")
    ]


def test_everything_that_is_not_finite_stays_out_of_the_baseline() -> None:
    s = history("A", 6)
    s.change(300, 2500).sample(301, 2501, usual(Fe=500))  # one hour on the oil: no rate
    s.sample(330, 2700, usual(Fe=20))
    a = assess(s.fleet(), LIMITS)
    assert np.isnan(a.expectation.y[6, FE])
    assert np.isfinite(a.expectation.mu).all()
    assert a.expectation.expected[7, FE] < 40
