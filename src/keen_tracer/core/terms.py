"""The vocabulary of the trade: every list of choices there is, each code with its words.

One fact, one place. The core reads these codes, files are checked by them, the API serves them, and
the pages draw what it serves (`web/src/lib/api/terms.ts` is made from them by `./keen types`).
A test fails when a second list appears. What the words *do* to a verdict stands in `tables/`:
`seen_and_heard.csv` for symptoms and looks, `debris_types.csv`, `field_checks.csv`.

Codes are stored: a code may be added, never renamed without a migration.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal

# code → words, in the order they are offered
Vocabulary = Mapping[str, str]

LEVELS: tuple[str, ...] = ("Steady", "Watch", "Act", "Stop")
CHANNELS: Vocabulary = {
    "wear": "Wear",
    "dirt": "Dirt",
    "coolant": "Coolant",
    "fuel": "Fuel",
    "thickness": "Thickness",
    "oil_life": "Oil life",
    "debris": "Debris",
}
CHANNEL_LETTERS: Vocabulary = dict(zip(CHANNELS, "WDCFTLB", strict=True))

CLASSES: Vocabulary = {
    "heavy_diesel": "heavy diesel",
    "light_diesel": "light diesel",
    "petrol": "petrol",
    "small_air_cooled": "small air-cooled",
    "gas": "gas",
    "two_stroke": "two-stroke",
    "gearbox_shared": "shared-oil gearbox",
    "other": "other engines",
}
FUELS: Vocabulary = {
    "diesel": "diesel",
    "biodiesel_blend": "diesel with biodiesel",
    "residual": "residual fuel",
    "petrol": "petrol",
    "petrol_leaded": "leaded petrol",
    "petrol_ethanol": "petrol with ethanol",
    "natural_gas": "natural gas",
    "biogas": "biogas",
}
METER_UNITS: Vocabulary = {"h": "hours", "km": "kilometres", "mi": "miles", "outing": "outings"}
FEATURES: Vocabulary = {
    "particulate_filter": "particulate filter",
    "direct_injection": "direct injection",
    "silver_bearings": "silver-bearing parts",
    "rolling_bearings": "rolling bearings",
    "air_cooled": "cooled by air",
    "at_sea": "cooled by sea water",
    "no_turbocharger": "no turbocharger",
    "carburettor": "carburettor",
    "air_compressor": "air compressor on its oil",
    "no_oil_filter": "no oil filter to open",
    "no_gauge": "no place for a pressure gauge",
    "no_egr_cooler": "no cooler of returned exhaust",
    "no_laboratory": "no laboratory is used",
    # What is lost of the oil evaporates and leaves its metal behind: φ 0 of the-trade 3.5.
    "evaporating_oil": "oil is lost by evaporation",
}

# What makes a check impossible and anybody at the engine can see: asked where it is offered.
LACKS = (
    "no_gauge",
    "no_oil_filter",
    "no_turbocharger",
    "no_laboratory",
    "air_cooled",
)

# In the order people need them at the engine.
EVENT_KINDS: Vocabulary = {
    "oil_change": "oil change",
    "top_up": "top-up",
    "filter_change": "filter change",
    "meter_reading": "meter reading",
    "meter_replaced": "meter replaced",
    "repair": "repair",
    "symptom": "symptom",
    "field_check": "field check",
    "overheating": "overheating",
    "coolant_top_up": "coolant top-up",
    "coolant_change": "coolant change",
    "rebuild": "rebuild",
    "storage_start": "into storage",
    "storage_end": "out of storage",
    "failure": "failure",
    "finding": "found in the opened engine",
}
# What happens to a bottle is drawn on the engine's trace too, but logged with the bottle.
BOTTLE_EVENTS: Vocabulary = {"bottle_lost": "bottle lost", "bottle_broken": "bottle broken"}

# Those that stop the engine by themselves come first.
SYMPTOMS: Vocabulary = {
    "knock": "knock",
    "low_oil_pressure_hot": "low oil pressure, hot, by gauge",
    "oil_lamp_hot_idle": "oil lamp at hot idle",
    "coolant_in_sump": "coolant in the sump",
    "level_rising": "level above full and rising",
    "level_rising_coolant": "level rising while coolant is lost",
    "bearing_flakes": "bearing flakes in filter or pan",
    "chunks": "chunk in filter or pan",
    "part_fragment": "part fragment in filter or pan",
    "filter_collapsed": "filter collapsed",
    "pickup_blocked": "oil pick-up blocked",
    "wet_cylinder": "liquid in a cylinder",
    "noise": "noise",
    "oil_pressure": "oil pressure, cold and hot",
    "smoke": "smoke",
    "blow_by": "blow-by",
    "power_down": "less power",
    "coolant_use": "uses coolant",
    "level_falling": "level falling",
    "lamp_in_corners": "oil lamp in corners or on slopes",
    "other": "something else",
}
SMOKES: Vocabulary = {"black": "black", "blue": "blue", "white": "white"}
HEARD: Vocabulary = {
    word: word
    for word in (
        "cold start, gone in seconds",
        "cold",
        "hot idle",
        "under load",
        "on the overrun",
        "always",
    )
}
AIR_HEARD: Vocabulary = {
    "nowhere": "nowhere",
    "crankcase": "crankcase, oil filler",
    "intake": "intake",
    "exhaust": "exhaust",
    "coolant": "bubbles in the coolant",
}
PRESSURE_UNITS: Vocabulary = {
    "bar": "bar",
    "psi": "psi",
    "kPa": "kPa",
    "mbar": "mbar",
    "inH2O": "inches of water",
}
VOLUME_UNITS: Vocabulary = {
    "L": "litres",
    "mL": "millilitres",
    "US qt": "US quarts",
    "US gal": "US gallons",
    "imp gal": "imperial gallons",
    "fl oz": "US fluid ounces",
}
TEMPERATURE_UNITS: Vocabulary = {"°C": "degrees Celsius", "°F": "degrees Fahrenheit"}
DISTANCE_UNITS: Vocabulary = {"km": "kilometres", "mi": "miles"}
# What a person chooses a unit of, the program's own unit first in each.
SHOWN_UNITS: Mapping[str, Vocabulary] = {
    "volume": VOLUME_UNITS,
    "temperature": TEMPERATURE_UNITS,
    "distance": DISTANCE_UNITS,
    "pressure": PRESSURE_UNITS,
}
# How people write them; a bare gallon is nobody's, two are in use.
UNIT_SPELLINGS: Mapping[str, str] = {
    "l": "L",
    "litre": "L",
    "litres": "L",
    "liter": "L",
    "liters": "L",
    "ml": "mL",
    "cc": "mL",
    "qt": "US qt",
    "quart": "US qt",
    "quarts": "US qt",
    "usgal": "US gal",
    "impgal": "imp gal",
    "ukgal": "imp gal",
    "oz": "fl oz",
    "floz": "fl oz",
    "c": "°C",
    "f": "°F",
    "mile": "mi",
    "miles": "mi",
    "kilometers": "km",
    "kilometres": "km",
}
FILTER_AT_CHANGE: Vocabulary = {"changed too": "changed too", "left in": "left in"}

APPEARANCES: Vocabulary = {
    "dark": "even, dark",
    "amber": "amber, clear",
    "grey": "grey, fuel smell",
    "emulsion": "creamy, milky",
    "specks": "shiny specks",
    "grit": "dull black grit",
    "coolant_visible": "coolant below",
    "mud": "thick like mud",
    "chunks": "pieces in it",
}
# What a look hints at, and the smell that comes with it.
APPEARANCE_HINTS: Vocabulary = {
    "dark": "usual",
    "amber": "fresh",
    "grey": "fuel?",
    "emulsion": "water or coolant",
    "specks": "metal?",
    "grit": "lining or carbon?",
    "coolant_visible": "layer at the bottom",
    "mud": "with free coolant",
    "chunks": "keep them",
}
APPEARANCE_SMELLS: Vocabulary = {"grey": "fuel"}
SMELLS: Vocabulary = {"": "not said", "fuel": "fuel", "sweet": "sweet", "burnt": "burnt"}
# Share of the way from the low mark (0) to the full mark (1) → words; our choice of places.
STICK_LEVELS: Mapping[float, str] = {
    -0.2: "below low",
    0.5: "between",
    1.0: "full",
    1.3: "above full",
}

DrawPurpose = Literal["routine", "resample", "post_repair"]
PURPOSES: Vocabulary = {
    "routine": "routine",
    "resample": "resample",
    "post_repair": "after repair",
    "reference": "fresh-oil reference",
}
Method = Literal["valve", "vacuum", "drain_stream"]
MaybeMethod = Literal["", "valve", "vacuum", "drain_stream"]
METHODS: Vocabulary = {
    "valve": "valve, engine running",
    "vacuum": "vacuum, through the dipstick",
    "drain_stream": "drain stream",
}
# The same inside a sentence: "It was drawn …".
METHODS_DRAWN: Vocabulary = {
    "valve": "at the valve",
    "vacuum": "by vacuum",
    "drain_stream": "from the drain stream",
}

DEBRIS_PLACES: Vocabulary = {
    "filter": "filter",
    "bypass_filter": "bypass filter",
    "catch_screen": "catch screen",
    "plug": "magnetic plug",
    "pan": "pan",
    "strainer": "strainer",
    "cooler": "cooler",
    "drained_oil": "drained oil",
    "slide": "slide under a microscope",
    "gearbox_oil": "gearbox oil",
}
LayoutKind = Literal["line", "vee", "opposed"]
LAYOUTS: Vocabulary = {"line": "in line", "vee": "vee", "opposed": "opposed"}
LENGTH_UNITS: Vocabulary = {"mm": "mm", "inch": "inch", "thou": "thousandths of an inch"}
MM_PER: Mapping[str, float] = dict(zip(LENGTH_UNITS, (1.0, 25.4, 0.0254), strict=True))
# What the readings of one finding come to: computed from several, or read as they stand.
MEASURES: Vocabulary = {
    "out_of_round": "out of round",
    "taper": "taper",
    "oil_clearance": "oil clearance",
    "piston_clearance": "piston clearance",
    "strip": "clearance by gauging strip",
    "side_clearance": "side clearance",
    "end_float": "end float",
    "ring_gap": "ring gap",
    "inlet_valve": "inlet valve clearance",
    "exhaust_valve": "exhaust valve clearance",
    "figure": "measured",
}
# Those that are read as they stand, without arithmetic.
READ_AS_IT_STANDS: tuple[str, ...] = tuple(MEASURES)[4:]
# Where nobody can count.
DEBRIS_AMOUNTS: Vocabulary = {"dusting": "a dusting", "covers": "covers the surface"}
# How much there is to see of a place: its pleats, its area, or all of it at once.
SURFACES: Vocabulary = {"pleats": "pleats", "area": "cm²", "whole": "all of it"}
DEBRIS_SIZES: Vocabulary = {  # mm; our choice of classes
    "under 0.1": "under 0.1 mm",
    "0.1-0.5": "0.1 to 0.5 mm",
    "0.5-1": "0.5 to 1 mm",
    "1-3": "1 to 3 mm",
    "over 3": "over 3 mm",
}
TOOLS: Vocabulary = {
    "roller_cutter": "roller cutter",
    "snips": "snips",
    "saw": "saw, which adds its own chips",
    "wipe": "cloth",
}

PlanKind = Literal[
    "meter",
    "days",
    "drain",
    "half_drain",
    "outing",
    "after_repair",
    "points",
    "season",
    "sessions",
]
PLAN_KINDS: Vocabulary = {
    "meter": "every so much of the meter",
    "days": "every so many days",
    "drain": "before every oil change",
    "half_drain": "halfway to the oil change",
    "outing": "after every outing",
    "after_repair": "some time after a repair",
    "points": "at fixed points of the meter",
    "season": "before the season",
    "sessions": "at most so many trainings and races",
}
SESSIONS: Vocabulary = {"training": "training", "race": "race"}

# A rule in force, as the facts of an engine list it; {every} is a figure, {unit} the meter's,
# {said} what the rule says besides.
PLAN_RULES: Vocabulary = {
    "meter": "every {every} {unit}",
    "days": "every {every} days",
    "drain": "before every oil change",
    "half_drain": "halfway to the oil change",
    "outing": "after every outing",
    "after_repair": "{every} {unit} after a repair",
    "points": "at {said} {unit}",
    "season": "before {said} every year",
    "sessions": "after {said}",
}

# Why a sample is due by such a plan; {every} is a figure, {unit} the meter's.
PLAN_REASONS: Vocabulary = {
    "meter": "{every} {unit} since the last sample",
    "days": "{every} days since the last sample",
    "drain": "before the oil change",
    "half_drain": "halfway to the oil change",
    "outing": "after every outing",
    "after_repair": "{every} {unit} after the repair",
    "points": "at a fixed point of the meter",
    "season": "before the season",
    "sessions": "after so many trainings or races",
}

# How the engine stands after the work that is followed.
FollowedWord = Literal["waiting", "not_steady", "steady"]
FOLLOWED: Vocabulary = {
    "waiting": "not known yet",
    "not_steady": "not steady: the newest sample is raised",
    "steady": "steady again: two quiet samples",
}

# Whose usage a forecast counts with.
UsageBy = Literal["own", "season", "class", "storage"]
USAGE_BY: Vocabulary = {
    "own": "",
    "season": "as before it was put away",
    "class": "as its class, until its own meter was read on three days over two weeks",
    "storage": "with the storage it had a year before",
}

Role = Literal["technician", "analyst", "releaser", "admin"]
ROLES: Vocabulary = {
    "technician": "technician",
    "analyst": "analyst",
    "releaser": "releaser",
    "admin": "administrator",
}

# What a check does to the engine; under Stop only those at rest are offered.
EngineAt = Literal["rest", "cranked", "running"]
ENGINE_AT: Vocabulary = {
    "rest": "engine at rest",
    "cranked": "engine is barred or cranked",
    "running": "engine runs",
}
# May it run? One state per engine.
MayRun = Literal["do_not_run", "past_its_time", "not_judged", "run_until", "runs", "unknown"]
MAY_RUN: Vocabulary = {
    "do_not_run": "Do not run",
    "past_its_time": "Past its time",
    "not_judged": "Cannot be judged",
    "run_until": "Runs until",
    "runs": "Runs",
    "unknown": "Not judged yet",
}
# Of those, the ones in which nothing may turn the engine.
HALTED = frozenset({"do_not_run", "past_its_time", "not_judged"})
# How a fact of an engine is known; `figures` are those of a laboratory.
FactKindCode = Literal["seen", "heard", "measured", "figures"]
FACT_KINDS: Vocabulary = {
    "seen": "seen",
    "heard": "heard, smelt or felt",
    "measured": "measured at the engine",
    "figures": "figures of the laboratory",
}
RunState = Literal["hold", "restrict", "release"]
RUN_STATES: Vocabulary = {
    "hold": "do not run",
    "restrict": "runs until a meter",
    "release": "released",
}
BottleStep = Literal["sent", "received", "lost", "broken", "found"]
BOTTLE_STEPS: Vocabulary = {
    "sent": "sent",
    "received": "at the laboratory",
    "lost": "lost",
    "broken": "broken",
    "found": "found again",
}
Answer = Literal["stands", "corrected", "asked"]
ANSWERS: Vocabulary = {
    "stands": "left as it is",
    "corrected": "corrected",
    "asked": "somebody is asked",
}
Confirmed = Literal["yes", "no", "unclear"]
CONFIRMED: Vocabulary = {"yes": "the alarm was right", "no": "wrong alarm", "unclear": "unclear"}

# Where a case was opened.
CASE_FROM: Vocabulary = {
    "sample": "a sample",
    "run": "a Stop",
    "look": "a look",
    "opened": "the opened engine",
    "symptom": "a symptom",
    "engine": "the engine's page",
}
# What people add to a case.
CaseEntryKind = Literal[
    "hypothesis",
    "evidence",
    "set_aside",
    "step",
    "way_out",
    "fill",
    "note",
    "rename",
    "close",
    "reopen",
    "withdraw",
]
CASE_ENTRIES: Vocabulary = {
    "hypothesis": "another explanation",
    "evidence": "evidence",
    "set_aside": "set aside",
    "step": "leak isolation",
    "way_out": "a way out and its sum",
    "fill": "a fill of the flush",
    "note": "note",
    "rename": "named anew",
    "close": "closed",
    "reopen": "opened again",
    "withdraw": "taken back",
}
CaseEnd = Literal["confirmed", "save", "nothing_found", "unresolved", "wrong_alarm", "by_mistake"]
CASE_ENDS: Vocabulary = {
    "confirmed": "confirmed",
    "save": "a save: caught before it failed",
    "nothing_found": "nothing found",
    "unresolved": "unresolved, the piece is kept",
    "wrong_alarm": "wrong alarm",
    "by_mistake": "opened by mistake",
}
# What such an end says of the alarms before it, of CONFIRMED; one opened by mistake says nothing.
END_CONFIRMS: Mapping[str, Confirmed] = {
    "confirmed": "yes",
    "save": "yes",
    "nothing_found": "unclear",
    "unresolved": "unclear",
    "wrong_alarm": "no",
}
# How strongly somebody's own evidence speaks, in log-odds; our choice: as the table's weights do.
WEIGHS: Mapping[float, str] = {
    2.5: "all but proves it",
    1.2: "speaks for it",
    -1.2: "speaks against it",
    -2.5: "all but rules it out",
}
TaskKind = Literal["sample", "follow", "drain", "action", "check", "decide", "bottle", "work"]
TASK_KINDS: Vocabulary = {
    "sample": "sample",
    "follow": "sample after repair",
    "drain": "oil change",
    "action": "what is asked",
    "check": "check",
    "decide": "decision",
    "bottle": "bottle expected",
    "work": "work",
}
WEEKDAYS: tuple[str, ...] = (
    "monday",
    "tuesday",
    "wednesday",
    "thursday",
    "friday",
    "saturday",
    "sunday",
)
WorkKind = Literal["renew", "machine", "clean", "check_again", "leave"]
WORK_KINDS: Vocabulary = {
    "renew": "renew",
    "machine": "machine",
    "clean": "clean",
    "check_again": "check again",
    "leave": "leave as it is",
}
# Where each stands in the order of work, from 1; what is left as it is has no place in it.
WORK_STAGES: dict[str, int] = {"check_again": 1, "machine": 2, "clean": 3, "renew": 4}
WorkState = Literal["open", "decided", "done", "dropped"]
WORK_STATES: Vocabulary = {
    "open": "to decide",
    "decided": "decided",
    "done": "done",
    "dropped": "dropped",
}

# What a column of a laboratory's file can stand for besides a figure; the last three are of a file
# with a figure a row.
REPORT_FIELDS: Vocabulary = {
    "sample": "bottle",
    "report": "report",
    "engine": "engine",
    "drawn_on": "day drawn",
    "received_on": "day received",
    "analysed_on": "day analysed",
    "meter": "meter",
    "meter_unit": "unit of the meter",
    "compartment": "part of the machine",
    "hours_on_oil": "hours on the oil",
    "oil_change_meter": "meter at the oil change",
    "oil": "oil",
    "top_up_l": "topped up",
    "oil_changed_after": "oil changed after",
    "laboratory": "laboratory",
    "depot": "depot",
    "model": "model",
    "name": "name of the engine",
    "note": "note",
    "analyte": "which figure",
    "reading": "the figure",
    "unit": "its unit",
}
# How a laboratory's file is laid out: which way its samples run, how figures and days are written.
LayoutWay = Literal["rows", "columns", "form"]
LAYOUT_WAYS: Vocabulary = {
    "rows": "a sample a row",
    "columns": "a sample a column",
    "form": "a sample a sheet, in pairs",
}
# A row with figures and no engine, as under a merged cell: the engine above, or nobody's.
BlankEngine = Literal["", "above", "out"]
BLANK_ENGINES: Vocabulary = {"above": "the engine above", "out": "nobody's, left out"}
DecimalMark = Literal["", "point", "comma"]
DECIMAL_MARKS: Vocabulary = {"point": "1.5 (1,250 is 1250)", "comma": "1,5 (1.250 is 1250)"}
DaysWritten = Literal["", "iso", "day_first", "month_first"]
DAYS_WRITTEN: Vocabulary = {
    "iso": "year first",
    "day_first": "day first, 31/12",
    "month_first": "month first, 12/31",
}
WaterUnit = Literal["", "%", "ppm"]
WATER_UNITS: Vocabulary = {"%": "%", "ppm": "ppm"}

# Groups of the Wall, worst first.
GROUPS: Vocabulary = {
    "do_not_run": "Do not run",
    "not_judged": "Cannot be judged",
    "act": "Act",
    "watch": "Watch",
    "overdue": "Overdue",
    "quiet": "Quiet",
}
# Ways to order the Wall, and its groups where it is ordered by what an engine stands to lose.
WallOrder = Literal["need", "depot", "risk"]
STAKES: Vocabulary = {
    "priced": "What it is expected to cost to leave them alone",
    "not_priced": "Nobody said what a failure costs",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Detail:
    """A named fact that may be written beside an event: of one kind, and of some of its parts.

    choices : codes with words, or None for a number from `low` to `high` in `unit`. The bounds are
        wide: they catch a slip or another unit (°F, psi), not a bad engine; our choice.
    said : how it reads in one line of the log
    many : several numbers, one a cylinder
    pressure : the number is in the unit of the detail `pressure_unit`, in `unit` where none is said
    """

    name: str
    words: str
    kind: str
    parts: tuple[str, ...]
    said: str
    choices: Vocabulary | None = None
    low: float = 0.0
    high: float = 0.0
    unit: str = ""
    many: bool = False
    pressure: bool = False

    @property
    def shown(self) -> bool:
        """Whether a person may choose the unit it is shown in."""
        return any(next(iter(units)) == self.unit for units in SHOWN_UNITS.values())


def _of_symptom(name: str, words: str, said: str, *parts: str, **more: Any) -> Detail:
    return Detail(name=name, words=words, said=said, kind="symptom", parts=parts, **more)


def _of_change(name: str, words: str, said: str, **more: Any) -> Detail:
    return Detail(name=name, words=words, said=said, kind="oil_change", parts=(), **more)


def _of_check(name: str, words: str, said: str, *parts: str, **more: Any) -> Detail:
    return Detail(name=name, words=words, said=said, kind="field_check", parts=parts, **more)


_BAR: dict[str, Any] = {"high": 20, "unit": "bar", "pressure": True}
_TESTER: dict[str, Any] = {"high": 5, "unit": "bar", "pressure": True}


def _found(name: str, words: str, said: str, **more: Any) -> Detail:
    return Detail(name=name, words=words, said=said, kind="finding", parts=(), **more)


_LENGTHS: dict[str, Any] = {"low": 0.0001, "high": 4000, "many": True}

DETAILS: tuple[Detail, ...] = (
    _found("order", "Found as number", "found as number {}", low=1, high=999),
    _found("position", "Which one", "number {}", low=1, high=32),
    _found("share_pct", "Share of its surface, %", "{} % of it", high=100),
    _found("length_unit", "Measured in", "in {}", choices=LENGTH_UNITS),
    _found("journal_front", "Journal, front, at 0 45 90 135°", "journal front {}", **_LENGTHS),
    _found("journal_rear", "Journal, rear, at the same angles", "journal rear {}", **_LENGTHS),
    _found("bore", "Housing bore", "bore {}", **_LENGTHS),
    _found("shell", "Shells, thickness", "shells {}", **_LENGTHS),
    _found("figure", "Measured", "measured {}", **_LENGTHS),
    _found("bore_top", "Bore, top, at 0 45 90 135°", "bore, top {}", **_LENGTHS),
    _found("bore_bottom", "Bore, bottom, at the same angles", "bore, bottom {}", **_LENGTHS),
    _found("piston", "Piston, across the skirt", "piston {}", **_LENGTHS),
    *(
        _found(code, words[0].upper() + words[1:], f"{words} {{}}", **_LENGTHS)
        for code, words in MEASURES.items()
        if code in READ_AS_IT_STANDS and code != "figure"
    ),
    *(
        _found(f"{code}_{end}", f"{words}, {said}", f"{words} {said} {{}}", high=4000)
        for code, words in MEASURES.items()
        for end, said in (("low", "at least"), ("high", "at most"))
    ),
    _found("limit_low", "Least allowed", "at least {}", high=4000),
    _found("limit_high", "Most allowed", "at most {}", high=4000),
    Detail(
        name="starts",
        words="Starts since the last reading",
        kind="meter_reading",
        parts=(),
        said="{} starts",
        high=100_000,
    ),
    Detail(
        name="session",
        words="What for",
        kind="meter_reading",
        parts=(),
        said="{}",
        choices=SESSIONS,
    ),
    _of_symptom("heard", "When it is heard", "heard {}", "noise", "knock", choices=HEARD),
    _of_symptom(
        "pressure_cold_bar",
        "Oil pressure cold",
        "{} cold",
        "oil_pressure",
        "low_oil_pressure_hot",
        high=20,
        unit="bar",
    ),
    _of_symptom(
        "pressure_hot_bar",
        "Oil pressure hot",
        "{} hot",
        "oil_pressure",
        "low_oil_pressure_hot",
        high=20,
        unit="bar",
    ),
    _of_symptom("smoke", "Which smoke", "{}", "smoke", choices=SMOKES),
    _of_symptom("coolant_l", "Coolant used", "{} of coolant", "coolant_use", high=1000, unit="L"),
    _of_symptom("largest", "Largest of them", "largest {}", "bearing_flakes", choices=DEBRIS_SIZES),
    _of_change("filter", "Filter", "filter {}", choices=FILTER_AT_CHANGE),
    _of_change(
        "drained_c",
        "Temperature of the drained oil",
        "drained at {}",
        low=-40,
        high=200,
        unit="°C",
    ),
    # Test results, as the gauge reads.
    _of_check(
        "pressure_unit",
        "Gauge reads in",
        "in {}",
        "oil_pressure",
        "cooling",
        "cooler",
        "compression",
        "crankcase",
        choices=PRESSURE_UNITS,
    ),
    _of_check("hot_idle", "Hot, at idle", "{} hot at idle", "oil_pressure", **_BAR),
    _of_check("hot_rated", "Hot, at rated speed", "{} hot at speed", "oil_pressure", **_BAR),
    _of_check("cold", "Cold", "{} cold", "oil_pressure", **_BAR),
    _of_check("speed_rpm", "At what speed", "at {} rpm", "oil_pressure", high=8000, unit="rpm"),
    _of_check("minimum_hot", "The maker's minimum, hot idle", "minimum {}", "oil_pressure", **_BAR),
    _of_check(
        "minimum_rated", "The maker's minimum, at speed", "minimum {}", "oil_pressure", **_BAR
    ),
    _of_check("pressure", "Pressure put on", "at {}", "cooling", "cooler", **_TESTER),
    _of_check("minutes", "Held for", "{} min", "cooling", "cooler", high=600, unit="min"),
    _of_check("drop", "It fell by", "fell by {}", "cooling", "cooler", **_TESTER),
    _of_check(
        "allowed_drop", "The maker allows a fall of", "allowed {}", "cooling", "cooler", **_TESTER
    ),
    _of_check(
        "cylinders",
        "Cylinder by cylinder",
        "{}",
        "compression",
        many=True,
        high=100,
        unit="bar",
        pressure=True,
    ),
    _of_check(
        "allowed_spread",
        "The maker allows below the best",
        "allowed {} % below",
        "compression",
        high=90,
        unit="%",
    ),
    _of_check("leaks", "Cylinder by cylinder", "{} %", "leak_down", many=True, high=100, unit="%"),
    _of_check("allowed_leak", "The maker allows", "allowed {} %", "leak_down", high=100, unit="%"),
    _of_check("air_heard", "Air comes out at", "air: {}", "leak_down", choices=AIR_HEARD),
    _of_check(
        "returned", "Injector by injector", "{} mL", "leak_off", many=True, high=5000, unit="mL"
    ),
    _of_check("allowed_ml", "The maker allows", "allowed {} mL", "leak_off", high=5000, unit="mL"),
    _of_check(
        "crankcase_pressure",
        "Pressure in the crankcase",
        "{}",
        "crankcase",
        low=-100,
        high=500,
        unit="mbar",
        pressure=True,
    ),
    _of_check(
        "allowed_crankcase",
        "The maker allows",
        "allowed {}",
        "crankcase",
        high=500,
        unit="mbar",
        pressure=True,
    ),
    _of_check(
        "above_full_mm",
        "Above the full mark (below: −)",
        "{} mm above full",
        "level",
        low=-500,
        high=500,
        unit="mm",
    ),
    _of_check(
        "between_marks_mm", "Between the marks", "marks {} mm apart", "level", high=500, unit="mm"
    ),
    _of_check(
        "between_marks_l",
        "Litres between the marks",
        "{} between the marks",
        "level",
        high=200,
        unit="L",
    ),
    _of_check(
        "coolant_drained_l",
        "Coolant or water first",
        "{} came first",
        "layers",
        high=500,
        unit="L",
    ),
    _of_check("oil_drained_l", "Then oil", "then {} of oil", "layers", high=2000, unit="L"),
)
# Figures a model may bring its own pass criterion for, by the detail they stand in for.
TEST_LIMITS: tuple[str, ...] = (
    "minimum_hot",
    "minimum_rated",
    "allowed_drop",
    "allowed_spread",
    "allowed_leak",
    "allowed_ml",
    "allowed_crankcase",
)
DETAIL: Mapping[str, Detail] = {d.name: d for d in DETAILS}


def rank(vocabulary: Vocabulary, code: str) -> int:
    """Place of a code in its vocabulary, from 0: sizes by size, channels in their order.

    >>> rank(DEBRIS_SIZES, "1-3")
    3
    """
    return list(vocabulary).index(code)
