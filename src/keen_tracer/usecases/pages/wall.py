"""The Wall: the whole fleet in one look, worst first."""

from datetime import date, timedelta
from itertools import accumulate
from typing import Any

from ...core.findings import stored
from ...core.status import Tooth, may_run_words
from ...core.terms import GROUPS, rank
from ...core.words import ACTION_SHORT, due_words, sentence, short_day, summary
from ...storage.db import Connection
from ...storage.records import Row, rows

BACK, AHEAD = timedelta(days=275), timedelta(days=42)  # nine months and six weeks


def _stored(trace: list[dict[str, Any]]) -> bool:
    words = [m["kind"] for m in trace if m["kind"] in ("stored", "out")]
    return bool(words) and words[-1] == "stored"


OVERDUE, QUIET = rank(GROUPS, "overdue"), rank(GROUPS, "quiet")
PLACES = {"overdue": OVERDUE, "quiet": QUIET}


def _groups(counts: list[Row], by: str) -> list[dict[str, Any]]:
    """The heads of the Wall in its order, each with its count and the place of its first row."""
    sizes: dict[str, int] = {}
    for r in counts if by == "depot" else sorted(counts, key=lambda r: int(r["need"])):
        key = r["depot"] or "no depot" if by == "depot" else list(GROUPS)[r["need"]]
        sizes[key] = sizes.get(key, 0) + r["n"]
    starts = accumulate(sizes.values(), initial=0)
    return [
        {"key": key, "label": GROUPS.get(key, key), "count": n, "start": start}
        for (key, n), start in zip(sizes.items(), starts, strict=False)
    ]


def wall(
    c: Connection, depot: str | None, find: str | None, by: str, offset: int, limit: int
) -> dict[str, Any]:
    """A window of the Wall: heads of every group, rows of the wanted slice, worst first."""
    today = date.today()
    like = f"%{find}%" if find else None
    groups = _groups(rows(c, "wall_groups", depot=depot, find=like, today=today, **PLACES), by)
    page = rows(
        c,
        "wall_window",
        depot=depot,
        find=like,
        today=today,
        by_depot=by == "depot",
        offset=offset,
        limit=limit,
        **PLACES,
    )
    return {
        "today": today,
        "since": today - BACK,
        "until": today + AHEAD,
        "total": sum(g["count"] for g in groups),
        "groups": groups,
        "depots": [r["code"] for r in rows(c, "depot_codes")],
        "offset": offset,
        "rows": [_line(r, today) for r in page],
    }


def lines(c: Connection, ids: list[int]) -> dict[int, dict[str, Any]]:
    """The Wall's lines of some engines, by their keys."""
    today = date.today()
    return {r["id"]: _line(r, today) for r in rows(c, "wall_lines", ids=ids, quiet=QUIET)}


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


def _reason(said: dict[str, Any] | None) -> str:
    """One line for the selected row: the worst findings, or what is quiet."""
    if said is None:
        return "Waiting to be judged."
    if said["channels"] is None:
        return "No sample has been judged yet."
    if said["findings"]:
        return " ".join(sentence(stored(f)) for f in said["findings"])
    return summary(said["channels"])


def due_out(due: dict[str, Any], overdue: int, unit: str) -> dict[str, Any]:
    """A due sample as the screens get it, with its reason in words."""
    dates = {k: date.fromisoformat(due[k]) for k in ("on", "earliest", "latest")}
    return {**due, "overdue": overdue, "words": due_words({**due, **dates}, unit)}


# The line of an engine that was never judged.
UNJUDGED: dict[str, Any] = {
    "comb": [],
    "trace": [],
    "due": None,
    "dial": None,
    "dial_on": None,
    "run": None,
    "said": None,
    "next_code": "",
    "sample": None,
    "advice": "unknown",
    "advice_until": None,
}


def _line(r: Row, today: date) -> dict[str, Any]:
    """One engine as the Wall draws it; what depends on the day is worked out now."""
    p = r["picture"] or UNJUDGED
    stored, run = _stored(p["trace"]), p["run"]
    overdue = max((today - r["due_on"]).days, 0) if r["due_on"] else 0
    due = due_out(p["due"], overdue, r["meter_unit"]) if p["due"] else None
    need = OVERDUE if r["need"] == QUIET and overdue else r["need"]
    return {
        "code": r["code"],
        "name": r["name"],
        "depot": r["depot"],
        "unit": r["meter_unit"],
        "group": list(GROUPS)[need],
        "level": r["level"] if r["signed_level"] is None else r["signed_level"],
        "signed": r["signed_level"] is not None,
        "comb": _teeth(p["comb"], today),
        "trace": p["trace"],
        "due": due,
        "dial": p["dial"],
        "dial_on": p["dial_on"],
        "run": run,
        "stored": stored,
        "reason": _reason(p["said"]),
        "next": _next(p, due, stored),
        "next_code": p["next_code"],
        "sample": p["sample"],
        "open_stop": r["open_stop"],
        "may_run": may_run_words(
            run["state"] if run else None,
            run["until"] if run else None,
            p["advice"],
            p["advice_until"],
            r["meter_unit"],
            stored,
            r["open_stop"],
            p["dial"],
        ),
    }


def _next(p: dict[str, Any], due: dict[str, Any] | None, stored: bool) -> str:
    """The next thing to do with an engine, short."""
    out = any(m["kind"] == "bottle" for m in p["trace"][-3:])
    code = p["next_code"]
    if code and not (out and code in ("resample", "sample_sooner", "post_repair")):
        return ACTION_SHORT.get(code, "")
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
