"""What the screens show, put together from storage and the core. Reads only.

The Wall, the queue, Run and the finder; the analyst's desk is in `desk`, the Engine page in `history`.
"""

from datetime import date, timedelta
from typing import Any

from ..core.analytes import ANALYTES
from ..core.sentences import CHANNEL_WORDS
from ..core.standing import Tooth, group_of, may_run_words, waits
from ..core.values import reading_text
from ..storage.db import Connection
from ..storage.records import Row, number, row, rows, setting

GROUPS = {"do_not_run": "Do not run", "act": "Act", "watch": "Watch", "overdue": "Overdue", "quiet": "Quiet"}
BACK, AHEAD = timedelta(days=275), timedelta(days=42)  # nine months and six weeks, DESIGN


class NotThere(Exception):
    """Nothing of that name."""


def state(c: Connection, person: Row | None) -> dict[str, Any]:
    return {"today": date.today(), "person": person, "queue": number(c, "queue_count"),
            "stale": number(c, "stale_count"), "amendments": len(rows(c, "pending_amendments")),
            "queries": number(c, "queries_count"), "stray": number(c, "stray_count"),
            "engines": number(c, "count_engines"), "open_stops": rows(c, "open_stops"),
            "demo": setting(c, "demo_loaded") is not None}


def _stored(trace: list[dict[str, Any]]) -> bool:
    words = [m["kind"] for m in trace if m["kind"] in ("stored", "out")]
    return bool(words) and words[-1] == "stored"


def _overdue(picture: dict[str, Any] | None, today: date) -> int:
    due = (picture or {}).get("due")
    return max((today - date.fromisoformat(due["on"])).days, 0) if due else 0


def wall(c: Connection, depot: str | None, find: str | None, by: str, offset: int, limit: int) -> dict[str, Any]:
    """A window of the Wall: heads of every group, rows of the wanted slice, worst first."""
    today = date.today()
    heads = rows(c, "wall_heads", depot=depot, find=f"%{find}%" if find else None)
    for h in heads:
        overdue = max((today - h["due_on"]).days, 0) if h["due_on"] else 0
        h["overdue"] = overdue
        h["need"] = group_of(h["run_state"], h["level"], h["signed_level"], overdue)
    keys = list(GROUPS)
    heads.sort(key=lambda h: (h["depot"] or "" if by == "depot" else keys.index(h["need"]),
                              -h["overdue"] if h["need"] == "overdue" else 0, h["code"]))
    groups: list[dict[str, Any]] = []
    for n, h in enumerate(heads):
        key = (h["depot"] or "no depot") if by == "depot" else h["need"]
        if not groups or groups[-1]["key"] != key:
            groups.append({"key": key, "label": GROUPS.get(key, key), "count": 0, "start": n})
        groups[-1]["count"] += 1
    page = heads[offset:offset + limit]
    pictures = {r["id"]: r for r in rows(c, "wall_pictures", ids=[h["id"] for h in page])}
    return {"today": today, "since": today - BACK, "until": today + AHEAD, "total": len(heads), "groups": groups,
            "depots": [r["code"] for r in rows(c, "depot_codes")], "offset": offset,
            "rows": [_wall_row(pictures[h["id"]], h, today) for h in page]}


def _teeth(comb: list[dict[str, Any]], today: date) -> list[dict[str, Any]]:
    out = []
    for t in comb:
        stale = date.fromisoformat(t["stale_on"]) if t["stale_on"] else None
        tooth = Tooth(t["channel"], t["level"], t["sample"], stale)
        out.append({"channel": t["channel"], "level": t["level"], "sample": t["sample"], "state": tooth.state(today)})
    return out


def _wall_row(r: Row, head: Row, today: date) -> dict[str, Any]:
    p = r["picture"] or {"comb": [], "trace": [], "due": None, "dial": None, "dial_on": None, "run": None,
                         "reason": "Waiting to be judged.", "next": "", "next_code": "", "sample": None,
                         "advice": "unknown", "advice_until": None}
    stored, run = _stored(p["trace"]), p["run"]
    due = {**p["due"], "overdue": head["overdue"]} if p["due"] else None
    said = r["level"] if r["signed_level"] is None else r["signed_level"]
    return {"code": r["code"], "name": r["name"], "depot": r["depot"], "unit": r["meter_unit"], "group": head["need"],
            "level": said, "signed": r["signed_level"] is not None, "comb": _teeth(p["comb"], today),
            "trace": p["trace"], "due": due, "dial": p["dial"], "dial_on": p["dial_on"], "run": run, "stored": stored,
            "reason": p["reason"], "next": _next(p, due, stored), "next_code": p.get("next_code", ""),
            "sample": p.get("sample"),
            "may_run": may_run_words(run["state"] if run else None, run["until"] if run else None, p["advice"],
                                     p["advice_until"], r["meter_unit"], stored, head["open_stop"], p["dial"])}


def _next(p: dict[str, Any], due: dict[str, Any] | None, stored: bool) -> str:
    """The next thing to do with an engine, short."""
    out = any(m["kind"] == "bottle" for m in p["trace"][-3:])
    if p["next"] and not (out and p.get("next_code") in ("resample", "sample_sooner", "post_repair")):
        return str(p["next"])
    if out:
        return "Bottle out"
    if stored:
        return "Before first run"
    if due is None:
        return ""
    return f"Sample, {due['overdue']} d over" if due["overdue"] else f"Sample {short_day(date.fromisoformat(due['on']))}"


def short_day(d: date) -> str:
    return f"{d.day} {d:%b}"


def waiting(c: Connection) -> list[Row]:
    """The samples that wait for a person, worst first, then oldest."""
    found = [r for r in rows(c, "queue") if waits(
        r["level"], r["input_hash"], {**r, "kind": r["decision_kind"]} if r["standing"] else None)]
    return sorted(found, key=lambda r: (-r["level"], r["on_date"], r["engine"]))


def queue(c: Connection) -> list[dict[str, Any]]:
    """What waits for the analyst, as the desk lists it."""
    today = date.today()
    doubted = {r["sample"] for r in rows(c, "samples_with_queries")}
    return [{"sample": r["sample"], "queried": r["sample"] in doubted, "engine": r["engine"],
             "name": r["name"], "depot": r["depot"], "on": r["on_date"],
             "age_days": (today - r["on_date"]).days, "level": r["level"],
             "was_signed": r["signed_level"] if r["decision_kind"] == "sign_off" else None,
             "basis": r["input_hash"], "standing": r["standing"],
             "not_measured": [w for w, level in zip(CHANNEL_WORDS.values(), r["channels"], strict=True)
                              if level is None]}
            for r in waiting(c)[:500]]


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
        out.append({"code": r["code"], "name": r["name"], "depot": r["depot"], "unit": r["unit"], "dial": r["dial"],
                    "may_run": r["may_run"], "run": r["run"], "decision": d["id"] if d else None, "level": r["level"],
                    "sample": next((t["sample"] for t in reversed(r["comb"]) if t["level"] == r["level"]), None),
                    "advice": "The figures say Stop." if stop else "", "reason": r["reason"],
                    "clears": "A release signed by a releaser" if held else "A run decision" if h["open_stop"] else
                    "A release, or the meter reached" if r["run"] and r["run"]["state"] == "restrict" else "",
                    "open_stop": h["open_stop"]})
    return out


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
        said = [{"symbol": a.symbol, "old": old.get(a.code, "none"), "new": new.get(a.code, "none")} for a in ANALYTES
                if old.get(a.code) != new.get(a.code)]
        out.append({"id": r["id"], "laboratory": r["laboratory"], "report": r["number"], "revision": r["revision"],
                    "sample": r["sample"], "readings": said})
    return out


def find(c: Connection, text: str) -> list[Row]:
    """Engines and samples by any part of their name."""
    escaped = text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    return rows(c, "find", like=f"%{escaped}%") if text.strip() else []
