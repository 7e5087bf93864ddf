"""What the crews found when they opened filters, and what inspections came to in the end. All
invented."""

from datetime import date, timedelta
from typing import Any
from uuid import NAMESPACE_URL, uuid5

# engine, days before the end, place, share seen, (type, size, count)
LOOKS: list[tuple[str, int, str, float, list[tuple[str, str, int]]]] = [
    ("G-07", 330, "filter", 0.25, [("fuzz", "under 0.1", 12), ("copper_flakes", "0.1-0.5", 1)]),
    ("G-07", 190, "filter", 0.25, [("fuzz", "under 0.1", 15), ("copper_flakes", "0.1-0.5", 2)]),
    (
        "G-07",
        3,
        "filter",
        0.25,
        [
            ("fuzz", "under 0.1", 18),
            ("copper_flakes", "0.1-0.5", 34),
            ("copper_flakes", "0.5-1", 6),
        ],
    ),
    ("U-05", 110, "filter", 1.0, [("plastic", "1-3", 3), ("fuzz", "under 0.1", 9)]),
    ("G-02", 200, "filter", 0.25, [("fuzz", "under 0.1", 10)]),
    ("G-06", 150, "filter", 0.25, []),
    ("W-01", 394, "filter", 1.0, [("fibre", "1-3", 40), ("sludge", "", 1)]),
    ("P-05", 299, "strainer", 1.0, [("part_fragment", "over 3", 1)]),
]
# engine, days before the end, found, confirmed, hours down, note
OUTCOMES: list[tuple[str, int, str, str, float, str]] = [
    ("W-01", 392, "filter_bypass", "yes", 30, "Element folded in, spring missing; pan clean."),
]


def debris(end: date) -> list[dict[str, Any]]:
    """Rows of debris.csv; the crews did not write down the meter."""
    out = []
    for engine, ago, place, share, counts in LOOKS:
        on = end - timedelta(days=ago)
        head = {
            "look": f"{engine} {on}",
            "engine": engine,
            "on": on,
            "place": place,
            "tool": "roller_cutter",
            "area_cm2": round(1600 * share),
            "area_total_cm2": 1600,
        }
        rows: list[dict[str, Any]] = [
            {"type": t, "size_class": s or None, "count": n} for t, s, n in counts
        ]
        out += [{**head, "type": None, "size_class": None, **r} for r in rows or [{"count": 0}]]
    return out


def outcomes(end: date, by: str) -> list[dict[str, Any]]:
    """Rows of outcomes.csv."""
    return [
        {
            "outcome": uuid5(NAMESPACE_URL, f"skarrow/outcome/{engine}/{ago}"),
            "engine": engine,
            "on": end - timedelta(days=ago),
            "found": found,
            "confirmed": confirmed,
            "hours_down": hours,
            "note": note,
            "by": by,
        }
        for engine, ago, found, confirmed, hours, note in OUTCOMES
    ]
