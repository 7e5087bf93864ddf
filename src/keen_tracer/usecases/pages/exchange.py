"""Exchange: amended reports that wait for a person."""

from typing import Any

from ...core.laboratory import ANALYTES, reading_text
from ...storage.db import Connection
from ...storage.records import row, rows


def amendments(c: Connection) -> list[dict[str, Any]]:
    """Amended reports that wait for a person, old → new."""
    out = []
    for r in rows(c, "pending_amendments"):
        before = row(c, "report_before", laboratory=r["laboratory"], number=r["number"])
        ids = [r["id"], *([before["id"]] if before else [])]
        figures: dict[int, dict[int, str]] = {i: {} for i in ids}
        for x in rows(c, "readings_of_reports", reports=ids):
            figures[x["report_id"]][x["analyte"]] = reading_text(x["value"], x["censor"])
        old, new = figures[before["id"]] if before else {}, figures[r["id"]]
        said = [
            {"symbol": a.symbol, "old": old.get(a.code, "none"), "new": new.get(a.code, "none")}
            for a in ANALYTES
            if old.get(a.code) != new.get(a.code)
        ]
        out.append(
            {
                "id": r["id"],
                "laboratory": r["laboratory"],
                "report": r["number"],
                "revision": r["revision"],
                "sample": r["sample"],
                "readings": said,
            }
        )
    return out
