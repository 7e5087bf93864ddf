"""What an expectation starts from: duty, rises within a charge, and what peers say of both."""

import dataclasses

import numpy as np
import pytest

from keen_tracer.core.baseline import (
    NOTHING_PUBLISHED,
    SPREADS,
    PeerSet,
    element_place,
    members,
    peer_set,
    peers_of_rows,
    rows_of,
)
from keen_tracer.core.baseline.expectation import expectation
from keen_tracer.core.baseline.model_inputs import (
    DUTY_RANGE,
    duty,
    model_inputs,
    rise_in_charge,
    sigma,
)
from keen_tracer.core.baseline.peers import E
from keen_tracer.core.limits import default_limits, evaluate
from tests.core.baseline.test_expectation import HABIT
from tests.helpers import Story, fleet, usual

LIMITS = default_limits()
SPREAD = float(SPREADS[element_place("Pb")])
FE, PB, NI = (element_place(s) for s in ("Fe", "Pb", "Ni"))


def worked(code: str, days: list[int], slope: float = 0.0) -> Story:
    """An engine sampled at every drain of 250 h, so many days apart; iron follows how hard it was
    worked."""
    s, on, use = Story(code, model="M"), 0, [250 / d for d in days]
    rng = np.random.default_rng([*code.encode()])
    for k, gap in enumerate(days):
        s.change(on, 1000 + 250 * k)
        on += gap
        hard = (use[k] / float(np.exp(np.mean(np.log(use[:k] or [use[k]]))))) ** slope
        values = {
            m: round(v * float(np.exp(rng.normal(0, 0.05))) * (hard if m == "Fe" else 1), 2)
            for m, v in HABIT.items()
        }
        s.sample(on, 1249 + 250 * k, usual(**values))
    return s


def test_duty_is_the_meter_per_day_over_what_was_usual_so_far() -> None:
    e = evaluate(worked("A", [50, 50, 50, 25, 50]).fleet(), LIMITS)
    found = duty(e.contexts)
    assert found[:3] == pytest.approx([0, 0, 0], abs=0.01), "a first sample has no usual yet"
    assert found[3] == pytest.approx(np.log(2), abs=0.02)
    assert found[4] == pytest.approx(-np.log(2) / 3, abs=0.02), (
        "the hard one is part of the usual now"
    )


def test_a_meter_that_did_not_move_and_a_day_or_two_say_nothing_of_duty() -> None:
    s = (
        Story()
        .change(0, 1000)
        .sample(30, 1100)
        .sample(31, 1105)
        .sample(60, 1200)
        .sample(90, 1200)
        .sample(120, 9000)
    )
    found = duty(evaluate(s.fleet(), LIMITS).contexts)
    assert found[1] == 0
    assert found[3] == 0
    assert found[4] == DUTY_RANGE, "however hard, it counts for no more than that"


def test_a_season_in_storage_is_not_gentle_work() -> None:
    def log(parked: bool) -> Story:
        s = Story().change(0, 1000).sample(30, 1100).sample(60, 1200).sample(90, 1300)
        if parked:
            s.event(95, "storage_start", 1310).event(275, "storage_end", 1310)
        return s.sample(300, 1400)

    assert duty(evaluate(log(False).fleet(), LIMITS).contexts)[3] < -0.5
    assert duty(evaluate(log(True).fleet(), LIMITS).contexts)[3] == 0


def test_a_meter_that_stands_at_zero_is_a_meter() -> None:
    found = duty(
        evaluate(
            Story().change(0, 0).sample(0, 0).sample(30, 100).sample(60, 300).fleet(), LIMITS
        ).contexts
    )
    assert found[2] == pytest.approx(np.log(2), abs=0.01)


def test_duty_is_learnt_from_what_differs_not_from_what_is_always_so() -> None:
    """A fleet worked a little harder every time, whose wear does not follow: the slope stays at
    0."""
    gaps = [60, 56, 52, 48, 45, 42, 39, 36]
    peers = peer_set(
        "c", members(evaluate(fleet([worked(f"G{n}", gaps) for n in range(10)]), LIMITS))
    )
    assert abs(peers.duties["heavy_diesel"][FE]) < 0.1


def test_peers_learn_what_duty_adds_only_where_it_adds_something() -> None:
    gaps = [[*[60, 30, 60, 30, 45, 30, 60, 40][n % 3 :], 35, 55] for n in range(10)]
    follows = peer_set(
        "a", members(evaluate(fleet([worked(f"D{n}", g, 1.0) for n, g in enumerate(gaps)]), LIMITS))
    )
    steady = peer_set(
        "b", members(evaluate(fleet([worked(f"D{n}", g) for n, g in enumerate(gaps)]), LIMITS))
    )
    assert follows.duties["heavy_diesel"][FE] > 0.3
    assert abs(steady.duties["heavy_diesel"][FE]) < 0.1
    assert abs(follows.duties["heavy_diesel"][PB]) < 0.15


def test_an_engine_worked_twice_as_hard_is_expected_to_show_more() -> None:
    slope = np.zeros(E)
    slope[FE] = 0.5
    f = worked("A", [50, 50, 50, 25]).fleet()
    plain, with_duty = (
        expectation(evaluate(f, LIMITS), p)
        for p in (NOTHING_PUBLISHED, PeerSet(name="d", duties={"heavy_diesel": slope}))
    )
    assert with_duty.mu[3, FE] - plain.mu[3, FE] == pytest.approx(0.5 * np.log(2), abs=0.02)
    assert with_duty.mu[2, FE] == pytest.approx(plain.mu[2, FE], abs=0.01)
    assert with_duty.expected[3, FE] > plain.expected[3, FE]


def twice(first: object, second: object) -> tuple[np.ndarray, np.ndarray, float, float]:
    """(residual, slope, rise, bend) of lead between two samples of one charge; 2 ppm per drain is
    usual."""
    s = Story().change(0, 1000).sample(20, 1100, usual(Pb=first)).sample(28, 1150, usual(Pb=second))
    given = model_inputs(evaluate(s.fleet(), LIMITS), NOTHING_PUBLISHED)
    mu, at = np.full((1, E), np.log(2.0 + 1.0)), np.full((1, E), 2.0)
    residual, slope = rise_in_charge(given, np.array([1]), np.array([0]), mu, at)
    gained = given.wear[1] - given.wear[0] - given.hidden[0]
    return (
        residual[0],
        slope[0],
        float(gained[PB] * 5),
        float(np.sqrt(2) * sigma(at)[0, PB] * 5 / SPREAD),
    )


def test_a_rise_far_under_the_noise_is_measured_straight_and_far_over_it_by_ratio() -> None:
    residual, _, rise, bend = twice(2.0, 2.6)
    assert rise < bend
    usual_rise = max(3.0 - 1.0, 0.0)
    assert residual[PB] == pytest.approx((rise - usual_rise) / bend, rel=0.1), (
        "a straight line where noise rules"
    )
    high, _, rise, bend = twice(2.0, 202.0)
    higher, _, more, _ = twice(2.0, 402.0)
    assert rise > 5 * bend
    assert higher[PB] - high[PB] == pytest.approx(np.log(more / rise), rel=0.05), (
        "a logarithm where habit does"
    )


@pytest.mark.parametrize("size", [0.0, 0.5, 2.0, 8.0, 30.0])
def test_the_scatter_of_a_rise_is_the_same_at_every_size(size: float) -> None:
    """Variance-stabilising by asinh (Bartlett 1947), tried by drawing: test noise n and a habit
    that scatters by s."""
    rng, many = np.random.default_rng(5), 4000
    s = Story().change(0, 1000).sample(20, 1100).sample(28, 1150)
    given = model_inputs(evaluate(s.fleet(), LIMITS), NOTHING_PUBLISHED)
    at = np.full((many, E), 2.0)
    noise = np.sqrt(2) * sigma(at[:1])[0, PB] * 5
    u = size * noise / SPREAD * (1 + rng.normal(0, SPREAD / 5, many)) + rng.normal(
        0, noise / 5, many
    )
    wear = np.zeros((2 * many, E))
    wear[many:, PB] = u / 5
    wide = dataclasses.replace(
        given,
        wear=wear,
        hidden=np.zeros((2 * many, E)),
        nominal=np.repeat(given.nominal, many),
        hours=np.repeat(given.hours, many),
    )
    before = np.arange(many)
    residual, _ = rise_in_charge(wide, before + many, before, np.full((many, E), np.log(3.0)), at)
    assert residual[:, PB].std() == pytest.approx(SPREAD / 5, rel=0.12)


def test_a_non_detect_before_makes_no_rise_of_its_own() -> None:
    known, _, _, _ = twice(1.0, 2.0)
    hidden, _, _, _ = twice("<1", 2.0)
    assert hidden[PB] == pytest.approx(known[PB], abs=0.05), (
        "taken for all it may hide, not for half of it"
    )


def test_too_little_time_between_two_samples_says_nothing() -> None:
    s = Story().change(0, 1000).sample(20, 1100).sample(21, 1110)
    x = expectation(evaluate(s.fleet(), LIMITS), NOTHING_PUBLISHED)
    assert np.isnan(x.rise_z).all()


def test_rises_scatter_as_their_class_has_shown_and_read_back_from_rows() -> None:
    rng = np.random.default_rng(3)
    stories = []
    for n in range(12):
        s = Story(f"P{n}", model="M")
        for k in range(5):
            start, rate = 1000 + 250 * k, 0.1 * float(np.exp(rng.normal(0, 0.05)))
            s.change(50 * k, start)
            for day, hours in ((10, 60), (20, 120), (30, 180), (40, 240)):
                s.sample(50 * k + day, start + hours, usual(Fe=round(1 + rate * hours, 2)))
        stories.append(s)
    peers = peer_set("p", members(evaluate(fleet(stories), LIMITS)))
    quiet = peers.rises["heavy_diesel"][FE]
    assert quiet < 0.5, "steadier than assumed"
    again = peers_of_rows("p", rows_of(peers))
    np.testing.assert_allclose(again.rises["heavy_diesel"], peers.rises["heavy_diesel"], rtol=1e-4)
    np.testing.assert_allclose(
        again.duties["heavy_diesel"], peers.duties["heavy_diesel"], rtol=1e-4
    )
    s = (
        Story("NEW", model="M")
        .change(0, 1000)
        .sample(20, 1100, usual(Fe=11))
        .sample(40, 1200, usual(Fe=45))
    )
    wide, narrow = (
        expectation(evaluate(s.fleet(), LIMITS), p).rise_z[1, FE]
        for p in (NOTHING_PUBLISHED, peers)
    )
    assert narrow > wide > 0
