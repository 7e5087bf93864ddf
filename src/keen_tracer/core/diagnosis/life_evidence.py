"""Evidence in how an engine lives: new, worked on, seldom run, often started, topped up, laid up.
It needs no laboratory."""

from collections.abc import Iterator, Sequence
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
    yield from _use(engine, moments)
    charges = [x for x in line.charges if x.life == moments[-1].life]
    yield from _oil(engine, charges, moments[-1])
    here = [m for m in moments if m.charge == moments[-1].charge]
    if any(m.row.kind == "coolant_top_up" for m in here):
        yield "coolant_added", True
    stored = [m for m in moments if m.row.kind == "storage_end"]
    yield "stood", any(m in here for m in stored)


def _age(engine: Engine, moments: Sequence[Moment]) -> Told:
    """Run-in, and work on it not long ago."""
    now, drain = moments[-1], engine.nominal_drain
    ran_in = (
        now.total is not None
        and now.life_start is not None
        and now.total - now.life_start <= engine.run_in
    )
    yield "new_engine", ran_in
    worked = [m for m in moments[:-1] if m.row.kind in WORK]
    known = worked and None not in (worked[-1].total, now.total)
    since = (now.total or 0) - (worked[-1].total or 0) if known else None
    lately = since is not None and since <= WORK_LASTS * drain
    yield "sealing_work", lately or (ran_in and now.life > 1)


def _use(engine: Engine, moments: Sequence[Moment]) -> Told:
    """How much it runs, and how often it is started."""
    read = [m for m in moments if m.total is not None]
    if not read:
        return
    now = read[-1]
    earlier = [
        m for m in read if (now.row.on - m.row.on).days >= SELDOM_LEAST_DAYS
    ]  # in order, so that the first within the window makes the longest stretch
    within = [m for m in earlier if (now.row.on - m.row.on).days <= SELDOM_DAYS]
    if earlier:
        then = within[0] if within else earlier[-1]
        yearly = ((now.total or 0) - (then.total or 0)) / (now.row.on - then.row.on).days * 365
        yield "short_runs", yearly <= SELDOM * engine.nominal_drain
    starts = _starts_per_unit(read)
    if starts is not None and engine.meter_unit == "h":
        yield "many_starts", starts >= OFTEN


def _starts_per_unit(read: Sequence[Moment]) -> float | None:
    """Starts told with the newest meter reading that has them, over what ran since the reading
    before."""
    for n in range(len(read) - 1, 0, -1):
        try:
            starts = detail_number(read[n].row.details, "starts")
        except CoreError:
            continue  # of another version; kept on record
        if starts is None:
            continue
        ran = (read[n].total or 0) - (read[n - 1].total or 0)
        return starts / ran if ran > 0 else None
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
