"""What a finding of the opened engine says by itself."""

import pytest

from keen_tracer.core.record import parts
from keen_tracer.core.record.opened import (
    UNSEEN,
    check_finding,
    evidence_of_finding,
    words_of_finding,
)

MEASURED = {"condition": UNSEEN.code, "strip": "0.06", "strip_low": "0.04"}


def said(part: str, details: dict[str, str]) -> list[str]:
    return [w.fact for w in words_of_finding(part, details)]


@pytest.mark.parametrize("part", sorted(parts()))
def test_a_part_nobody_judged_by_eye_is_neither_sound_nor_worn(part: str) -> None:
    details = {"condition": UNSEEN.code}
    check_finding(part, details)
    assert said(part, details) == []
    assert list(evidence_of_finding(part, details)) == []


def test_its_figures_are_judged_all_the_same() -> None:
    assert said("rod_bearing", {**MEASURED, "strip_high": "0.08"}) == []
    assert said("rod_bearing", {**MEASURED, "strip_high": "0.04"}) == ["outside_limit"]


def test_a_good_shell_is_said_to_be_one() -> None:
    looked = {"condition": "like_new"}
    assert said("rod_bearing", looked) == ["shell_good"]
    assert list(evidence_of_finding("rod_bearing", looked)) == [("shell_worn", False)]
