"""The canonical tables (docs/formats.md): columns in order, how each cell is read, which must be
there."""

import re
from dataclasses import dataclass, field

from ..core.bounds import NAME, NAMEABLE
from ..core.causes import failure_modes
from ..core.laboratory import ANALYTES
from ..core.limits import BASES, POLICIES, SCOPES
from ..core.record import debris_types
from ..core.terms import (
    ANSWERS,
    BOTTLE_STEPS,
    CASE_ENTRIES,
    CASE_FROM,
    CHANNELS,
    CLASSES,
    CONFIRMED,
    DEBRIS_AMOUNTS,
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
    WEEKDAYS,
    WORK_KINDS,
    WORK_STATES,
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


def bottle_code(cell: str) -> str:
    """A name that people type and links carry."""
    if not re.fullmatch(NAMEABLE, cell) or len(cell) > NAME:
        raise BadCell(
            f"{cell[:40]!r} cannot be a name", f"use up to {NAME} characters without / \\ ? #"
        )
    return cell


T, N, B = cells.text, cells.word, cells.bounded

_TABLES = (
    Table(
        "depots",
        1,
        {
            "depot": bottle_code,
            "name": N,
            "time_zone": _zone,
            "walking_order": B("order"),
            "daily_capacity": B("per_day"),
        },
        ("depot",),
    ),
    Table(
        "models",
        2,
        {
            "model": bottle_code,
            "class": cells.one_of(*CLASSES),
            "oil_total_l": B("capacity"),
            "sump_l": B("capacity"),
            "allowed_grades": cells.grades,
            "layout": N,
            "bearing_type": N,
            "part_materials": T,
            "sampling_point": N,
            "between_marks_l": B("between_marks"),
            "features": _features,
            "dipstick_to_low_mm": B("stick_mm"),
            "test_limits": cells.limits,
            "failure_cost": B("money"),
            "known_faults": T,
        },
        ("model", "class"),
    ),
    Table(
        "coolants",
        3,
        {
            "coolant": bottle_code,
            "Na_mg_kg": B("mg_kg"),
            "K_mg_kg": B("mg_kg"),
            "B_mg_kg": B("mg_kg"),
            "Si_mg_kg": B("mg_kg"),
            "density_kg_l": B("density"),
            "glycol_pct": B("percent"),
        },
        ("coolant",),
    ),
    Table(
        "oils",
        3,
        {"oil": bottle_code, "grade": N, "batch": N, "reference_on": cells.day},
        ("oil",),
        analytes=True,
    ),
    Table(
        "engines",
        4,
        {
            "engine": bottle_code,
            "name": N,
            "depot": N,
            "model": N,
            "class": cells.one_of(*CLASSES),
            "meter_unit": cells.one_of(*METER_UNITS),
            "sump_l": B("capacity"),
            "oil_total_l": B("capacity"),
            "carry_over_frac": B("share"),
            "allowed_grades": cells.grades,
            "oil": N,
            "fuel": cells.one_of(*FUELS),
            "coolant": N,
            "in_service_on": cells.day,
            "sampling_method": N,
            "interval_meter": B("interval"),
            "interval_days": B("whole_days"),
            "nominal_drain_meter": B("interval"),
            "dipstick_to_low_mm": B("stick_mm"),
            "failure_cost": B("money"),
        },
        ("engine", "class"),
    ),
    Table(
        "plans",
        5,
        {
            "engine": N,
            "kind": cells.one_of(*PLAN_KINDS),
            "every": B("every"),
            "method": cells.one_of(*METHODS),
            "said": N,
        },
        ("engine", "kind"),
    ),
    Table(
        "limits",
        5,
        {
            "scope": cells.one_of(*SCOPES),
            "scope_name": N,
            "analyte": cells.one_of(*(a.column for a in ANALYTES)),
            "basis": cells.one_of(*BASES),
            "watch": B("limit"),
            "act": B("limit"),
            "unit": N,
            "origin": T,
            "version": N,
        },
        ("scope", "scope_name", "analyte", "basis", "origin", "version"),
    ),
    Table(
        "policies",
        5,
        {
            "scope": cells.one_of("class", "engine"),
            "scope_name": N,
            "policy": cells.one_of(*POLICIES),
        },
        ("scope", "scope_name", "policy"),
    ),
    Table(
        "events",
        6,
        {
            "engine": N,
            "on": cells.day,
            "at": cells.clock,
            "seq": B("seq"),
            "meter": B("meter"),
            "meter_new": B("meter"),
            "kind": cells.one_of(*EVENT_KINDS),
            "litres_in": B("litres"),
            "litres_drained": B("litres"),
            "oil": N,
            "grade": N,
            "batch": N,
            "part": N,
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
            "engine": N,
            "drawn_on": cells.day,
            "meter": B("meter"),
            "drawn_at": cells.clock,
            "oil_change_meter": B("meter"),
            "oil": N,
            "method": N,
            "purpose": cells.one_of(*PURPOSES),
            "resample_of": N,
            "oil_changed_after": cells.yes_no,
            "top_up_l": B("litres"),
            "laboratory": N,
            "instrument": N,
            "analysed_on": cells.day,
            "received_on": cells.day,
            "appearance": N,
            "note": T,
            "level_on_stick": B("stick"),
            "smell": N,
        },
        ("sample", "engine", "drawn_on", "meter"),
        analytes=True,
    ),
    Table(
        "debris",
        7,
        {
            "look": bottle_code,
            "engine": N,
            "on": cells.day,
            "meter": B("meter"),
            "place": cells.one_of(*DEBRIS_PLACES),
            "tool": cells.one_of(*TOOLS),
            "area_cm2": B("area"),
            "area_total_cm2": B("area"),
            "pleats": B("pleats"),
            "pleats_total": B("pleats"),
            "both_sides": cells.yes_no,
            "drained_min": B("minutes"),
            "hours": B("meter"),
            "magnetic": cells.yes_no,
            "type": cells.one_of(*debris_types()),
            "size_class": cells.one_of(*DEBRIS_SIZES),
            "count": B("count"),
            "amount": cells.one_of(*DEBRIS_AMOUNTS),
            "mass_mg": B("mass"),
            "note": T,
        },
        ("look", "engine", "on", "place", "count"),
    ),
    Table(
        "outcomes",
        9,
        {
            "outcome": cells.identity,
            "engine": N,
            "sample": N,
            "on": cells.day,
            "found": cells.one_of("nothing", *(m.code for m in failure_modes())),
            "confirmed": cells.one_of(*CONFIRMED),
            "hours_down": B("hours_down"),
            "cost": B("money"),
            "saved": B("money"),
            "note": T,
            "piece": T,
            "by": N,
            "at": cells.moment,
        },
        ("engine", "on", "found", "confirmed", "by"),
    ),
    Table(
        "readings",
        8,
        {
            "laboratory": N,
            "report": N,
            "revision": B("revision"),
            "sample": bottle_code,
            "analyte": N,
            "reading": N,
            "unit": N,
            "method": N,
            "analysed_on": cells.day,
        },
        ("report", "sample", "analyte", "reading"),
    ),
    Table(
        "bottles",
        9,
        {
            "step": cells.identity,
            "sample": N,
            "what": cells.one_of(*BOTTLE_STEPS),
            "on": cells.day,
            "laboratory": N,
            "note": T,
            "by": N,
            "at": cells.moment,
        },
        ("step", "sample", "what", "on", "by"),
    ),
    Table(
        "answers",
        9,
        {
            "answer": cells.identity,
            "engine": N,
            "query": T,
            "code": N,
            "said": cells.one_of(*ANSWERS),
            "values": cells.facts,
            "reason": T,
            "by": N,
            "at": cells.moment,
        },
        ("answer", "engine", "query", "code", "said", "by", "at"),
    ),
    Table(
        "decisions",
        9,
        {
            "decision": cells.identity,
            "kind": cells.one_of("sign_off", "run", "amendment", "withdraw"),
            "engine": N,
            "sample": N,
            "laboratory": N,
            "report": N,
            "revision": B("revision"),
            "supersedes": cells.identity,
            "proposed": cells.level,
            "level": cells.level,
            "basis": T,
            "run_state": cells.one_of(*RUN_STATES),
            "until_meter": B("meter"),
            "until_on": cells.day_ahead,
            "lifts": cells.named,
            "found": T,
            "done": T,
            "accepted": cells.yes_no,
            "reason": T,
            "note": T,
            "by": N,
            "at": cells.moment,
        },
        ("decision", "kind", "by", "at"),
    ),
    Table(
        "stops",
        9,
        {
            "engine": N,
            "reason": T,
            "on": cells.day,
            "meter": B("meter"),
            "sample": N,
            "finding": cells.document,
        },
        ("engine", "reason", "on", "finding"),
    ),
    Table(
        "peers",
        9,
        {
            "version": N,
            "kind": cells.one_of(
                "model", "class", "engine", "laboratories", "season", "neighbours", "duty", "rise"
            ),
            "name": N,
            "other": N,
            "analyte": cells.one_of(*(a.column for a in ANALYTES)),
            "n": B("peer_count"),
            "mean": B("peer_figure"),
            "median": B("peer_figure"),
            "sd": B("peer_spread"),
            "factor": B("peer_spread"),
            "origin": T,
        },
        ("version", "kind", "name", "analyte", "origin"),
    ),
    Table(
        "weights",
        5,
        {
            "version": N,
            "mode": cells.one_of(*(m.code for m in failure_modes())),
            "evidence": N,
            "seen": B("weight"),
            "absent": B("weight"),
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
    Table(
        "pictures",
        11,
        {
            "picture": cells.identity,
            "engine": N,
            "on": cells.day,
            "kind": N,
            "look": N,
            "sha256": cells.digest,
            "caption": T,
            "by": N,
            "at": cells.moment,
        },
        ("picture", "engine", "on", "kind", "sha256", "by", "at"),
    ),
    Table(
        "lines",
        12,
        {
            "line": cells.identity,
            "picture": cells.identity,
            "kind": cells.one_of("scale", "particle", "withdraw"),
            "type": cells.one_of(*debris_types()),
            **dict.fromkeys(("x1", "y1", "x2", "y2"), B("point")),
            "known_mm": B("known_mm"),
            "known_sd_mm": B("known_sd_mm"),
            "known_from": N,
            "withdraws": cells.identity,
            "by": N,
            "at": cells.moment,
        },
        ("line", "picture", "kind", "by", "at"),
    ),
    Table(
        "cases",
        13,
        {
            "case": cells.identity,
            "engine": N,
            "name": N,
            "since": cells.day,
            "opened_from": cells.one_of(*CASE_FROM),
            "sample": N,
            "carried": cells.words,
            "by": N,
            "at": cells.moment,
        },
        ("case", "engine", "name", "since", "opened_from", "by", "at"),
    ),
    Table(
        "case_entries",
        14,
        {
            "entry": cells.identity,
            "case": cells.identity,
            "engine": N,
            "kind": cells.one_of(*CASE_ENTRIES),
            "hypothesis": N,
            "said": N,
            "words": T,
            "weight": B("weight"),
            "amount": B("money"),
            "litres_new": B("capacity"),
            "litres_trapped": B("litres"),
            "measured": B("mg_kg"),
            "target": B("mg_kg"),
            "filter_changed": cells.yes_no,
            "outcome": cells.identity,
            "follows": cells.identity,
            "withdraws": cells.identity,
            "on": cells.day,
            "by": N,
            "at": cells.moment,
        },
        ("entry", "case", "engine", "kind", "on", "by", "at"),
    ),
    Table(
        "work",
        15,
        {
            "row": cells.identity,
            "engine": N,
            "case": cells.identity,
            "kind": cells.one_of(*WORK_KINDS),
            "words": T,
            "state": cells.one_of(*WORK_STATES),
            "who": N,
            "due": cells.day_ahead,
            "hours": B("hours_down"),
            "estimate": B("money"),
            "cost": B("money"),
            "finding_on": cells.day,
            "finding_order": B("seq"),
            "finding_part": N,
            "replaces": cells.identity,
            "by": N,
            "at": cells.moment,
        },
        ("row", "engine", "kind", "words", "state", "by", "at"),
    ),
    Table(
        "moves",
        16,
        {
            "move": cells.identity,
            "engine": N,
            "task": T,
            "day": cells.day_ahead,
            "reason": T,
            "follows": cells.identity,
            "by": N,
            "at": cells.moment,
        },
        ("move", "engine", "task", "by", "at"),
    ),
    Table(
        "hours",
        2,
        {
            "depot": N,
            "starts": cells.day_of_year,
            **dict.fromkeys(WEEKDAYS, B("hours_down")),
            "by": N,
            "at": cells.moment,
        },
        ("depot", "starts", "by", "at"),
    ),
    Table(
        "links",
        13,
        {
            "link": cells.identity,
            "engine": N,
            "cause_on": cells.day,
            "cause_order": B("seq"),
            "cause_part": N,
            "effect_on": cells.day,
            "effect_order": B("seq"),
            "effect_part": N,
            "kept": cells.yes_no,
            "by": N,
            "at": cells.moment,
        },
        (
            "link",
            "engine",
            "cause_on",
            "cause_part",
            "effect_on",
            "effect_part",
            "kept",
            "by",
            "at",
        ),
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
