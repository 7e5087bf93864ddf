"""Where an engine is heading: lines of this charge, rates of the charges before, each with the
words it deserves."""

import pytest

from keen_tracer.core.limits import default_limits, evaluate
from keen_tracer.core.planning import Outlook, outlooks
from tests.helpers import Story, usual


def of(s: Story) -> dict[str, Outlook]:
    e = evaluate(s.fleet(), default_limits())
    at = {p.row: p for p in e.contexts}
    return {
        o.column: o for o in outlooks(e, [at[x.row] for _, x in e.contexts[0].time_line.samples()])
    }


def charge(
    start: float, iron: list[float], step: float = 50.0, first: float = 1.0, **more
) -> Story:
    s = Story(nominal_drain=250.0).change(0, start)
    for n, fe in enumerate(iron, 1):
        s.sample(10 * n, start + step * n, usual(Fe=fe, **more), code=str(n))
    return s


def test_a_metal_that_rises_fast_reaches_act_at_a_meter_with_an_interval() -> None:
    # From 1 ppm at the change by 0.4 ppm an hour: 125 ppm (Act as read at the drain) after 310 h.
    found = of(charge(1000, [21, 41, 61, 81]))["Fe_ppm"]
    assert (found.level, found.limit) == (2, 125)
    assert found.crosses.word == "crosses"
    assert found.crosses.at == pytest.approx(1310, abs=3)
    assert found.crosses.earliest is not None
    assert found.crosses.earliest <= found.crosses.at
    assert found.at_drain is not None
    assert found.at_drain[:2] == (1250, pytest.approx(101, abs=1))


def test_a_quiet_metal_has_no_trend_to_speak_of_or_ends_below_its_limit_at_the_drain() -> None:
    found = of(charge(0, [5, 9.2, 12.8, 17.1]))["Fe_ppm"]
    assert found.at_drain is not None
    assert found.at_drain[3] < 75  # Watch as read at the drain
    assert found.level == 1


def test_a_limit_beyond_the_drain_is_not_worth_saying() -> None:
    found = of(charge(1000, [12, 22.4, 33, 43.8]))[
        "Fe_ppm"
    ]  # 75 ppm after 350 h, and the oil goes at 250
    assert found.crosses.word == "crosses"
    assert found.crosses.at is not None
    assert found.crosses.at > found.until == 1250
    assert not found.telling(1)


def test_one_sample_of_a_charge_is_too_few() -> None:
    found = of(Story().change(0, 0).sample(10, 100, usual(), code="a"))
    assert found["Fe_ppm"].crosses.word == "too few"
    assert found["Fe_ppm"].across is None


def test_a_level_reading_has_no_trend() -> None:
    found = of(charge(0, [12, 11, 13, 12], KV100=13.6))["KV100_mm2_s"]
    assert found.crosses.word in ("no trend", "away")


def test_a_reserve_that_falls_is_read_on_its_lower_side() -> None:
    s = Story(nominal_drain=250.0).change(0, 0)
    for n, bn in enumerate((9.0, 8.1, 7.0, 6.1), 1):
        s.sample(10 * n, 50.0 * n, usual(BN=bn), code=str(n))
    found = of(s)["BN_mgKOH_g"]
    assert found.limit == pytest.approx(5.0)  # 50 % of 10 fresh
    assert found.crosses.at == pytest.approx(255, abs=8)


def test_rates_that_rise_from_charge_to_charge_are_said_from_five_charges_on() -> None:
    s = Story(nominal_drain=250.0)
    for n in range(7):
        s.change(40 * n, 250.0 * n).sample(
            40 * n + 39, 250.0 * n + 245, usual(Fe=10 + 8 * n), code=str(n)
        )
        if n == 3:
            few = of(s)["Fe_ppm"].across
            assert few
            assert few.word == "too few"
    across = of(s)["Fe_ppm"].across
    assert across
    assert (across.word, across.n) == ("rising", 7)


def test_one_trend_among_many_has_to_be_surer_than_one_alone() -> None:
    s = Story(nominal_drain=250.0)
    for n, fe in enumerate((10, 14, 13, 18, 17, 22)):
        s.change(40 * n, 250.0 * n).sample(40 * n + 39, 250.0 * n + 245, usual(Fe=fe), code=str(n))
    found = of(s)["Fe_ppm"]
    assert found.across
    assert 0.05 / 15 < found.across.p < 0.05
    assert found.telling(1)
    assert not found.telling(15)


def test_a_rebuild_begins_a_new_story() -> None:
    s = Story(nominal_drain=250.0)
    for n in range(6):
        s.change(40 * n, 250.0 * n).sample(
            40 * n + 39, 250.0 * n + 245, usual(Fe=10 + 8 * n), code=str(n)
        )
    s.event(250, "rebuild", 1500).change(250, 1500).sample(280, 1700, usual(), code="new")
    assert of(s)["Fe_ppm"].across is None


def test_nothing_measured_has_no_outlook() -> None:
    assert outlooks(evaluate(charge(0, [5]).fleet(), default_limits()), []) == []
