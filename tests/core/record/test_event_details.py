"""Named facts beside an event: another unit, a slip, a word that is not in the table are refused at
the door."""

import pytest

from keen_tracer.core.errors import CoreError, OutOfRange
from keen_tracer.core.planning import above_full_l, oil_balance
from keen_tracer.core.planning.oil_balance import came_in
from keen_tracer.core.record import build_time_line, check_event, detail_number
from tests.helpers import Story


@pytest.mark.parametrize("text", ["nan", "inf", "999", "-300", "1e3", "warm", "65 C", "70,5"])
def test_a_temperature_that_cannot_be_is_refused(text: str) -> None:
    with pytest.raises(OutOfRange):
        detail_number({"drained_c": text}, "drained_c")


def test_psi_written_as_bar_is_refused_and_nothing_said_is_nothing() -> None:
    with pytest.raises(OutOfRange, match="bar"):
        check_event("symptom", "oil_pressure", {"pressure_hot_bar": "45"})
    check_event("symptom", "oil_pressure", {"pressure_hot_bar": "0.6", "pressure_cold_bar": ""})
    assert detail_number({}, "coolant_l") is None


@pytest.mark.parametrize(
    ("part", "found"), [("crackle", "loud"), ("crackle", ""), ("taste", "oily")]
)
def test_a_field_check_that_would_say_nothing_is_refused(part: str, found: str) -> None:
    with pytest.raises(CoreError):
        check_event("field_check", part, {"result": found})


def test_an_old_record_with_an_impossible_temperature_still_shows_its_balance() -> None:
    s = Story().event(0, "oil_change", 0, litres_in=30)
    s.event(40, "oil_change", 250, litres_in=30, litres_drained=29, details={"drained_c": "999"})
    first = oil_balance(build_time_line(s.fleet().histories[0]), 30, 250).charges[0]
    assert (first.drained, first.drained_c) == (29, None)


@pytest.mark.parametrize(
    "call",
    [
        lambda: above_full_l(float("nan"), 4),
        lambda: above_full_l(1, float("nan")),
        lambda: above_full_l(1, 0),
        lambda: came_in(30, float("nan"), 0),
        lambda: came_in(30, 30, -1),
        lambda: came_in(float("nan"), 30, 0),
    ],
)
def test_what_is_no_volume_is_refused(call) -> None:
    with pytest.raises(OutOfRange):
        call()
