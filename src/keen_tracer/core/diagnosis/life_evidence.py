"""Evidence in how an engine lives: new, worked on, seldom run, often started, topped up, laid up.
It needs no laboratory."""

from collections.abc import Iterator, Sequence
from datetime import timedelta
from itertools import takewhile
from statistics import median

from ..errors import CoreError
from ..record import (
    LONG_ENOUGH,
    WORK,
    Charge,
    Engine,
    Moment,
    TimeLine,
    detail_number,
    use_of,
)
from .thresholds import (
    LATE,
    MORE_OIL,
    OFTEN,
    SELDOM,
    SELDOM_DAYS,
    SELDOM_LEAST_DAYS,
    WORK_LASTS,
    WORTH_NOTE,
)

Told = Iterator[tuple[str, bool]]


def of_life(engine: Engine, line: TimeLine, moments: Sequence[Moment]) -> Told:
    """(evidence, seen or known to be absent) of one life's rows up to the moment that counts, the
    last of `moments`."""
    if "at_sea" in engine.features:
        yield "at_sea", True
    if not moments:
        return
    yield from _age(engine, moments)
    yield from _use(engine, line, moments)
    charges = [x for x in line.charges if x.life == moments[-1].life]
    yield from _oil(engine, charges, moments[-1])
    here = {m.row.kind for m in _of_charge(moments)}
    if "coolant_top_up" in here:
        yield "coolant_added", True
    yield "stood", "storage_end" in here


def _of_charge(moments: Sequence[Moment]) -> Iterator[Moment]:
    """The newest moments that are of one fill of oil, the latest first."""
    return takewhile(lambda m: m.charge == moments[-1].charge, reversed(moments))


def _age(engine: Engine, moments: Sequence[Moment]) -> Told:
    """Run-in, and work on it not long ago."""
    now, drain = moments[-1], engine.nominal_drain
    ran_in = (
        now.total is not None
        and now.life_start is not None
        and now.total - now.life_start <= engine.run_in
    )
    yield "new_engine", ran_in
    worked = next((m for m in reversed(moments[:-1]) if m.row.kind in WORK), None)
    since = None
    if worked is not None and None not in (worked.total, now.total):
        since = (now.total or 0) - (worked.total or 0)
    lately = since is not None and since <= WORK_LASTS * drain
    yield "sealing_work", lately or (ran_in and now.life > 1)


def _use(engine: Engine, line: TimeLine, moments: Sequence[Moment]) -> Told:
    """How much it runs, and how often it is started."""
    now = next((m for m in reversed(moments) if m.total is not None), None)
    if now is None:
        return
    then = _read_before(line, moments, now)
    if then is not None:
        yearly = ((now.total or 0) - (then.total or 0)) / (now.row.on - then.row.on).days * 365
        yield "short_runs", yearly <= SELDOM * engine.nominal_drain
    starts = _starts_per_unit(moments)
    if starts is not None and engine.meter_unit == "h":
        yield "many_starts", starts >= OFTEN


def _read_before(line: TimeLine, moments: Sequence[Moment], now: Moment) -> Moment | None:
    """The meter reading that use is reckoned from: the first within the window, which makes the
    longest stretch, else the last before it; None where all are too near."""
    latest = now.row.on - timedelta(days=SELDOM_LEAST_DAYS)
    first = now.row.on - timedelta(days=SELDOM_DAYS)
    for m in line.between(first, latest):
        if m.total is not None and m.life == now.life:
            return m
    return next((m for m in reversed(moments) if m.total is not None and m.row.on < first), None)


def _starts_per_unit(moments: Sequence[Moment]) -> float | None:
    """Starts written with the newest meter reading that has them, over what ran since the
    reading before."""
    told: tuple[float, float] | None = None  # starts, and the meter they were told at
    for m in reversed(moments):
        if m.total is None:
            continue
        if told is not None:
            ran = told[1] - m.total
            return told[0] / ran if ran > 0 else None
        if "starts" not in m.row.details:
            continue
        try:
            starts = detail_number(m.row.details, "starts")
        except CoreError:
            continue  # of another version; kept on record
        if starts is not None:
            told = (starts, m.total)
    return None


def _oil(engine: Engine, charges: Sequence[Charge], now: Moment) -> Told:
    """How long it has been in use, and whether more of it is used up than was usual."""
    here = next((x for x in charges if x.number == now.charge), None)
    if here is None or here.start is None or now.total is None:
        return
    hours = now.total - here.start
    yield "late_drain", hours > LATE * engine.nominal_drain
    if hours < LONG_ENOUGH * engine.nominal_drain:
        return
    before = [use for x in charges if x.number < here.number for use in use_of(x, engine)]
    if len(before) < 2:
        return
    usual = median(before)
    used = sum(q for at, q in here.top_ups if at <= now.total) + here.untimed_top_up_l
    more = used - usual * hours
    if used >= MORE_OIL * usual * hours and more >= WORTH_NOTE * (engine.oil_total_l or 0.0) > 0:
        yield "oil_use", True
    elif usual > 0 and used <= usual * hours:
        yield "oil_use", False
