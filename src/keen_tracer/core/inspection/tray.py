"""What a look comes to while it is laid out: how much of each type per 100 meter units, against
this engine's own earlier looks and its class, the parts it can come from, what to look at next."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import nan
from statistics import median

from ..causes import Causes, ranking
from ..record import (
    DebrisLook,
    Engine,
    LogRow,
    TimeLine,
    debris_types,
    evidence_of_row,
    on_the_whole,
    per_100,
)

MOST_PARTS, MOST_CHECKS = 4, 4
Interval = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Earlier:
    """An earlier look of the same place, with the meter units it speaks for; NaN where nobody
    knows."""

    look: DebrisLook
    hours: float


@dataclass(frozen=True, slots=True)
class Rate:
    """One type of a look. `whole`: (count, low, high) on the whole element; `rate`: the same per
    100 meter units, None where the hours are not known; `own`, `others`: medians of this engine's
    earlier looks and of its class, None where there are none."""

    type: str
    whole: Interval
    rate: Interval | None
    own: float | None
    others: float | None

    @property
    def word(self) -> str:
        """Against the engine's own looks, else its class: "more", "as usual", "less" or "" """
        usual = self.own if self.own is not None else self.others
        if self.rate is None or usual is None:
            return ""
        _, low, high = self.rate
        return "more" if low > usual else "less" if high < usual else "as usual"


@dataclass(frozen=True, slots=True)
class Tray:
    """Everything a look comes to. `parts`: (mode, its words, the evidence that points there)."""

    rates: tuple[Rate, ...]
    parts: tuple[tuple[str, str, tuple[str, ...]], ...]
    checks: tuple[str, ...]
    clears: tuple[str, ...]
    keep: bool


# What a place is emptied or renewed with: from then on it gathers anew.
_EMPTIED = {
    "filter": {"filter_change", "oil_change"},
    "bypass_filter": {"filter_change"},
    "drained_oil": {"oil_change"},
    "slide": {"oil_change"},
    "gearbox_oil": {"oil_change"},
}


def hours_of(line: TimeLine, at: int) -> float:
    """Meter units the look at place `at` of a time line speaks for: as somebody said, else since
    the last look of the same place or since it was last emptied, whichever came later; NaN where
    nobody knows."""
    here = line.moments[at]
    look = here.row.look
    assert look is not None
    if look.hours is not None:
        return look.hours
    emptied = _EMPTIED.get(look.place, set())
    for m in reversed(line.moments[:at]):
        if m.life != here.life:
            break
        seen = m.row.look is not None and m.row.look.place == look.place
        if seen or m.row.kind in emptied:
            return nan if None in (m.total, here.total) else (here.total or 0) - (m.total or 0)
    known = None not in (here.total, here.life_start)
    return (here.total or 0) - (here.life_start or 0) if known and here.life > 1 else nan


def earlier_looks(line: TimeLine, at: int) -> list[Earlier]:
    """The looks of the same place and life before the one at place `at`, oldest first."""
    here = line.moments[at]
    assert here.row.look is not None
    return [
        Earlier(m.row.look, hours_of(line, n))
        for n, m in enumerate(line.moments[:at])
        if m.life == here.life
        and m.row.look is not None
        and m.row.look.place == here.row.look.place
    ]


def tray_of(
    row: LogRow,
    hours: float,
    engine: Engine,
    bearings: str,
    earlier: Sequence[Earlier],
    others: Sequence[Earlier],
    causes: Causes | None = None,
    barred: frozenset[str] = frozenset(),
    done: frozenset[str] = frozenset(),
) -> Tray:
    """What a look says beside its level.

    hours : meter units since the last look of that place, NaN where nobody knows · earlier : looks
        of the same place and engine before it · others : the newest of the same place of its class
    barred : what may not be done to the engine · done : checks that are not asked again
    """
    look = row.look
    assert look is not None
    known = dict(evidence_of_row(row, engine.test_limits))
    found = ranking(engine, bearings, known, causes)
    rate = per_100(look, hours)
    rates = tuple(
        Rate(
            kind,
            on_the_whole(n, look.share),
            rate.get(kind),
            _usual(kind, earlier),
            _usual(kind, others),
        )
        for kind, n in look.found().items()
    )
    seen = {code for code, there in known.items() if there}
    parts = tuple(
        (h.mode.code, h.mode.words, tuple(code for code, _ in h.for_))
        for h in found.hypotheses()[: found.leads]
        if any(code in seen for code, _ in h.for_)
    )
    return Tray(
        rates,
        parts[:MOST_PARTS],
        tuple(c.check for c in found.checks(barred, done))[:MOST_CHECKS],
        _clears(look),
        bool(look.present() - {"fuzz"}),
    )


def _usual(kind: str, looks: Sequence[Earlier]) -> float | None:
    """Median rate per 100 of a type, nothing found counted as none; None where no look has
    hours."""
    rates = [per_100(x.look, x.hours).get(kind, (0.0, 0.0, 0.0))[0] for x in looks if x.hours > 0]
    return median(rates) if rates else None


def _clears(look: DebrisLook) -> tuple[str, ...]:
    """What a look without a magnetic piece clears, and what it does not."""
    kinds = [debris_types()[k].magnetic for k in look.present()]
    return () if True in kinds else ("iron",)
