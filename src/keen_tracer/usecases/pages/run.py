"""Run: one line per engine, may it run, who decided, what clears it."""

from typing import Any

from ...storage.db import Connection
from ...storage.records import Row, rows
from .wall import wall


def _clears(line: dict[str, Any]) -> str:
    """What would let an engine run again, or end its condition."""
    state = line["run"]["state"] if line["run"] else None
    if state == "hold":
        return "A release signed by a releaser"
    if line["open_stop"]:
        return "A run decision"
    return "A release, or the meter reached" if state == "restrict" else ""


def runs(c: Connection, find: str | None = None, offset: int = 0, limit: int = 500) -> Row:
    """A window of one line per engine: may it run, who decided, what clears it; worst first."""
    found = wall(c, None, find, "need", offset, limit)
    codes = [r["code"] for r in found["rows"]]
    standing = {r["engine"]: r["id"] for r in rows(c, "run_decisions_of", codes=codes)}
    return {
        "total": found["total"],
        "rows": [
            {
                **{k: r[k] for k in ("code", "name", "depot", "unit", "dial", "may_run", "run")},
                "decision": standing.get(r["code"]),
                "level": r["level"],
                "sample": next(
                    (t["sample"] for t in reversed(r["comb"]) if t["level"] == r["level"]), None
                ),
                "reason": r["reason"],
                "clears": _clears(r),
            }
            for r in found["rows"]
        ],
    }
