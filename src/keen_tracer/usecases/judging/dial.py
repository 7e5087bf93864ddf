"""The rate of false alarms a site wants: tried on its own quiet samples, then kept as the factor on
every threshold of the expectation."""

from ...core.baseline import PLANTED, Counts, Step, count, count_found, with_fault
from ...core.errors import CoreError
from ...core.limits import AS_SHIPPED
from ...core.roles import Actor, check_may
from ...exchange.cells import written
from ...storage import fleet
from ...storage.db import Connection, address
from ...storage.peers import DIAL
from ...storage.records import number, run, set_setting, setting
from ..answers.standards import Dial, DialStep, DialTried
from ..days import day_at
from ..errors import CannotRecord, NoLimits
from ..kept import Kept
from .spread import spread_over
from .standards import Standards, standards

_kept = Kept[Counts](2)  # of the databases this process serves
# The thresholds as shipped: nobody chose a rate.
NOT_SET: Dial = {
    "strictness": AS_SHIPPED,
    "wanted": None,
    "quiet": None,
    "acts": None,
    "by": "",
    "on": None,
}


def _counted(connection: Connection, held: Standards) -> Counts:
    counts = Counts()
    for part in fleet.batches(connection, spread_over(connection), samples=2000):
        loaded = fleet.load(connection, part)
        if not loaded.sample_ids:
            continue
        a = held.assess(connection, loaded.fleet)
        count(a, counts)
        for fault in PLANTED:
            faulty, planted = with_fault(a, fault)
            if planted:
                count_found(held.assess(connection, faulty), fault, planted, counts)
    return counts


def _step(step: Step, planted: dict[str, int]) -> DialStep:
    share, low, high = step.rate
    return {
        "strictness": step.strictness,
        "acts": step.acts,
        "per_100": share,
        "low": low,
        "high": high,
        "found": [
            {"fault": name, "planted": n, "found": step.found.get(name, 0)}
            for name, n in planted.items()
        ],
    }


def _found(connection: Connection, wanted: float) -> tuple[Counts, Step]:
    held = standards(connection)
    if held is None:
        raise NoLimits("no version of limits is published")
    # The same for every rate that is tried, until somebody writes.
    counts = _kept.get(
        address(connection), number(connection, "mark"), lambda: _counted(connection, held)
    )
    try:
        return counts, counts.chosen(wanted)
    except CoreError as error:
        raise CannotRecord("cannot_calibrate", str(error)) from error


def try_dial(connection: Connection, wanted: float) -> DialTried:
    """What every factor would have done on the fleet's own quiet samples and on faults planted in
    them, and the one that keeps to `wanted` false Acts per 100. Nothing is written."""
    counts, step = _found(connection, wanted)
    return {
        "quiet": counts.quiet,
        "wanted": wanted,
        "kept": step.rate[0] <= wanted,
        "chosen": _step(step, counts.planted),
        "steps": [_step(x, counts.planted) for x in counts.steps()],
    }


def current(connection: Connection) -> Dial:
    """The factor in force and how it was found."""
    return {**NOT_SET, **(setting(connection, DIAL) or {})}


def set_dial(connection: Connection, wanted: float | None, who: Actor) -> Dial:
    """Keep to a rate, or with None go back to the thresholds as shipped; every engine is judged
    again."""
    check_may(who, "publish")
    before = current(connection)
    kept = NOT_SET
    if wanted is not None:
        counts, step = _found(connection, wanted)
        kept = {
            "strictness": step.strictness,
            "wanted": wanted,
            "quiet": counts.quiet,
            "acts": step.acts,
            "by": "",
            "on": None,
        }
    today = day_at(connection)
    kept = {**kept, "by": who.name, "on": today}
    set_setting(connection, DIAL, {**kept, "on": today.isoformat()})
    run(
        connection,
        "record_change_put",
        place="library",
        code=DIAL,
        field="strictness",
        old=written(before["strictness"]),
        new=written(kept["strictness"]),
        by=who.name,
    )
    run(connection, "mark_all_stale")
    return kept
