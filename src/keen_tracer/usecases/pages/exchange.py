"""Exchange: amended reports that wait for a person, and the age of the backup."""

from ...core.laboratory import ANALYTES, reading_text
from ...storage.db import Connection
from ...storage.records import row, rows
from ..answers.exchange import Amendment, Standing


def amendments(connection: Connection) -> list[Amendment]:
    """Amended reports that wait for a person, old → new."""
    waiting = rows(connection, "pending_amendments")
    before = {
        (r["laboratory"], r["number"]): r["id"]
        for r in rows(
            connection,
            "reports_before",
            laboratories=[r["laboratory"] for r in waiting],
            numbers=[r["number"] for r in waiting],
        )
    }
    figures: dict[int, dict[int, str]] = {}
    for x in rows(
        connection, "readings_of_reports", reports=[*before.values(), *(r["id"] for r in waiting)]
    ):
        said = reading_text(x["value"], x["censor"])
        figures.setdefault(x["report_id"], {})[x["analyte"]] = said
    out: list[Amendment] = []
    for r in waiting:
        old = figures.get(before.get((r["laboratory"], r["number"]), 0), {})
        new = figures.get(r["id"], {})
        out.append(
            {
                "id": r["id"],
                "laboratory": r["laboratory"],
                "report": r["number"],
                "revision": r["revision"],
                "sample": r["sample"],
                "readings": [
                    {
                        "symbol": a.symbol,
                        "old": old.get(a.code, "none"),
                        "new": new.get(a.code, "none"),
                    }
                    for a in ANALYTES
                    if old.get(a.code) != new.get(a.code)
                ],
            }
        )
    return out


def backups(connection: Connection) -> Standing:
    """When the record was last written down elsewhere, and last tried whether that comes back."""
    made, tried = (
        row(connection, "milestone_get", what=what) for what in ("backup", "backup_tried")
    )
    return {
        "last_backup": made["at"] if made else None,
        "backup_tried": tried["at"] if tried else None,
    }
