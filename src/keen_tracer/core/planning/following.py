"""After the work: a sample early, another, then the usual interval, until it is steady (the-trade
3.17)."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from ..record import Engine
from ..terms import FollowedWord
from ..verdict import Level

AFTER_H = (10.0, 50.0)  # hours after the work: the-trade 3.17, our choice
AFTER_SHARE = (0.04, 0.2)  # the same of a nominal drain, for a meter that counts no hours
NEAR = 0.8  # a sample at 8 h is the one of 10 h; our choice
STEADY_IN_A_ROW = 2  # quiet samples before it counts as steady again; our choice


@dataclass(frozen=True, slots=True)
class Drawn:
    """A sample after the work: `after` meter units since it, `level` None while figures are out."""

    sample: str
    on: date
    after: float | None
    level: int | None


@dataclass(frozen=True, slots=True)
class Followed:
    """How far a repair was followed. `next_at`: meter units after the work for the next sample,
    None for the usual interval; `word`: of terms.FOLLOWED."""

    drawn: tuple[Drawn, ...]
    next_at: float | None
    word: FollowedWord


def early(engine: Engine) -> tuple[float, ...]:
    """When an engine is looked after again after work or a release, in its own meter unit.

    >>> early(Engine("E", "heavy_diesel")), early(Engine("E", "petrol", "km", nominal_drain=8000))
    ((10.0, 50.0), (320.0, 1600.0))
    """
    if engine.meter_unit == "h":
        return AFTER_H
    return tuple(float(f"{share * engine.nominal_drain:.2g}") for share in AFTER_SHARE)


def followed(drawn: Sequence[Drawn], after: Sequence[float] = AFTER_H) -> Followed:
    """How far a repair was followed by the samples drawn after it, in order; `after` as `early`
    says.

    Steady: the last two with figures are quiet. A sample counts for an early point from NEAR of it
    on.

    >>> one = Drawn("S-1", date(2026, 11, 1), 12.0, 0)
    >>> followed([one]).next_at, followed([one]).word
    (50.0, 'waiting')
    """
    known = [d for d in drawn if d.level is not None]
    furthest = max((d.after for d in drawn if d.after is not None), default=0.0)
    next_at = next((h for h in after if furthest < NEAR * h), None)
    last = known[-STEADY_IN_A_ROW:]
    word: FollowedWord
    if known and (known[-1].level or 0) > Level.STEADY:
        word = "not_steady"
    elif len(last) == STEADY_IN_A_ROW and all(d.level == Level.STEADY for d in last):
        word = "steady"
    else:
        word = "waiting"
    return Followed(tuple(drawn), next_at, word)
