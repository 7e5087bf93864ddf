"""What the screens show, put together from storage and the core. Reads only."""

from collections.abc import Mapping
from datetime import date, timedelta
from typing import Any

import numpy as np

from ..core.analytes import ANALYTES, BY_COLUMN
from ..core.errors import CoreError
from ..core.evaluate import Evaluation, evaluate
from ..core.field_checks import result
from ..core.ladder import Ladder, how_reached, ladders
from ..core.limits import ACT, CONC, WATCH
from ..core.places import Place
from ..core.records import oil_words
from ..core.sentences import ACTION_WORDS, CHANNEL_WORDS, LEVEL_WORDS, sentence, summary, would_change
from ..core.standing import Tooth, group_of, may_run_words, waits
from ..core.timeline import TimeLine, build
from ..core.values import Censor, reading_text
from ..core.viscosity import allowed_range
from ..storage.db import Connection
from ..storage.fleet import Loaded, load
from ..storage.records import Row, limits_in_force, number, row, rows, setting
from .answering import open_queries
from .outlook import outlook_of
from .wallrow import repaired_after

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
    return f"Sample, {due['overdue']} d over" if due["overdue"] else f"Sample {_short(date.fromisoformat(due['on']))}"


def _short(d: date) -> str:
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


def _evaluated(c: Connection, engine: int) -> tuple[Loaded, Evaluation | None]:
    loaded, in_force = load(c, [engine]), limits_in_force(c)
    return loaded, evaluate(loaded.fleet, in_force[1]) if loaded.sample_ids and in_force else None


def _run(c: Connection, engine: int) -> tuple[Row | None, dict[str, Any] | None]:
    standing = row(c, "decision_of_engine", engine=engine)
    if standing is None or standing["kind"] != "run":
        return standing, None
    return standing, {"state": standing["run_state"], "until": standing["until_dial"], "by": standing["decided_by"],
                      "on": standing["decided_at"].date(), "reason": standing["reason"]}


def _change_words(one: Ladder) -> str:
    """The change since the last reading in plain words, or why there is none to state."""
    change, same = one.change, one.same_laboratory
    if one.previous is None:
        return "first reading"
    if not one.comparable:
        return "another test method, not comparable"
    if not one.same_charge:
        return f"new oil, was {one.previous:.3g}"
    if change is None:
        return "no figure to compare"
    sign = "+" if change.absolute > 0 else "−"
    size = f"{abs(change.absolute):.3g}"
    lab = "" if same else ", other laboratory"
    if not change.distinguishable:
        return f"not distinguishable{lab}"
    if change.relative_pct is None:
        return f"{sign}{size} since last{lab}"
    return f"{sign}{size} since last, {change.relative_pct:+.0f} % ± {change.relative_half_width_pct:.0f}{lab}"


def _ladder(one: Ladder, e: Evaluation, i: int) -> dict[str, Any]:
    a = BY_COLUMN[one.column]
    life = e.places[i].moment.life
    trace = [p.row for p in e.places if p.moment.life == life and p.moment.row.on <= e.places[i].moment.row.on]
    ordered = [q.row for _, q in e.places[i].time_line.samples() if q.row in set(trace)][-12:]
    change = one.change
    return {
        **{k: getattr(one, k) for k in (
            "column", "text", "value", "censor", "low", "high", "fresh", "fresh_from", "previous", "same_laboratory",
            "comparable", "rate_per_100", "rate_withheld", "watch", "act", "watch_low", "act_low", "limit", "level",
            "at_limit", "axis_end")},
        "symbol": a.symbol, "name": a.name, "unit": a.unit, "channel": a.channel,
        "change": {"absolute": change.absolute if change else 0.0,
                   "relative_pct": change.relative_pct if change else None,
                   "half_width_pct": change.relative_half_width_pct if change else None,
                   "words": _change_words(one)},
        "trace": [float(x) if np.isfinite(x := e.middle[r, a.index]) else None for r in ordered]}


def _chip(f: dict[str, Any]) -> str:
    """A finding in three or four words, for the evidence chips."""
    name = BY_COLUMN[f["analyte"]].symbol if f["analyte"] else CHANNEL_WORDS[f["channel"]]
    level = LEVEL_WORDS[f["level"]]
    word = {"out_of_grade": f"{name} out of grade", "large_iron": "large iron", "bn_below_an": "BN below AN",
            "unproven": f"{name} not cleared"}.get(f["code"])
    if word:
        return word
    if f["code"].startswith("run_in_"):
        return f"{name} in run-in"
    if f["code"] == "field_check":
        return f"{f['numbers']['check']}: {f['numbers']['result'].replace('_', ' ')}"
    if f["level"] == 3 or not f["analyte"]:
        return str(f["code"]).replace("_", " ")
    return f"{name} {'at' if f['code'].endswith('at_limit') else 'past'} {level}"


def verdict_out(v: Row) -> dict[str, Any]:
    """A stored verdict as sentences."""
    said = [{"code": f["code"], "channel": f["channel"], "level": f["level"], "analyte": f["analyte"],
             "sentence": sentence(f), "chip": _chip(f) if f["level"] else "", "origin": f["origin"]}
            for f in v["findings"]]
    return {"level": v["level"], "channels": dict(zip(CHANNEL_WORDS, v["channels"], strict=True)),
            "summary": summary(v["findings"], v["channels"]), "said": said,
            "actions": [{"code": a["code"], "words": ACTION_WORDS[a["code"]], "due_dial": a["due_dial"], "became": ""}
                        for a in v["actions"]],
            "may_run": v["may_run"], "would_change": would_change(v["level"], v["findings"]), "policy": v["policy"],
            "rules": v["rules"], "limits": v["limits_version"], "basis": v["input_hash"]}


def sample(c: Connection, code: str) -> dict[str, Any]:
    """Everything the desk shows of one sample."""
    owner = row(c, "engine_of_sample", code=code)
    if owner is None:
        raise NotThere(f"there is no sample {code}")
    loaded, e = _evaluated(c, owner["engine_id"])
    engine = loaded.engines[0]
    assert e is not None
    i = next(p.row for p in e.places if p.sample.code == code)
    place = e.places[i]
    verdict = row(c, "verdict_of_sample", sample=owner["sample_id"])
    standing = row(c, "decision_of_sample", sample=owner["sample_id"])
    _, run = _run(c, owner["engine_id"])
    found = ladders(e, i)
    out = verdict_out(verdict) if verdict else None
    if out:
        _note_resample(out["actions"], place)
    changed = None
    if verdict and standing and standing["kind"] == "sign_off" and standing["basis"] != verdict["input_hash"]:
        changed = ("The figures changed after the sign-off; the program would now say "
                   f"{LEVEL_WORDS[verdict['level'] or 0]}.")
    return {
        "sample": code, "engine": engine["code"], "engine_name": engine["name"], "depot": engine["depot"],
        "unit": engine["meter_unit"], "drawn_on": place.moment.row.on, "dial": place.moment.row.dial,
        "hours_on_oil": None if np.isnan(place.hours_on_oil) else place.hours_on_oil,
        "hours_origin": place.hours_origin, "topped_l": sum(q for _, q in place.top_ups),
        "oil": oil_words(place.oil), "laboratory": place.sample.laboratory,
        "same_laboratory": bool(found and found[0].same_laboratory), "purpose": place.sample.purpose,
        "appearance": place.sample.appearance, "ladders": [_ladder(x, e, i) for x in found], "verdict": out,
        "decision": standing, "basis_changed": changed, "run": run,
        "queries": [q for q in open_queries(c, engine["code"]) if q["sample"] == code],
        "may_run": may_run_words(run["state"] if run else None, run["until"] if run else None,
                                 verdict["may_run"] if verdict else "unknown",
                                 verdict["may_run_until"] if verdict else None, engine["meter_unit"], False,
                                 bool(verdict and verdict["may_run"] == "do_not_run" and run is None),
                                 _dial_now(place.time_line))}


def _note_resample(actions: list[dict[str, Any]], place: Place) -> None:
    """Say beside the resample what became of it: drawn, or pointless since a repair."""
    again = [(s.code, m.row.on) for m, s in place.time_line.samples() if s.resample_of == place.sample.code]
    repaired = repaired_after(place.time_line, place.moment)
    for a in actions:
        if a["code"] == "resample" and again:
            a["became"] = f"drawn {_short(again[-1][1])}, bottle {again[-1][0]}"
        elif a["code"] in ("resample", "sample_sooner") and repaired:
            a["became"] = f"withdrawn: {repaired.row.kind} on {_short(repaired.row.on)}"


def _dial_now(line: TimeLine) -> float | None:
    return next((m.row.dial for m in reversed(line.moments) if m.row.dial is not None), None)


def how(c: Connection, code: str, column: str) -> dict[str, Any]:
    """How one figure was reached."""
    owner = row(c, "engine_of_sample", code=code)
    if owner is None or column not in BY_COLUMN:
        raise NotThere(f"there is no {column} of a sample {code}")
    _, e = _evaluated(c, owner["engine_id"])
    assert e is not None
    i = next(p.row for p in e.places if p.sample.code == code)
    found = how_reached(e, i, column)
    return {"analyte": column, "name": BY_COLUMN[column].name,
            "steps": [{**s, "given": s["with"]} for s in found["steps"]]}


EVENT_WORDS = {"top_up": "top-up", "filter_change": "filter changed", "meter_replaced": "meter replaced",
               "coolant_top_up": "coolant topped up", "coolant_change": "coolant changed",
               "storage_start": "into storage", "storage_end": "out of storage", "oil_change": "oil changed",
               "field_check": "field check", "bottle_lost": "bottle lost", "bottle_broken": "bottle broken"}


# What may be written beside an event, in words.
DETAIL_WORDS = {"drained_c": "drained at {} °C", "heard": "heard {}", "pressure_hot_bar": "{} bar hot", "smoke": "{}",
                "pressure_cold_bar": "{} bar cold", "coolant_l": "{} L of coolant",
                "filter": "filter {}"}


def event_words(kind: str, part: str, note: str, details: Mapping[str, str]) -> str:
    """Something that happened, in one line."""
    said = [part.replace("_", " ")]
    if kind == "field_check":
        try:
            found = result(part, details.get("result", ""))
            said = [f"{found.check_words}: {found.words}"]
        except CoreError:
            said.append(details.get("result", ""))
    else:
        said += [DETAIL_WORDS.get(k, k.replace("_", " ") + " {}").format(v) for k, v in sorted(details.items())]
    return " · ".join(x for x in (EVENT_WORDS.get(kind, kind.replace("_", " ")), *said, note) if x)


def engine(c: Connection, code: str) -> dict[str, Any]:
    """Everything the Engine page shows: facts, aligned lanes, history."""
    known = row(c, "engine_by_code", code=code)
    if known is None:
        raise NotThere(f"there is no engine {code}")
    loaded, e = _evaluated(c, known["id"])
    facts, history = loaded.engines[0], loaded.fleet.histories[0]
    line = build(history)
    head = next(r for r in wall(c, None, code, "need", 0, 10_000)["rows"] if r["code"] == code)
    standing, run = _run(c, known["id"])
    verdicts = {v["sample"]: v for v in rows(c, "verdicts_of_engine", engine=known["id"])}
    signed = {r["sample"]: r for r in rows(c, "decisions_of_samples", samples=loaded.sample_ids)}
    held = allowed_range(history.engine.allowed_grades)
    totals = [m for m in line.moments if m.total is not None]
    samples = []
    for m, s in line.samples():
        v, d = verdicts.get(s.code), signed.get(s.code)
        is_signed = bool(d and d["kind"] == "sign_off")
        samples.append({"sample": s.code, "on": m.row.on, "total": m.total, "dial": m.row.dial, "charge": m.charge,
                        "level": d["level"] if d and is_signed else v["level"] if v else None, "signed": is_signed,
                        "arrived": bool(v and v["level"] is not None)})
    return {
        **{k: facts[k] for k in ("code", "name", "depot", "model", "engine_class", "oil", "oil_total_l", "sump_l",
                                 "allowed_grades", "bearing_type", "layout", "interval_meter", "interval_days")},
        "unit": facts["meter_unit"], "materials": facts["part_materials"],
        "nominal_drain": history.engine.nominal_drain, "grade_low": held[0] if held else None,
        "grade_high": held[1] if held and np.isfinite(held[1]) else None, "today": date.today(),
        "now_total": totals[-1].total if totals else None, "dial": totals[-1].row.dial if totals else None,
        "run": run, "run_decision": standing["id"] if standing else None, "may_run": head["may_run"],
        "reason": head["reason"], "comb": head["comb"], "due": head["due"], "samples": samples,
        "charges": [{"number": q.number, "oil": oil_words(q.oil), "litres": q.litres_in,
                     "start": q.start, "end": q.end, "start_on": q.start_on, "end_on": q.end_on,
                     "top_ups": [{"at": at, "litres": litres} for at, litres in q.top_ups]}
                    for q in line.charges if q.start is not None],
        "lanes": _lanes(e) if e else [],
        "events": [{"on": m.row.on, "total": m.total, "dial": m.row.dial, "kind": m.row.kind,
                    "words": event_words(m.row.kind, m.row.part, m.row.note, m.row.details)}
                   for m in line.moments if m.row.sample is None and m.row.kind != "meter_reading"],
        "outlook": _outlook(e, line, facts["meter_unit"]) if e else [],
        "queries": open_queries(c, code), "trail": rows(c, "decision_trail", engine=known["id"])}


def _outlook(e: Evaluation, line: TimeLine, unit: str) -> list[dict[str, Any]]:
    """Where the engine is heading, its places in the time line's order."""
    at = {p.row: p for p in e.places}
    newest = next((m for m in reversed(line.moments) if m.total is not None and m.row.dial is not None), None)
    offset = (newest.total or 0.0) - (newest.row.dial or 0.0) if newest else 0.0
    return outlook_of(e, [at[s.row] for _, s in line.samples()], offset, unit)


def _finite(x: float) -> float | None:
    return float(x) if np.isfinite(x) else None


def _lanes(e: Evaluation) -> list[dict[str, Any]]:
    """One lane per analyte that was ever measured, its points in order."""
    order = [q.row for _, q in e.places[0].time_line.samples()]
    out = []
    for a in ANALYTES:
        if not (e.fleet.censor[:, a.index] >= 0).any() or not a.channel:
            continue
        points = []
        for i in order:
            censor = int(e.fleet.censor[i, a.index])
            if censor < 0:
                continue
            place, held = e.places[i], e.limits[i].at[CONC, :, a.index]
            value = _finite(e.fleet.value[i, a.index])
            withheld = e.rate_withheld[i, a.index] or censor != Censor.EXACT
            rates = 100 * (held - e.fresh[i, a.index]) / place.engine.nominal_drain
            points.append({
                "sample": place.sample.code, "on": place.moment.row.on, "total": place.moment.total, "value": value,
                "text": reading_text(value, censor), "censor": censor,
                "rate": None if withheld else _finite(100 * e.rate[i, a.index]), "start": _finite(e.start[i, a.index]),
                "watch": _finite(e.upper[WATCH, i, a.index]), "act": _finite(e.upper[ACT, i, a.index]),
                "watch_low": _finite(e.lower[WATCH, i, a.index]), "act_low": _finite(e.lower[ACT, i, a.index]),
                "watch_rate": _finite(rates[WATCH]) if a.kind == "wear" else None,
                "act_rate": _finite(rates[ACT]) if a.kind == "wear" else None,
                "level": int(e.level[i, a.index]) if e.level[i, a.index] >= 0 else None})
        out.append({"column": a.column, "symbol": a.symbol, "name": a.name, "unit": a.unit, "channel": a.channel,
                    "points": points})
    return out


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

