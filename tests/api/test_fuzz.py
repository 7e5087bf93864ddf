"""Whatever is sent, the answer is in words: no route answers 5xx, and every error has its words.

Requests are drawn by schemathesis from our own OpenAPI, with what it says and with what it does
not allow. Half of them name an engine, a sample, a row, a case that is really there, so that they
come as deep as a person's would (`as_a_page.py`). What a page would send is answered with 2xx
before anything is put wrong. KEEN_FUZZ says how many a route, `pytest -rP` prints how many were
sent to each and answered with 2xx; the short form is part of every run.
"""

import contextlib
import os
from collections import Counter
from itertools import islice

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis.errors import Unsatisfiable
from schemathesis.generation import GenerationMode

from keen_tracer.core.roles import at_the_machine
from keen_tracer.storage.db import single
from keen_tracer.usecases.people import add_person
from tests.api.as_a_page import ADMINISTERED, ADMINISTRATOR, SENDS, WHO, AsAPage
from tests.server import Server

# Forty sheets are drawn for each: asked in test_taking_out.py, not hundreds of times here.
HEAVY = {"/api/letters.pdf"}
# Each of these works over the whole fleet: asked by the dozen of an empty installation, and a few
# times of the demo.
WHOLE_FLEET = ("/api/library/dial", "/api/library/peers", "/api/month.pdf", "/api/export.")
FEW = 2
EXAMPLES = int(os.environ.get("KEEN_FUZZ", "5"))
# Of the routes of a part: how many are answered with 2xx at least once. The rest takes files, or
# what is not in the demo. The least of six was .71.
REACHED = 0.6


def said(answer) -> bool:  # type: ignore[no-untyped-def]
    """Whether an error has words in our own form."""
    try:
        return bool(answer.json()["message"])
    except (ValueError, KeyError, TypeError):
        return False


PARTS = 6  # of the routes, so that several workers share them


@pytest.mark.parametrize("part", range(PARTS))
def test_no_request_is_answered_without_words(changing: Server, url: str, serve, part: int) -> None:
    empty = serve(url)
    # The server writes its contract at the first request for it, which takes it seconds.
    with changing.client(None) as c:
        c.get("/api/openapi.json").raise_for_status()
    schema = schemathesis.openapi.from_url(f"{changing.address}/api/openapi.json")

    def listed(query: str) -> list[str]:
        with single(changing.url) as connection:
            return [str(r[0]) for r in connection.execute(query, {"who": WHO})]  # type: ignore[arg-type]

    with single(changing.url) as connection:
        add_person(connection, ADMINISTRATOR, "admin", at_the_machine("root"))
    page, wrong = AsAPage(changing, listed), []  # type: ignore[var-annotated]
    sent, reached = Counter[str](), Counter[str]()
    for found in islice(schema.get_all_operations(), part, None, PARTS):
        operation = found.ok()
        if operation.path in HEAVY:
            continue
        reached[operation.label] += 0
        who = ADMINISTRATOR if operation.path.startswith(ADMINISTERED) else WHO
        if operation.label in SENDS:
            reached[operation.label] += page.reaches(operation.label, who)
        if operation.path.startswith(WHOLE_FLEET):
            wrong += wrong_answers(operation, empty, "Test Releaser", EXAMPLES, page, sent, reached)
            wrong += wrong_answers(operation, changing, who, FEW, page, sent, reached)
        else:
            wrong += wrong_answers(operation, changing, who, EXAMPLES, page, sent, reached)
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
    page: AsAPage,
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
            page.put_into(case)
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
