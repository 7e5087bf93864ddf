"""How an engine stands today: its comb from the samples that still speak, and what it may do."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from ..record import Engine, Moment
from ..terms import CHANNELS
from ..verdict import Level, Verdict

STALE_AFTER = 1.5  # intervals


@dataclass(frozen=True, slots=True)
class Tooth:
    """One channel of an engine: the level its newest sample gave, and from which day on that is too
    old.

    `level` None: not measured in this life. `stale_on` None: the engine has no interval, nothing
    goes stale.
    """

    channel: str
    level: int | None
    sample: str | None
    stale_on: date | None

    def state(self, today: date) -> str:
        """ "judged", "stale" or "not_measured". Unknown is never Steady."""
        if self.level is None:
            return "not_measured"
        return "stale" if self.stale_on is not None and today > self.stale_on else "judged"


def stale_on(
    engine: Engine, drawn_on: date, total: float | None, total_now: float | None
) -> date | None:
    """The last day a sample speaks for its engine: 1.5 intervals, by days or by meter."""
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
    engine: Engine, judged: list[tuple[Verdict, Moment]], total_now: float | None
) -> list[Tooth]:
    """The seven channels, each from the newest sample of the current life that measured it."""
    life = judged[-1][1].life if judged else 1
    out = []
    for n, channel in enumerate(CHANNELS):
        newest = next(
            ((v, m) for v, m in reversed(judged) if m.life == life and v.channels[n] is not None),
            None,
        )
        if newest is None:
            out.append(Tooth(channel, None, None, None))
        else:
            v, m = newest
            out.append(
                Tooth(
                    channel, v.channels[n], v.sample, stale_on(engine, m.row.on, m.total, total_now)
                )
            )
    return out


def run_state_now(state: str | None, until: float | None, dial: float | None) -> str | None:
    """A run decision as it stands at today's meter: a restriction whose meter is reached is
    "expired".

    >>> run_state_now("restrict", 3120, 3121)
    'expired'
    """
    return (
        "expired"
        if state == "restrict" and until is not None and dial is not None and dial >= until
        else state
    )


def group_of(
    run_state: str | None, level: int | None, signed_level: int | None, overdue: int
) -> str:
    """The group of the Wall an engine belongs to, what needs someone first.

    A hold, an expired permission, or a Stop nobody has decided on, comes first. A signed level
    replaces the proposed one.
    """
    spoken = level if signed_level is None else signed_level
    if run_state in ("hold", "expired") or (spoken == Level.STOP and run_state != "release"):
        return "do_not_run"
    if spoken is not None and spoken >= Level.ACT:
        return "act"
    if spoken == Level.WATCH:
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


def meter_words(value: float, unit: str) -> str:
    """A meter figure in words.

    >>> meter_words(3120, "h")
    '3\\u202f120 h'
    """
    return f"{value:,.0f}".replace(",", "\u202f") + f" {unit}"


def may_run_words(
    state: str | None,
    until: float | None,
    advice: str,
    advice_until: float | None,
    unit: str,
    stored: bool,
    open_stop: bool,
    dial: float | None = None,
) -> str:
    """Whether an engine may run, in a few words. A person's decision comes before any advice.

    `advice` is the verdict's ("runs", "run_until", "do_not_run", "unknown"); a Stop nobody has
    decided on reads as a stop whatever else holds. `dial` is the meter now: past `until`,
    permission has ended.
    """
    if state == "hold":
        return "Do not run"
    if open_stop:
        return "Do not run, undecided"
    if run_state_now(state, until, dial) == "expired":
        return f"Do not run, past {meter_words(until or 0, unit)}"
    if state == "restrict" and until is not None:
        return f"Runs until {meter_words(until, unit)}"
    if stored:
        return "In storage"
    if advice == "run_until" and advice_until is not None and state != "release":
        if dial is not None and dial > advice_until:
            return "Runs, resample late"
        return f"Runs, resample by {meter_words(advice_until, unit)}"
    return "Not judged yet" if advice == "unknown" and state is None else "Runs"
