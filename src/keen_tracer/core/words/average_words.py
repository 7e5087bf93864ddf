"""A reading beside a laboratory's average, in words."""

from .figures import computed, figure

_WHY = {"run_in": ": run-in", "": ""}


def average_words(
    side: str, whose: str, average: float, unit: str, apart: tuple[float, float] | None, why: str
) -> str:
    """How a reading compares with an average.

    side : above, below, about, or apart
    whose : the laboratory, "" for the one that analysed the sample
    apart : meter units on the oil of the average and of the sample, where they lie apart
    why : what on record explains it, a key of `_WHY`

    >>> average_words("apart", "", 14, "h", (250, 480), "")
    "the laboratory's average for this model is 14 at 250 h on the oil, here 480 h"
    >>> average_words("above", "Northfall", 14, "h", None, "run_in")
    "above Northfall's average of 14 for this model: run-in"
    """
    of = f"{whose}'s" if whose else "the laboratory's"
    if apart is not None:
        held, here = map(computed, apart)
        usual = f"{of} average for this model is {figure(average)}"
        return f"{usual} at {held} {unit} on the oil, here {here} {unit}"
    return f"{side} {of} average of {figure(average)} for this model{_WHY[why]}"
