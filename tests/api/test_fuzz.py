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
EXAMPLES = int(os.environ.get("KEEN_FUZZ", "12"))


def said(answer) -> bool:  # type: ignore[no-untyped-def]
    """Whether an error has words in our own form."""
    try:
        return bool(answer.json()["message"])
    except (ValueError, KeyError, TypeError):
        return False


PARTS = 6  # of the routes, so that several workers share them


@pytest.mark.parametrize("part", range(PARTS))
def test_no_request_is_answered_without_words(changing: Server, part: int) -> None:
    schema = schemathesis.openapi.from_url(f"{changing.address}/api/openapi.json")
    with changing.client("Runa Skarsel") as c:
        cookies = dict(c.cookies)
    wrong: list[str] = []
    sent = 0
    for found in islice(schema.get_all_operations(), part, None, PARTS):
        operation = found.ok()
        if operation.path in HEAVY:
            continue
        for mode in (GenerationMode.POSITIVE, GenerationMode.NEGATIVE):

            @settings(
                max_examples=EXAMPLES,
                database=None,
                phases=[Phase.explicit, Phase.generate],
                suppress_health_check=list(HealthCheck),
            )
            @given(case=operation.as_strategy(generation_mode=mode))
            def send(case) -> None:  # type: ignore[no-untyped-def]
                nonlocal sent
                sent += 1
                answer = case.call(cookies=cookies, timeout=60)
                words = answer.status_code < 400 or said(answer)
                if answer.status_code >= 500 or not words:
                    wrong.append(f"{case.as_curl_command()} -> {answer.status_code} {answer.text}")

            # A route that takes nothing can be sent nothing wrong.
            with contextlib.suppress(Unsatisfiable):
                send()
    assert not wrong, f"{len(wrong)} of {sent}:\n" + "\n".join(wrong[:40])
