"""More of a wear metal is never less alarming, whoever decides: limits, peers or own history."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.limits import POLICY_WORDS
from tests.helpers import Story, channel, usual

METALS = st.sampled_from(["Fe", "Cr", "Pb", "Al", "Ni"])


def with_history(metal: str, reading: float) -> Story:
    """Eight quiet drains sampled in the middle, then one sample with one metal changed."""
    s = Story()
    for n in range(8):
        s.change(40 * n, 1000 + 250 * n)
        s.sample(40 * n + 20, 1125 + 250 * n, usual(Fe=12 + n % 3, Cr=1.2 + 0.1 * (n % 2)))
    s.change(320, 3000)
    return s.sample(340, 3125, usual(**{metal: round(reading, 1)}))


@pytest.mark.parametrize("policy", POLICY_WORDS)
@given(METALS, st.lists(st.floats(0.5, 400), min_size=2, max_size=4))
def test_more_of_a_metal_is_never_less(policy: str, metal: str, readings: list[float]) -> None:
    levels = [channel(with_history(metal, x).last(policy=policy), "wear") for x in sorted(readings)]
    known = [x for x in levels if x is not None]
    assert known == sorted(known)
