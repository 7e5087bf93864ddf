"""The two lines of an engine: each thing once, by its name, and nothing but whole sentences."""

from typing import Any

import pytest

from tests.helpers import Story, stated, two_lines


def said(*facts: dict[str, Any]) -> list[str]:
    s = Story().change(0, 1000)
    for n, fact in enumerate(facts):
        s.event(1 + n, fact["kind"], 1001 + n, **{k: v for k, v in fact.items() if k != "kind"})
    return two_lines(s, stated(s), s.log[-1].on).split(" / ")


def check(part: str, result: str) -> dict[str, Any]:
    return {"kind": "field_check", "part": part, "details": {"result": result}}


def symptom(part: str, **details: str) -> dict[str, Any]:
    return {"kind": "symptom", "part": part, "details": details}


@pytest.mark.parametrize(
    ("told", "words"),
    [
        (symptom("smoke", smoke="white"), "White smoke was reported"),
        (symptom("smoke", smoke="black"), "Black smoke was reported"),
        (symptom("smoke"), "Smoke was reported"),
        (symptom("noise", heard="under load"), "A noise under load was reported"),
        (symptom("noise"), "A noise was reported"),
    ],
)
def test_which_smoke_and_which_noise_is_said(told: dict[str, Any], words: str) -> None:
    assert words in said(told)[0]


def test_what_an_agreement_is_made_of_is_not_told_a_second_time() -> None:
    what, _ = said(check("smell", "sweet"), check("level", "above_full"))
    assert "point to coolant in the oil" in what
    assert "Also raised" not in what


def test_what_else_is_raised_is_named_by_its_part() -> None:
    what, _ = said(symptom("knock"), check("smell", "fuel"), symptom("smoke", smoke="black"))
    assert what.endswith("Also raised: fuel in the oil (black smoke and a smell of fuel).")


def test_a_check_that_was_due_is_said_in_a_sentence() -> None:
    s = Story().change(0, 1000).event(1, "symptom", 1001, part="noise")
    s.event(60, "meter_reading", 1200)
    assert "do the next check: it was due before 1\u202f026 h" in two_lines(
        s, stated(s), s.log[-1].on
    )
