"""Oil in and oil out, by hand (the-trade 3.16)."""

import pytest

from keen_tracer.core.errors import OutOfRange
from keen_tracer.core.planning import above_full_l, oil_balance
from keen_tracer.core.planning.oil_balance import came_in, volume_at
from keen_tracer.core.record import build_time_line
from tests.helpers import Story


def test_hot_oil_takes_more_room() -> None:
    """20 L at 20 °C are 1.05 L more at 90 °C: 0.075 % a degree (the-trade 3.16, common
    practice)."""
    assert volume_at(20, 20, 90) - 20 == pytest.approx(1.05)
    assert volume_at(21.05, 90, 20) == pytest.approx(20)


@pytest.mark.parametrize("call", [(20, 500), (20, float("nan")), (-1, 20), (float("inf"), 20)])
def test_what_cannot_be_is_refused(call) -> None:
    with pytest.raises(OutOfRange):
        volume_at(*call)


def test_more_out_than_in_is_another_liquid() -> None:
    # 36 L out of 30 in and 2 topped up: 4 L came in even if no oil was used at all.
    least, most = came_in(36, 30, 2)
    assert least == pytest.approx(4)
    assert most == pytest.approx(36 - 27)


def test_the_stick_in_litres() -> None:
    assert above_full_l(1.5, 4) == 2
    assert above_full_l(0, 4) == -4


def of(s: Story):
    return oil_balance(
        build_time_line(s.fleet().histories[0]), s.engine.sump_l, s.engine.nominal_drain
    )


def test_a_charge_is_weighed_with_what_its_drain_brought() -> None:
    s = Story().event(0, "oil_change", 1000, litres_in=30)
    s.event(20, "top_up", 1100, litres_in=2).event(
        40, "oil_change", 1250, litres_in=33, litres_drained=37.35, details={"drained_c": "80"}
    )
    first, second = of(s).charges
    assert first.per_100 == pytest.approx(0.8)
    # 37.35 L at 80 °C are 35.74 L cold: 3.74 L above fill and top-up.
    assert first.least_in == pytest.approx(3.74, abs=0.01)
    assert first.in_word == "came in"
    assert (second.fill_word, second.over_fill) == ("too much", 3)
    assert second.in_word == ""


def test_a_pan_a_little_fuller_than_the_fill_is_only_a_maybe() -> None:
    s = Story().event(0, "oil_change", 0, litres_in=30).event(9, "top_up", 100, litres_in=4)
    s.event(40, "oil_change", 250, litres_in=30, litres_drained=32)
    assert of(s).charges[0].in_word == "may have come in"


def test_what_stays_in_filter_and_cooler_is_no_loss_and_no_gain() -> None:
    s = (
        Story()
        .event(0, "oil_change", 0, litres_in=30)
        .event(40, "oil_change", 250, litres_in=30, litres_drained=28.5)
    )
    assert of(s).charges[0].in_word == ""


def test_oil_use_is_a_trend_only_from_five_charges_on() -> None:
    s = Story()
    for n in range(7):
        s.event(40 * n, "oil_change", 250 * n, litres_in=30)
        s.event(40 * n + 20, "top_up", 250 * n + 125, litres_in=1 + n)
        if n == 3:
            assert of(s).use.word == "too few"
    assert of(s).use.word == "rising"


def test_a_charge_too_young_has_no_use_yet() -> None:
    s = Story().event(0, "oil_change", 0, litres_in=30).event(1, "top_up", 10, litres_in=1)
    assert of(s).charges[0].per_100 is None
