"""The round: which engines of a depot are due on a day, in walking order, with method, cautions and
kit. Reads only."""

from collections.abc import Iterable, Mapping
from dataclasses import asdict
from datetime import date, timedelta

from ...core.planning import Plan, checklist, next_due, sampling_kit, tube_length_mm, usage
from ...core.record import Engine, History, TimeLine, build_time_line, oil_words
from ...core.terms import METHODS, DrawPurpose, MaybeMethod
from ...core.words import OWN_UNITS, Units, due_words
from ...storage import fleet
from ...storage.db import Connection, address
from ...storage.records import Row, number, rows
from ..answers.collect import Expected, NewOilBatch, Round, StopAlone, StopFull
from ..answers.from_rows import answer, answers
from ..answers.wall import WallLine
from ..bottles.labels import label_for
from ..bottles.steps import new_oil
from ..days import day_at, days_now
from ..judging.wall_row import due_stored
from ..kept import Kept
from .wall import due_out, lines

SOON = timedelta(days=3)  # due within these days is taken along; our choice
DEFAULT_METHOD: MaybeMethod = "vacuum"
WHY = {
    "resample": "again in a new bottle, before any strip-down",
    "sample_and_change": "a bottle before the oil is changed",
    "post_repair": "first sample after the repair",
    "first_sample": "never sampled yet",
}
_kept = Kept[StopFull](1000)  # stops of a round, a few kilobytes each; our choice
PURPOSES: dict[str, DrawPurpose] = {"resample": "resample", "post_repair": "post_repair"}


def _expected(engine: Engine, line: TimeLine, on: date) -> Expected:
    """What the dial should read on `on`, with its 80 % range, on the dial that is fitted now; from
    its own readings alone."""
    use = usage(engine, line)
    newest = next(
        (m for m in reversed(line.moments) if m.total is not None and m.row.dial is not None), None
    )
    unknown: Expected = {"expected": None, "low": None, "high": None}
    if use is None or use.by == "class":
        return unknown
    if newest is None or newest.total is None or newest.row.dial is None:
        return unknown
    middle, low, high = (x - newest.total + newest.row.dial for x in use.meter_on(on))
    return {"expected": middle, "low": low, "high": high}


def stop(
    shown: WallLine,
    e: Row,
    history: History,
    plans: Iterable[Plan],
    on: date,
    tightened: Mapping[int, float],
) -> StopFull:
    """One engine as the technician meets it."""
    line = build_time_line(history)
    due = next_due(history.engine, line, on, plans, shown["level"], tightened)
    charge = line.charges[-1]
    dials = [m for m in line.moments if m.total is not None]
    method: MaybeMethod = (due.method if due else "") or e["sampling_method"]
    method = method if method in METHODS else DEFAULT_METHOD
    mm = e["dipstick_to_low_mm"]
    last = line.samples()
    return {
        "code": e["code"],
        "name": e["name"],
        "depot": e["depot"],
        "unit": e["meter_unit"],
        "level": shown["level"],
        "signed": shown["signed"],
        "state": shown["state"],
        "next": shown["next"],
        "purpose": PURPOSES.get(shown["sample_code"], "routine"),
        "resample_of": shown["sample"] or "" if shown["sample_code"] == "resample" else "",
        "due": due_out(due_stored(due), due.overdue, e["meter_unit"]) if due else None,
        "why": WHY.get(shown["sample_code"])
        or (due_words(asdict(due), e["meter_unit"]) if due else shown["next"]),
        "dial": dials[-1].row.dial if dials else None,
        **_expected(history.engine, line, on),
        "charge_start": charge.start,
        "offset": (dials[-1].total or 0) - (dials[-1].row.dial or 0) if dials else 0.0,
        "last_sample_dial": last[-1][0].row.dial if last else None,
        "oil": oil_words(charge.oil),
        "sump_l": history.engine.sump_l or history.engine.oil_total_l,
        "method": method,
        "tube_mm": tube_length_mm(mm) if mm and method == "vacuum" else None,
        "dipstick_to_low_mm": mm,
        "steps": list(checklist(method)),
    }


def _wanted(shown: WallLine, on: date) -> bool:
    """Due by the day or soon after it, or to be sampled again because it is raised; an engine that
    must not run is not met with a pump."""
    if shown["state"]["may_run"] == "do_not_run":
        return False
    if shown["stored"] or any(m["kind"] == "bottle" for m in shown["trace"][-1:]):
        return False
    due = shown["due"]
    return bool((due and due["on"] <= on + SOON) or shown["sample_code"] in WHY)


def round_of(
    connection: Connection, depot: str | None, on: date, units: Units = OWN_UNITS
) -> Round:
    """The round of a depot (or of all) on a day: stops within its capacity, what waits, kit, the
    next free label; amounts in `units`."""
    depots = rows(connection, "depots")
    due = rows(connection, "wall_due", depot=depot, by=on + SOON, again=list(WHY))
    lined = lines(connection, [r["id"] for r in due], units)
    keys = {r["code"]: key for key, r in lined.items()}
    shown = [r for r in lined.values() if _wanted(r, on)]
    capacity = next((d["daily_capacity"] for d in depots if d["code"] == depot), None) or len(shown)
    # Who is raised or longest over comes first; the walk is then in the order of the place.
    taken = sorted(
        shown,
        key=lambda r: (-(r["level"] or 0), -(r["due"]["overdue"] if r["due"] else 0), r["code"]),
    )
    stops = _stops(connection, {keys[r["code"]]: r for r in taken[:capacity]}, on, units)
    walk = [d["code"] for d in depots]
    stops.sort(
        key=lambda s: (walk.index(s["depot"]) if s["depot"] in walk else len(walk), s["code"])
    )
    return {
        "on": on,
        "depot": depot,
        "depots": [{"code": d["code"], "name": d["name"]} for d in depots],
        "capacity": capacity,
        "stops": list(stops),
        "waiting": [r["code"] for r in taken[capacity:]],
        "kit": sampling_kit((s["method"], s["dipstick_to_low_mm"]) for s in stops).words(),
        "next_label": label_for(connection, ""),
        "new_oil": answers(NewOilBatch, new_oil(connection, on)),
    }


def _stops(
    connection: Connection, shown: Mapping[int, WallLine], on: date, units: Units
) -> list[StopFull]:
    """Some engines as stops; only the history of those judged since they were shown last is
    read."""
    here, days = address(connection), days_now(connection)
    judged = {
        r["id"]: (r["at"], on, days.at(shown[r["id"]]["depot"]))
        for r in rows(connection, "judged_at", ids=list(shown))
    }
    found = {i: _kept.find((here, i, units), judged.get(i)) for i in shown}
    missing = sorted(i for i, known in found.items() if known is None)
    loaded = fleet.load(connection, missing, {}, figures=False)
    for e, h in zip(loaded.engines, loaded.fleet.histories, strict=True):
        i = e["id"]
        made = stop(shown[i], e, h, loaded.plans.get(i, ()), on, loaded.tightened)
        _kept.keep((here, i, units), judged.get(i), made)
        found[i] = made
    return [known for known in found.values() if known is not None]


def one_stop(
    connection: Connection, code: str, on: date | None = None, units: Units = OWN_UNITS
) -> StopAlone | None:
    """Any engine as a stop on a day, due or not; None when there is no such engine. Without a day
    it is the present one at its depot."""
    engine = number(connection, "engine_by_code", code=code)
    if not engine:
        return None
    loaded = fleet.load(connection, [engine], {}, figures=False)
    shown = lines(connection, [engine], units)[engine]
    day = on or day_at(connection, loaded.engines[0]["depot"])
    made = stop(
        shown,
        loaded.engines[0],
        loaded.fleet.histories[0],
        loaded.plans.get(engine, ()),
        day,
        loaded.tightened,
    )
    return answer(StopAlone, {**made}, next_label=label_for(connection, code), on=day)
