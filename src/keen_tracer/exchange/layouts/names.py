"""What a heading means: one of our columns, and the unit it names."""

import re
from functools import cache, lru_cache

from ...core import tables
from ...core.laboratory import (
    ANALYTES,
    BY_COLUMN,
    BY_VOLUME,
    DENSITIES,
    SPELLING,
    UnitMismatch,
    convert,
)
from ...core.terms import REPORT_FIELDS

LONG = ("analyte", "reading")
LONGEST_HEADING = 120  # letters; what is longer is a sentence; our choice
_COUNTED = {"hours_on_oil", "meter"}  # in the meter's unit
METERS = {
    **dict.fromkeys(("h", "hr", "hrs", "hour", "hours", "std", "stunden", "heures", "horas"), "h"),
    **dict.fromkeys(("km", "kms", "kilometers", "kilometres", "kilometer"), "km"),
    **dict.fromkeys(("mi", "mile", "miles"), "mi"),
}
VOLUMES = {
    "l": "L",
    "litre": "L",
    "litres": "L",
    "liter": "L",
    "qt": "US qt",
    "us qt": "US qt",
    "quarts": "US qt",
    "gal": "US gal",
    "us gal": "US gal",
    "imp gal": "imp gal",
    "fl oz": "fl oz",
    "oz": "fl oz",
}
# As laboratories write units, beside the spellings the core converts.
_UNITS = {
    **{u.lower(): u for u in SPELLING if len(u) > 1},
    "%": "%",
    "% wt": "%",
    "%wt": "%",
    "wt %": "%",
    **dict.fromkeys(("% vol", "%vol", "vol %", "vol%", "vol.%", "vol. %", "% v/v"), BY_VOLUME),
    # Of another mass: kept, so that they are refused and a person decides.
    "mg/l": "mg/L",
    "ug/g": "ppm",
    "µg/g": "ppm",
    "mm^2/s": "cSt",
    "c st": "cSt",
    "mgkoh": "mg KOH/g",
    "mg koh": "mg KOH/g",
    "abs/cm": "A/cm",
    "a/cm": "A/cm",
    "abs/.1mm": "A/0.1mm",
    "abs/0.1mm": "A/0.1mm",
    "a/.1mm": "A/0.1mm",
    "deg c": "°C",
    "deg f": "°F",
    "°c": "°C",
    "°f": "°F",
    **METERS,
    **VOLUMES,
}
# What a heading says besides of how it was measured or in whose time: no part of its name.
_METHOD = re.compile(
    r"\b(?:(?:astm|din|iso|en|ip|asi)\s*)+[a-z]?\s*\d{2,5}\w*(?:\s\d{1,4})?\b|\bd\s?\d{3,4}[a-z]?\b"
    r"|\b(?:by\s)?(?:icp(?:\s(?:oes|aes))?|rde|xrf|ftir|ft ir|gc|kf)\b|\b(?:utc|local)\b"
)
# "Unit (h)" and "Oil (h)" are meters, by the unit behind them.
_WHOSE_METER = {
    **dict.fromkeys(("unit", "machine", "engine", "equipment"), "meter"),
    **dict.fromkeys(("oil", "lube", "fluid"), "hours_on_oil"),
}
_BESIDE_VISCOSITY = frozenset({"°C", "°F"})
_IN_BRACKETS = re.compile(r"[(\[{]([^)\]}]*)[)\]}]")
_TEMPERATURE = re.compile(r"(?:@|at|bei)?\s*\b(40|100)\s*(?:°|deg)?\s*c?\b", re.IGNORECASE)


def unit_of(text: str) -> str | None:
    """The unit a text is, as the program writes it; None where it is none.

    >>> unit_of("cst"), unit_of("mg/kg"), unit_of("Iron")
    ('cSt', 'mg/kg', None)
    """
    return _UNITS.get(" ".join(text.lower().split()).strip(".,;:"))


def plain(text: str) -> str:
    """A heading in small letters, without marks."""
    small = re.sub(r"[^\w%°µ]+", " ", text.lower().replace("_", " "))
    return " ".join(small.split())


@cache
def known() -> dict[str, str]:
    """Plain name → column of ours."""
    out: dict[str, str] = {}
    for a in ANALYTES:
        for name in (a.column, a.name, a.symbol):
            out[plain(name)] = a.column
    out |= {f: f for f in REPORT_FIELDS} | {plain(words): f for f, words in REPORT_FIELDS.items()}
    out |= {plain(r["name"]): r["target"] for r in tables.read("column_names")}
    return out


@lru_cache(maxsize=4096)
def meaning(heading: str) -> tuple[str, str]:
    """(column of ours, unit) that a heading means, "" where it says neither.

    >>> meaning("Iron (Fe)"), meaning("Visc @100C cSt"), meaning("Unit ID")
    (('Fe_ppm', ''), ('KV100_mm2_s', 'cSt'), ('engine', ''))
    >>> meaning("Hours on oil"), meaning("Comment from the laboratory's desk")
    (('hours_on_oil', 'h'), ('', ''))
    """
    if len(heading) > LONGEST_HEADING:
        return "", ""
    if heading.strip() in BY_COLUMN or heading.strip() in REPORT_FIELDS:
        return heading.strip(), ""
    unit, rest = "", heading
    for bracket in _IN_BRACKETS.finditer(heading):
        if found := unit_of(_METHOD.sub("", bracket[1].lower())):
            unit, rest = found, rest.replace(bracket[0], " ")
    if unit in METERS.values() and plain(rest) in _WHOSE_METER:
        return _WHOSE_METER[plain(rest)], METERS[unit]
    target, words = _target(plain(rest)), rest.replace(",", " ").split()
    if unit and target and not fits(target, unit):
        # A unit that is not of the test is another test; a temperature beside a viscosity is none.
        if target in BY_COLUMN and unit not in _BESIDE_VISCOSITY:
            return "", unit
        unit = ""
    for n in (2, 1):
        tail = unit_of(" ".join(words[-n:])) if len(words) > n else None
        before = _target(plain(" ".join(words[:-n]))) if tail else ""
        if tail and before and target in ("", before) and fits(before, tail):
            return before, unit or tail
    # "Miles on oil" names its unit in front.
    return target, unit or (METERS.get(plain(rest).split()[0], "") if target in _COUNTED else "")


@cache
def fits(target: str, unit: str) -> bool:
    """Whether a column can be written in a unit: 100 °C beside a viscosity is no unit of it.

    Milligrams a litre are kept beside a metal, though nothing converts them without a density.

    >>> fits("KV100_mm2_s", "cSt"), fits("KV100_mm2_s", "°C"), fits("meter", "km")
    (True, False, True)
    """
    if unit == "mg/L":
        return target in BY_COLUMN and BY_COLUMN[target].unit == "ppm"
    if unit == BY_VOLUME:
        return target in DENSITIES
    if target not in BY_COLUMN:
        return unit in METERS if target in _COUNTED else unit in VOLUMES.values() or not unit
    try:
        convert(1.0, unit, BY_COLUMN[target].unit)
    except UnitMismatch:
        return False
    return True


def _target(name: str) -> str:
    """The column that a plain name means; two names of the same thing are one."""
    if not name:
        return ""
    if name in known():
        return known()[name]
    hot = _TEMPERATURE.sub(lambda m: f" {m[1]} ", _METHOD.sub(" ", name))
    again = " ".join(hot.split())
    if again in known():
        return known()[again]
    words = again.split()
    halves = {known().get(" ".join(words[:n]), "") for n in range(1, len(words))}
    halves |= {known().get(" ".join(words[n:]), "") for n in range(1, len(words))}
    both = [
        known()[a]
        for n in range(1, len(words))
        if (a := " ".join(words[:n])) in known() and known().get(" ".join(words[n:])) == known()[a]
    ]
    return both[0] if both else ""
