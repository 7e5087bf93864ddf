"""The vocabulary as the pages draw it: every list of choices, served and never written twice."""

from dataclasses import asdict, astuple, dataclass
from typing import Any

from ...core import terms
from ...core.laboratory import ANALYTES, SPELLING, convert
from ...core.limits import POLICY_WORDS
from ...core.record import (
    check_kinds,
    conditions,
    debris_key,
    debris_tests,
    debris_types,
    fact_kinds,
    fact_told,
    field_checks,
    look_places,
    parts,
)
from ...exchange.tables import TABLES
from ..recording.outcomes import found_words

# Vocabularies served as (code, words) under these names.
SERVED: dict[str, terms.Vocabulary] = {
    "classes": terms.CLASSES,
    "fuels": terms.FUELS,
    "meter_units": terms.METER_UNITS,
    "features": terms.FEATURES,
    "smells": terms.SMELLS,
    "purposes": terms.PURPOSES,
    "methods": terms.METHODS,
    "debris_places": terms.DEBRIS_PLACES,
    "debris_sizes": terms.DEBRIS_SIZES,
    "debris_amounts": terms.DEBRIS_AMOUNTS,
    "surfaces": terms.SURFACES,
    "layouts": terms.LAYOUTS,
    "layout_ways": terms.LAYOUT_WAYS,
    "decimal_marks": terms.DECIMAL_MARKS,
    "days_written": terms.DAYS_WRITTEN,
    "water_units": terms.WATER_UNITS,
    "blank_engines": terms.BLANK_ENGINES,
    "report_fields": terms.REPORT_FIELDS,
    "column_units": {u: u for u in SPELLING if u not in terms.PRESSURE_UNITS},
    "length_units": terms.LENGTH_UNITS,
    "measures": terms.MEASURES,
    "work_kinds": terms.WORK_KINDS,
    "work_states": terms.WORK_STATES,
    "case_from": terms.CASE_FROM,
    "case_ends": terms.CASE_ENDS,
    "tools": terms.TOOLS,
    "plan_kinds": terms.PLAN_KINDS,
    "roles": terms.ROLES,
    "run_states": terms.RUN_STATES,
    "bottle_steps": terms.BOTTLE_STEPS,
    "answers": terms.ANSWERS,
    "confirmed": terms.CONFIRMED,
    "outcomes": found_words(),
    "groups": terms.GROUPS,
    "policies": POLICY_WORDS,
}


@dataclass(frozen=True, slots=True)
class Choice:
    """A code with its words."""

    code: str
    words: str


@dataclass(frozen=True, slots=True)
class Telling(Choice):
    """A choice that may say something by itself: `level` 0 says nothing."""

    level: int
    hint: str = ""
    smell: str = ""


@dataclass(frozen=True, slots=True)
class Channel(Choice):
    letter: str


@dataclass(frozen=True, slots=True)
class Fact:
    """A named fact beside an event; a number from `low` to `high` where there are no choices."""

    name: str
    words: str
    kind: str
    parts: list[str]
    choices: list[Choice] | None
    low: float
    high: float
    unit: str
    many: bool
    pressure: bool


@dataclass(frozen=True, slots=True)
class AtFigure:
    at: float
    words: str


@dataclass(frozen=True, slots=True)
class CheckChoice(Telling):
    meaning: str = ""


@dataclass(frozen=True, slots=True)
class FieldCheck(Choice):
    caution: str
    at: str
    tools: str
    results: list[CheckChoice]


@dataclass(frozen=True, slots=True)
class PlaceToLook(Choice):
    """Where one looks: `surface` says how much there is to see, of `surfaces`."""

    surface: str
    how: str
    caution: str


@dataclass(frozen=True, slots=True)
class KeyAnswer:
    """One answer of the key to debris; `next` is a step, or a type it ends in."""

    step: str
    question: str
    how: str
    answer: str
    next: str
    says: str


@dataclass(frozen=True, slots=True)
class BenchTest(Choice):
    """A simple test of what was found; `minutes` it takes, 0 for at once."""

    how: str
    minutes: int
    says: str


@dataclass(frozen=True, slots=True)
class PartChoice(Choice):
    """A part of an opened engine; `many`: "cylinder", "main" or "one"."""

    many: str
    scale: str
    sides: list[str]
    mode: str
    measured: list[str]


@dataclass(frozen=True, slots=True)
class ConditionChoice(Choice):
    """A condition on a scale, from grade 0 (sound) to 3 (it must not run)."""

    scale: str
    grade: int


@dataclass(frozen=True, slots=True)
class AnalyteChoice:
    column: str
    symbol: str
    name: str
    unit: str
    lane: str
    fresh: bool
    usual: bool


@dataclass(frozen=True, slots=True)
class ShownUnit(Choice):
    """A unit people have: `factor` of it and `offset` make one of the program's own."""

    dimension: str
    factor: float
    offset: float
    spellings: list[str]


@dataclass(frozen=True, slots=True)
class Terms:
    """Everything a page may offer to choose from."""

    lists: dict[str, list[Choice]]
    levels: list[str]
    channels: list[Channel]
    events: list[Choice]
    symptoms: list[Telling]
    appearances: list[Telling]
    stick_levels: list[AtFigure]
    weighs: list[AtFigure]
    details: list[Fact]
    field_checks: list[FieldCheck]
    debris_types: list[Telling]
    places_to_look: list[PlaceToLook]
    debris_key: list[KeyAnswer]
    debris_tests: list[BenchTest]
    parts: list[PartChoice]
    conditions: list[ConditionChoice]
    analytes: list[AnalyteChoice]
    units: list[ShownUnit]
    tables: list[str]  # open files that can be filled in


def choices(vocabulary: terms.Vocabulary) -> list[Choice]:
    """A vocabulary as choices."""
    return [Choice(code, words) for code, words in vocabulary.items()]


def _level(where: str, said: str) -> int:
    fact = fact_told(where, said)
    return fact_kinds()[fact].level if fact else 0


def _facts() -> list[Fact]:
    return [
        Fact(
            d.name,
            d.words,
            d.kind,
            list(d.parts),
            None if d.choices is None else choices(d.choices),
            d.low,
            d.high,
            d.unit,
            d.many,
            d.pressure,
        )
        for d in terms.DETAILS
    ]


def _field_checks() -> list[FieldCheck]:
    return [
        FieldCheck(
            check,
            check_kinds()[check].words,
            check_kinds()[check].caution,
            terms.ENGINE_AT[check_kinds()[check].state],
            check_kinds()[check].tools,
            [CheckChoice(r.code, r.words, r.level, meaning=r.meaning) for r in results],
        )
        for check, results in field_checks().items()
    ]


def _units() -> list[ShownUnit]:
    return [
        ShownUnit(
            code,
            words,
            dimension,
            convert(1, own, code) - convert(0, own, code),
            convert(0, own, code),
            [s for s, of in terms.UNIT_SPELLINGS.items() if of == code],
        )
        for dimension, listed in terms.SHOWN_UNITS.items()
        for own in [next(iter(listed))]
        for code, words in listed.items()
    ]


def vocabulary() -> Terms:
    """Every choice there is. The same for everybody until the program changes."""
    return Terms(
        lists={name: choices(v) for name, v in SERVED.items()},
        levels=list(terms.LEVELS),
        channels=[Channel(c, w, terms.CHANNEL_LETTERS[c]) for c, w in terms.CHANNELS.items()],
        events=choices(terms.EVENT_KINDS),
        symptoms=[Telling(c, w, _level("symptom", c)) for c, w in terms.SYMPTOMS.items()],
        appearances=[
            Telling(
                c,
                w,
                _level("appearance", c),
                terms.APPEARANCE_HINTS[c],
                terms.APPEARANCE_SMELLS.get(c, ""),
            )
            for c, w in terms.APPEARANCES.items()
        ],
        stick_levels=[AtFigure(at, w) for at, w in terms.STICK_LEVELS.items()],
        weighs=[AtFigure(at, w) for at, w in terms.WEIGHS.items()],
        details=_facts(),
        field_checks=_field_checks(),
        debris_types=[
            Telling(c, t.words, t.level, hint=t.meaning) for c, t in debris_types().items()
        ],
        places_to_look=[
            PlaceToLook(code, words, *astuple(look_places()[code]))
            for code, words in terms.DEBRIS_PLACES.items()
        ],
        debris_key=[KeyAnswer(*astuple(step)) for step in debris_key()],
        debris_tests=[BenchTest(*astuple(t)) for t in debris_tests()],
        parts=[
            PartChoice(p.code, p.words, p.many, p.scale, list(p.sides), p.mode, list(p.measured))
            for p in parts().values()
        ],
        conditions=[
            ConditionChoice(x.code, x.words, scale, x.grade)
            for scale, listed in conditions().items()
            for x in listed.values()
        ],
        analytes=[
            AnalyteChoice(
                a.column,
                a.symbol,
                a.name,
                a.unit,
                a.lane,
                "fresh_sheet" in a.roles,
                "usual_sheet" in a.roles,
            )
            for a in ANALYTES
        ],
        units=_units(),
        tables=[t.name for t in TABLES.values() if not t.export_only],
    )


def plain() -> dict[str, Any]:
    """The same as plain data."""
    return asdict(vocabulary())
