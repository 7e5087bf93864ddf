"""What an engine asks for in the weeks ahead, each with its day, its range, why, how long and how
dangerous it is to leave (the-trade 3.21).

Nothing falls silent: a task whose day by forecast has gone by is late, whether or not anybody
logged a meter. A task's key stays the same until it was done; then another stands in its place.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from ..record import WORK, Charge, Engine, TimeLine, check_kinds
from ..terms import TASK_KINDS
from ..verdict import BOTTLE_NOW, Action, EngineState, Level
from .following import Drawn, early, followed
from .meter_forecast import Usage, in_storage, usage
from .oil_life import OilLife
from .sampling_plan import TAKEN, Due

# Hours a task takes at the engine, the way left out; our choice, checks have their own.
HOURS = {"sample": 0.4, "drain": 1.5, "action": 1.0, "decide": 0.3, "follow": 0.4, "bottle": 0.1}
# Days around its day in which a sample or a drain without a forecast may be moved; our choice.
SLACK = timedelta(days=7)
OUT_DAYS = 14  # a bottle drawn so long ago should be back; our choice
FOLLOWED = timedelta(days=120)  # a repair is followed no longer; our choice
BY_INTERVAL = ("interval", "new oil")
NO_TASK = frozenset({"do_not_run"})  # a hold is no work: a decision stands for it
ENDED = ("do_not_run", "past_its_time")


@dataclass(frozen=True, slots=True, kw_only=True)
class Task:
    """Something to be done to an engine.

    key : its identity within the engine · kind : of TASK_KINDS · code : of the action, the check or
    the plan · earliest, on, latest : days · at_dial : the meter it is due at, where it is
    level : how dangerous it is to leave · at_rest : it can be done without turning the engine
    movable : False for what no day of anybody's moves
    """

    key: str
    kind: str
    code: str
    earliest: date
    on: date
    latest: date
    at_dial: float | None = None
    hours: float = 1.0
    level: int = 0
    at_rest: bool = True
    movable: bool = True

    def __post_init__(self) -> None:
        assert self.kind in TASK_KINDS
        assert self.earliest <= self.latest


def _dial_offset(line: TimeLine) -> float:
    """True meter less dial, of the dial fitted now."""
    newest = next((m for m in reversed(line.moments) if m.total is not None), None)
    if newest is None or newest.total is None or newest.row.dial is None:
        return 0.0
    return newest.total - newest.row.dial


def _sample(due: Due, line: TimeLine, level: int) -> Task:
    """The next routine sample. It counts for its point from TAKEN of the way on."""
    last = line.samples()[-1]
    span = (due.on - last[0].row.on).days
    return Task(
        key=f"sample:{last[1].code}:{due.by}",
        kind="sample",
        code=due.by,
        earliest=min(due.on - timedelta(days=round((1 - TAKEN) * max(span, 0))), due.on),
        on=due.on,
        latest=max(due.latest, due.on + timedelta(days=min(round((1 - TAKEN) * span), 14))),
        at_dial=due.at_dial,
        hours=HOURS["sample"],
        level=min(level, int(Level.ACT)),
    )


def _drain_by_days(engine: Engine, charge: Charge) -> Task | None:
    """The oil change the calendar asks for, where the engine's record says after how many days: an
    oil ages also in an engine that stands."""
    if engine.drain_days is None or charge.start_on is None:
        return None
    on = charge.start_on + timedelta(days=engine.drain_days)
    return Task(
        key=f"drain:{charge.number}",
        kind="drain",
        code="calendar",
        earliest=on - timedelta(days=round((1 - TAKEN) * engine.drain_days)),
        on=on,
        latest=on,
        hours=HOURS["drain"],
    )


def _first(line: TimeLine, wanted: bool, today: date) -> Task | None:
    """The first sample of an engine that is to be sampled and never was: no forecast yet, so that
    nothing says it is late."""
    if not wanted or line.samples():
        return None
    begun = line.moments[0].row.on if line.moments else today
    return Task(
        key="sample:first",
        kind="sample",
        code="first",
        earliest=min(begun, today),
        on=today,
        latest=today + SLACK,
        hours=HOURS["sample"],
    )


def _drain(engine: Engine, line: TimeLine, use: Usage | None, life: OilLife | None) -> Task | None:
    """The next oil change: by what its oil has left where that is known, else by the nominal drain;
    not later than either allows."""
    charge = line.charges[-1]
    by_days = _drain_by_days(engine, charge)
    if charge.start is None or use is None or (use.by == "class" and by_days is not None):
        return by_days
    by_oil = life is not None and life.at is not None and life.because not in BY_INTERVAL
    total = life.at if life and life.at is not None else charge.start + engine.nominal_drain
    days = use.day_of(total)
    if days is None:
        return by_days
    near = use.day_of(charge.start + TAKEN * (total - charge.start))
    # By the early edge it should be done, by the middle it has to be: a wide forecast makes nobody
    # late.
    crossing = life.first.at if life and life.because == "first limit" and life.first else None
    furthest = max(charge.start + engine.nominal_drain, total)
    last = days if crossing is None else use.day_of(min(max(crossing, total), furthest))
    # What nobody read makes nothing late before the late end of what its class does.
    on = days[2] if use.by == "class" else days[0]
    if by_days is not None and by_days.on < on:
        return by_days
    return Task(
        key=f"drain:{charge.number}",
        kind="drain",
        code="condition" if by_oil else "interval",
        earliest=min(near[0] if near else on, on),
        on=on,
        latest=max(last[0], on) if last else on,
        at_dial=total - _dial_offset(line),
        hours=HOURS["drain"],
    )


def _action(
    action: Action, state: EngineState, line: TimeLine, use: Usage | None, today: date
) -> Task:
    """What the state asks for: before its meter and its day, whichever comes first."""
    days = [action.due_on] if action.due_on else []
    if action.due_dial is not None and use is not None:
        by_meter = use.day_of(action.due_dial + _dial_offset(line))
        # By the early end of the forecast: a permission is not stretched by hope.
        days += [max(by_meter[1], use.latest_on)] if by_meter else []
    since = state.since or today
    latest = min(days, default=since if state.level == Level.STOP else since + SLACK)
    return Task(
        key=f"action:{action.code}:{since}",
        kind="action",
        code=action.code,
        earliest=min(since, latest),
        on=latest,
        latest=latest,
        at_dial=action.due_dial,
        hours=HOURS["action"],
        level=state.level or 0,
    )


def _check(code: str, state: EngineState, latest: date) -> Task:
    """The next best check, before what the actions ask for."""
    kind, since = check_kinds()[code], state.since or latest
    return Task(
        key=f"check:{code}:{since}",
        kind="check",
        code=code,
        earliest=min(since, latest),
        on=latest,
        latest=latest,
        hours=kind.hours,
        level=state.level or 0,
        at_rest=kind.state == "rest",
    )


def _decide(state: EngineState, today: date) -> Iterator[Task]:
    """What only a person's signature settles: a Stop nobody decided on, the end of a permission."""
    since = state.since or today
    if state.may_run in ENDED:
        key = f"decide:{since}"
        yield Task(
            key=key,
            kind="decide",
            code="release",
            earliest=since,
            on=since,
            latest=since,
            hours=HOURS["decide"],
            level=int(Level.STOP),
            movable=False,
        )
    elif state.may_run == "run_until" and state.decision is not None and state.until_on is not None:
        ends = state.until_on
        yield Task(
            key=f"decide:{ends}",
            kind="decide",
            code="permission_ends",
            earliest=min(since, ends),
            on=ends,
            latest=ends,
            hours=HOURS["decide"],
            level=int(Level.ACT),
            movable=False,
        )


def _begun(line: TimeLine, state: EngineState, today: date) -> tuple[date, float] | None:
    """(day, meter) of the last work, or of the release of a Stop, that is still followed."""
    begun = [
        (m.row.on, m.total)
        for m in line.moments
        if m.row.kind in WORK and m.total is not None and m.row.on >= today - FOLLOWED
    ]
    d = state.decision
    if d is not None and d.state == "release" and d.lifts and d.on >= today - FOLLOWED:
        read = [m.total for m in line.moments if m.total is not None and m.row.on <= d.on]
        begun += [(d.on, read[-1])] if read else []
    return max(begun, default=None)


def _follow(
    engine: Engine, line: TimeLine, state: EngineState, use: Usage | None, today: date
) -> Task | None:
    """The next early sample and look after work or a release that is still followed."""
    begun = _begun(line, state, today)
    if begun is None or use is None:
        return None
    on, meter = begun
    drawn = [
        Drawn(m.row.sample.code, m.row.on, m.total - meter, None)
        for m in line.moments
        if m.row.sample is not None and m.total is not None and m.total > meter
    ]
    next_at = followed(drawn, early(engine)).next_at
    days = None if next_at is None else use.day_of(meter + next_at)
    if next_at is None or days is None:
        return None
    return Task(
        key=f"follow:{on}:{next_at:g}",
        kind="follow",
        code=f"{next_at:g} {engine.meter_unit}",
        earliest=min(days[1], days[0]),
        on=days[0],
        latest=max(days[2], days[0]),
        at_dial=meter + next_at - _dial_offset(line),
        hours=HOURS["follow"],
        level=int(Level.WATCH),
    )


def _bottle(line: TimeLine, out: Sequence[str]) -> Iterator[Task]:
    """Bottles with figures still expected; `out`: codes of those without figures."""
    for m, s in line.samples():
        if s.code in out:
            on = m.row.on + timedelta(days=OUT_DAYS)
            yield Task(
                key=f"bottle:{s.code}",
                kind="bottle",
                code=s.code,
                earliest=m.row.on,
                on=on,
                latest=on,
                hours=HOURS["bottle"],
                movable=False,
            )


def tasks_of(
    engine: Engine,
    line: TimeLine,
    state: EngineState,
    dues: Iterable[Due],
    out: Sequence[str],
    today: date,
    life: OilLife | None = None,
    sampled: bool = False,
) -> list[Task]:
    """Everything an engine asks for, soonest first.

    dues : when the next samples are due · out : bottles without figures · today : what day it is at
    the engine; only what is recent depends on it, lateness is asked when it is read · life : what
    its oil has left · sampled : rules of sampling are on record

    A parked engine is asked for what must be settled before it runs again, and for nothing that
    running brings about.
    """
    use = usage(engine, line)
    asked = [a for a in state.actions if a.code not in NO_TASK]
    actions = [_action(a, state, line, use, today) for a in asked]
    found: list[Task | None] = [*actions, *_decide(state, today), *_bottle(line, out)]
    if actions and state.checks and (state.level or 0) >= Level.ACT:
        found.append(_check(state.checks[0], state, min(t.latest for t in actions)))
    if not in_storage(line):
        held = state.may_run in ENDED
        bottled = {a.code for a in state.actions} & set(BOTTLE_NOW)
        if not held and not bottled:
            found += [_sample(d, line, state.level or 0) for d in list(dues)[:1]]
            found.append(_first(line, sampled, today))
        if not held and "sample_and_change" not in bottled:
            found.append(_drain(engine, line, use, life))
        if not held and not bottled:
            found.append(_follow(engine, line, state, use, today))
    known = {t.key: t for t in found if t is not None}
    return sorted(known.values(), key=lambda t: (t.on, -t.level, t.key))
