"""Run: one line per engine, may it run, who decided, what clears it."""

from ...core.words import OWN_UNITS, Units
from ...storage.db import Connection
from ...storage.records import rows
from ..answers.wall import Runs, ToClose, WallLine
from ..days import days_now
from ..judging.closing import to_close
from ..judging.second_person import WORDS, is_asked
from ..recording.log_rows import engine_id
from ..recording.work import work_of
from .wall import window


def _clears(line: WallLine, second: bool) -> str:
    """What would let an engine run again, or end its condition."""
    state = line["state"]
    if state["may_run"] == "do_not_run":
        by = f", {WORDS}" if second else ""
        return f"A release signed by a releaser, naming what was found and done{by}"
    if state["may_run"] == "past_its_time":
        return "What is asked, or a new permission signed by a releaser"
    restricted = state["run"] and state["run"]["state"] == "restrict"
    return "A release, or the end of the permission" if restricted else ""


def _closing(connection: Connection, line: WallLine) -> list[ToClose]:
    """What a release of an opened engine has to name; what work says is done counts as
    renewed."""
    if not any(r["key"].startswith("open:") for r in line["state"]["reasons"]):
        return []
    key = engine_id(connection, line["code"])
    done = {w["finding"] for w in work_of(connection, key) if w["state"] == "done"}
    return [
        {"finding": p.row, "words": p.words, "renewed": p.row in done}
        for p in to_close(connection, key)
    ]


def runs(
    connection: Connection,
    find: str | None = None,
    offset: int = 0,
    limit: int = 500,
    units: Units = OWN_UNITS,
) -> Runs:
    """A window of one line per engine: may it run, who decided, what clears it; worst first."""
    second = is_asked(connection)
    groups, shown = window(
        connection, days_now(connection), None, find, "need", offset, limit, units
    )
    codes = [r["code"] for r in shown]
    standing = {r["engine"]: r["id"] for r in rows(connection, "run_decisions_of", codes=codes)}
    return {
        "total": sum(g["count"] for g in groups),
        "rows": [
            {
                "code": r["code"],
                "name": r["name"],
                "depot": r["depot"],
                "unit": r["unit"],
                "dial": r["dial"],
                "level": r["level"],
                "sample": r["sample"],
                "state": r["state"],
                "cases": r["cases"],
                "decision": standing.get(r["code"]),
                "clears": _clears(r, second),
                "closing": _closing(connection, r),
            }
            for r in shown
        ],
    }
