"""Run: one line per engine, may it run, who decided, what clears it."""

from typing import Any

from ...storage.db import Connection
from ...storage.records import Row, rows
from .wall import wall


def _clears(line: dict[str, Any]) -> str:
    """What would let an engine run again, or end its condition."""
    state = line["state"]
    if state["may_run"] == "do_not_run":
        return "A release signed by a releaser, naming what was found and done"
    if state["may_run"] == "past_its_time":
        return "What is asked, or a new permission signed by a releaser"
    restricted = state["run"] and state["run"]["state"] == "restrict"
    return "A release, or the end of the permission" if restricted else ""


def runs(c: Connection, find: str | None = None, offset: int = 0, limit: int = 500) -> Row:
    """A window of one line per engine: may it run, who decided, what clears it; worst first."""
    found = wall(c, None, find, "need", offset, limit)
    codes = [r["code"] for r in found["rows"]]
    standing = {r["engine"]: r["id"] for r in rows(c, "run_decisions_of", codes=codes)}
    kept = ("code", "name", "depot", "unit", "dial", "level", "sample", "state", "cases")
    return {
        "total": found["total"],
        "rows": [
            {
                **{k: r[k] for k in kept},
                "decision": standing.get(r["code"]),
                "clears": _clears(r),
            }
            for r in found["rows"]
        ],
    }
