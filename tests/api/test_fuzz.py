"""Whatever is sent, the answer is in words: no route answers 5xx, and every error has its words.

Requests are drawn by schemathesis from our own OpenAPI, with what it says and with what it does
not allow. KEEN_FUZZ says how many a route; the short form is part of every run.
"""

import contextlib
import os
from itertools import islice

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis.errors import Unsatisfiable
from schemathesis.generation import GenerationMode

from tests.server import Server

# Forty sheets are drawn for each: asked in test_taking_out.py, not hundreds of times here.
HEAVY = {"/api/letters.pdf"}
# Each of these works over the whole fleet: asked by the dozen of an empty installation, and a few
# times of the demo.
WHOLE_FLEET = ("/api/library/dial", "/api/library/peers", "/api/month.pdf", "/api/export.")
FEW = 2
EXAMPLES = int(os.environ.get("KEEN_FUZZ", "12"))


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
    wrong: list[str] = []
    for found in islice(schema.get_all_operations(), part, None, PARTS):
        operation = found.ok()
        if operation.path in HEAVY:
            continue
        if operation.path.startswith(WHOLE_FLEET):
            wrong += wrong_answers(operation, empty, "Test Releaser", EXAMPLES)
            wrong += wrong_answers(operation, changing, "Runa Skarsel", FEW)
        else:
            wrong += wrong_answers(operation, changing, "Runa Skarsel", EXAMPLES)
    assert not wrong, f"{len(wrong)}:\n" + "\n".join(wrong[:40])


def wrong_answers(operation, server: Server, who: str, examples: int) -> list[str]:  # type: ignore[no-untyped-def]
    """Requests to one route that were answered with 5xx or without words."""
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
            answer = case.call(base_url=server.address, cookies=cookies, timeout=60)
            words = answer.status_code < 400 or said(answer)
            if answer.status_code >= 500 or not words:
                wrong.append(f"{case.as_curl_command()} -> {answer.status_code} {answer.text}")

        # A route that takes nothing can be sent nothing wrong.
        with contextlib.suppress(Unsatisfiable):
            send()
    return wrong
