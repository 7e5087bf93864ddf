"""A report opened again on the page it was typed on, and put right there: facts of the draw become
a correction, figures another revision that counts at once; what stood before stays readable."""

from dataclasses import replace
from uuid import uuid4

from ...core.laboratory import BY_CODE, reading_text
from ...core.roles import Actor
from ...storage.db import Connection
from ...storage.records import Row, number, row, rows, run
from ..answers.layouts import ReportAgain
from ..errors import CannotRecord, NotThere
from ..judging.deciding import answer_amendment
from ..recording.correcting import Correction, correct
from ..recording.log_rows import check_day
from .one_report import Report, check_report, filled, meter_at_change, write_figures

REASON = "corrected on the report's page"


def _report(connection: Connection, sample: int) -> Row | None:
    """The report of a sample that counts, the first where it has several."""
    return row(connection, "report_of_sample", sample=sample)


def open_again(connection: Connection, code: str) -> ReportAgain:
    """A report as it is on record, in the fields of the page. Raises NotThere."""
    place = row(connection, "draw_of_sample", code=code)
    if place is None:
        raise NotThere(f"there is no sample {code}")
    said = row(connection, "draw_said", id=place["log_id"])
    assert said is not None
    held = _report(connection, place["sample_id"])
    readings = rows(connection, "readings_of_reports", reports=[held["id"]]) if held else []
    return {
        "sample": code,
        "log": place["log_id"],
        "engine": place["engine"],
        "on": place["on_date"],
        "meter": place["dial"],
        "hours_on_oil": said["hours_on_oil"],
        "oil_change_meter": said["oil_change_dial"],
        "oil": said["oil"],
        "top_up_l": said["top_up_l"],
        "laboratory": held["laboratory"] if held else said["laboratory"],
        "report": held["number"] if held else "",
        "appearance": said["appearance"],
        "smell": said["smell"],
        "note": said["note"],
        "figures": {BY_CODE[r["analyte"]].column: _cell(r) for r in readings},
    }


def _cell(r: Row) -> str:
    """A reading as somebody would type it: as it came, with its unit where that is not its own."""
    of = BY_CODE[r["analyte"]]
    said = r["reported"] or reading_text(r["value"], r["censor"])
    return f"{said} {r['unit']}" if r["unit"] and r["unit"] != of.unit else said


def put_right(connection: Connection, code: str, report: Report, who: Actor) -> str:
    """Put a report right; all or nothing, and what did not change is left alone.

    Raises CannotRecord where the engine is another (that is a correction of its own, with its
    reason) or a field is wrong; NotThere.
    """
    run(connection, "one_import")  # nobody brings another revision in meanwhile
    before = open_again(connection, code)
    check_day(report.on)
    if report.engine != before["engine"]:
        said = "move a bottle to another engine in its log, with a reason"
        raise CannotRecord("other_engine", said, {"engine": said})
    if before["report"] and (report.laboratory, report.report) != (
        before["laboratory"],
        before["report"],
    ):
        said = (
            f"these figures are report {before['report']} of {before['laboratory']}; another "
            "number is another report"
        )
        raise CannotRecord("other_report", said, {"report": said})
    _facts(connection, before, report, who)
    figures = filled(report)
    if figures != before["figures"]:
        _figures(
            connection,
            replace(report, sample=code),
            before["report"] or report.report or code,
            figures,
            who,
        )
    return code


def _facts(connection: Connection, before: ReportAgain, report: Report, who: Actor) -> None:
    check_report(report)
    told: dict[str, tuple[object, object]] = {
        "on_date": (before["on"], report.on),
        "dial": (before["meter"], report.meter),
        "oil": (before["oil"], report.oil.strip()),
        "top_up_l": (before["top_up_l"], report.top_up_l),
        "appearance": (before["appearance"], report.appearance),
        "smell": (before["smell"], report.smell),
        "note": (before["note"], report.note),
    }
    # What was told of the oil's age stays as it was told, unless one of the three is another now.
    old = (before["meter"], before["hours_on_oil"], before["oil_change_meter"])
    if old != (report.meter, report.hours_on_oil, report.oil_change_meter):
        told["oil_change_dial"] = (before["oil_change_meter"], meter_at_change(report))
        alone = report.hours_on_oil if report.meter is None else None
        told["hours_on_oil"] = (before["hours_on_oil"], alone)
    changes = {name: now for name, (old, now) in told.items() if now != old}
    if changes:
        correct(connection, Correction(uuid4(), before["log"], REASON, None, changes), who.name)


def _figures(
    connection: Connection, r: Report, report: str, figures: dict[str, str], who: Actor
) -> None:
    newest = number(connection, "newest_report")
    write_figures(connection, r.laboratory.strip(), report, r.sample, figures, who)
    for made in rows(
        connection, "reports_since", id=newest, laboratory=r.laboratory.strip(), number=report
    ):
        if made["revision"] > 1:
            answer_amendment(connection, made["id"], True, REASON, who)
