"""How an engine stands today: its comb from the samples that still speak, and what it may do."""

from dataclasses import dataclass
from datetime import date

from .analytes import CHANNELS
from .records import Engine
from .verdict import Level, Verdict

STALE_AFTER = 1.5  # intervals, DESIGN


@dataclass(frozen=True, slots=True)
class Tooth:
    """One channel of an engine. state: "judged", "stale" (too old to speak) or "not_measured"."""

    channel: str
    state: str
    level: int | None
    sample: str | None


def too_old(engine: Engine, drawn_on: date, dial: float | None, today: date, dial_now: float | None) -> bool:
    """Whether a sample is older than 1.5 intervals, by days or by meter."""
    if engine.interval_days and (today - drawn_on).days > STALE_AFTER * engine.interval_days:
        return True
    return bool(engine.interval_meter and dial is not None and dial_now is not None
                and dial_now - dial > STALE_AFTER * engine.interval_meter)


def comb(engine: Engine, judged: list[tuple[Verdict, date, float | None]], today: date,
         dial_now: float | None) -> list[Tooth]:
    """The seven channels, each from the newest sample of this life that measured it.

    `judged` in time order, meters as true totals. Unknown is never Steady: a channel no sample measured is
    "not_measured", one whose last sample is too old is "stale".
    """
    out = []
    for n, channel in enumerate(CHANNELS):
        newest = next(((v, on, dial) for v, on, dial in reversed(judged) if v.channels[n] is not None), None)
        if newest is None:
            out.append(Tooth(channel, "not_measured", None, None))
            continue
        verdict, on, dial = newest
        stale = too_old(engine, on, dial, today, dial_now)
        out.append(Tooth(channel, "stale" if stale else "judged", verdict.channels[n], verdict.sample))
    return out


def group_of(run_state: str | None, level: int | None, signed_level: int | None, overdue: int) -> str:
    """The group of the Wall an engine belongs to, what needs someone first.

    A hold, or a Stop nobody has decided on, comes first. A signed level replaces the proposed one.
    """
    spoken = level if signed_level is None else signed_level
    if run_state == "hold" or (spoken == Level.STOP and run_state != "release"):
        return "do_not_run"
    if spoken is not None and spoken >= Level.ACT:
        return "act"
    if spoken == Level.WATCH:
        return "watch"
    return "overdue" if overdue > 0 else "quiet"
