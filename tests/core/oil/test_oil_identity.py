"""Which oil is it: mixtures worked out by hand are found again, noise is not, and SciPy's solver is
held to its terms."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.laboratory import BY_SYMBOL, N
from keen_tracer.core.limits import default_limits, evaluate
from keen_tracer.core.oil import by_oil, mixture
from keen_tracer.core.review import record_queries
from tests.helpers import FRESH, OIL, Story, figures, usual

HEAVY = {"Ca": 2600, "Mg": 310, "Zn": 1250, "P": 1080, "Mo": 52, "B": 95}
LIGHT = {"Ca": 1350, "Mg": 620, "Zn": 930, "P": 820, "Mo": 85, "B": 180}
SMALL = {"Ca": 2050, "Mg": 12, "Zn": 1020, "P": 930, "Mo": 2, "B": 4}


def fresh(oil: dict[str, int]) -> np.ndarray:
    return figures(oil)[0]


KNOWN = by_oil(
    {
        "Heavy||1": fresh(HEAVY),
        "Heavy||2": fresh(HEAVY),
        "Light||1": fresh(LIGHT),
        "Small||1": fresh(SMALL),
    }
)


def blend(share: float, a=HEAVY, b=LIGHT) -> np.ndarray:
    return fresh({k: a[k] * (1 - share) + b[k] * share for k in a})


@pytest.mark.parametrize("share", [0.0, 0.1, 0.35, 0.5, 0.9, 1.0])
def test_a_blend_is_taken_apart_again(share: float) -> None:
    found = mixture(blend(share), "Heavy", KNOWN)
    assert found is not None
    assert dict(found.shares).get("Light", 0.0) == pytest.approx(share, abs=0.03)
    assert sum(s for _, s in found.shares) == pytest.approx(1, abs=0.02)
    assert found.says("Heavy") == (
        "registered" if share < 0.15 else "mixed" if share < 0.75 else "other"
    )


def test_another_batch_of_the_same_oil_in_another_laboratory_is_no_other_oil() -> None:
    drifted = fresh(
        {
            k: round(x * f)
            for (k, x), f in zip(HEAVY.items(), (1.06, 0.94, 1.05, 0.93, 1.1, 0.6), strict=True)
        }
    )
    found = mixture(drifted, "Heavy", KNOWN)
    assert found is not None
    assert found.says("Heavy") == "registered"


def test_an_oil_nobody_knows_is_unknown() -> None:
    found = mixture(
        fresh({"Ca": 200, "Mg": 1900, "Zn": 100, "P": 90, "Mo": 400, "B": 900}), "Heavy", KNOWN
    )
    assert found is not None
    assert found.says("Heavy") == "unknown"


def test_too_little_known_says_nothing() -> None:
    assert mixture(fresh({"Ca": 1350, "Mg": 620}), "Heavy", KNOWN) is None
    assert mixture(blend(0.5), "Nobody's", KNOWN) is None
    assert mixture(np.full(N, np.nan), "Heavy", KNOWN) is None


@given(st.floats(0, 1), st.integers(0, 10_000))
def test_shares_are_shares_whatever_the_noise(share: float, seed: int) -> None:
    noisy = blend(share) * np.exp(np.random.default_rng(seed).normal(0, 0.05, N))
    found = mixture(noisy, "Heavy", KNOWN)
    assert found is not None
    assert all(0 <= s <= 1 for _, s in found.shares)
    assert found.off_mixture <= found.off_registered + 1e-6


def test_batches_of_an_oil_are_averaged_and_gaps_stay_gaps() -> None:
    made = by_oil({"A||1": figures({"Ca": 1000})[0], "A||2": figures({"Ca": 2000})[0]})
    assert np.nanmax(made["A"]) == 1500
    assert np.isnan(made["A"][1])


def test_a_top_up_with_the_wrong_oil_is_asked_about_by_name() -> None:
    oils = {
        OIL: figures({**FRESH, **HEAVY, "KV40": 96})[0],
        "Light||1": figures({**FRESH, **LIGHT, "KV40": 60})[0],
    }
    s = (
        Story()
        .change(0, 0)
        .sample(
            20, 125, usual(**{k: round(0.6 * HEAVY[k] + 0.4 * LIGHT[k]) for k in HEAVY}), code="a"
        )
    )
    fleet = s.fleet(None)
    found = record_queries(
        evaluate(type(fleet)(fleet.histories, fleet.value, fleet.censor, oils), default_limits())
    )["E-1"]
    assert [(q.code, q.numbers["oil"]) for q in found] == [("other_oil_in_it", "Light")]
    assert found[0].numbers["share"] == pytest.approx(0.4, abs=0.05)
    assert BY_SYMBOL["Ca"].column == found[0].numbers["analyte"]
