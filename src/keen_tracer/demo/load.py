"""Write the resort's open files and take them through the public import; then sign most of the
past."""

import csv
import tempfile
from collections.abc import Callable, Iterable
from datetime import UTC, date, datetime, time, timedelta
from pathlib import Path
from typing import Any
from uuid import NAMESPACE_URL, uuid5

import numpy as np

from ..core.laboratory import ANALYTES
from ..core.roles import at_the_machine
from ..exchange.cells import NOTHING, written
from ..standins.laboratory import Laboratory
from ..storage.db import Connection, single
from ..storage.records import Row, row, rows, run, set_setting
from ..usecases.importing.files import import_files
from ..usecases.judging.judging import judge_stale
from ..usecases.judging.publishing import publish
from .desk import fill_desk
from .findings import debris, outcomes
from .resort import (
    AVERAGES,
    COOLANTS,
    DEPOTS,
    FAILURE_COST,
    KNOWN_FAULTS,
    MACHINES,
    METHODS,
    MODELS,
    OILS,
    PEOPLE,
    SERIAL_NUMBERS,
    ZONE,
    Machine,
    plans,
)
from .simulator import FRESH, METALS, EngineYears
from .stories import Stories

SEED = 20261124
# The storylines belong to the beginning of winter: the story is always told to this day, and its
# dates are laid so that they end on the day it is loaded.
STORY_ENDS = date(2026, 11, 24)
WAITING_DAYS = 13  # samples received more recently than this wait for a person
FILES = (
    "depots",
    "models",
    "coolants",
    "oils",
    "averages",
    "engines",
    "plans",
    "events",
    "samples",
    "debris",
    "outcomes",
)


def _write(folder: Path, name: str, found: Iterable[dict[str, Any]]) -> None:
    listed = list(found)
    columns = list(dict.fromkeys(k for r in listed for k in r))
    with (folder / f"{name}.csv").open("w", newline="", encoding="utf-8") as f:
        out = csv.writer(f, lineterminator="\n")
        out.writerow(columns)
        out.writerows([[written(r.get(c)) for c in columns] for r in listed])


def _oils(end: date) -> list[dict[str, Any]]:
    """A fresh-oil reference for every drum; one batch was never sampled."""
    lab, out = Laboratory("", 0.02, 1, 1, False, 0), []
    rng = np.random.default_rng([SEED, 7])
    for oil in OILS.values():
        for year in range(end.year - 3, end.year + 1):
            for half, month in (("A", 1), ("B", 7)):
                if date(year, month, 15) > end or (oil.name == "Pellan Small" and half == "B"):
                    continue
                true = dict(zip(METALS, FRESH, strict=True)) | oil.additives
                row: dict[str, Any] = {
                    "oil": oil.name,
                    "grade": oil.grade,
                    "batch": f"{year % 100}{half}",
                    "reference_on": date(year, month, 15),
                }
                row |= {
                    f"{k}_ppm": lab.reading(rng, v, 0 if v > 10 else 1, 1) for k, v in true.items()
                }
                row |= {
                    "KV40_mm2_s": round(oil.kv40 * rng.normal(1, 0.004), 1),
                    "KV100_mm2_s": round(oil.kv100 * rng.normal(1, 0.004), 2),
                    "BN_mgKOH_g": oil.bn,
                    "AN_mgKOH_g": oil.an,
                    "oxidation_A_cm": "2",
                    "nitration_A_cm": "2",
                }
                out.append(row)
    return out


def _swap_labels(samples: list[dict[str, Any]]) -> None:
    """The storyline of two swapped bottles: the newest pair of G-05 and L-07, of two oils, drawn
    within five days."""
    groomer = [s for s in samples if s["engine"] == "G-05" and "Fe_ppm" in s]
    lift = [s for s in samples if s["engine"] == "L-07" and "Fe_ppm" in s]
    pairs = [
        (a, b) for a in groomer for b in lift if abs((a["drawn_on"] - b["drawn_on"]).days) <= 5
    ]
    if not pairs:
        return
    a, b = pairs[-1]
    columns = {x.column for x in ANALYTES} & (set(a) | set(b))
    for c in columns:
        a[c], b[c] = b.get(c, ""), a.get(c, "")


def _engine(m: Machine, end: date) -> dict[str, Any]:
    """A row of engines.csv."""
    model = MODELS[m.model]
    return {
        "engine": m.code,
        "name": m.name,
        "depot": m.depot,
        "model": m.model,
        "class": model.engine_class,
        "meter_unit": model.unit,
        "oil": m.oil,
        "fuel": m.fuel,
        "coolant": None if model.engine_class == "small_air_cooled" else COOLANTS[0][0],
        "in_service_on": end + timedelta(days=m.service_day) if m.service_day else None,
        "sampling_method": METHODS.get(m.code[0], "vacuum"),
        "interval_meter": model.drain / 2,
        "interval_days": m.interval_days,
        "nominal_drain_meter": model.drain,
        "failure_cost": FAILURE_COST.get(m.code[0]),
        "serial_number": SERIAL_NUMBERS.get(m.code),
    }


def _write_averages(folder: Path) -> None:
    """What a laboratory prints as usual for a model."""
    laboratory, model, at, figures = AVERAGES
    _write(
        folder,
        "averages",
        [
            {
                "laboratory": laboratory,
                "model": model,
                "analyte": column,
                "average": average,
                "at_meter": at,
                "origin": "printed on its sheets",
            }
            for column, average in figures.items()
        ],
    )


def _write_machines(folder: Path, end: date) -> None:
    """Depots, models, coolants, engines and plans."""
    _write(
        folder,
        "depots",
        [
            {"depot": c, "name": n, "time_zone": ZONE, "walking_order": w, "daily_capacity": k}
            for c, n, w, k in DEPOTS
        ],
    )
    _write(
        folder,
        "models",
        [
            {
                "model": m.code,
                "class": m.engine_class,
                "oil_total_l": m.oil_total_l,
                "sump_l": m.sump_l,
                "allowed_grades": m.grades,
                "layout": m.layout,
                "bearing_type": m.bearings,
                "part_materials": m.materials,
                "features": m.features,
                "dipstick_to_low_mm": m.stick_mm,
                "between_marks_l": m.marks_l,
                "known_faults": KNOWN_FAULTS.get(m.code),
            }
            for m in MODELS.values()
        ],
    )
    _write(
        folder,
        "coolants",
        [
            {
                "coolant": name,
                "Na_mg_kg": na,
                "K_mg_kg": k,
                "B_mg_kg": b,
                "Si_mg_kg": si,
                "density_kg_l": 1.07,
                "glycol_pct": 50,
            }
            for name, na, k, b, si in COOLANTS
        ],
    )
    _write_averages(folder)
    _write(folder, "engines", [_engine(m, end) for m in MACHINES])
    _write(
        folder,
        "plans",
        [
            {"engine": m.code, "kind": kind, "every": every}
            for m in MACHINES
            for kind, every in plans(m)
        ],
    )


def _laid(found: Iterable[dict[str, Any]], by: timedelta) -> list[dict[str, Any]]:
    """Rows with every date so many days later."""
    return [{k: v + by if isinstance(v, date) else v for k, v in row.items()} for row in found]


def write_files(folder: Path, end: date) -> None:
    """The resort as open files: the same story for every date, told so that it ends there."""
    stories, events, samples = Stories(), [], []
    for machine in MACHINES:
        years = EngineYears(machine, STORY_ENDS, SEED, stories)
        years.run()
        events += years.events
        samples += years.samples
    _swap_labels(samples)
    samples.sort(key=lambda s: (s["drawn_on"], s["engine"]))
    for n, s in enumerate(samples):
        s["sample"] = str(1201 + n)
    later = end - STORY_ENDS
    _write_machines(folder, end)
    _write(folder, "oils", _laid(_oils(STORY_ENDS), later))
    _write(folder, "events", _laid(events, later))
    _write(folder, "samples", _laid(samples, later))
    _write(folder, "debris", debris(end))
    _write(folder, "outcomes", outcomes(end, PEOPLE[0][0]))


def _decision(kind: str, name: str, at: date, by: str, **more: Any) -> dict[str, Any]:
    moment = datetime.combine(at, time(9, 30), UTC)
    return {
        "decision": uuid5(NAMESPACE_URL, f"skarrow/{kind}/{name}/{at}"),
        "kind": kind,
        "by": by,
        "at": moment,
        **more,
    }


def _sign_offs(found: list[Row], end: date) -> list[dict[str, Any]]:
    """Past verdicts signed by the analyst, a few of them changed with a reason."""
    out = []
    for r in found:
        received = r["received_on"] or r["on_date"] + timedelta(days=6)
        if (end - received).days < WAITING_DAYS or r["level"] is None or r["input_hash"] is None:
            continue
        level, reason = r["level"], ""
        if r["engine"] == "G-04" and level and (end - r["on_date"]).days > 100:
            level, reason = 0, "Sealant after the rebuild: silicon without aluminium, falling."
        out.append(
            _decision(
                "sign_off",
                r["sample"],
                min(received + timedelta(days=2), end),
                PEOPLE[0][0],
                sample=r["sample"],
                proposed=r["level"],
                level=level,
                basis=r["input_hash"],
                reason=reason,
            )
        )
    return out


def _known(connection: Connection, engine: str, on: date) -> list[str]:
    """Keys of the reasons that were known of an engine on a day: what a release of that day could
    name."""
    found = row(connection, "engine_by_code", code=engine)
    assert found is not None
    raised = {
        r["key"]: r["on_date"] for r in rows(connection, "raised_stops", engines=[found["id"]])
    }
    held = row(connection, "state_of_engine", engine=found["id"])
    stands = held["state"]["reasons"] if held else []
    raised |= {r["key"]: date.fromisoformat(r["on"]) for r in stands}
    return sorted(key for key, known in raised.items() if known <= on)


# Engine, days ago, what was decided, why; for a release what was found and done; for a restriction
# how much further it may run, and for how many days.
RUN_DECISIONS: tuple[dict[str, Any], ...] = (
    {
        "engine": "W-01",
        "days": 395,
        "run_state": "hold",
        "reason": "Filter collapsed. Pan off before it runs again.",
    },
    {
        "engine": "W-01",
        "days": 392,
        "run_state": "release",
        "found": "Filter core folded, bypass stuck; pan clean.",
        "done": "Filter head renewed, oil and filter changed, resample steady.",
    },
    {"engine": "P-05", "days": 300, "run_state": "hold", "reason": "Fragment on the strainer."},
    {
        "engine": "P-05",
        "days": 295,
        "run_state": "release",
        "found": "One steel chip, no part of it missing from the engine.",
        "done": "Strainer and pan cleaned. Watch the strainer at every drain.",
    },
    {
        "engine": "L-11",
        "days": 5,
        "run_state": "release",
        "found": "Thermostat stuck open, fuel in the oil after cold short runs.",
        "done": "Thermostat renewed, oil and filter changed, run warm for an hour.",
    },
    {
        "engine": "P-03",
        "days": 2,
        "run_state": "restrict",
        "further": 90.0,
        "for_days": 6,
        "reason": "Cooler ordered. Coolant level checked at every start, oil drained from the "
        "bottom first.",
    },
    {
        "engine": "G-07",
        "days": 1,
        "run_state": "hold",
        "reason": "Copper flakes in the filter. Open the sump before any start.",
    },
)


def _run_decisions(connection: Connection, end: date) -> list[dict[str, Any]]:
    """What the releaser decided, each naming what it lifts."""
    out: list[dict[str, Any]] = []
    standing: dict[str, Any] = {}
    for said in RUN_DECISIONS:
        engine, on = said["engine"], end - timedelta(days=said["days"])
        more: dict[str, Any] = {
            k: said[k] for k in ("run_state", "reason", "found", "done") if k in said
        }
        if said["run_state"] != "hold":
            more["lifts"] = ";".join(_known(connection, engine, on)) or NOTHING
        if "further" in said:
            dial = row(connection, "dial_on", engine=engine, on=end)
            more["until_meter"] = round(float(dial["before"]) + said["further"]) if dial else ""
            more["until_on"] = end + timedelta(days=said["for_days"])
        if engine in standing:
            more["supersedes"] = standing[engine]
        one = _decision("run", engine, on, PEOPLE[2][0], engine=engine, **more)
        standing[engine] = one["decision"]
        out.append(one)
    return out


def load(url: str, end: date, tell: Callable[[str], None]) -> None:
    """Load the resort into an empty database; every row goes through the public import."""
    with tempfile.TemporaryDirectory(prefix="keen-demo-") as name:
        folder = Path(name)
        tell("simulating three years at Skarrow Fell")
        write_files(folder, end)
        tell("importing its open files")
        _import(url, [folder / f"{n}.csv" for n in FILES])
        tell("judging every sample")
        judge_stale(url)
        with single(url) as connection:
            publish(connection, "demo")
        judge_stale(url)
        with single(url) as connection:
            found = rows(connection, "demo_verdicts")
            for person, role in PEOPLE:
                run(connection, "person_put", name=person, role=role)
            decided = _run_decisions(connection, end)
        _write(folder, "decisions", [*_sign_offs(found, end), *decided])
        tell("signing most of the past")
        _import(url, [folder / "decisions.csv"])
        judge_stale(url)
        tell("laying out the bench")
        with single(url) as connection:
            fill_desk(connection, end)
            set_setting(connection, "demo_loaded", end.isoformat())
        judge_stale(url)


def _import(url: str, paths: list[Path]) -> None:
    report = import_files(url, [(p.name, p) for p in paths], at_the_machine("demo"), as_record=True)
    if not report.written:
        first = report.problems[0]
        raise RuntimeError(f"the demo's own files were refused: {first}")
