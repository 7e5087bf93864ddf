"""What changed between two periods, in words."""

from collections.abc import Iterator
from math import isnan

from ..errors import CoreError
from ..oil import grade_range, grades_of
from ..words import computed
from .before_after import Effect, Study, Thickness

# What an effect is called; "near" is said of an element mostly under its detection limit.
_VERDICTS = {
    "better": "better",
    "worse": "worse",
    "not distinguishable": "not distinguishable",
    "below detection": "near the detection limit: says nothing",
    "too few": "too few charges to say anything",
}


def study_lines(study: Study) -> Iterator[str]:
    """A study as lines to read: every element with its change in per cent and the 95 % interval of
    that, the viscosity and its grade, and each engine by itself where there are several."""
    engines = "1 engine has" if study.engines == 1 else f"{study.engines} engines have"
    yield f"{engines} samples in both periods. The rates are per 100 meter units."
    if study.from_zero:
        yield "The fresh oil is not on record: wear metals are taken to begin at 0."
    yield from map(_effect_line, study.effects)
    if study.thickness is not None:
        yield _thickness_line(study.thickness)
    for code, effects in study.alone.items():
        yield f"{code} by itself:"
        yield from (f"  {_effect_line(x)}" for x in effects)
    yield (
        "Several elements are compared at once. An element is called better or worse only where "
        "that holds after Holm's correction."
    )


def _effect_line(x: Effect) -> str:
    change = (
        ""
        if x.ratio is None or x.low is None or x.high is None
        else f"  {_per_cent(x.ratio)} ({_per_cent(x.low)} to {_per_cent(x.high)})"
    )
    charges = f"{x.charges_before} and {x.charges_after} charges"
    return f"{x.symbol:<3}{x.before:8.2f} → {x.after:.2f}{change}  {_VERDICTS[x.word]}, {charges}"


def _per_cent(ratio: float) -> str:
    """A ratio as a change in per cent.

    >>> _per_cent(0.22 / 0.40), _per_cent(1.5), _per_cent(1.0)
    ('−45 %', '+50 %', '±0 %')
    """
    change = round(100 * (ratio - 1))
    sign = "−" if change < 0 else "+" if change > 0 else "±"
    return f"{sign}{abs(change)} %"


def _thickness_line(x: Thickness) -> str:
    """The viscosity before and after, and whether it left its grade."""
    line = f"Viscosity at 100 °C: {computed(x.before)} → {computed(x.after)} mm²/s"
    if not isnan(x.low):
        line += f" ({_difference(x.low, x.high)})"
    try:
        low, high = grade_range(x.grade)
        measures_as = grades_of(x.after)
    except CoreError:
        return f"{line}."
    if low <= x.after < high:
        return f"{line}. It is inside its grade, {x.grade}."
    now = f": it measures as a {' or '.join(measures_as)} now" if measures_as else ""
    outside = f"{computed(x.after)} is outside {computed(low)} to {computed(high)} of {x.grade}"
    return f"{line}. {outside}{now}."


def _difference(low: float, high: float) -> str:
    """An interval of a difference.

    >>> _difference(1.9, 3.7), _difference(-2.0, -0.5), _difference(-0.4, 1.1)
    ('1.9 to 3.7 more', '0.5 to 2 less', '0.4 less to 1.1 more')
    """
    if low >= 0:
        return f"{computed(low)} to {computed(high)} more"
    if high <= 0:
        return f"{computed(-high)} to {computed(-low)} less"
    return f"{computed(-low)} less to {computed(high)} more"
