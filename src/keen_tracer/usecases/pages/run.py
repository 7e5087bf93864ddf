"""Run: one line per engine, may it run, who decided, what clears it."""

from typing import Any

from ...storage.db import Connection
from ...storage.records import rows
from .wall import wall


def runs(c: Connection) -> list[dict[str, Any]]:
    """One line per engine: may it run, who decided, what clears it."""
    out = []
    heads = {h["code"]: h for h in rows(c, "wall_heads", depot=None, find=None)}
    ids = {code: h["id"] for code, h in heads.items()}
    standing = {r["engine_id"]: r for r in rows(c, "run_decisions", engines=list(ids.values()))}
    for r in wall(c, None, None, "need", 0, 10_000)["rows"]:
        d, h = standing.get(ids[r["code"]]), heads[r["code"]]
        held = r["run"] and r["run"]["state"] == "hold"
        stop = r["level"] == 3
        out.append(
            {
                "code": r["code"],
                "name": r["name"],
                "depot": r["depot"],
                "unit": r["unit"],
                "dial": r["dial"],
                "may_run": r["may_run"],
                "run": r["run"],
                "decision": d["id"] if d else None,
                "level": r["level"],
                "sample": next(
                    (t["sample"] for t in reversed(r["comb"]) if t["level"] == r["level"]), None
                ),
                "advice": "The figures say Stop." if stop else "",
                "reason": r["reason"],
                "clears": "A release signed by a releaser"
                if held
                else "A run decision"
                if h["open_stop"]
                else "A release, or the meter reached"
                if r["run"] and r["run"]["state"] == "restrict"
                else "",
                "open_stop": h["open_stop"],
            }
        )
    return out
