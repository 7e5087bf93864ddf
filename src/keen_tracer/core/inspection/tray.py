"""What a look comes to while it is laid out: how much of each type per 100 meter units, against
this engine's own earlier looks and its class, the parts it can come from, what to look at next."""

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

from ..causes import Causes, ranking
from ..record import (
    DebrisLook,
    EarlierLook,
    Engine,
    LogRow,
    debris_types,
    evidence_of_row,
    on_the_whole,
    per_100,
)

MOST_PARTS, MOST_CHECKS = 4, 4
Interval = tuple[float, float, float]


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


def tray_of(
    row: LogRow,
    hours: float,
    engine: Engine,
    bearings: str,
    earlier: Sequence[EarlierLook],
    others: Sequence[EarlierLook],
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


def _usual(kind: str, looks: Sequence[EarlierLook]) -> float | None:
    """Median rate per 100 of a type, nothing found counted as none; None where no look has
    hours."""
    rates = [per_100(x.look, x.hours).get(kind, (0.0, 0.0, 0.0))[0] for x in looks if x.hours > 0]
    return median(rates) if rates else None


def _clears(look: DebrisLook) -> tuple[str, ...]:
    """What a look without a magnetic piece clears, and what it does not."""
    kinds = [debris_types()[k].magnetic for k in look.present()]
    return () if True in kinds else ("iron",)
