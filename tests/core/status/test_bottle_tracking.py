"""A bottle's way: what is usual, what is late, what is missing. Hand-worked."""

from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.status import late_by, missing_analytes, usual_analytes, usual_days
from keen_tracer.core.status.bottle_tracking import FEW_REPORTS


def test_a_laboratory_takes_its_own_median_once_three_bottles_are_known() -> None:
    assert usual_days([]) == 7
    assert usual_days([2, 30]) == 7
    assert usual_days([2, 4, 30]) == 4


def test_late_counts_from_one_and_a_half_times_the_usual_and_two_days() -> None:
    # 6 days usual: 1.5 x 6 + 2 = 11 days are in order.
    assert [late_by("sent", d, 6.0) for d in (0, 11, 12, 20)] == [0, 0, 1, 9]
    assert late_by("received", 12, 6.0) == 1


def test_a_bottle_at_home_is_late_after_five_days_whatever_the_laboratory() -> None:
    assert [late_by("drawn", d, 60.0) for d in (5, 6)] == [0, 1]


def test_a_lost_bottle_is_not_late() -> None:
    assert late_by("lost", 400, 1.0) == 0


@given(st.integers(0, 500), st.floats(0, 60))
def test_lateness_never_falls_as_days_go_by(days: int, usual: float) -> None:
    for state in ("drawn", "sent", "received"):
        assert 0 <= late_by(state, days, usual) <= late_by(state, days + 1, usual)


def test_what_four_of_five_reports_have_is_missed_in_the_fifth() -> None:
    usual = usual_analytes(5, {1: 5, 2: 4, 3: 3})
    assert missing_analytes({1}, usual) == [2]
    assert missing_analytes({1, 2, 9}, usual) == []


def test_a_laboratory_hardly_known_misses_nothing() -> None:
    assert usual_analytes(FEW_REPORTS - 1, {1: FEW_REPORTS - 1}) == frozenset()
