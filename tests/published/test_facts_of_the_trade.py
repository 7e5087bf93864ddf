"""ISO 4406 codes, and facts of the trade (common practice) that every judgement has to agree
with."""

import pytest

from keen_tracer.core.errors import OutOfRange
from keen_tracer.core.laboratory import significant_change
from keen_tracer.core.oil import iso_4406
from keen_tracer.core.oil.cleanliness import scale_number
from keen_tracer.core.words import sentence
from tests.helpers import channel, ordinary


@pytest.mark.parametrize(
    ("counts", "code"),
    [
        ((2000, 500, 60), "18/16/13"),
        ((151773, 38363, 8229), "24/22/20"),
        ((5000, 1300, 160), "19/17/14"),
        ((0.005, 0.005, 0), "0/0/0"),
        ((3e6, 640, 40), ">28/16/12"),
    ],
)
def test_iso_4406_codes(counts: tuple[float, float, float], code: str) -> None:
    """ISO 4406:2017, table 1 (recalled): each scale number is a doubling, its upper bound
    included."""
    assert iso_4406(*counts) == code


def test_each_scale_number_is_about_a_doubling() -> None:
    """By the standard's construction; the printed bounds are rounded."""
    for n in range(2, 28):
        count = 0.01 * 2**n * 0.9
        assert scale_number(count) in (n, n + 1)


@pytest.mark.parametrize(
    "counts", [(100, 200, 10), (100, 50, 60), (-1, -1, -1), (float("nan"), 1, 1)]
)
def test_counts_that_cannot_be_are_refused(counts: tuple[float, float, float]) -> None:
    with pytest.raises(OutOfRange):
        iso_4406(*counts)


def test_a_code_stands_beside_a_verdict_where_there_is_a_counter() -> None:
    v = ordinary(**{"4 µm": 2000, "6 µm": 500, "14 µm": 60}).last()
    found = next(f for f in v.findings if f.code == "cleanliness")
    assert found.level == 0
    assert "18/16/13" in sentence(found)


def test_0_80_to_0_60_is_minus_25_per_cent() -> None:
    """Arithmetic that is often published wrongly (as -20 or -33 %)."""
    found = significant_change(0.60, 0.80, 0.01)
    assert found.relative_pct == pytest.approx(-25)


def test_fuel_under_two_per_cent_and_insolubles_under_0_6_are_good() -> None:
    """Common practice."""
    v = ordinary(Fuel=1.9, Insolubles=0.55).last()
    assert channel(v, "fuel") == 0
    assert channel(v, "oil_life") == 0
