"""Looking back: a study of two periods, and whether the alarms were right."""

from collections.abc import Sequence
from datetime import date

from ...core.limits import evaluate
from ...core.review import Outcome, Study, Tally, act_by_policy, alarm_days, compare_periods, tally
from ...storage import fleet
from ...storage.db import Connection
from ...storage.records import row, rows
from ..errors import CannotRecord, NoLimits
from .standards import standards

Period = tuple[date, date]


def study_of(
    connection: Connection, engines: Sequence[str], before: Period, after: Period
) -> Study:
    """Compare two periods (both days included) of some engines; they may not overlap."""
    if (
        before[0] > before[1]
        or after[0] > after[1]
        or not (before[1] < after[0] or after[1] < before[0])
    ):
        raise CannotRecord(
            "periods", "give two periods that do not overlap, each from its first to its last day"
        )
    held = standards(connection)
    if held is None:
        raise NoLimits("no version of limits is published")
    ids = []
    for code in engines:
        found = row(connection, "engine_by_code", code=code)
        if found is None:
            raise CannotRecord("unknown_engine", f"there is no engine {code} on record")
        ids.append(found["id"])
    loaded = fleet.load(connection, ids)
    if not loaded.sample_ids:
        raise CannotRecord("no_samples", "these engines have no samples")
    e = evaluate(loaded.fleet, held.limits)
    steady = [p for p in e.contexts if not p.run_in]
    sides = [
        [p.row for p in steady if first <= p.moment.row.on <= last]
        for first, last in (before, after)
    ]
    if not all(sides):
        raise CannotRecord("no_samples", "there is no sample after run-in in one of the periods")
    return compare_periods(e, *sides)


def alarm_record(connection: Connection) -> list[Tally]:
    """Every policy's alarms against what inspections found; engines without an outcome count as
    still open."""
    held = standards(connection)
    if held is None:
        raise NoLimits("no version of limits is published")
    days: dict[str, dict[str, list[tuple[date, bool]]]] = {}
    ids = [r["id"] for r in rows(connection, "engine_ids", codes=None)]
    for part in fleet.batches(connection, ids):
        loaded = fleet.load(connection, part)
        if not loaded.sample_ids:
            continue
        a = held.assess(connection, loaded.fleet)
        for policy, acts in act_by_policy(a).items():
            days.setdefault(policy, {}).update(alarm_days(a, acts))
    outcomes = [
        Outcome(r["engine"], r["on_date"], r["found"], r["confirmed"], r["hours_down"], r["saved"])
        for r in rows(connection, "outcomes_of_engines", ids=ids)
    ]
    return [tally(policy, found, outcomes) for policy, found in days.items()]
