"""A reading beside a laboratory's average, in words."""

from typing import TYPE_CHECKING

from .figures import computed, figure

if TYPE_CHECKING:
    from ..comparison.averages import AgainstAverage

_WHY = {"run_in": ": run-in", "": ""}


def average_words(a: "AgainstAverage", unit: str) -> str:
    """How a reading stands beside an average, with whose it is and at which hours on the oil.

    >>> from keen_tracer.core.comparison import AgainstAverage, Average
    >>> of = Average(laboratory="Northfall", analyte="Fe_ppm", average=14, at_meter=250)
    >>> average_words(AgainstAverage(average=of, side="above", own=True, hours=480, why=""), "h")
    "above the laboratory's average of 14 for this model, which is at 250 h on the oil (here 480 h)"
    >>> average_words(AgainstAverage(average=of, side="about", own=False, hours=None, why=""), "h")
    "about Northfall's average of 14 for this model"
    """
    of = a.average
    whose = "the laboratory's" if a.own else f"{of.laboratory}'s"
    said = f"{a.side} {whose} average of {figure(of.average)} for this model"
    if a.hours is not None and of.at_meter is not None:
        said += (
            f", which is at {computed(of.at_meter)} {unit} on the oil "
            f"(here {computed(a.hours)} {unit})"
        )
    return said + _WHY[a.why]
