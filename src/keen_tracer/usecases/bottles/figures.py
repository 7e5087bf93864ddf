"""Figures typed in from paper. They go through the import, as a file of one report, so the same
rules hold."""

import csv
import tempfile
from collections.abc import Mapping
from datetime import date
from pathlib import Path

from ...core.laboratory import ANALYTES, BY_COLUMN, with_role
from ...core.roles import anybody
from ...storage.db import Connection
from ...storage.records import row, rows
from ..answers.bottles import Sheet
from ..errors import CannotRecord
from ..importing.files import run_import
from ..judging.judging import judge_one
from ..recording.log_rows import check_day


def sheet(connection: Connection, sample: str) -> Sheet:
    """An empty sheet for a bottle's figures: the analytes its laboratory reported last, else the
    usual few."""
    place = row(connection, "draw_of_sample", code=sample)
    held = rows(connection, "bottles_by_code", codes=[sample])
    if not held or not (place or held[0]["reference"]):
        raise CannotRecord("unknown_sample", f"bottle {sample} is not registered")
    last = rows(connection, "last_reported", engine=place["engine_id"]) if place else []
    wanted = {r["analyte"] for r in last}
    shown = [a for a in ANALYTES if a.code in wanted] or with_role("usual_sheet")
    return {
        "sample": sample,
        "engine": place["engine"] if place else None,
        "drawn_on": place["on_date"] if place else None,
        "laboratory": last[0]["laboratory"] if last else "",
        "laboratories": [r["laboratory"] for r in rows(connection, "laboratories")],
        "analytes": [
            {
                "column": a.column,
                "symbol": a.symbol,
                "name": a.name,
                "unit": a.unit,
                "usual": a in shown,
            }
            for a in ANALYTES
        ],
    }


def type_in(
    connection: Connection,
    sample: str,
    laboratory: str,
    report: str,
    analysed_on: date | None,
    cells: Mapping[str, str],
    who: str,
) -> bool:
    """Store figures as a person read them from paper. True when they wait as an amendment of a
    known report.

    Every problem is named by its analyte; nothing is written then.
    """
    if analysed_on:
        check_day(analysed_on)
    held = rows(connection, "bottles_by_code", codes=[sample])
    if not held or not (held[0]["registered"] or held[0]["reference"]):
        raise CannotRecord("unknown_sample", f"bottle {sample} is not registered")
    filled = [(column, cell.strip()) for column, cell in cells.items() if cell.strip()]
    if not filled:
        raise CannotRecord("no_figures", "type at least one figure")
    with tempfile.TemporaryDirectory(prefix="keen-typed-") as folder:
        file = Path(folder) / "readings.csv"
        with file.open("w", newline="", encoding="utf-8") as out:
            writer = csv.writer(out)
            writer.writerow(["laboratory", "report", "sample", "analyte", "reading", "analysed_on"])
            writer.writerows(
                [
                    laboratory.strip(),
                    report.strip() or sample,
                    sample,
                    column,
                    cell,
                    analysed_on.isoformat() if analysed_on else "",
                ]
                for column, cell in filled
            )
        found = run_import(connection, [("readings typed by hand", file)], anybody(who))
    if not found.written:
        fields = {
            filled[p.row - 2][0] if p.row and p.row - 2 < len(filled) else "": f"{p.what}: {p.fix}"
            for p in found.problems
        }
        raise CannotRecord(
            "bad_figures",
            "; ".join(
                f"{BY_COLUMN[k].symbol if k in BY_COLUMN else 'report'}: {v}"
                for k, v in fields.items()
            ),
            fields,
        )
    place = row(connection, "draw_of_sample", code=sample)
    if place:
        judge_one(connection, place["engine_id"])
    return bool(found.amendments)
