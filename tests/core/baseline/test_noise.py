"""Non-detects, noise and what all metals share: what must and what must not move an expectation.

Checked against `scipy.stats`: the truncated normal, and the likelihood of censored data.
"""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from keen_tracer.core.baseline import NOTHING_PUBLISHED, SYMBOLS, assess, element_place
from keen_tracer.core.baseline.composition import shared_rise
from keen_tracer.core.baseline.estimator import _below
from keen_tracer.core.baseline.expectation import expectation
from keen_tracer.core.baseline.peers import E
from keen_tracer.core.judge import judge
from keen_tracer.core.limits import DEFAULT, default_limits, evaluate
from keen_tracer.core.record import Fleet
from tests.core.baseline.test_expectation import HABIT, history
from tests.helpers import Story, fleet, usual

LIMITS = default_limits()
METALS = ("Fe", "Cr", "Pb", "Cu", "Sn", "Al", "Ni")
PB, NI = element_place("Pb"), element_place("Ni")


@given(limit=st.floats(-8, 8), sd=st.floats(0.1, 3))
def test_what_is_known_to_lie_below_is_a_truncated_normal(limit: float, sd: float) -> None:
    """`scipy.stats.truncnorm` gives mean and variance of the same."""
    mean, left = _below(np.array([limit]), np.array([sd**2]))
    known = stats.truncnorm(-np.inf, limit / sd, scale=sd)
    assert mean[0] == pytest.approx(known.mean(), abs=1e-6 + 1e-6 * abs(limit))
    assert left[0] * sd**2 == pytest.approx(known.var(), abs=1e-5 * sd**2)


def test_a_habit_near_the_detection_limit_is_what_its_likelihood_says() -> None:
    """Against the maximum of the likelihood of the same censored figures by
    `scipy.stats.CensoredData`: the filter, which sees them one by one, ends within a tenth of it;
    half a limit in place of each non-detect does not."""
    rng, s, figures = np.random.default_rng(4), Story(model="M"), []
    for k in range(60):
        pb = float(np.exp(rng.normal(np.log(3.4), 0.3)))
        figures.append(pb)
        said = "<4" if pb < 4 else round(pb, 1)
        s.change(40 * k, 1000 + 250 * k).sample(
            40 * k + 39, 1250 + 250 * k, usual(**{**HABIT, "Pb": said})
        )
    x = expectation(evaluate(s.fleet(), LIMITS), NOTHING_PUBLISHED)
    y = x.y[:, PB]
    exact = np.array([p >= 4 for p in figures])
    cap = np.log(np.exp(y[exact]).min())
    data = stats.CensoredData(uncensored=y[exact], left=np.full((~exact).sum(), cap))
    location, spread = stats.norm.fit(data)
    assert exact.sum() < 25, "most are non-detects"
    assert x.mu[-1, PB] == pytest.approx(location, abs=0.1)
    assert np.sqrt(x.variance[-1, PB]) > 0.8 * spread, "no spread is learnt from them"


def nickel(last: object, limit: str = "<1", n: int = 20) -> Story:
    s = Story(model="M")
    for k in range(n + 1):
        s.change(40 * k, 1000 + 250 * k).sample(
            40 * k + 39, 1250 + 250 * k, usual(**HABIT | {"Ni": last if k == n else limit})
        )
    return s


def test_a_figure_within_noise_of_a_detection_limit_in_play_is_no_finding() -> None:
    for figure in (1.0, 1.1, 1.5, 1.9):
        assert not [
            f
            for f in nickel(figure).last(policy=DEFAULT).findings
            if f.analyte == "Ni_ppm" and f.level
        ]
    assert [
        f for f in nickel(6.0).last(policy=DEFAULT).findings if f.analyte == "Ni_ppm" and f.level
    ]


@settings(max_examples=25)
@given(
    symbol=st.sampled_from(("Pb", "Ni", "K", "Water", "Fuel")),
    limits=st.tuples(st.floats(0.05, 40), st.floats(1, 5)),
)
def test_raising_a_detection_limit_never_raises(symbol: str, limits: tuple[float, float]) -> None:
    low, factor = limits
    levels = [
        history("A", 9, **{symbol: f"<{x:.3f}"}).last(policy=DEFAULT).level or 0
        for x in (low, low * factor)
    ]
    assert levels[1] <= levels[0]


@given(factor=st.floats(1.05, 1.5), seed=st.integers(0, 30))
@settings(max_examples=25)
def test_metals_that_all_rise_by_one_factor_raise_no_level_by_expectation(
    factor: float, seed: int
) -> None:
    """Load, cold, or hours that are wrong: what rises alone stands out, what rises with all does
    not."""
    plain = history("A", 12, seed=seed)
    values = plain.readings[-1]
    more = {m: float(values[m]) * factor for m in METALS}  # type: ignore[arg-type]
    scaled = history("A", 12, seed=seed, **more)
    levels = [assess(s.fleet(), LIMITS).lens_levels.level[-1] for s in (plain, scaled)]
    assert (levels[1] <= np.maximum(levels[0], 0)).all()


def test_what_cylinder_and_bearings_share_is_taken_out_and_one_part_is_not() -> None:
    def of(**up: float) -> float:
        residual = np.zeros((1, E))
        for symbol, x in up.items():
            residual[0, element_place(symbol)] = x
        told = np.zeros((1, E), dtype=bool)
        told[0, [element_place(s) for s in METALS]] = True
        return float(shared_rise(residual, told)[0])

    assert of(**dict.fromkeys(METALS, 0.3)) == pytest.approx(0.3)
    assert of(Fe=1, Cr=1, Al=1) == 0, "rings, liner and piston"
    assert of(Pb=1, Sn=1, Cu=1) == 0, "a bearing"


def test_a_sample_without_hours_teaches_nothing_and_harms_nothing() -> None:
    s = history("A", 10)
    s.sample(190, None, usual(Fe=500, Pb=90), code="lost")
    with_it, without = (assess(x.fleet(), LIMITS) for x in (s, history("A", 10)))
    there = {p.sample.code: p.row for p in with_it.evaluation.contexts}
    for p in without.evaluation.contexts:
        np.testing.assert_allclose(
            with_it.expectation.mu[there[p.sample.code]][:10],
            without.expectation.mu[p.row][:10],
            rtol=1e-9,
        )
    assert np.isfinite(
        with_it.expectation.z[1][there[without.evaluation.contexts[-1].sample.code]][:7]
    ).all()


def test_without_fresh_oil_silicon_sodium_and_potassium_still_have_a_habit() -> None:
    s = history("A", 10, K=60)
    a = assess(s.fleet(None), LIMITS)
    k = element_place("K")
    assert np.isfinite(a.expectation.z[0, -1, k])
    assert a.expectation.z[0, -1, k] > 3


def test_unrelated_engines_change_nothing_before_peers_are_published() -> None:
    alone = judge(history("A", 8, Pb=14).fleet(), LIMITS)[-1]
    among = judge(fleet([history("A", 8, Pb=14), history("B", 9, Fe=300)]), LIMITS)
    assert replace(alone, input_hash="") == replace(
        next(v for v in among if v.sample == alone.sample), input_hash=""
    )


def test_a_large_fresh_figure_is_known_roughly_only() -> None:
    """A sodium detergent of 315 read as 345 is within what fills of one oil differ by."""
    s, rng = Story(model="M"), np.random.default_rng(3)
    for k in range(8):
        na = 315 + 12 + float(rng.normal(0, 8)) + (25 if k == 7 else 0)
        s.change(40 * k, 1000 + 250 * k).sample(
            40 * k + 39, 1250 + 250 * k, usual(**HABIT | {"Na": round(na)})
        )
    f = s.fleet({**dict.fromkeys(HABIT, 0), "Na": 315, "KV100": 14.3, "BN": 10})
    found = judge(f, LIMITS)[-1].findings
    assert not [x for x in found if x.analyte == "Na_ppm" and x.level >= 2]


def test_every_element_has_a_scale_of_its_own() -> None:
    assert {"KV100", "BN", "AN", "Fuel", "Soot", "Water", "Oxidation", "PQ"} <= set(SYMBOLS)
    s = history("A", 12)
    x = assess(s.fleet(), LIMITS).expectation
    for symbol in ("KV100", "BN", "Soot", "Fuel"):
        k = element_place(symbol)
        read = s.readings[-1].get(symbol)
        if read is not None:
            assert x.expected[-1, k] == pytest.approx(float(read), rel=0.25), symbol  # type: ignore[arg-type]


def test_one_fleet_or_many_is_the_same(  # the walk drops engines as they end
) -> None:
    stories = [history(f"E{n}", 4 + n) for n in range(4)]
    together: Fleet = fleet(stories)
    x = assess(together, LIMITS)
    for s in stories:
        one = assess(s.fleet(), LIMITS)
        rows = [p.row for p in x.evaluation.contexts if p.engine.code == s.engine.code]
        np.testing.assert_allclose(
            x.expectation.mu[rows], one.expectation.mu, rtol=1e-9, equal_nan=True
        )


def test_a_figure_as_large_as_a_figure_may_be_breaks_nothing() -> None:
    """A million ppm of copper, once in every second sample."""
    s = history("A", 4)
    for k in range(12):
        day, dial = 40 * (4 + k), 1000 + 250 * (4 + k)
        more = usual(Cu=1_000_000 if k % 2 else 2, Pb="<1000000")
        s.change(day, dial).sample(day + 39, dial + (15 if k % 3 else 240), more)
    x = assess(s.fleet(), LIMITS).expectation
    assert np.isfinite(x.high[:, : len(METALS)]).all()
