"""Whatever is sent, the answer is in words: no route answers 5xx, and every error has its words.

Requests are drawn by schemathesis from our own OpenAPI, with what it says and with what it does
not allow. Half of them name an engine, a sample, a row, a case that is really there, so that they
come as deep as a person's would: how many routes were answered with 2xx is counted, since a test
that is refused at every door shows nothing of what is behind. KEEN_FUZZ says how many a route,
`pytest -rP` prints the counts of each route; the short form is part of every run.
"""

import contextlib
import os
import random
from collections import Counter
from itertools import islice
from typing import Any
from uuid import uuid4

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis.errors import Unsatisfiable
from schemathesis.generation import GenerationMode

from keen_tracer.storage.db import single
from tests.server import Server

# Forty sheets are drawn for each: asked in test_taking_out.py, not hundreds of times here.
HEAVY = {"/api/letters.pdf"}
# Each of these works over the whole fleet: asked by the dozen of an empty installation, and a few
# times of the demo.
WHOLE_FLEET = ("/api/library/dial", "/api/library/peers", "/api/month.pdf", "/api/export.")
FEW = 2
EXAMPLES = int(os.environ.get("KEEN_FUZZ", "5"))
# Of the routes of a part: how many are answered with 2xx at least once. The least of six was .43.
REACHED = 0.4
# What a name in a path or in a body stands for: the rows that are really there.
THERE = {
    "engine": "select code from engine limit 40",
    "sample": "select code from sample order by id desc limit 40",
    "log": "select id::text from log order by recorded_at desc limit 60",
    "case": "select id::text from engine_case limit 20",
    "look": "select log_id::text from look limit 20",
    "person": "select name from person where role = 'technician'",
    "report": "select id::text from report order by id desc limit 20",
    "column": "select unnest(array['Fe_ppm', 'Cu_ppm', 'water_pct'])",
    "table": "select unnest(array['engines', 'samples', 'events', 'debris'])",
}
IN_PATHS = {
    "/api/engines/{code}": ("code", "engine"),
    "/api/samples/{code}": ("code", "sample"),
    "/api/samples/{code}/how/{column}": ("column", "column"),
    "/api/blank/{table}.csv": ("table", "table"),
    "/api/stops/{code}": ("code", "sample"),
    "/api/bottles/{sample}": ("sample", "sample"),
    "/api/report/{sample}": ("sample", "sample"),
    "/api/log/{key}": ("key", "log"),
    "/api/log/{log}": ("log", "log"),
    "/api/looks/{key}": ("key", "look"),
    "/api/cases/{key}": ("key", "case"),
    "/api/people/{name}": ("name", "person"),
    "/api/amendments/{report}": ("report", "report"),
}
# What a page sends, without its identity and its engine: one field at a time is put wrong.
SENT: dict[str, dict[str, Any]] = {
    "/api/engines/{code}/log": {
        "on": "2026-11-20", "kind": "symptom", "details": {"symptom": "knock"},
    },
    "/api/engines/{code}/look": {
        "on": "2026-11-20", "place": "filter", "hours": 50,
        "counts": [{"type": "copper_flakes", "size": "0.5-1", "count": 12}],
    },
    "/api/engines/{code}/looks": {
        "on": "2026-11-20", "place": "filter", "hours": 50,
        "counts": [{"type": "copper_flakes", "size": "0.5-1", "count": 12}],
    },
    "/api/engines/{code}/check": {"check": "crackle", "details": {"result": "none"}},
    "/api/engines/{code}/run": {"state": "hold", "reason": "seen"},
    "/api/engines/{code}/cases": {"opened_from": "engine", "name": "Tried"},
    "/api/cases/{key}/entries": {"kind": "note", "on": "2026-11-20", "words": "looked again"},
}  # fmt: skip
IN_BODIES = {"engine": "engine", "sample": "sample", "entry": "log", "log": "log", "case": "case"}


def said(answer) -> bool:  # type: ignore[no-untyped-def]
    """Whether an error has words in our own form."""
    try:
        return bool(answer.json()["message"])
    except (ValueError, KeyError, TypeError):
        return False


class Real:
    """Names of what is on record, put into half of the requests in place of invented ones."""

    def __init__(self, url: str) -> None:
        with single(url) as c:
            self.there = {
                kind: [str(r[0]) for r in c.execute(query)]  # type: ignore[arg-type]
                for kind, query in THERE.items()
            }
        self.chance = random.Random(7)

    def one(self, kind: str) -> str | None:
        return self.chance.choice(self.there[kind]) if self.there[kind] else None

    def put_into(self, case: Any) -> None:
        """Name what is really there, where a path or a body names anything."""
        if self.chance.random() < 0.5:
            return
        for path, (name, kind) in IN_PATHS.items():
            if case.operation.path.startswith(path) and (real := self.one(kind)):
                case.path_parameters = {**(case.path_parameters or {}), name: real}
        if isinstance(case.body, dict) and case.operation.path in SENT:
            drawn = list(case.body.items())
            case.body = {"id": str(uuid4()), **SENT[case.operation.path]}
            if drawn and self.chance.random() < 0.5:
                case.body |= [self.chance.choice(drawn)]
        if isinstance(case.body, dict):
            for name, kind in IN_BODIES.items():
                if isinstance(case.body.get(name), str) and (real := self.one(kind)):
                    case.body = {**case.body, name: real}


PARTS = 6  # of the routes, so that several workers share them


@pytest.mark.parametrize("part", range(PARTS))
def test_no_request_is_answered_without_words(changing: Server, url: str, serve, part: int) -> None:
    empty = serve(url)
    # The server writes its contract at the first request for it, which takes it seconds.
    with changing.client(None) as c:
        c.get("/api/openapi.json").raise_for_status()
    schema = schemathesis.openapi.from_url(f"{changing.address}/api/openapi.json")
    real, wrong = Real(changing.url), []  # type: ignore[var-annotated]
    sent, reached = Counter[str](), Counter[str]()
    for found in islice(schema.get_all_operations(), part, None, PARTS):
        operation = found.ok()
        if operation.path in HEAVY:
            continue
        reached[operation.label] += 0
        if operation.path.startswith(WHOLE_FLEET):
            wrong += wrong_answers(operation, empty, "Test Releaser", EXAMPLES, real, sent, reached)
            wrong += wrong_answers(operation, changing, "Runa Skarsel", FEW, real, sent, reached)
        else:
            wrong += wrong_answers(
                operation, changing, "Runa Skarsel", EXAMPLES, real, sent, reached
            )
    print("sent, answered with 2xx, route")
    print(*(f"{sent[route]:6d} {n:6d} {route}" for route, n in sorted(reached.items())), sep="\n")
    assert not wrong, f"{len(wrong)}:\n" + "\n".join(wrong[:40])
    never = sorted(k for k, n in reached.items() if not n)
    assert len(never) <= (1 - REACHED) * len(reached), never


def wrong_answers(  # type: ignore[no-untyped-def]
    operation,
    server: Server,
    who: str,
    examples: int,
    real: Real,
    sent: Counter[str],
    reached: Counter[str],
) -> list[str]:
    """Requests to one route that were answered with 5xx or without words; those answered with 2xx
    are counted in `reached`. Each route has a session of its own: one of them ends it."""
    wrong: list[str] = []
    with server.client(who) as c:
        cookies = dict(c.cookies)
    for mode in (GenerationMode.POSITIVE, GenerationMode.NEGATIVE):

        @settings(
            max_examples=examples,
            database=None,
            phases=[Phase.explicit, Phase.generate],
            suppress_health_check=list(HealthCheck),
        )
        @given(case=operation.as_strategy(generation_mode=mode))
        def send(case) -> None:  # type: ignore[no-untyped-def]
            real.put_into(case)
            answer = case.call(base_url=server.address, cookies=cookies, timeout=60)
            words = answer.status_code < 400 or said(answer)
            sent[operation.label] += 1
            reached[operation.label] += answer.status_code < 300
            if answer.status_code >= 500 or not words:
                wrong.append(f"{case.as_curl_command()} -> {answer.status_code} {answer.text}")

        # A route that takes nothing can be sent nothing wrong.
        with contextlib.suppress(Unsatisfiable):
            send()
    return wrong
