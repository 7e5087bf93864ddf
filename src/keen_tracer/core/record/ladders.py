"""From figures to levels at the engine, without cliffs: a little more of a bad thing is never more
than one level more, and never less.

Every figure here is VERDICT 8.1, common practice, or our choice, as it says beside it.
"""

from collections.abc import Sequence
from functools import cache

from scipy.special import bdtrc

from .. import tables
from ..terms import DEBRIS_SIZES, rank

# Flakes of bearing metal, in flakes of half a millimetre (tables/flake_sizes.csv).
FLAKES_ACT, FLAKES_STOP = 3.0, 40.0
SEVERAL = 3  # flakes in a dusting, or told of with their size and without a count; our choice
RUN_IN = 0.3  # what a flake under 1 mm counts while an engine runs in; our choice
THREEFOLD, BY_CHANCE = 3.0, 0.05  # growth between two looks, and how likely chance alone made it
# Hot oil pressure: bar per 1 000 rpm at speed, and bar at idle (VERDICT 8.1, common practice).
BAR_PER_1000_RPM, IDLE_FLOOR_BAR = 0.7, 0.5
# Times the floor at which Act and Watch begin: a general figure, and the maker's own, which a gauge
# of 5 % can miss; our choice.
NEAR_GENERAL, NEAR_MAKERS = (1.2, 1.4), (1.05, 1.15)
# Shares of its own habit that are lost (VERDICT 8.1).
HABIT_WATCH, HABIT_ACT = 0.25, 0.40
# From when a pressure speaks against worn bearings: share of its own habit, and times the general
# floor or the maker's; 1.0 bar at idle clears nothing (VERDICT 8.2), the figures our choice.
KEPT, CLEARS = 0.9, (3.0, 1.5)
OVER_FULL_ACT_MM = 3.0  # what a stick can be misread by; our choice
COOLANT_L = (0.5, 5.0)  # litres in the days below: Watch, Act; our choice
COOLANT_DAYS = 14
OIL_SHARE = (1 / 3, 2 / 3)  # of the fill, in one charge: Watch, Act; our choice


@cache
def _flake_counts() -> dict[str, float]:
    """Size class → flakes of half a millimetre. Source: `tables/flake_sizes.csv`."""
    return {r["size"]: float(r["counts"]) for r in tables.read("flake_sizes")}


@cache
def rated_rpm(engine_class: str) -> float:
    """The rated speed of a class [rpm]. Source: `tables/rated_speed.csv`.

    >>> rated_rpm("heavy_diesel"), rated_rpm("nobody knows")
    (1800.0, 1800.0)
    """
    known = {r["class"]: float(r["rpm"]) for r in tables.read("rated_speed")}
    return known.get(engine_class, known["other"])


def level_of(value: float, watch: float, act: float, stop: float = float("inf")) -> int:
    """The level of something that is worse the larger it is.

    >>> level_of(3.0, 1.0, 3.0, 40.0)
    2
    """
    return int(value >= watch) + int(value >= act) + int(value >= stop)


def bearing_metal(pieces: Sequence[tuple[str, float]], run_in: bool = False) -> tuple[int, float]:
    """(level, flakes of half a millimetre it comes to) of flakes of bearing metal.

    pieces : (size class, how many on the whole element) · run_in : the engine still runs in, when
        small flakes are expected

    >>> bearing_metal([("0.1-0.5", 19.0)])[0], bearing_metal([("0.5-1", 2.0)])[0]
    (2, 1)
    """
    small = rank(DEBRIS_SIZES, "1-3")
    total = 0.0
    for size, n in pieces:
        expected = run_in and (not size or rank(DEBRIS_SIZES, size) < small)
        total += n * _flake_counts()[size] * (RUN_IN if expected else 1.0)
    first = 1.0 if run_in else 1e-9
    return level_of(total, first, FLAKES_ACT, FLAKES_STOP), total


def threefold(now: float, before: float, exposure: float, exposure_before: float) -> bool:
    """Whether a count grew threefold since the look before, beyond chance.

    exposure : what each look speaks for, share seen times meter units; the same unit for both

    >>> threefold(14, 4, 1.0, 1.0), threefold(3, 1, 1.0, 1.0)
    (True, False)
    """
    if min(now, before, exposure, exposure_before) <= 0:
        return False
    if now / exposure < THREEFOLD * before / exposure_before:
        return False
    expected = exposure / (exposure + exposure_before)
    return bool(bdtrc(now - 1, now + before, expected) <= BY_CHANCE)


def pressure(bar: float, floor: float, makers: bool, habit: float | None) -> int:
    """The level of a hot oil pressure: against its floor, and against what this engine always had.

    >>> [pressure(x, 0.5, False, None) for x in (0.45, 0.55, 0.65, 1.0)]
    [3, 2, 1, 0]
    >>> pressure(3.0, 1.26, False, 4.0), pressure(2.2, 1.26, False, 4.0)
    (1, 2)
    """
    act, watch = NEAR_MAKERS if makers else NEAR_GENERAL
    above = bar >= floor if makers else bar > floor
    by_floor = 3 - int(above) - int(bar >= act * floor) - int(bar >= watch * floor)
    if habit is None or habit <= 0:
        return by_floor
    lost = 1 - bar / habit
    return max(by_floor, level_of(round(lost, 9), HABIT_WATCH, HABIT_ACT))
