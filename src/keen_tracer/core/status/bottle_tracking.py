"""A bottle's way: drawn, sent, received, figures in, judged; when it is late, and when a report is
only part of one."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from statistics import median

USUAL_DAYS = 7.0  # from sent to figures, for a laboratory not yet known; our choice
LATE_FACTOR, LATE_DAYS = (
    1.5,
    2.0,
)  # late past 1.5 x the laboratory's usual days and two more; our choice
# a drawn bottle should be under way by then: additives settle, water parts; our choice
KEPT_AT_HOME_DAYS = 5
# an analyte is usual for a laboratory when four of five of its reports have it; our choice
OFTEN = 0.8
FEW_REPORTS = 5  # with fewer, nothing is usual yet; our choice


def usual_days(turnarounds: Sequence[float]) -> float:
    """Days a laboratory takes from sent (or drawn) to figures: the median of its bottles, 7 while
    fewer than 3 are known.

    >>> usual_days([4, 5, 9])
    5
    """
    return median(turnarounds) if len(turnarounds) >= 3 else USUAL_DAYS


def late_by(state: str, days_in_state: int, usual: float) -> int:
    """Days a bottle is over what is usual, 0 when it is not late.

    state : "drawn" counts against five days at home; "sent" and "received" against the laboratory's
        usual days
    days_in_state : since it was drawn, or since it was sent

    >>> late_by("sent", 12, 6.0)
    1
    """
    if state == "drawn":
        return max(days_in_state - KEPT_AT_HOME_DAYS, 0)
    if state in ("sent", "received"):
        return max(int(days_in_state - (LATE_FACTOR * usual + LATE_DAYS)), 0)
    return 0


def usual_analytes(reports: int, counts: Mapping[int, int]) -> frozenset[int]:
    """The analytes a laboratory nearly always reports, from how many of its `reports` had each.

    >>> sorted(usual_analytes(10, {1: 10, 2: 8, 3: 2}))
    [1, 2]
    """
    if reports < FEW_REPORTS:
        return frozenset()
    return frozenset(a for a, n in counts.items() if n >= OFTEN * reports)


def missing_analytes(there: Collection[int], usual: Iterable[int]) -> list[int]:
    """Analytes a report should have had, in order. Empty: the report is whole as far as can be
    known.

    >>> missing_analytes({1}, frozenset({1, 2}))
    [2]
    """
    return sorted(set(usual) - set(there))
