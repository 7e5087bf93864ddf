"""When the next sample is due, by which plan, and why (the-trade 1, 3.21)."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from ..bounds import check
from ..errors import OutOfRange, UnknownName
from ..record import Engine, Moment, TimeLine
from ..terms import PLAN_KINDS, MaybeMethod, UsageBy, rank
from .meter_forecast import Usage, in_storage, out_of_storage, usage
from .schedules import (
    CHECKS,
    next_point,
    next_season,
    points_of,
    season_of,
    sessions_due,
    sessions_of,
)

NEEDS_N = ("meter", "days", "after_repair")
# At Watch half the interval, at Act a quarter; our choice. Tightening never lengthens.
TIGHTENED = {0: 1.0, 1: 0.5, 2: 0.25, 3: 0.25}
TAKEN = 0.9  # of the way to a plan's point: a sample drawn from there on counts for it; our choice


@dataclass(frozen=True, slots=True)
class Plan:
    """One rule of when to draw a sample.

    kind : meter (every `every` meter units), days (every `every` days), drain (before every oil
        change),
    half_drain (halfway through one), outing (after every outing), after_repair (`every` meter units
    after a repair), and those of `schedules`, in the words of `said`: points, season, sessions

    Raises UnknownName, OutOfRange or NotPossible for a plan that cannot be meant.
    """

    kind: str
    every: float | None = None
    method: MaybeMethod = ""
    said: str = ""

    def __post_init__(self) -> None:
        if self.kind not in PLAN_KINDS:
            raise UnknownName("sampling plan", self.kind, list(PLAN_KINDS))
        if self.kind in NEEDS_N:
            bound = "days" if self.kind == "days" else "every"
            check(bound, float("nan") if self.every is None else self.every)
        elif self.every is not None:
            check("every", self.every)
        if self.kind in CHECKS:
            CHECKS[self.kind](self.said)


@dataclass(frozen=True, slots=True, kw_only=True)
class Due:
    """The next sample: when, with its 80 % range, by which plan, and what was reckoned with.

    overdue : days since, 0 when it lies ahead; share : of the interval that has gone by, 1 at the
        due point
    """

    on: date
    earliest: date
    latest: date
    by: str
    every: float | None
    tightened: bool
    at_dial: float | None
    per_week: float | None
    usage_by: UsageBy
    overdue: int
    share: float | None
    method: MaybeMethod


def plans_of(engine: Engine, plans: Iterable[Plan] = ()) -> tuple[Plan, ...]:
    """The rules in force for an engine: its plans, and its two intervals where no plan of the same
    kind stands in their place. Adding a plan takes none away."""
    own = tuple(plans)
    said = {p.kind for p in own}
    meter = [Plan("meter", engine.interval_meter)] if engine.interval_meter else []
    days = [Plan("days", engine.interval_days)] if engine.interval_days else []
    return (*own, *(p for p in (*meter, *days) if p.kind not in said))


@dataclass(frozen=True, slots=True)
class _Now:
    """What every plan is held against."""

    engine: Engine
    line: TimeLine
    last: Moment
    newest: Moment
    use: Usage | None
    share: float  # of the interval, by the level the engine stands at
    today: date


def _point(plan: Plan, now: _Now) -> tuple[float, float] | None:
    """(true meter at which a plan of the meter is due, interval it counts over), or None when it
    asks for nothing."""
    charge, last = now.line.charges[-1], now.last.total
    taken = max(
        (
            m.total
            for m, _ in now.line.samples()
            if m.charge == charge.number and m.total is not None
        ),
        default=None,
    )
    match plan.kind:
        case "meter":
            every = (plan.every or 0) * now.share
            return None if last is None else (last + every, every)
        case "drain" | "half_drain" if charge.start is not None:
            span = now.engine.nominal_drain * (1.0 if plan.kind == "drain" else 0.5)
            done = taken is not None and taken >= charge.start + TAKEN * span
            return None if done else (charge.start + span, span)
        case "points":
            return None if last is None else next_point(points_of(plan.said), last, TAKEN)
        case "after_repair":
            repaired = next(
                (
                    m
                    for m in reversed(now.line.moments)
                    if m.row.kind in ("repair", "rebuild") and m.total is not None
                ),
                None,
            )
            if repaired is None or repaired.total is None:
                return None
            every = plan.every or 0
            done = last is not None and last >= repaired.total + TAKEN * every
            return None if done else (repaired.total + every, every)
    return None


def _on_day(plan: Plan, now: _Now, on: date, **more: Any) -> Due:
    """Due on a day that no meter moves."""
    plain = {"every": None, "tightened": False, "at_dial": None, "share": None}
    return Due(
        on=on,
        earliest=on,
        latest=on,
        by=plan.kind,
        per_week=now.use.per_week if now.use else None,
        usage_by=now.use.by if now.use else "own",
        overdue=max((now.today - on).days, 0),
        method=plan.method,
        **plain | more,
    )


def _by_days(plan: Plan, now: _Now) -> Due:
    every = (plan.every or 0) * now.share
    begun = max(now.last.row.on, out_of_storage(now.line) or now.last.row.on)
    on = begun + timedelta(days=round(every))
    gone = (now.today - begun).days / every
    return _on_day(plan, now, on, every=plan.every, tightened=now.share < 1, share=gone)


def _after_outing(plan: Plan, now: _Now) -> Due | None:
    """After every outing: due on the day the meter moved past the last sample."""
    if now.newest.total is None or now.last.total is None or now.newest.total <= now.last.total:
        return None
    return _on_day(plan, now, now.newest.row.on)


def _before_season(plan: Plan, now: _Now) -> Due:
    return _on_day(plan, now, next_season(season_of(plan.said), now.last.row.on))


def _by_sessions(plan: Plan, now: _Now) -> Due | None:
    limits = sessions_of(plan.said)
    on = sessions_due(limits, now.line.moments, now.last.row.on, now.newest.row.on)
    return None if on is None else _on_day(plan, now, on)


def _by_meter(plan: Plan, now: _Now) -> Due | None:
    point = _point(plan, now)
    if point is None or now.use is None or now.newest.total is None:
        return None
    total, span = point
    days = now.use.day_of(total)
    if days is None:
        return None
    # A meter already past its point was past it at the last reading at the latest, and never before
    # the last sample.
    on = max(days[0], now.last.row.on)
    if now.use.by == "class" and now.newest.total < total:
        on = max(on, now.today)  # what nobody read makes nothing late
    offset = now.newest.total - (
        now.newest.row.dial if now.newest.row.dial is not None else now.newest.total
    )
    gone = now.use.meter_on(now.today)[0] - (total - span)
    return Due(
        on=on,
        earliest=max(min(days[1], on), now.last.row.on),
        latest=max(days[2], on),
        by=plan.kind,
        every=plan.every,
        tightened=plan.kind == "meter" and now.share < 1,
        at_dial=total - offset,
        per_week=now.use.per_week,
        usage_by=now.use.said_of(on),
        overdue=max((now.today - on).days, 0),
        share=gone / span if span > 0 else None,
        method=plan.method,
    )


_BY_KIND: dict[str, Callable[[Plan, _Now], Due | None]] = {
    "days": _by_days,
    "outing": _after_outing,
    "season": _before_season,
    "sessions": _by_sessions,
}


def check_tightened(shares: Mapping[int, float]) -> None:
    """Raise OutOfRange when a rule would lengthen an interval, or a worse level would wait longer
    than a milder one."""
    before = 1.0
    for level in range(4):
        if not 0.05 <= shares[level] <= before:
            raise OutOfRange(
                f"share of the interval at level {level}", shares[level], 0.05, before, ""
            )
        before = shares[level]


def dues(
    engine: Engine,
    plans: Iterable[Plan],
    line: TimeLine,
    today: date,
    level: int | None = None,
    tightened: Mapping[int, float] = TIGHTENED,
) -> list[Due]:
    """Every plan's next sample, soonest first; nothing in storage, and nothing before a first
    sample.

    level : what the engine stands at (0 to 3); Watch and Act tighten the plans of meter and days.
    tightened : share of the interval by level, see `check_tightened`
    """
    drawn = line.samples()
    if not drawn or in_storage(line):
        return []
    newest = next(m for m in reversed(line.moments) if m.total is not None or m is drawn[-1][0])
    now = _Now(
        engine, line, drawn[-1][0], newest, usage(engine, line), tightened[level or 0], today
    )
    found = []
    for plan in plans_of(engine, plans):
        one = _BY_KIND.get(plan.kind, _by_meter)(plan, now)
        if one is not None:
            found.append(one)
    return sorted(found, key=lambda d: (d.on, rank(PLAN_KINDS, d.by)))


def next_due(
    engine: Engine,
    line: TimeLine,
    today: date,
    plans: Iterable[Plan] = (),
    level: int | None = None,
    tightened: Mapping[int, float] = TIGHTENED,
) -> Due | None:
    """The soonest of `dues`, or None."""
    return next(iter(dues(engine, plans, line, today, level, tightened)), None)
