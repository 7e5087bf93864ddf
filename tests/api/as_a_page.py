"""Requests as a page sends them, of what is really on record: where the fuzzing test starts from.

A route that is only ever refused shows nothing of what is behind it. So half of the drawn requests
name rows that are there, and for the routes below they carry what a page would send, of which one
field at a time is put wrong afterwards.
"""

import random
from collections.abc import Callable
from typing import Any
from uuid import uuid4

from tests.server import Server

WHO = "Runa Skarsel"
ADMINISTRATOR = "Tried Administrator"  # settings of the site, and roles, are an administrator's
ADMINISTERED = ("/api/library", "/api/people", "/api/keys", "/api/tightened")
ON = "2026-11-20"
TRIES = 5
# What a name in a path or in a body may be: the rows that are really there.
THERE = {
    "engine": "select code from engine limit 40",
    "sample": "select code from sample order by id desc limit 40",
    "log": "select id::text from log order by recorded_at desc limit 60",
    "own_log": "select id::text from log where recorded_by = %(who)s",
    "case": "select id::text from engine_case limit 20",
    "open_case": "select id::text from case_now where not closed limit 20",
    "look": "select log_id::text from look limit 20",
    "person": "select name from person where role = 'technician'",
    "report": "select id::text from report order by id desc limit 20",
    "photo": "select sha256 from photo limit 20",
    "picture": "select id::text from photo limit 20",
    "model": "select code from model",
    "open_bottle": "select s.code from sample s where not exists "
    "(select 1 from report r where r.sample_id = s.id) limit 40",
    "column": "select unnest(array['Fe_ppm', 'Cu_ppm', 'water_pct'])",
    "table": "select unnest(array['engines', 'samples', 'events', 'debris'])",
    "place": "select unnest(array['engines', 'depots', 'models'])",
}
IN_PATHS = {
    "/api/engines/{code}": ("code", "engine"),
    "/api/samples/{code}": ("code", "sample"),
    "/api/samples/{code}/how/{column}": ("column", "column"),
    "/api/blank/{table}.csv": ("table", "table"),
    "/api/stops/{code}": ("code", "engine"),
    "/api/bottles/{sample}": ("sample", "sample"),
    "/api/report/{sample}": ("sample", "sample"),
    "/api/log/{key}": ("key", "log"),
    "/api/log/{key}/undo": ("key", "own_log"),
    "/api/log/{log}": ("log", "log"),
    "/api/looks/{key}": ("key", "look"),
    "/api/cases/{key}": ("key", "case"),
    "/api/people/{name}": ("name", "person"),
    "/api/amendments/{report}": ("report", "report"),
    "/api/photos/{sha256}": ("sha256", "photo"),
    "/api/pictures/{photo}": ("photo", "picture"),
    "/api/fleet/{place}": ("place", "place"),
    "/api/fleet/{place}/{code}": ("code", "engine"),
}
IN_BODIES = {"engine": "engine", "sample": "sample", "entry": "log", "log": "log", "case": "case"}
LOOK = {
    "on": ON, "place": "filter", "hours": 50,
    "counts": [{"type": "copper_flakes", "size": "0.5-1", "count": 12}],
}  # fmt: skip
REPORT = {"on": ON, "laboratory": "Tried", "figures": {"Fe_ppm": "41", "Cu_ppm": "7"}}


class AsAPage:
    """Puts what is on record into half of the requests, in place of what was invented."""

    def __init__(self, server: Server, rows: Callable[[str], list[str]]) -> None:
        self.server = server
        self.rows = rows
        self.chance = random.Random(7)

    def one(self, kind: str) -> str | None:
        """One of what is there now: a test before may have written it."""
        found = self.rows(THERE[kind])
        return self.chance.choice(found) if found else None

    def whole(self, label: str) -> tuple[dict[str, Any], dict[str, Any]] | None:
        """(names in the path, body) of what a page would send to a route; None where nothing on
        record asks for it."""
        path = label.split(" ", 1)[1]
        named = {}
        for start, (name, kind) in IN_PATHS.items():
            if path.startswith(start) and (real := self.one(kind)):
                named[name] = real
        if label not in SENDS:
            return named, {}
        body = SENDS[label](self)
        if body is None:
            return None
        named |= {k: body.pop(k) for k in list(body) if f"{{{k}}}" in path}
        return named, body

    def put_into(self, case: Any) -> None:
        """Name what is really there, where a path or a body names anything."""
        if self.chance.random() < 0.5 or (sent := self.whole(case.operation.label)) is None:
            return
        named, body = sent
        if named:
            case.path_parameters = {**(case.path_parameters or {}), **named}
        if body:
            drawn = list(case.body.items()) if isinstance(case.body, dict) else []
            case.body = body
            if drawn and self.chance.random() < 0.5:
                case.body |= [self.chance.choice(drawn)]
        elif isinstance(case.body, dict):
            for name, kind in IN_BODIES.items():
                if isinstance(case.body.get(name), str) and (real := self.one(kind)):
                    case.body = {**case.body, name: real}

    def reaches(self, label: str, who: str) -> bool:
        """Whether a route answers what a page would send with 2xx; False where nothing on record
        asks for it. Of a few rows one has to do: another may be lost, or closed."""
        method, path = label.split(" ", 1)
        refused = ""
        for _ in range(TRIES):
            if (sent := self.whole(label)) is None:
                return False
            named, body = sent
            with self.server.client(who) as c:
                answer = c.request(method, path.format(**named), json=body)
            if answer.is_success:
                return True
            refused = answer.text
        raise AssertionError(f"{label}: {refused}")

    @property
    def today(self) -> str:
        """The day at the depots."""
        return str(self.asked("/api/plan")["today"])

    def asked(self, path: str) -> Any:
        """What a page is answered."""
        with self.server.client(WHO) as c:
            return c.get(path).raise_for_status().json()


Sends = Callable[[AsAPage], dict[str, Any] | None]


def _always(**body: Any) -> Sends:
    """The same every time, under a new identity."""
    return lambda _: {"id": str(uuid4()), **body}


def _plain(**body: Any) -> Sends:
    """The same every time, of what has no identity."""
    return lambda _: dict(body)


def _sign(page: AsAPage) -> dict[str, Any] | None:
    waiting = page.asked("/api/queue")
    if not waiting:
        return None
    one = page.chance.choice(waiting)
    return {
        "code": one["sample"], "level": one["level"], "basis": one["basis"],
        "supersedes": one["standing"], "reason": "as proposed", "note": "",
    }  # fmt: skip


def _undo(page: AsAPage) -> dict[str, Any] | None:
    """The person's own signature; one is given first where none stands."""
    own = (
        "select s.code || ' ' || d.id::text from decision_now d join sample s on s.id = d.sample_id"
        " where d.kind = 'sign_off' and d.decided_by = %(who)s"
    )
    found = page.rows(own)
    if not found and (signed := _sign(page)):
        with page.server.client(WHO) as c:
            c.post(f"/api/samples/{signed.pop('code')}/sign", json=signed)
        found = page.rows(own)
    if not found:
        return None
    code, decision = page.chance.choice(found).rsplit(" ", 1)
    return {"code": code, "decision": decision}


def _move(page: AsAPage) -> dict[str, Any] | None:
    plan = page.asked("/api/plan")
    tasks = [(e["code"], t) for e in plan["lines"] for t in e["tasks"] if t["movable"]]
    if not tasks:
        return None
    engine, task = page.chance.choice(tasks)
    move = {"id": str(uuid4()), "engine": engine, "task": task["key"], "day": plan["until"]}
    return {"moves": [{**move, "reason": "the crane is here then"}]}


def _done(page: AsAPage) -> dict[str, Any] | None:
    """A task that takes one press."""
    lines = page.asked("/api/plan")["lines"]
    quick = [(e["code"], t["key"]) for e in lines for t in e["tasks"] if t["quick"]]
    if not quick:
        return None
    engine, task = page.chance.choice(quick)
    return {"id": str(uuid4()), "engine": engine, "task": task, "dial": 1e6, "sample": f"Q{task}"}


def _own_row(**body: Any) -> Sends:
    """What is sent of a row that the person wrote; one is written first."""

    def sends(page: AsAPage) -> dict[str, Any] | None:
        key = str(uuid4())
        row = {"id": key, "on": ON, "kind": "symptom", "part": "noise"}
        with page.server.client(WHO) as c:
            c.post(f"/api/engines/{page.one('engine')}/log", json=row)
        return {"id": str(uuid4()), "key": key, **body}

    return sends


def _put_right(page: AsAPage) -> dict[str, Any] | None:
    """Another figure for a report that was typed; one is typed first."""
    engine, sample = page.one("engine"), f"T{uuid4().hex[:8]}"
    report = {**REPORT, "engine": engine, "sample": sample, "report": sample}
    with page.server.client(WHO) as c:
        c.post("/api/report", json={"id": str(uuid4()), **report})
    return {"id": str(uuid4()), **report, "figures": {"Fe_ppm": "44"}}


def _bottle(page: AsAPage) -> dict[str, Any] | None:
    engine = page.one("engine")
    dial = page.asked(f"/api/stops/{engine}")["dial"] or 100
    bottle = {"sample": f"B{uuid4().hex[:8]}", "engine": engine, "on": page.today, "dial": dial}
    return {"id": str(uuid4()), **bottle}


def _place(_: AsAPage) -> dict[str, Any] | None:
    return {"place": "depots", "cells": {"depot": f"D{uuid4().hex[:8]}", "name": "Tried"}}


def _hold(page: AsAPage) -> dict[str, Any] | None:
    """Hold an engine, over what was decided of it before."""
    one = page.chance.choice(page.asked("/api/runs")["rows"])
    return {"code": one["code"], "state": "hold", "reason": "seen", "supersedes": one["decision"]}


def _step(page: AsAPage) -> dict[str, Any] | None:
    bottle = page.one("open_bottle")
    bottles = [{"id": str(uuid4()), "sample": bottle}]
    return {"bottles": bottles, "step": "received", "on": page.today} if bottle else None


def _order(page: AsAPage) -> dict[str, Any] | None:
    bottle = page.one("open_bottle")
    order = {"samples": [bottle], "delay_s": 3600, "on": page.today}
    return {"id": str(uuid4()), **order} if bottle else None


def _of(kind: str, field: str, /, **body: Any) -> Sends:
    """What is sent of one row of a kind, named in `field`."""

    def sends(page: AsAPage) -> dict[str, Any] | None:
        one = page.one(kind)
        return None if one is None else {"id": str(uuid4()), field: one, **body}

    return sends


SENDS: dict[str, Sends] = {
    "POST /api/engines/{code}/log": _always(on=ON, kind="symptom", details={"symptom": "knock"}),
    "POST /api/engines/{code}/look": _always(**LOOK),
    "POST /api/engines/{code}/looks": _always(**LOOK),
    "POST /api/engines/{code}/check": _plain(check="crackle", details={"result": "small"}),
    "POST /api/engines/{code}/run": _hold,
    "POST /api/engines/{code}/cases": _always(opened_from="engine", name="Tried"),
    "POST /api/engines/{code}/outcomes": _always(on=ON, found="nothing", confirmed="no"),
    "POST /api/engines/{code}/features": _plain(feature="silver_bearings"),
    "POST /api/cases/{key}/entries": _of("open_case", "key", kind="note", on=ON, words="again"),
    "POST /api/cases/{key}/end": _of(
        "open_case", "key", end="nothing_found", on=ON, found="nothing"
    ),
    "POST /api/log/{key}/undo": _own_row(),
    "POST /api/log/{key}/correct": _own_row(changes={"note": "read again"}, reason="misread"),
    "POST /api/log/{key}/withdraw": _own_row(reason="of another engine"),
    "POST /api/samples/{code}/sign": _sign,
    "POST /api/samples/{code}/undo": _undo,
    "POST /api/plan/moves": _move,
    "POST /api/plan/hours": _plain(depot="summit", starts="01-01", hours=[8, 8, 8, 8, 8, 4, 0]),
    "POST /api/report": _of("engine", "engine", **REPORT),
    "PUT /api/report/{sample}": _put_right,
    "POST /api/bottles": _bottle,
    "POST /api/bottles/parked": _bottle,
    "POST /api/bottles/steps": _step,
    "POST /api/orders": _order,
    "POST /api/plan/done": _done,
    "POST /api/engines/{code}/figures": _plain(
        part="rod_bearing",
        details={"journal_front": "79.96 79.94", "bore": "85.02", "shell": "2.48"},
    ),
    "PUT /api/tightened": _plain(watch=0.6, act=0.4),
    "POST /api/people": lambda _: {"name": f"Tried {uuid4()}", "role": "technician"},
    "POST /api/bottles/{sample}/figures": _of(
        "open_bottle", "sample", laboratory="Tried", cells={"Fe_ppm": "41"}
    ),
    "POST /api/library/currency": _plain(currency="SEK"),
    "POST /api/library/second-person": _plain(asked=True),
    "POST /api/library/averages": _of(
        "model", "model", laboratory="Tried", averages={"Fe_ppm": 30.0}, origin="their report"
    ),
    "POST /api/fleet/{place}": _place,
    "PUT /api/me/{what}": _plain(what="volume", chosen="US qt"),
    "PUT /api/people/{name}/role": _of("person", "name", role="analyst"),
    "POST /api/pictures/{photo}/lines": _of(
        "picture", "photo", kind="scale", x1=1, y1=1, x2=90, y2=1, known_mm=10
    ),
    "POST /api/library/policy/try": _plain(
        scope="class", scope_name="heavy_diesel", policy="fixed_only"
    ),
}
