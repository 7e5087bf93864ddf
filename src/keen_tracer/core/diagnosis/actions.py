"""What to do next and by when, from findings and their level; and whether the engine may run until
then. The verdict's advice, never a person's decision (the-trade 3.12).

What is wrong says what to do; how dangerous it is says by when, whichever school spoke.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from ..findings import Finding, payloads, trouble
from ..record import Engine, Moment, TimeLine, fact_kinds, fact_of
from ..terms import MayRun
from ..verdict import Action, Level
from .thresholds import (
    FUEL_STOP,
    NEXT_SHIFT,
    NEXT_SHIFT_DAYS,
    RESAMPLE_DAYS,
    RESAMPLE_WITHIN,
    WATCH_AGAIN,
    WATCH_DAYS,
)

# What is wrong → what to do at Act, in order.
_AT_ACT = {
    # One abnormal figure with nothing else: again, before anything is taken apart.
    "coolant": ("resample", "pressure_test_cooling"),
    "water": ("sample_and_change", "find_water"),
    "fuel": ("find_fuel", "sample_and_change"),
    "oil": ("sample_and_change",),
    "dirt": ("check_intake", "resample"),
    "wear": ("open_filter", "resample"),
    "debris": ("inspect",),
    "level": ("look_closer",),
}
# Somebody measured or saw it: no resample settles it, the next check does.
_SEEN_AT_ACT = {
    **_AT_ACT,
    "wear": ("inspect",),
    "dirt": ("check_intake",),
    "coolant": ("pressure_test_cooling", "sample_and_change"),
}
_MARKERS = {"Na_ppm", "K_ppm"}


@dataclass(frozen=True, slots=True)
class Clock:
    """How long a permission lasts: a share of the nominal drain on the meter, and days. Whichever
    is reached first ends it: a standby set does 25 h in half a year."""

    share: float
    days: int


BEFORE_NEXT_SHIFT = Clock(NEXT_SHIFT, NEXT_SHIFT_DAYS)
SOON = Clock(RESAMPLE_WITHIN, RESAMPLE_DAYS)


@dataclass(frozen=True, slots=True, kw_only=True)
class Advice:
    """Actions in their order; `may_run` of `terms.MAY_RUN`; `until` on the dial, `until_on` the
    last day."""

    actions: tuple[Action, ...]
    may_run: MayRun
    until: float | None = None
    until_on: date | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Since:
    """From where a permission counts: the meter and the day on which the reason was known."""

    dial: float | None
    on: date


@dataclass(frozen=True, slots=True, kw_only=True)
class Known:
    """A finding with the moment from which its permission counts. `worked_since`: somebody worked
    on the engine after it; the first such work is that moment then."""

    finding: Finding
    since: Since
    worked_since: bool = False


def since_known(line: TimeLine, moment: Moment, known_on: date) -> Since:
    """From where a permission counts: the day a thing was known, at the meter of that day, in
    figures of the dial the engine has now.

    A report of ten days later cannot ask for what should have been done nine days ago.
    """
    totals = [m.total for m in line.between(moment.row.on, known_on) if m.total is not None]
    newest = next(
        (m for m in reversed(line.moments) if m.total is not None and m.row.dial is not None), None
    )
    if moment.total is None or newest is None:
        return Since(dial=moment.row.dial, on=known_on)
    offset = (newest.total or 0.0) - (newest.row.dial or 0.0)
    return Since(dial=max((moment.total, *totals)) - offset, on=known_on)


def is_seen(finding: Finding) -> bool:
    """Whether a finding is a hard fact: seen, heard, checked or measured at the engine."""
    return isinstance(finding.numbers, payloads.SeenOn) or finding.code in ("glycol", "agreement")


def _proven(finding: Finding, raised: set[str]) -> bool:
    """Whether more than one figure shows it: something seen, a pattern, both markers of coolant."""
    both = trouble(finding) == "coolant" and raised >= _MARKERS
    return is_seen(finding) or finding.code == "pattern" or both


def _dangerous(finding: Finding, raised: set[str]) -> bool:
    """Whether an Act has to be dealt with before the next start or shift: coolant and water, much
    fuel, bearing metals together, dust that wears, and whatever was seen or measured. A single
    element a little high comes at the next convenient stop."""
    what = trouble(finding)
    if what == "oil":
        return False
    if _proven(finding, raised) or what in ("water", "debris"):
        return True
    if what == "fuel":
        return (
            isinstance(finding.numbers, payloads.AtLimit)
            and (finding.numbers.value or 0) >= FUEL_STOP
        )
    return what == "dirt" and "wear" in raised


def _order(finding: Finding, raised: set[str]) -> tuple[int, bool, bool]:
    # Dust that wears is stopped at the intake: the wear is its consequence.
    cause = trouble(finding) == "dirt" and "wear" in raised
    return -int(finding.level), not cause, not _dangerous(finding, raised)


def _clock(finding: Finding, raised: set[str]) -> Clock:
    return BEFORE_NEXT_SHIFT if _dangerous(finding, raised) else SOON


def _due(engine: Engine, since: Since, clock: Clock) -> tuple[float | None, date]:
    within = clock.share * engine.nominal_drain
    dial = None if since.dial is None else since.dial + within
    return dial, since.on + timedelta(days=clock.days)


def _first(dues: Sequence[tuple[float | None, date]]) -> tuple[float | None, date]:
    """What ends first: of the meters the lowest, of the days the earliest."""
    return min((d for d, _ in dues if d is not None), default=None), min(on for _, on in dues)


def _unique(codes: Iterable[str]) -> list[str]:
    return list(dict.fromkeys(codes))


def _stop(findings: Sequence[Finding]) -> Advice:
    coolant = any(f.channel == "coolant" for f in findings if f.level == Level.STOP)
    first = "drain_coolant_first" if coolant else "inspect_before_start"
    return Advice(actions=(Action(first), Action("do_not_run")), may_run="do_not_run")


def _asked(finding: Finding, raised: set[str]) -> tuple[str, ...]:
    """What one finding at Act asks for. A pattern of wear is looked at and sampled again."""
    proven = is_seen(finding) or (trouble(finding) == "coolant" and _proven(finding, raised))
    return (_SEEN_AT_ACT if proven else _AT_ACT)[trouble(finding)]


def _codes(acts: Sequence[Finding], raised: set[str], confirmed: bool) -> list[str]:
    """What the findings at Act ask for, in order."""
    codes = _unique(code for f in acts for code in _asked(f, raised))
    if confirmed and "resample" in codes:
        # The sample was the resample, or the one before said it too: a third bottle tells nothing.
        codes = _unique("inspect" if c in ("resample", "open_filter") else c for c in codes)
    return [c for c in codes if c != "resample" or "sample_and_change" not in codes]


def _act(engine: Engine, known: Sequence[Known], confirmed: bool) -> Advice:
    high = [k.finding for k in known if k.finding.level >= Level.WATCH]
    raised = {x for f in high for x in (f.channel, f.analyte or "")}
    acts = sorted(
        (k for k in known if k.finding.level == Level.ACT), key=lambda k: _order(k.finding, raised)
    )
    dial, on = _first(
        [_due(engine, k.since, SOON if k.worked_since else _clock(k.finding, raised)) for k in acts]
    )
    untouched = [k.finding for k in acts if not k.worked_since]
    mends = _mends(k.finding for k in known if is_seen(k.finding) and not k.worked_since)
    codes = [*mends, *_codes(untouched, raised, confirmed), *_after_work(acts)]
    actions = tuple(Action(code, dial, on) for code in codes)
    return Advice(actions=actions, may_run="run_until", until=dial, until_on=on)


def _after_work(known: Iterable[Known]) -> list[str]:
    """What work on the engine is followed by."""
    return _unique(
        "repeat_check" if is_seen(k.finding) else "post_repair" for k in known if k.worked_since
    )


def _watch(engine: Engine, known: Sequence[Known]) -> Advice:
    """A Watch from a hard fact is never later than one from statistics."""
    watched = [k for k in known if k.finding.level == Level.WATCH]
    seen = [k for k in watched if is_seen(k.finding)]
    expected = [k for k in watched if k.finding.school == "PO"]
    if seen or expected:
        dial, on = _first([_due(engine, k.since, SOON) for k in seen or expected])
        code = "look_closer" if seen else "resample"
    else:
        half = WATCH_AGAIN * (engine.interval_meter or engine.nominal_drain)
        days = int(WATCH_AGAIN * (engine.interval_days or 2 * WATCH_DAYS))
        clock = Clock(half / engine.nominal_drain, days)
        dial, on = _first([_due(engine, k.since, clock) for k in watched])
        code = "sample_sooner"
    codes = [*_mends(k.finding for k in seen), code]
    if all(k.finding.code == "unsettled" for k in watched):
        codes = ["settle_first"]
    elif all(k.worked_since for k in watched):
        codes = _after_work(watched)
    return Advice(actions=tuple(Action(code, dial, on) for code in codes), may_run="runs")


def _mends(found: Iterable[Finding]) -> list[str]:
    """What mends the seen on the spot: a blocked breather is cleared before anything is opened."""
    facts = _unique(fact_of(f) for f in found)
    return _unique(fact_kinds()[x].mend for x in facts if x and fact_kinds()[x].mend)


def advice(
    engine: Engine, level: int | None, known: Sequence[Known], confirmed: bool = False
) -> Advice:
    """What to do next: never run on a hard stop; at Act what the findings ask for, in the time
    their danger leaves; at Watch look again.

    level : the worst of `known` · confirmed : the Act was said before and is said again
    """
    if level is None:
        return Advice(actions=(), may_run="unknown")
    if level >= Level.STOP:
        return _stop([k.finding for k in known])
    if level == Level.ACT:
        return _act(engine, known, confirmed)
    if level == Level.WATCH:
        return _watch(engine, known)
    return Advice(actions=(), may_run="runs")
