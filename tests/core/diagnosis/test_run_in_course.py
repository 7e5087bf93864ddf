"""How a run-in goes: what must fall from charge to charge, until when."""

import pytest

from keen_tracer.core.baseline import assess
from keen_tracer.core.diagnosis import run_in_course
from keen_tracer.core.limits import default_limits
from tests.helpers import Story


def course(*iron: float, last: float | None = None, rebuilt: bool = True):
    """A rebuilt engine with a charge of 50 h for each figure of iron at its end."""
    s = Story()
    s.event(0, "rebuild" if rebuilt else "meter_reading", 5000.0)
    for n, fe in enumerate(iron):
        s.change(7 * n, 5000.0 + 50 * n)
        s.sample(7 * n + 6, 5049.0 + 50 * n, {"Fe": fe, "Cu": fe / 3, "Si": 8, "Pb": 4})
    if last is not None:
        s.event(90, "meter_reading", last)
    return run_in_course(assess(s.fleet(), default_limits()))


def words(found) -> dict[str, str]:
    return {m.symbol: m.word for m in found.metals}


def test_the_first_charge_alone_says_nothing_yet() -> None:
    found = course(80)
    assert words(found)["Fe"] == "first"
    assert found.at == pytest.approx(49)
    assert found.until == pytest.approx(500)  # two nominal drains of its class
    assert found.changes == (25.0, 100.0)


def test_iron_that_falls_and_iron_that_does_not() -> None:
    falls, stays = course(80, 45, 25), course(80, 78, 79)
    assert words(falls)["Fe"] == "falls"
    assert words(stays)["Fe"] == "does_not_fall"
    iron = next(m for m in falls.metals if m.symbol == "Fe")
    assert len(iron.per_100) == 3
    assert iron.per_100[0] > iron.per_100[1] > iron.per_100[2]
    # Lead is never excused by a run-in: it is not on its list.
    assert "Pb" not in words(stays)


def test_it_is_over_by_the_meter_and_never_was_in_an_old_engine() -> None:
    assert course(80, 45, last=5600.0) is None
    assert course(80, 45, rebuilt=False) is None
