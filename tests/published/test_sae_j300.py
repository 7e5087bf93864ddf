"""SAE J300 (January 2015 and later), table 1, low-shear kinematic viscosity at 100 °C.

Outside check: the limits of the standard, written down here a second time from memory (the document
itself was not at hand, so both copies are recalled; docs/sources.md says so).
"""

import pytest

from keen_tracer.core.oil import grade_range, grades_of
from keen_tracer.core.oil.viscosity import grade_table

HOT = {
    "8": (4.0, 6.1),
    "12": (5.0, 7.1),
    "16": (6.1, 8.2),
    "20": (6.9, 9.3),
    "30": (9.3, 12.5),
    "40": (12.5, 16.3),
    "50": (16.3, 21.9),
    "60": (21.9, 26.1),
}
WINTER = {"0W": 3.8, "5W": 3.8, "10W": 4.1, "15W": 5.6, "20W": 5.6, "25W": 9.3}


def test_the_whole_table() -> None:
    assert {g: r for g, r in grade_table().items() if not g.endswith("W")} == HOT
    assert {g: r[0] for g, r in grade_table().items() if g.endswith("W")} == WINTER


@pytest.mark.parametrize("grade", HOT)
def test_minimum_is_inside_and_maximum_is_outside(grade: str) -> None:
    low, high = HOT[grade]
    assert grade in grades_of(low)
    assert grade in grades_of(high - 0.001)
    assert grade not in grades_of(high)
    assert grade not in grades_of(low - 0.001)


@pytest.mark.parametrize(
    ("kv100", "grades"),
    [
        (6.5, ["12", "16"]),
        (6.95, ["12", "16", "20"]),
        (9.29, ["20"]),
        (9.3, ["30"]),
        (12.5, ["40"]),
        (16.29, ["40"]),
        (21.9, ["60"]),
        (26.1, []),
        (3.9, []),
    ],
)
def test_grades_that_overlap_and_gaps_at_the_ends(kv100: float, grades: list[str]) -> None:
    assert grades_of(kv100) == grades


def test_a_multigrade_meets_both_of_its_parts() -> None:
    assert grade_range("15W-40") == (12.5, 16.3)
    assert grade_range("0W-8") == (4.0, 6.1)
    assert grade_range("25W-30") == (9.3, 12.5)
