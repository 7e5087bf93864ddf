"""The comb of an engine: its channels, from which sample, and when that is too old."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any, Literal

from ..record import Engine, Moment
from ..terms import CHANNELS
from ..verdict import Level, Verdict

STALE_AFTER = 1.5  # intervals


@dataclass(frozen=True, slots=True)
class Tooth:
    """One channel of an engine: its level, the newest sample that measured it, and from which day
    on that is too old.

    `level` None: not measured in this life. `stale_on` None: the engine has no interval, nothing
    goes stale.
    """

    channel: str
    level: int | None
    sample: str | None
    stale_on: date | None

    def state(self, today: date) -> Literal["judged", "stale", "not_measured"]:
        """ "judged", "stale" or "not_measured". Unknown is never Steady."""
        if self.level is None:
            return "not_measured"
        return "stale" if self.stale_on is not None and today > self.stale_on else "judged"


def stale_on(
    engine: Engine, drawn_on: date, total: float | None, total_now: float | None
) -> date | None:
    """The last day on which a sample counts for its engine: 1.5 intervals, by days or by meter."""
    if (
        engine.interval_meter
        and total is not None
        and total_now is not None
        and total_now - total > STALE_AFTER * engine.interval_meter
    ):
        return drawn_on
    if engine.interval_days:
        return drawn_on + timedelta(days=STALE_AFTER * engine.interval_days)
    return None


def comb(
    engine: Engine,
    judged: list[tuple[Verdict, Moment]],
    channels: Sequence[int | None],
    total_now: float | None,
    looked: Mapping[str, date] = {},
) -> list[Tooth]:
    """The seven channels at the levels of the engine's state, each with the newest sample of the
    current life that measured it, and from when on it is too old.

    looked : channel → the last day somebody looked into it at the engine
    """
    life = judged[-1][1].life if judged else 1
    out = []
    for n, channel in enumerate(CHANNELS):
        newest = next(
            ((v, m) for v, m in reversed(judged) if m.life == life and v.channels[n] is not None),
            None,
        )
        sample, ends = None, []
        if newest is not None:
            v, m = newest
            sample = v.sample
            ends.append(stale_on(engine, m.row.on, m.total, total_now))
        if channel in looked:
            ends.append(stale_on(engine, looked[channel], None, None))
        stale = None if None in ends else max((x for x in ends if x), default=None)
        out.append(Tooth(channel, channels[n], sample, stale))
    return out


def group_of(may_run: str, level: int | None, overdue: int) -> str:
    """The group of the Wall an engine belongs to, what needs someone first; `may_run` of today."""
    if may_run in ("do_not_run", "past_its_time"):
        return "do_not_run"
    if may_run == "not_judged":
        return "not_judged"
    if level is not None and level >= Level.ACT:
        return "act"
    if level == Level.WATCH:
        return "watch"
    return "overdue" if overdue > 0 else "quiet"


def waits(level: int | None, input_hash: str, decision: Mapping[str, Any] | None) -> bool:
    """Whether a sample waits for a person: judged, and unsigned; or signed on other figures that
    said less.

    `decision` is the standing one, with `kind`, `proposed` and `basis`; None when there is none.
    """
    if level is None:
        return False
    if decision is None or decision["kind"] == "withdraw":
        return True
    return bool(decision["basis"] != input_hash and level > decision["proposed"])
