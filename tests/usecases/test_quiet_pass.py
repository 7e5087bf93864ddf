"""What the quiet pass ticks by itself: nothing whose wear or debris nobody measured, nothing of an
engine that was raised since."""

import pytest

from keen_tracer.core.terms import CHANNELS
from keen_tracer.usecases.pages.queue import _look_first

STEADY = dict.fromkeys(CHANNELS, 0)


@pytest.mark.parametrize(
    ("changes", "stands", "why"),
    [
        ({}, 0, ""),
        ({"fuel": None}, 0, ""),
        ({"wear": None}, 0, CHANNELS["wear"]),
        ({"debris": None}, 0, CHANNELS["debris"]),
        ({}, 1, "raised since"),
        ({}, 3, "raised since"),
    ],
)
def test_what_clears_nothing_is_looked_at_first(changes: dict, stands: int, why: str) -> None:
    said = _look_first({"channels": list({**STEADY, **changes}.values()), "stands": stands})
    assert (why in said) if why else said == ""
