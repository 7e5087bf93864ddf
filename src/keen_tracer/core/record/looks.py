"""Looks at one place, one after another, and in how many meter units each gathered debris."""

from math import nan

from .debris import EarlierLook
from .model import LogRow
from .timeline import Moment, TimeLine

# What a place is emptied or renewed with: from then on it gathers anew.
_EMPTIED = {
    "filter": {"filter_change", "oil_change"},
    "bypass_filter": {"filter_change"},
    "drained_oil": {"oil_change"},
    "slide": {"oil_change"},
    "gearbox_oil": {"oil_change"},
}


def hours_of_looks(line: TimeLine) -> dict[int, float]:
    """Place among the moments → meter units in which the debris gathered: as somebody said, else
    since the last look at that place or since it was last emptied, whichever came later; NaN where
    nobody knows."""
    out: dict[int, float] = {}
    begun: dict[str, Moment] = {}  # place → what it was last emptied with
    life = 0
    for at, m in enumerate(line.moments):
        if m.life != life:
            life, begun = m.life, {}
        begun |= {place: m for place, kinds in _EMPTIED.items() if m.row.kind in kinds}
        if place := place_looked_at(m.row):
            out[at] = _hours(m, begun.get(place))
            begun[place] = m
    return out


def place_looked_at(row: LogRow) -> str:
    """The place where a row looks for debris, by a look or by the check of the magnet; "" where it
    looks at none."""
    if row.look is not None:
        return row.look.place
    return "plug" if (row.kind, row.part) == ("field_check", "magnet") else ""


def _hours(here: Moment, begun: Moment | None) -> float:
    if here.row.look is not None and here.row.look.hours is not None:
        return here.row.look.hours
    since = begun.total if begun else here.life_start if here.life > 1 else None
    return nan if None in (since, here.total) else (here.total or 0.0) - (since or 0.0)


def looks_before(line: TimeLine, at: int) -> list[EarlierLook]:
    """The looks at the same place and in the same life before the one at place `at`, oldest
    first."""
    here = line.moments[at]
    assert here.row.look is not None
    hours = hours_of_looks(line)
    return [
        EarlierLook(m.row.look, hours[n])
        for n, m in enumerate(line.moments[:at])
        if m.life == here.life
        and m.row.look is not None
        and m.row.look.place == here.row.look.place
    ]
