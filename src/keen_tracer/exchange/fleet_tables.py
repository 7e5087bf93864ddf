"""Tables that seldom change: depots, models, engines, oils, and what is published."""

from functools import cache

from ..core.causes import failure_modes
from ..core.laboratory import ANALYTES
from ..core.limits import BASES, POLICIES, SCOPES
from ..core.terms import (
    CLASSES,
    FEATURES,
    FUELS,
    METER_UNITS,
    METHODS,
    PLAN_KINDS,
    WEEKDAYS,
)
from . import cells
from .cells import BadCell
from .table import B, N, T, Table, bottle_code


@cache
def _zones() -> frozenset[str]:
    """Every time zone; read once, for it looks into some hundreds of files."""
    from zoneinfo import available_timezones

    return frozenset(available_timezones())


def _zone(cell: str) -> str:
    if cell not in _zones():
        raise BadCell(f"{cell!r} is not a time zone", "write such as Europe/Oslo")
    return cell


def _features(cell: str) -> list[str]:
    found = cells.words(cell)
    for f in found:
        cells.one_of(*FEATURES)(f)
    return found


FLEET = (
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
            "nominal_drain_days": B("whole_days"),
            "dipstick_to_low_mm": B("stick_mm"),
            "failure_cost": B("money"),
            "serial_number": N,
            "layout": N,
            "features": _features,
        },
        ("engine", "class"),
    ),
    Table(
        "averages",
        5,
        {
            "laboratory": N,
            "model": N,
            "analyte": cells.one_of(*(a.column for a in ANALYTES)),
            "average": B("reading"),
            "at_meter": B("interval"),
            "origin": T,
            "by": N,
            "at": cells.moment,
        },
        ("laboratory", "model", "analyte", "average"),
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
            "reason": T,
        },
        ("scope", "scope_name", "policy"),
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
        "maps",
        2,
        {
            "heads": N,
            "laboratory": N,
            "layout": cells.document,
            "by": N,
            "at": cells.moment,
        },
        ("heads", "layout", "by", "at"),
    ),
)
