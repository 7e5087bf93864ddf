"""A laboratory's average for a model: information beside a reading, never a level by itself."""

from dataclasses import dataclass

from ..record import SampleContext
from ..words import average_words
from .ladder import Ladder

HOURS_APART = 0.25  # hours on the oil further apart than this share are said; our choice


@dataclass(frozen=True, slots=True, kw_only=True)
class Average:
    """What a laboratory prints as usual for a model, in the analyte's unit.

    at_meter : meter units on the oil it holds for, None where the sheet does not say
    """

    laboratory: str
    analyte: str
    average: float
    at_meter: float | None = None
    origin: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class AgainstAverage:
    """A reading beside a laboratory's average: `side` is above, below or about, by the reading's
    own 95 % interval, or apart where the two are not of the same hours; `own`: whether that
    laboratory analysed the sample; `hours`: on the oil, where they differ from those of the
    average; `why`: what explains it, on record."""

    average: Average
    side: str
    own: bool
    hours: float | None
    why: str

    def words(self, unit: str) -> str:
        """How the reading compares, in words; `unit` of the engine's meter."""
        of = self.average
        apart = None
        if self.hours is not None and of.at_meter is not None:
            apart = (of.at_meter, self.hours)
        whose = "" if self.own else of.laboratory
        return average_words(self.side, whose, of.average, unit, apart, self.why)


def best(found: list[Average], laboratory: str) -> dict[str, Average]:
    """One average an analyte: of the laboratory that analysed the sample, else of the first by
    name.

    >>> both = [Average(laboratory=x, analyte="Fe_ppm", average=14) for x in ("North", "East")]
    >>> best(both, "North")["Fe_ppm"].laboratory, best(both, "West")["Fe_ppm"].laboratory
    ('North', 'East')
    """
    out: dict[str, Average] = {}
    for one in sorted(found, key=lambda x: (x.laboratory != laboratory, x.laboratory)):
        out.setdefault(one.analyte, one)
    return out


def against(one: Ladder, average: Average, context: SampleContext) -> AgainstAverage | None:
    """A reading held against an average; None where it has no figure of its own."""
    if one.value is None or one.low is None or one.high is None:
        return None
    side = (
        "above" if one.low > average.average else "below" if one.high < average.average else "about"
    )
    hours = context.hours_on_oil
    apart = (
        average.at_meter is not None
        and hours == hours
        and abs(hours - average.at_meter) > HOURS_APART * average.at_meter
    )
    # Half the hours bring about half the metal: between the two no side can be told.
    side = "apart" if apart else side
    why = "run_in" if side == "above" and context.run_in else ""
    return AgainstAverage(
        average=average,
        side=side,
        own=average.laboratory == context.sample.laboratory,
        hours=hours if apart else None,
        why=why,
    )
