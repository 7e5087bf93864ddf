"""The Wall: the whole fleet in one look, worst first."""

from datetime import date, timedelta
from typing import Any

from ...core.status import Tooth, group_of, may_run_words
from ...core.terms import GROUPS
from ...core.words import short_day
from ...storage.db import Connection
from ...storage.records import Row, rows

BACK, AHEAD = timedelta(days=275), timedelta(days=42)  # nine months and six weeks, DESIGN


def _stored(trace: list[dict[str, Any]]) -> bool:
    words = [m["kind"] for m in trace if m["kind"] in ("stored", "out")]
    return bool(words) and words[-1] == "stored"


def _overdue(picture: dict[str, Any] | None, today: date) -> int:
    due = (picture or {}).get("due")
    return max((today - date.fromisoformat(due["on"])).days, 0) if due else 0


def wall(
    c: Connection, depot: str | None, find: str | None, by: str, offset: int, limit: int
) -> dict[str, Any]:
    """A window of the Wall: heads of every group, rows of the wanted slice, worst first."""
    today = date.today()
    heads = rows(c, "wall_heads", depot=depot, find=f"%{find}%" if find else None)
    for h in heads:
        overdue = max((today - h["due_on"]).days, 0) if h["due_on"] else 0
        h["overdue"] = overdue
        h["need"] = group_of(h["run_state"], h["level"], h["signed_level"], overdue)
    keys = list(GROUPS)
    heads.sort(
        key=lambda h: (
            h["depot"] or "" if by == "depot" else keys.index(h["need"]),
            -h["overdue"] if h["need"] == "overdue" else 0,
            h["code"],
        )
    )
    groups: list[dict[str, Any]] = []
    for n, h in enumerate(heads):
        key = (h["depot"] or "no depot") if by == "depot" else h["need"]
        if not groups or groups[-1]["key"] != key:
            groups.append({"key": key, "label": GROUPS.get(key, key), "count": 0, "start": n})
        groups[-1]["count"] += 1
    page = heads[offset : offset + limit]
    pictures = {r["id"]: r for r in rows(c, "wall_pictures", ids=[h["id"] for h in page])}
    return {
        "today": today,
        "since": today - BACK,
        "until": today + AHEAD,
        "total": len(heads),
        "groups": groups,
        "depots": [r["code"] for r in rows(c, "depot_codes")],
        "offset": offset,
        "rows": [_wall_row(pictures[h["id"]], h, today) for h in page],
    }


def _teeth(comb: list[dict[str, Any]], today: date) -> list[dict[str, Any]]:
    out = []
    for t in comb:
        stale = date.fromisoformat(t["stale_on"]) if t["stale_on"] else None
        tooth = Tooth(t["channel"], t["level"], t["sample"], stale)
        out.append(
            {
                "channel": t["channel"],
                "level": t["level"],
                "sample": t["sample"],
                "state": tooth.state(today),
            }
        )
    return out


def _wall_row(r: Row, head: Row, today: date) -> dict[str, Any]:
    p = r["picture"] or {
        "comb": [],
        "trace": [],
        "due": None,
        "dial": None,
        "dial_on": None,
        "run": None,
        "reason": "Waiting to be judged.",
        "next": "",
        "next_code": "",
        "sample": None,
        "advice": "unknown",
        "advice_until": None,
    }
    stored, run = _stored(p["trace"]), p["run"]
    due = {**p["due"], "overdue": head["overdue"]} if p["due"] else None
    said = r["level"] if r["signed_level"] is None else r["signed_level"]
    return {
        "code": r["code"],
        "name": r["name"],
        "depot": r["depot"],
        "unit": r["meter_unit"],
        "group": head["need"],
        "level": said,
        "signed": r["signed_level"] is not None,
        "comb": _teeth(p["comb"], today),
        "trace": p["trace"],
        "due": due,
        "dial": p["dial"],
        "dial_on": p["dial_on"],
        "run": run,
        "stored": stored,
        "reason": p["reason"],
        "next": _next(p, due, stored),
        "next_code": p.get("next_code", ""),
        "sample": p.get("sample"),
        "may_run": may_run_words(
            run["state"] if run else None,
            run["until"] if run else None,
            p["advice"],
            p["advice_until"],
            r["meter_unit"],
            stored,
            head["open_stop"],
            p["dial"],
        ),
    }


def _next(p: dict[str, Any], due: dict[str, Any] | None, stored: bool) -> str:
    """The next thing to do with an engine, short."""
    out = any(m["kind"] == "bottle" for m in p["trace"][-3:])
    if p["next"] and not (
        out and p.get("next_code") in ("resample", "sample_sooner", "post_repair")
    ):
        return str(p["next"])
    if out:
        return "Bottle out"
    if stored:
        return "Before first run"
    if due is None:
        return ""
    return (
        f"Sample, {due['overdue']} d over"
        if due["overdue"]
        else f"Sample {short_day(date.fromisoformat(due['on']))}"
    )
