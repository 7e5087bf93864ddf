"""The canonical tables (docs/formats.md): columns in order, how each cell is read, which must be
there."""

import re
from dataclasses import dataclass, field
from datetime import UTC, datetime

from ..core.causes import failure_modes
from ..core.laboratory import ANALYTES
from ..core.limits import BASES, POLICIES, SCOPES
from ..core.record import debris_types
from ..core.terms import (
    ANSWERS,
    BOTTLE_STEPS,
    CHANNELS,
    CLASSES,
    CONFIRMED,
    DEBRIS_PLACES,
    DEBRIS_SIZES,
    EVENT_KINDS,
    FEATURES,
    FUELS,
    METER_UNITS,
    METHODS,
    PLAN_KINDS,
    PURPOSES,
    RUN_STATES,
    TOOLS,
)
from . import cells
from .cells import BadCell, Parser


@dataclass(frozen=True)
class Table:
    """One kind of file. `order` is the place in which several files given together are read."""

    name: str
    order: int
    columns: dict[str, Parser]
    required: tuple[str, ...]
    analytes: bool = False
    aliases: dict[str, str] = field(default_factory=dict)
    export_only: bool = False


def _zone(cell: str) -> str:
    from zoneinfo import available_timezones

    if cell not in available_timezones():
        raise BadCell(f"{cell!r} is not a time zone", "write such as Europe/Oslo")
    return cell


def _features(cell: str) -> list[str]:
    found = cells.words(cell)
    for f in found:
        cells.one_of(*FEATURES)(f)
    return found


def _moment(cell: str) -> datetime:
    try:
        return datetime.fromisoformat(cell).astimezone(UTC)
    except ValueError:
        raise BadCell(
            f"{cell!r} is not a date with time", "write such as 2026-02-28T09:30:00+00:00"
        ) from None


def bottle_code(cell: str) -> str:
    """A name that people type and links carry."""
    if not re.fullmatch(r"[^\x00-\x1f/\\?#]{1,60}", cell):
        raise BadCell(f"{cell[:40]!r} cannot be a name", "use up to 60 characters without / \\ ? #")
    return cell


T, N, W = cells.text, cells.number, cells.whole

_TABLES = (
    Table(
        "depots",
        1,
        {
            "depot": bottle_code,
            "name": T,
            "time_zone": _zone,
            "walking_order": W,
            "daily_capacity": W,
        },
        ("depot",),
    ),
    Table(
        "models",
        2,
        {
            "model": bottle_code,
            "class": cells.one_of(*CLASSES),
            "oil_total_l": cells.above_zero,
            "sump_l": cells.above_zero,
            "allowed_grades": cells.grades,
            "layout": T,
            "bearing_type": T,
            "part_materials": T,
            "sampling_point": T,
            "between_marks_l": N,
            "features": _features,
            "dipstick_to_low_mm": cells.above_zero,
            "test_limits": cells.limits,
        },
        ("model", "class"),
    ),
    Table(
        "coolants",
        3,
        {
            "coolant": bottle_code,
            "Na_mg_kg": N,
            "K_mg_kg": N,
            "B_mg_kg": N,
            "Si_mg_kg": N,
            "density_kg_l": cells.above_zero,
            "glycol_pct": N,
        },
        ("coolant",),
    ),
    Table(
        "oils",
        3,
        {"oil": bottle_code, "grade": T, "batch": T, "reference_on": cells.day},
        ("oil",),
        analytes=True,
    ),
    Table(
        "engines",
        4,
        {
            "engine": bottle_code,
            "name": T,
            "depot": T,
            "model": T,
            "class": cells.one_of(*CLASSES),
            "meter_unit": cells.one_of(*METER_UNITS),
            "sump_l": cells.above_zero,
            "oil_total_l": cells.above_zero,
            "carry_over_frac": cells.share,
            "allowed_grades": cells.grades,
            "oil": T,
            "fuel": cells.one_of(*FUELS),
            "coolant": T,
            "in_service_on": cells.day,
            "sampling_method": T,
            "interval_meter": cells.above_zero,
            "interval_days": lambda c: int(cells.above_zero(str(W(c)))),
            "nominal_drain_meter": cells.above_zero,
            "dipstick_to_low_mm": cells.above_zero,
        },
        ("engine", "class"),
    ),
    Table(
        "plans",
        5,
        {
            "engine": T,
            "kind": cells.one_of(*PLAN_KINDS),
            "every": cells.above_zero,
            "method": cells.one_of(*METHODS),
        },
        ("engine", "kind"),
    ),
    Table(
        "limits",
        5,
        {
            "scope": cells.one_of(*SCOPES),
            "scope_name": T,
            "analyte": cells.one_of(*(a.column for a in ANALYTES)),
            "basis": cells.one_of(*BASES),
            "watch": cells.signed_number,
            "act": cells.signed_number,
            "unit": T,
            "origin": T,
            "version": T,
        },
        ("scope", "scope_name", "analyte", "basis", "origin", "version"),
    ),
    Table(
        "policies",
        5,
        {
            "scope": cells.one_of("class", "engine"),
            "scope_name": T,
            "policy": cells.one_of(*POLICIES),
        },
        ("scope", "scope_name", "policy"),
    ),
    Table(
        "events",
        6,
        {
            "engine": T,
            "on": cells.day,
            "at": cells.clock,
            "seq": W,
            "meter": N,
            "meter_new": N,
            "kind": cells.one_of(*EVENT_KINDS),
            "litres_in": N,
            "litres_drained": N,
            "oil": T,
            "grade": T,
            "batch": T,
            "part": T,
            "note": T,
            "details": cells.facts,
        },
        ("engine", "on", "kind"),
        aliases={"litres": "litres_in"},
    ),
    Table(
        "samples",
        7,
        {
            "sample": bottle_code,
            "engine": T,
            "drawn_on": cells.day,
            "meter": N,
            "drawn_at": cells.clock,
            "oil_change_meter": N,
            "oil": T,
            "method": T,
            "purpose": cells.one_of(*PURPOSES),
            "resample_of": T,
            "oil_changed_after": cells.yes_no,
            "top_up_l": N,
            "laboratory": T,
            "instrument": T,
            "analysed_on": cells.day,
            "received_on": cells.day,
            "appearance": T,
            "note": T,
            "level_on_stick": N,
            "smell": T,
        },
        ("sample", "engine", "drawn_on", "meter"),
        analytes=True,
    ),
    Table(
        "debris",
        7,
        {
            "look": bottle_code,
            "engine": T,
            "on": cells.day,
            "meter": N,
            "place": cells.one_of(*DEBRIS_PLACES),
            "tool": cells.one_of(*TOOLS),
            "area_cm2": cells.above_zero,
            "area_total_cm2": cells.above_zero,
            "pleats": W,
            "magnetic": cells.yes_no,
            "type": cells.one_of(*debris_types()),
            "size_class": cells.one_of(*DEBRIS_SIZES),
            "count": W,
            "mass_mg": N,
            "note": T,
        },
        ("look", "engine", "on", "place", "count"),
    ),
    Table(
        "outcomes",
        9,
        {
            "outcome": cells.identity,
            "engine": T,
            "sample": T,
            "on": cells.day,
            "found": cells.one_of("nothing", *(m.code for m in failure_modes())),
            "confirmed": cells.one_of(*CONFIRMED),
            "hours_down": N,
            "cost": N,
            "saved": N,
            "note": T,
            "piece": T,
            "by": T,
            "at": _moment,
        },
        ("engine", "on", "found", "confirmed", "by"),
    ),
    Table(
        "readings",
        8,
        {
            "laboratory": T,
            "report": T,
            "revision": W,
            "sample": T,
            "analyte": T,
            "reading": T,
            "unit": T,
            "method": T,
            "analysed_on": cells.day,
        },
        ("report", "sample", "analyte", "reading"),
    ),
    Table(
        "bottles",
        9,
        {
            "step": cells.identity,
            "sample": T,
            "what": cells.one_of(*BOTTLE_STEPS),
            "on": cells.day,
            "laboratory": T,
            "note": T,
            "by": T,
            "at": _moment,
        },
        ("step", "sample", "what", "on", "by"),
    ),
    Table(
        "answers",
        9,
        {
            "answer": cells.identity,
            "engine": T,
            "query": T,
            "code": T,
            "said": cells.one_of(*ANSWERS),
            "values": cells.facts,
            "reason": T,
            "by": T,
            "at": _moment,
        },
        ("answer", "engine", "query", "code", "said", "by", "at"),
    ),
    Table(
        "decisions",
        9,
        {
            "decision": cells.identity,
            "kind": cells.one_of("sign_off", "run", "amendment", "withdraw"),
            "engine": T,
            "sample": T,
            "laboratory": T,
            "report": T,
            "revision": W,
            "supersedes": cells.identity,
            "proposed": W,
            "level": W,
            "basis": T,
            "run_state": cells.one_of(*RUN_STATES),
            "until_meter": N,
            "until_on": cells.any_day,
            "lifts": cells.named,
            "found": T,
            "done": T,
            "accepted": cells.yes_no,
            "reason": T,
            "note": T,
            "by": T,
            "at": _moment,
        },
        ("decision", "kind", "by", "at"),
    ),
    Table(
        "stops",
        9,
        {
            "engine": T,
            "reason": T,
            "on": cells.day,
            "meter": N,
            "sample": T,
            "finding": cells.document,
        },
        ("engine", "reason", "on", "finding"),
    ),
    Table(
        "peers",
        9,
        {
            "version": T,
            "kind": cells.one_of(
                "model", "class", "engine", "laboratories", "season", "duty", "rise"
            ),
            "name": T,
            "other": T,
            "analyte": cells.one_of(*(a.column for a in ANALYTES)),
            "n": W,
            "mean": cells.signed_number,
            "median": cells.signed_number,
            "sd": N,
            "factor": N,
            "origin": T,
        },
        ("version", "kind", "name", "analyte", "origin"),
    ),
    Table(
        "weights",
        5,
        {
            "version": T,
            "mode": cells.one_of(*(m.code for m in failure_modes())),
            "evidence": T,
            "seen": cells.signed_number,
            "absent": cells.signed_number,
            "origin": T,
        },
        ("version", "mode", "evidence", "seen", "origin"),
    ),
    Table(
        "verdicts",
        10,
        dict.fromkeys(
            (
                "sample",
                "engine",
                "drawn_on",
                "meter",
                "proposed",
                "signed",
                "signed_by",
                "signed_on",
                *CHANNELS,
                "policy",
                "rules_version",
                "limits_version",
                "lead_hypothesis",
                "second_hypothesis",
                "may_run",
                "until_meter",
                "until_on",
                "actions",
                "checks",
                "reasons",
            ),
            T,
        ),
        ("sample", "proposed", "rules_version"),
        export_only=True,
    ),
    Table(
        "states",
        10,
        dict.fromkeys(
            (
                "engine",
                "level",
                "may_run",
                "since",
                "until_meter",
                "until_on",
                *CHANNELS,
                "lead_hypothesis",
                "second_hypothesis",
                "actions",
                "checks",
                "reasons",
                "decided_by",
            ),
            T,
        ),
        ("engine", "may_run", "reasons"),
        export_only=True,
    ),
)
TABLES = {t.name: t for t in _TABLES}


def kind_of(file_name: str, header: list[str]) -> Table | None:
    """The table a file holds: by its name, else the one whose required columns the header has
    best."""
    stem = file_name.lower().rsplit("/", 1)[-1].split(".")[0].split(" ")[0].split("-")[0]
    if stem in TABLES:
        return TABLES[stem]
    have = set(header)
    fits = [t for t in _TABLES if set(t.required) <= have]
    return max(fits, key=lambda t: len(have & set(t.columns)), default=None)
