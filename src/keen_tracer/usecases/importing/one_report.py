"""One report typed or pasted by a person: engine, sample and figures as our own files, in as any
other, judged at once."""

import csv
import tempfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from ...core.bounds import check
from ...core.errors import CoreError
from ...core.oil import grade_range
from ...core.roles import Actor
from ...core.terms import APPEARANCES, CLASSES, FUELS, METER_UNITS, SMELLS, DecimalMark
from ...exchange.cells import written
from ...exchange.layouts import apart, from_text, name
from ...storage.db import Connection
from ...storage.records import row
from ..answers.layouts import ReportRead
from ..errors import CannotRecord
from ..fields import Capacity, Cells, Day, Litres, Meter, Text, Typed, Word
from ..judging.judging import judge_one
from ..recording.log_rows import check_day
from .files import run_import
from .looking import ASKS


@dataclass(frozen=True, slots=True, kw_only=True)
class Unknown:
    """An engine nobody has on record, with what is known of it."""

    engine_class: Word
    meter_unit: Word = "h"
    fuel: Word = ""
    sump_l: Capacity | None = None
    allowed_grades: Word = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Fresh:
    """What is known of the oil before it was filled: column → cell; `typical`: nothing is, and the
    middle of its grade stands in for its thickness, said as such."""

    grade: Word = ""
    figures: Cells = field(default_factory=dict)
    typical: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Report:
    """A report as it stands on its sheet. Either `hours_on_oil` or `oil_change_meter`; without a
    `meter` there are rates only where the hours on the oil are told. `figures`: column → cell, with
    its unit where that is not the column's; `sample`: the bottle's label, else the report's number
    stands for it."""

    engine: Word
    on: Day
    meter: Meter | None = None
    hours_on_oil: Meter | None = None
    oil_change_meter: Meter | None = None
    oil: Word = ""
    top_up_l: Litres | None = None
    laboratory: Word
    report: Word = ""
    sample: Word = ""
    appearance: Word = ""
    smell: Word = ""
    note: Text = ""
    figures: Cells
    typed: Typed | None = None
    new: Unknown | None = None
    fresh: Fresh | None = None


def read_pasted(text: str, decimal: DecimalMark, sample: int | None = None) -> ReportRead:
    """Reads the figures of one report from pasted text."""
    found = from_text(text, decimal, sample)
    return {
        "figures": found.figures,
        "facts": found.facts,
        "unread": found.unread,
        "questions": [
            {"about": q.about, "words": ASKS[q.about], "seen": list(q.seen)}
            for q in found.questions
        ],
    }


def _engine(
    connection: Connection, report: Report
) -> tuple[str, list[tuple[str, list[Sequence[object]]]]]:
    """The engine's name, and the file that puts it on record where it is new."""
    code = name(report.engine)
    if row(connection, "engine_by_code", code=code) is not None:
        return code, []
    if report.new is None:
        raise CannotRecord(
            "unknown_engine",
            f"{report.engine!r} is not on record; say what it is",
            {"engine": "new"},
        )
    wrong = {
        what: f"choose one of {', '.join(known)}"
        for what, said, known in (
            ("engine_class", report.new.engine_class, CLASSES),
            ("meter_unit", report.new.meter_unit, METER_UNITS),
            ("fuel", report.new.fuel or next(iter(FUELS)), FUELS),
        )
        if said not in known
    }
    if wrong:
        raise CannotRecord("unknown_word", "; ".join(wrong.values()), wrong)
    head = ("engine", "class", "meter_unit", "fuel", "sump_l", "allowed_grades")
    new = report.new
    cells = (code, new.engine_class, new.meter_unit, new.fuel, _n(new.sump_l), new.allowed_grades)
    return code, [("engines", [head, cells])]


def _n(x: float | None) -> str:
    return "" if x is None else f"{x:.10g}"


def meter_at_change(report: Report) -> float | None:
    """The meter at the oil change. Raises CannotRecord where it lies before the engine was new."""
    if report.oil_change_meter is not None or report.hours_on_oil is None or report.meter is None:
        return report.oil_change_meter
    try:
        return check("meter", report.meter - report.hours_on_oil)
    except CoreError as error:
        said = f"{report.hours_on_oil:g} on the oil is more than the engine has ({report.meter:g})"
        raise CannotRecord("more_than_it_has", said, {"hours_on_oil": said}) from error


TYPICAL = "middle of its grade"  # the batch a stand-in is kept under, and so is said to be


def _fresh(connection: Connection, report: Report) -> list[tuple[str, list[Sequence[object]]]]:
    """The file that puts the fresh oil on record, nothing where it is there already. Raises
    CannotRecord."""
    if report.fresh is None or not (report.fresh.typical or any(report.fresh.figures.values())):
        return []
    if not report.oil.strip():
        raise CannotRecord("oil", "name the oil these figures are of", {"oil": "name the oil"})
    figures = {k: v.strip() for k, v in report.fresh.figures.items() if v.strip()}
    batch, grade = "", report.fresh.grade.strip()
    if report.fresh.typical:
        try:
            low, high = grade_range(grade)
        except CoreError as error:
            raise CannotRecord("grade", str(error), {"grade": str(error)}) from error
        figures, batch = {"KV100_mm2_s": f"{(low + high) / 2:.1f}"}, TYPICAL
    if row(connection, "batch_get", oil=report.oil.strip(), grade=grade, batch=batch) is not None:
        return []
    oil = {"oil": report.oil.strip(), "grade": grade, "batch": batch, **figures}
    return [("oils", [tuple(oil), tuple(oil.values())])]


def filled(report: Report) -> dict[str, str]:
    """The figures that were given."""
    return {k: v.strip() for k, v in report.figures.items() if v.strip()}


def check_report(report: Report) -> None:
    """Raises CannotRecord with the fields that are missing or hold an unknown word."""
    check_day(report.on)
    if not report.laboratory.strip():
        raise CannotRecord("laboratory", "name the laboratory", {"laboratory": "name it"})
    if not filled(report):
        raise CannotRecord("no_figures", "type or paste at least one figure")
    for what, said, known in (
        ("appearance", report.appearance, APPEARANCES),
        ("smell", report.smell, SMELLS),
    ):
        if said and said not in known:
            fix = f"choose one of {', '.join(known)}"
            raise CannotRecord("unknown_word", fix, {what: fix})


def bring_report(connection: Connection, report: Report, who: Actor) -> str:
    """Write down a report and judge its engine; all or nothing. Returns the sample's name.

    Raises CannotRecord with the fields that are wrong.
    """
    check_report(report)
    code, tables = _engine(connection, report)
    tables += _fresh(connection, report)
    sample = name(
        report.sample.strip() or report.report.strip() or f"{code} {report.on.isoformat()}"
    )
    # Hours on the oil stand by themselves only where there is no meter to work the change out from.
    alone = report.hours_on_oil if report.meter is None else None
    draw = {
        "sample": sample,
        "engine": code,
        "drawn_on": report.on,
        "meter": _n(report.meter),
        "oil_change_meter": _n(meter_at_change(report)),
        "hours_on_oil": _n(alone),
        "oil": report.oil.strip(),
        "top_up_l": _n(report.top_up_l),
        "laboratory": report.laboratory.strip(),
        "appearance": report.appearance,
        "smell": report.smell,
        "note": report.note,
        "typed": written(dict(report.typed or {})),
    }
    number = name(report.report.strip() or sample)
    figures = filled(report)
    tables.append(("samples", [tuple(draw), tuple(draw.values())]))
    tables.append(_readings(report.laboratory.strip(), number, sample, figures))
    _import(connection, tables, list(figures), who)
    found = row(connection, "engine_by_code", code=code)
    assert found is not None
    judge_one(connection, found["id"])
    return sample


def write_figures(
    connection: Connection,
    laboratory: str,
    report: str,
    sample: str,
    figures: Mapping[str, str],
    who: Actor,
) -> None:
    """Figures as they were typed, as a file of one report. Raises CannotRecord by figure."""
    _import(connection, [_readings(laboratory, report, sample, figures)], list(figures), who)


def _readings(
    laboratory: str, report: str, sample: str, figures: Mapping[str, str]
) -> tuple[str, list[Sequence[object]]]:
    """Figures as the file of one report, a row each in the order they were given."""
    head = ("laboratory", "report", "sample", "analyte", "reading", "unit")
    told = [(laboratory, report, sample, k, *apart(v)) for k, v in figures.items()]
    return "readings", [head, *told]


def _import(
    connection: Connection,
    tables: list[tuple[str, list[Sequence[object]]]],
    columns: list[str],
    who: Actor,
) -> None:
    with tempfile.TemporaryDirectory(prefix="keen-report-") as folder:
        paths = []
        for table, listed in tables:
            file = Path(folder) / f"{table}.csv"
            with file.open("w", newline="", encoding="utf-8") as out:
                csv.writer(out).writerows(listed)
            paths.append((f"{table} of one report", file))
        found = run_import(connection, paths, who)
    if not found.written:
        fields = {}
        for p in found.problems:
            at = p.row - 2 if p.row and p.file.startswith("readings") else -1
            where = columns[at] if 0 <= at < len(columns) else p.column or "report"
            fields[where] = f"{p.what}: {p.fix}"
        said = "; ".join(f"{k}: {v}" for k, v in fields.items())
        raise CannotRecord("bad_report", said, fields)
